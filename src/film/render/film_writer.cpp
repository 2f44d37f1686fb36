#include "film/render/film_writer.h"

#include "core/base/number.h"
#include "film/ffmpeg.h"
#include "simulate/lens.h"

#include <algorithm>
#include <cmath>
#include <opencv2/core.hpp>
#include <random>

namespace kite::film {

namespace {

constexpr int kTicks = 90000; ///< a second, of the pictures' clock

void close_output(AVFormatContext* format) {
    if (format == nullptr)
        return;
    if (format->pb != nullptr)
        avio_closep(&format->pb);
    avformat_free_context(format);
}

/// One film on its way to a file.
class Writer {
public:
    Writer(const StoredAs& stored) : stored_(stored) {}
    ~Writer() { close_output(format_); }
    Writer(const Writer&) = delete;
    Writer& operator=(const Writer&) = delete;

    bool open(const std::filesystem::path& path, int width, int height) {
        av_log_set_level(AV_LOG_QUIET);
        if (!check(avformat_alloc_output_context2(&format_, nullptr, nullptr, path.c_str())))
            return false;
        format_->strict_std_compliance = FF_COMPLIANCE_EXPERIMENTAL; // FLAC in MP4
        if (!open_pictures(width, height) || (!stored_.sound.empty() && !open_sound()))
            return false;
        if (stored_.tells_capture_rate)
            av_dict_set(&format_->metadata, "capture_rate_hz",
                        fixed(stored_.capture_rate_hz, 6).c_str(), 0);
        if (!check(avio_open(&format_->pb, ("file:" + path.string()).c_str(), AVIO_FLAG_WRITE)))
            return false;
        AVDictionary* options = nullptr;
        av_dict_set(&options, "movflags", "use_metadata_tags", 0);
        // The same film is the same bytes.
        av_dict_set(&options, "fflags", "+bitexact", 0);
        const bool begun = check(avformat_write_header(format_, &options));
        av_dict_free(&options);
        return begun;
    }

    bool add(const Drawn& drawn, std::size_t number) {
        const Owned<AVFrame> frame(av_frame_alloc());
        frame->format = AV_PIX_FMT_YUV420P;
        frame->width = video_->width;
        frame->height = video_->height;
        if (!check(av_frame_get_buffer(frame.get(), 0)))
            return false;
        cv::Mat seen(drawn.height_px, drawn.width_px, CV_8UC3,
                     const_cast<std::uint8_t*>(drawn.bgr.data())); // only read
        cv::Mat lying = seen;
        // The player turns it back.
        if (stored_.turned_deg == 90)
            cv::rotate(seen, lying, cv::ROTATE_90_COUNTERCLOCKWISE);
        else if (stored_.turned_deg == 180)
            cv::rotate(seen, lying, cv::ROTATE_180);
        else if (stored_.turned_deg == 270)
            cv::rotate(seen, lying, cv::ROTATE_90_CLOCKWISE);
        scaler_.reset(sws_getCachedContext(
            scaler_.release(), lying.cols, lying.rows, AV_PIX_FMT_BGR24, lying.cols, lying.rows,
            AV_PIX_FMT_YUV420P, SWS_BILINEAR, nullptr, nullptr, nullptr));
        const std::uint8_t* from[1] = {lying.data};
        const int step[1] = {static_cast<int>(lying.step)};
        sws_scale(scaler_.get(), from, step, 0, lying.rows, frame->data, frame->linesize);
        frame->pts = std::llround(static_cast<double>(number) * kTicks / stored_.stored_rate_hz);
        return encode(video_.get(), frame.get(), video_stream_);
    }

    bool finish() {
        bool fine = encode(video_.get(), nullptr, video_stream_);
        if (fine && sound_)
            fine = add_sound() && encode(sound_.get(), nullptr, sound_stream_);
        return fine && check(av_write_trailer(format_));
    }
    const std::string& error() const { return error_; }

private:
    bool check(int result) {
        if (result < 0 && error_.empty())
            error_ = ffmpeg_words(result);
        return result >= 0;
    }

