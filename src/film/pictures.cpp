#include "film/pictures.h"

#include <algorithm>
#include <cmath>
#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

namespace kite::film {

OpenedFile open_file(const std::string& path) {
    av_log_set_level(AV_LOG_QUIET); // what is wrong with a file is said in our own words
    OpenedFile out;
    AVFormatContext* format = nullptr;
    // No other file and no address is opened from inside a film.
    AVDictionary* options = nullptr;
    av_dict_set(&options, "protocol_whitelist", "file", 0);
    const int opened = avformat_open_input(&format, ("file:" + path).c_str(), nullptr, &options);
    av_dict_free(&options);
    if (opened < 0) {
        out.error = ffmpeg_words(opened);
        return out;
    }
    out.format.reset(format);
    format->max_analyze_duration = std::int64_t{2} * AV_TIME_BASE;
    const int found = avformat_find_stream_info(format, nullptr);
    if (found < 0)
        out.error = ffmpeg_words(found);
    return out;
}

Owned<AVCodecContext> open_decoder(const AVStream& stream, std::string& error) {
    const AVCodec* codec = avcodec_find_decoder(stream.codecpar->codec_id);
    if (codec == nullptr) {
        error = "it is stored in a way that is not known here (" +
                std::string(avcodec_get_name(stream.codecpar->codec_id)) + ")";
        return nullptr;
    }
    Owned<AVCodecContext> context(avcodec_alloc_context3(codec));
    if (!context || avcodec_parameters_to_context(context.get(), stream.codecpar) < 0) {
        error = "its header is damaged";
        return nullptr;
    }
    context->max_pixels = kMostPixels;
    context->thread_count = 2;
    context->pkt_timebase = stream.time_base;
    const int opened = avcodec_open2(context.get(), codec, nullptr);
    if (opened < 0) {
        error = ffmpeg_words(opened);
        return nullptr;
    }
    return context;
}

int turn_of(const AVStream& stream) {
    size_t size = 0;
    const auto* matrix = reinterpret_cast<const std::int32_t*>(
        av_stream_get_side_data(&stream, AV_PKT_DATA_DISPLAYMATRIX, &size));
    if (matrix == nullptr || size < 9 * sizeof(std::int32_t))
        return 0;
    // Counterclockwise, as the matrix is read.
    const double turned = av_display_rotation_get(matrix);
    if (!std::isfinite(turned))
        return 0;
    const int quarters = static_cast<int>(std::lround(-turned / 90.0));
    return ((quarters % 4) + 4) % 4 * 90;
}

double pixel_width(AVRational shape) {
    const double wide = shape.num > 0 && shape.den > 0 ? av_q2d(shape) : 1.0;
    return wide > 0.1 && wide < 10.0 ? wide : 1.0;
}

SharedPicture Upright::show(const AVFrame& frame, AVRational pixel_shape, int turned_deg) {
    if (frame.width <= 0 || frame.height <= 0 ||
        static_cast<std::int64_t>(frame.width) * frame.height > kMostPixels)
        return nullptr;
    const double wide = pixel_width(pixel_shape);
    const int width = std::max(1, static_cast<int>(std::lround(frame.width * wide)));
    const int height = frame.height;
    std::array<const std::uint8_t*, 4> from{};
    std::array<int, 4> step{};
    // The first half of an interlaced picture: every second of its rows.
    const bool half = frame.interlaced_frame != 0 && frame.height > 1;
    for (std::size_t i = 0; i < 4; ++i) {
        from[i] = frame.data[i];
        step[i] = frame.linesize[i] * (half ? 2 : 1);
        if (half && frame.top_field_first == 0 && from[i] != nullptr)
            from[i] += frame.linesize[i];
    }
    // A palette has no rows.
    if (frame.format == AV_PIX_FMT_PAL8)
        from[1] = frame.data[1];
    scaler_.reset(sws_getCachedContext(scaler_.release(), frame.width,
                                       half ? frame.height / 2 : frame.height,
                                       static_cast<AVPixelFormat>(frame.format), width, height,
                                       AV_PIX_FMT_BGRA, SWS_BILINEAR, nullptr, nullptr, nullptr));
    if (!scaler_)
        return nullptr;
    auto out = std::make_shared<Picture>();
    // The scaler writes a little beyond the last row where rows are not a multiple of its step.
    const int row = (4 * width + 63) / 64 * 64;
    std::vector<std::uint8_t> loose(static_cast<std::size_t>(row) * height + 64);
    std::uint8_t* to[4] = {loose.data(), nullptr, nullptr, nullptr};
    const int to_step[4] = {row, 0, 0, 0};
    if (sws_scale(scaler_.get(), from.data(), step.data(), 0,
                  half ? frame.height / 2 : frame.height, to, to_step) <= 0)
        return nullptr;
    const cv::Mat flat(height, width, CV_8UC4, loose.data(), static_cast<std::size_t>(row));
    const bool lies = turned_deg == 90 || turned_deg == 270;
    out->width_px = lies ? height : width;
    out->height_px = lies ? width : height;
    out->bgra.resize(4U * static_cast<std::size_t>(width) * static_cast<std::size_t>(height));
    cv::Mat upright(out->height_px, out->width_px, CV_8UC4, out->bgra.data());
    if (turned_deg == 90)
        cv::rotate(flat, upright, cv::ROTATE_90_CLOCKWISE);
    else if (turned_deg == 180)
        cv::rotate(flat, upright, cv::ROTATE_180);
    else if (turned_deg == 270)
        cv::rotate(flat, upright, cv::ROTATE_90_COUNTERCLOCKWISE);
    else
        flat.copyTo(upright);
    return out;
}

GreyPicture grey_of(const Picture& picture, int times) {
    GreyPicture out;
    out.width_px = picture.width_px / std::max(1, times);
    out.height_px = picture.height_px / std::max(1, times);
    out.grey.resize(static_cast<std::size_t>(out.width_px) *
                    static_cast<std::size_t>(out.height_px));
    if (out.empty())
        return out;
    const cv::Mat colours(picture.height_px, picture.width_px, CV_8UC4,
                          const_cast<std::uint8_t*>(picture.bgra.data())); // only read
    cv::Mat grey(out.height_px, out.width_px, CV_8UC1, out.grey.data());
    if (times <= 1) {
        cv::cvtColor(colours, grey, cv::COLOR_BGRA2GRAY);
        return out;
    }
    cv::Mat whole;
    cv::cvtColor(colours(cv::Rect(0, 0, out.width_px * times, out.height_px * times)), whole,
                 cv::COLOR_BGRA2GRAY);
    cv::resize(whole, grey, grey.size(), 0.0, 0.0, cv::INTER_AREA);
    return out;
}

} // namespace kite::film
