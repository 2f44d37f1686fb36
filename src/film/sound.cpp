#include "film/sound.h"

#include "film/ffmpeg.h"

#include <algorithm>

namespace kite::film {

namespace {

constexpr double kLongest_s = 600.0;

/// Takes one decoded piece in, as floats of one channel.
bool append(SwrContext* mix, const AVFrame* piece, std::vector<float>& out) {
    const int most = swr_get_out_samples(mix, piece != nullptr ? piece->nb_samples : 0);
    if (most < 0)
        return false;
    const std::size_t before = out.size();
    out.resize(before + static_cast<std::size_t>(most));
    auto* to = reinterpret_cast<std::uint8_t*>(out.data() + before);
    const int got = swr_convert(
        mix, &to, most,
        piece != nullptr ? const_cast<const std::uint8_t**>(piece->extended_data) : nullptr,
        piece != nullptr ? piece->nb_samples : 0);
    out.resize(before + static_cast<std::size_t>(std::max(got, 0)));
    return got >= 0;
}

/// From the channels of a piece to one; empty where that cannot be.
Owned<SwrContext> mixer_for(const AVFrame& piece, int rate_hz) {
    AVChannelLayout one = AV_CHANNEL_LAYOUT_MONO;
    AVChannelLayout given{};
    if (piece.ch_layout.order == AV_CHANNEL_ORDER_UNSPEC)
        av_channel_layout_default(&given, std::max(1, piece.ch_layout.nb_channels));
    else
        av_channel_layout_copy(&given, &piece.ch_layout);
    SwrContext* made = nullptr;
    const int set =
        swr_alloc_set_opts2(&made, &one, AV_SAMPLE_FMT_FLT, rate_hz, &given,
                            static_cast<AVSampleFormat>(piece.format), rate_hz, 0, nullptr);
    Owned<SwrContext> out(made);
    av_channel_layout_uninit(&given);
    if (set < 0 || swr_init(out.get()) < 0)
        out.reset();
    return out;
}

} // namespace

Outcome<Sound> read_sound(const std::filesystem::path& path) {
    Outcome<Sound> out;
    const auto fail = [&](const std::string& what) {
        out.add({Finding::Severity::Error,
                 "sound",
                 "The sound cannot be read: " + what + ".",
                 {},
                 "Mark impact in the picture."});
        return out;
    };
    OpenedFile file = open_file(path.string());
    if (!file.error.empty() || !file.format)
        return fail(file.error);
    AVFormatContext* format = file.format.get();
    const int pictures = av_find_best_stream(format, AVMEDIA_TYPE_VIDEO, -1, -1, nullptr, 0);
    const int found = av_find_best_stream(format, AVMEDIA_TYPE_AUDIO, -1, pictures, nullptr, 0);
    if (found < 0)
        return out;
    const AVStream& stream = *format->streams[found];
    std::string error;
    const Owned<AVCodecContext> decoder = open_decoder(stream, error);
    if (!decoder)
        return fail(error);
    if (decoder->sample_rate <= 0 || decoder->sample_rate > 1000000)
        return fail("it says that it has " + std::to_string(decoder->sample_rate) +
                    " values a second");
    out.value.rate_hz = decoder->sample_rate;
    const auto most = static_cast<std::size_t>(kLongest_s * out.value.rate_hz);

    const Owned<AVPacket> packet(av_packet_alloc());
    const Owned<AVFrame> piece(av_frame_alloc());
    Owned<SwrContext> mix;
    std::int64_t first_pts = AV_NOPTS_VALUE;
    std::int64_t first_picture = AV_NOPTS_VALUE;
    const auto take_in = [&]() {
        while (avcodec_receive_frame(decoder.get(), piece.get()) >= 0) {
            if (!mix) {
                first_pts = piece->best_effort_timestamp;
                mix = mixer_for(*piece, decoder->sample_rate);
                if (!mix)
                    return false;
            }
            if (!append(mix.get(), piece.get(), out.value.values))
                return false;
        }
        return true;
    };
    bool fine = true;
    while (fine && out.value.values.size() < most && av_read_frame(format, packet.get()) >= 0) {
        if (packet->stream_index == found) {
            avcodec_send_packet(decoder.get(), packet.get());
            fine = take_in();
        } else if (packet->stream_index == pictures && packet->pts != AV_NOPTS_VALUE &&
                   (packet->flags & AV_PKT_FLAG_DISCARD) == 0) {
            first_picture = first_picture == AV_NOPTS_VALUE ? packet->pts
                                                            : std::min(first_picture, packet->pts);
        }
        av_packet_unref(packet.get());
    }
    if (fine) {
        avcodec_send_packet(decoder.get(), nullptr);
        fine = take_in();
    }
    if (!fine)
        return fail("it changes on the way");
    if (first_pts != AV_NOPTS_VALUE)
        out.value.starts_s = static_cast<double>(first_pts) * av_q2d(stream.time_base);
    if (pictures >= 0 && first_picture != AV_NOPTS_VALUE)
        out.value.starts_s -=
            static_cast<double>(first_picture) * av_q2d(format->streams[pictures]->time_base);
    return out;
}

} // namespace kite::film