    bool open_pictures(int width, int height) {
        const AVCodec* codec = avcodec_find_encoder_by_name("libvpx-vp9");
        if (codec == nullptr) {
            error_ = "this machine's FFmpeg cannot write VP9";
            return false;
        }
        const bool lies = stored_.turned_deg == 90 || stored_.turned_deg == 270;
        video_.reset(avcodec_alloc_context3(codec));
        video_->width = lies ? height : width;
        video_->height = lies ? width : height;
        video_->pix_fmt = AV_PIX_FMT_YUV420P;
        video_->time_base = {1, kTicks};
        video_->gop_size = stored_.key_every;
        video_->thread_count = 1; // the same bytes on every machine
        video_->flags |= AV_CODEC_FLAG_BITEXACT;
        if ((format_->oformat->flags & AVFMT_GLOBALHEADER) != 0)
            video_->flags |= AV_CODEC_FLAG_GLOBAL_HEADER;
        av_opt_set(video_->priv_data, "deadline", "realtime", 0);
        av_opt_set_int(video_->priv_data, "cpu-used", 8, 0);
        av_opt_set_int(video_->priv_data, "crf", stored_.quality, 0);
        av_opt_set_int(video_->priv_data, "lag-in-frames", 0, 0);
        if (!check(avcodec_open2(video_.get(), codec, nullptr)))
            return false;
        video_stream_ = avformat_new_stream(format_, nullptr);
        video_stream_->time_base = video_->time_base;
        if (!check(avcodec_parameters_from_context(video_stream_->codecpar, video_.get())))
            return false;
        if (stored_.turned_deg != 0) {
            auto* matrix = reinterpret_cast<std::int32_t*>(av_stream_new_side_data(
                video_stream_, AV_PKT_DATA_DISPLAYMATRIX, 9 * sizeof(std::int32_t)));
            av_display_rotation_set(matrix, stored_.turned_deg);
        }
        return true;
    }

    bool open_sound() {
        const AVCodec* codec = avcodec_find_encoder(AV_CODEC_ID_FLAC);
        if (codec == nullptr) {
            error_ = "this machine's FFmpeg cannot write FLAC";
            return false;
        }
        sound_.reset(avcodec_alloc_context3(codec));
        // Stored slower than it was filmed: so is its sound.
        sound_->sample_rate = static_cast<int>(
            std::lround(stored_.sound_rate_hz * stored_.stored_rate_hz / stored_.capture_rate_hz));
        sound_->sample_fmt = AV_SAMPLE_FMT_S16;
        sound_->ch_layout = AV_CHANNEL_LAYOUT_MONO;
        sound_->time_base = {1, sound_->sample_rate};
        if ((format_->oformat->flags & AVFMT_GLOBALHEADER) != 0)
            sound_->flags |= AV_CODEC_FLAG_GLOBAL_HEADER;
        sound_->flags |= AV_CODEC_FLAG_BITEXACT;
        if (!check(avcodec_open2(sound_.get(), codec, nullptr)))
            return false;
        sound_stream_ = avformat_new_stream(format_, nullptr);
        sound_stream_->time_base = sound_->time_base;
        return check(avcodec_parameters_from_context(sound_stream_->codecpar, sound_.get()));
    }

    bool add_sound() {
        const auto piece = static_cast<std::size_t>(std::max(sound_->frame_size, 1024));
        for (std::size_t from = 0; from < stored_.sound.size(); from += piece) {
            const std::size_t count = std::min(piece, stored_.sound.size() - from);
            const Owned<AVFrame> frame(av_frame_alloc());
            frame->format = sound_->sample_fmt;
            frame->sample_rate = sound_->sample_rate;
            frame->nb_samples = static_cast<int>(count);
            frame->ch_layout = AV_CHANNEL_LAYOUT_MONO;
            frame->pts = static_cast<std::int64_t>(from);
            if (!check(av_frame_get_buffer(frame.get(), 0)))
                return false;
            auto* to = reinterpret_cast<std::int16_t*>(frame->data[0]);
            for (std::size_t i = 0; i < count; ++i)
                to[i] = static_cast<std::int16_t>(
                    std::lround(32000.0F * std::clamp(stored_.sound[from + i], -1.0F, 1.0F)));
            if (!encode(sound_.get(), frame.get(), sound_stream_))
                return false;
        }
        return true;
    }

