#pragma once

// For the sources of this folder alone: FFmpeg's handles, owned.
extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
#include <libavutil/display.h>
#include <libavutil/imgutils.h>
#include <libavutil/opt.h>
#include <libswresample/swresample.h>
#include <libswscale/swscale.h>
}

#include <memory>
#include <string>

namespace kite::film {

struct FreeFFmpeg {
    void operator()(AVFormatContext* p) const { avformat_close_input(&p); }
    void operator()(AVCodecContext* p) const { avcodec_free_context(&p); }
    void operator()(AVFrame* p) const { av_frame_free(&p); }
    void operator()(AVPacket* p) const { av_packet_free(&p); }
    void operator()(SwsContext* p) const { sws_freeContext(p); }
    void operator()(SwrContext* p) const { swr_free(&p); }
};
template <class T>
using Owned = std::unique_ptr<T, FreeFFmpeg>;

inline std::string ffmpeg_words(int error) {
    char text[AV_ERROR_MAX_STRING_SIZE] = {};
    av_strerror(error, text, sizeof text);
    return text;
}

/// A picture of more than this many pixels is no film of a phone, but a damaged header.
inline constexpr std::int64_t kMostPixels = 64LL * 1024 * 1024;

/// A file taken apart into its streams; nothing is decoded yet.
struct OpenedFile {
    Owned<AVFormatContext> format;
    std::string error; ///< empty: it is open
};
OpenedFile open_file(const std::string& path);
/// A decoder for a stream of it; null with words in `error`.
Owned<AVCodecContext> open_decoder(const AVStream& stream, std::string& error);

} // namespace kite::film
