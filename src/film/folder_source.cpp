#include "film/ffmpeg.h"
#include "film/pictures.h"
#include "film/sources.h"

#include <algorithm>
#include <map>

namespace kite::film {

namespace fs = std::filesystem;

namespace {

/// What a folder of pictures plays at while nobody says how it was taken.
constexpr double kAssumedRate_hz = 30.0;

SharedPicture read_picture(const fs::path& path, Upright& upright, std::string& problem) {
    OpenedFile file = open_file(path.string());
    if (!file.error.empty() || !file.format) {
        problem = file.error;
        return nullptr;
    }
    const int found =
        av_find_best_stream(file.format.get(), AVMEDIA_TYPE_VIDEO, -1, -1, nullptr, 0);
    if (found < 0) {
        problem = "it is no picture";
        return nullptr;
    }
    const AVStream& stream = *file.format->streams[found];
    const Owned<AVCodecContext> decoder = open_decoder(stream, problem);
    if (!decoder)
        return nullptr;
    const Owned<AVPacket> packet(av_packet_alloc());
    const Owned<AVFrame> frame(av_frame_alloc());
    while (av_read_frame(file.format.get(), packet.get()) >= 0) {
        if (packet->stream_index == found)
            avcodec_send_packet(decoder.get(), packet.get());
        av_packet_unref(packet.get());
    }
    avcodec_send_packet(decoder.get(), nullptr);
    if (avcodec_receive_frame(decoder.get(), frame.get()) < 0) {
        problem = "it is damaged";
        return nullptr;
    }
    return upright.show(*frame, frame->sample_aspect_ratio, turn_of(stream));
}

class FolderFilm : public Film {
public:
    explicit FolderFilm(std::vector<fs::path> files) : files_(std::move(files)) {
        facts_.codec = "pictures";
        facts_.has_times = false;
        facts_.stored_rate_hz = kAssumedRate_hz;
        for (std::size_t i = 0; i < files_.size(); ++i)
            facts_.stored_s.push_back(static_cast<double>(i) / kAssumedRate_hz);
    }
    bool start() {
        const SharedPicture first = picture(0);
        if (first)
            facts_.size_px = Pixel(first->width_px, first->height_px);
        return first != nullptr;
    }

    SharedPicture picture(std::size_t number) override {
        if (number >= files_.size())
            return nullptr;
        const auto found = cache_.find(number);
        if (found != cache_.end())
            return found->second;
        problem_.clear();
        SharedPicture out = read_picture(files_[number], upright_, problem_);
        if (!out) {
            problem_ = files_[number].filename().string() + ": " + problem_;
            return nullptr;
        }
        bytes_ += out->bgra.size();
        cache_.emplace(number, out);
        while (bytes_ > kCacheBytes && cache_.size() > 2) {
            const auto last = std::prev(cache_.end());
            const auto far =
                number - cache_.begin()->first >= last->first - number ? cache_.begin() : last;
            bytes_ -= far->second->bgra.size();
            cache_.erase(far);
        }
        return out;
    }
    bool prepare(std::size_t number, int /*pictures*/) override {
        picture(number);
        return true;
    }
    bool is_near(std::size_t number) const override { return cache_.count(number) > 0; }
    std::size_t cache_bytes() const override { return bytes_; }

private:
    std::vector<fs::path> files_;
    std::map<std::size_t, SharedPicture> cache_;
    std::size_t bytes_ = 0;
    Upright upright_;
};

} // namespace

Outcome<std::shared_ptr<Film>> open_folder(const fs::path& path) {
    Outcome<std::shared_ptr<Film>> out;
    std::vector<fs::path> files = numbered_pictures(path);
    if (files.empty()) {
        out.add({Finding::Severity::Error, "no-pictures",
                 "There are no numbered pictures in this folder.", path.string(),
                 "Choose a folder with pictures such as swing-0001.png."});
        return out;
    }
    auto film = std::make_shared<FolderFilm>(std::move(files));
    if (!film->start()) {
        out.add({Finding::Severity::Error, "not-decodable",
                 "The first picture cannot be read: " + film->problem() + ".", path.string(),
                 "Copy the pictures again."});
        return out;
    }
    out.value = std::move(film);
    return out;
}

} // namespace kite::film
