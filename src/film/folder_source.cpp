#include "film/ffmpeg.h"
#include "film/pictures.h"
#include "film/sources.h"

#include <algorithm>
#include <cctype>
#include <map>

namespace kite::film {

namespace fs = std::filesystem;

namespace {

/// What a folder of pictures plays at while nobody says how it was taken.
constexpr double kAssumedRate_hz = 30.0;

/// The last number in a name; -1: none.
long long number_in(const std::string& stem) {
    std::size_t end = stem.size();
    while (end > 0 && std::isdigit(static_cast<unsigned char>(stem[end - 1])) == 0)
        --end;
    std::size_t begin = end;
    while (begin > 0 && std::isdigit(static_cast<unsigned char>(stem[begin - 1])) != 0)
        --begin;
    if (begin == end || end - begin > 15)
        return -1;
    return std::stoll(stem.substr(begin, end - begin));
}

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

std::vector<fs::path> numbered_pictures(const fs::path& folder) {
    std::vector<std::pair<long long, fs::path>> found;
    std::error_code error;
    for (const fs::directory_entry& entry : fs::directory_iterator(folder, error)) {
        const std::string ending = lower(entry.path().extension().string());
        const bool picture = ending == ".png" || ending == ".jpg" || ending == ".jpeg" ||
                             ending == ".bmp" || ending == ".tif" || ending == ".tiff" ||
                             ending == ".webp" || ending == ".ppm";
        const long long number = number_in(entry.path().stem().string());
        if (picture && number >= 0)
            found.emplace_back(number, entry.path());
    }
    std::sort(found.begin(), found.end());
    std::vector<fs::path> out;
    out.reserve(found.size());
    for (auto& one : found)
        out.push_back(std::move(one.second));
    return out;
}

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