    bool encode(AVCodecContext* encoder, const AVFrame* frame, AVStream* stream) {
        if (!check(avcodec_send_frame(encoder, frame)))
            return false;
        const Owned<AVPacket> packet(av_packet_alloc());
        for (;;) {
            const int got = avcodec_receive_packet(encoder, packet.get());
            if (got == AVERROR(EAGAIN) || got == AVERROR_EOF)
                return true;
            if (!check(got))
                return false;
            packet->stream_index = stream->index;
            if (packet->duration == 0 && encoder == video_.get())
                packet->duration = std::llround(kTicks / stored_.stored_rate_hz);
            av_packet_rescale_ts(packet.get(), encoder->time_base, stream->time_base);
            if (!check(av_interleaved_write_frame(format_, packet.get())))
                return false;
        }
    }

    const StoredAs& stored_;
    AVFormatContext* format_ = nullptr;
    Owned<AVCodecContext> video_;
    Owned<AVCodecContext> sound_;
    Owned<SwsContext> scaler_;
    AVStream* video_stream_ = nullptr; ///< the format's
    AVStream* sound_stream_ = nullptr;
    std::string error_;
};

} // namespace

std::vector<Finding> write_film(const std::filesystem::path& path, std::size_t pictures,
                                const std::function<Drawn(std::size_t)>& draw,
                                const StoredAs& stored) {
    Writer writer(stored);
    bool fine = pictures > 0;
    for (std::size_t i = 0; fine && i < pictures; ++i) {
        const Drawn drawn = draw(i);
        fine =
            (i > 0 || writer.open(path, drawn.width_px, drawn.height_px)) && writer.add(drawn, i);
    }
    if (fine && writer.finish())
        return {};
    return {{Finding::Severity::Error, "film-not-written",
             "The film cannot be written: " + writer.error() + ".", path.string(),
             "Choose a name that ends in .mp4 or .mkv, in a folder that can be written to."}};
}

std::vector<float> swing_sound(double impact_s, double duration_s, double distance_m, int rate_hz,
                               std::uint32_t seed) {
    std::mt19937 random(seed);
    std::normal_distribution<float> normal;
    const double heard_s = impact_s + distance_m / 343.0;
    std::vector<float> out(static_cast<std::size_t>(std::max(0.0, duration_s * rate_hz)));
    float wind = 0.0F;
    for (std::size_t i = 0; i < out.size(); ++i) {
        const double t_s = static_cast<double>(i) / rate_hz;
        wind += 0.02F * (normal(random) - wind);
        const double swish = std::exp(-0.5 * std::pow((t_s - heard_s + 0.01) / 0.03, 2.0));
        double value = 0.03 * wind + 0.002 * normal(random) + 0.02 * swish * normal(random);
        const double after_s = t_s - heard_s;
        if (after_s >= 0.0)
            value +=
                std::exp(-after_s / 0.004) * (0.5 * std::sin(2.0 * 3.14159265 * 3200.0 * after_s) +
                                              0.35 * static_cast<double>(normal(random)));
        out[i] = static_cast<float>(value);
    }
    return out;
}

std::vector<Finding> film_swing(const std::filesystem::path& path,
                                const simulate::SwingModel& model, const simulate::FilmSetup& setup,
                                const simulate::FilmCamera& camera, FilmLook look) {
    const Scene scene(model, setup, camera);
    const double lasts_s = model.duration_s() - camera.starts_s;
    look.stored.capture_rate_hz = camera.rate_hz;
    const auto pictures = static_cast<std::size_t>(std::max(1.0, lasts_s * camera.rate_hz));
    // However slowly it is stored, a sound card's rate is left of it.
    if (look.stored.stored_rate_hz < look.stored.capture_rate_hz)
        look.stored.sound_rate_hz *= 4;
    if (look.with_sound)
        look.stored.sound =
            swing_sound(model.impact_s() - camera.starts_s, lasts_s,
                        (simulate::Lens(camera).at_m() - Eigen::Vector3d(0.0, -0.75, 0.0)).norm(),
                        look.stored.sound_rate_hz, setup.seed);
    return write_film(
        path, pictures,
        [&](std::size_t number) {
            return scene.draw(camera.starts_s + static_cast<double>(number) / camera.rate_hz,
                              look.grain, static_cast<std::uint32_t>(number));
        },
        look.stored);
}

} // namespace kite::film
