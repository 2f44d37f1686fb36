#include "film/ffmpeg.h"
#include "film/pictures.h"
#include "film/sources.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <map>

namespace kite::film {

namespace {

/// A picture of the film as its container lists it.
struct Listed {
    std::int64_t pts = 0;
    std::int64_t dts = 0;
    bool key = false;
};

std::size_t bytes_of(const AVFrame& frame) {
    const int bytes = av_image_get_buffer_size(static_cast<AVPixelFormat>(frame.format),
                                               frame.width, frame.height, 32);
    return bytes > 0 ? static_cast<std::size_t>(bytes) : 0;
}

double rate_of(const std::vector<double>& times_s) {
    if (times_s.size() < 2 || !(times_s.back() > 0.0))
        return 0.0;
    return static_cast<double>(times_s.size() - 1) / times_s.back();
}

/// Capture rates that a file tells, whatever its maker calls them: "…capture.fps", "capture_rate…".
std::optional<double> told_rate(const AVDictionary* tags) {
    const AVDictionaryEntry* entry = nullptr;
    while ((entry = av_dict_get(tags, "", entry, AV_DICT_IGNORE_SUFFIX)) != nullptr) {
        std::string key = lower(entry->key);
        key.erase(std::remove_if(key.begin(), key.end(),
                                 [](unsigned char c) { return std::isalnum(c) == 0; }),
                  key.end());
        if (key.find("capturefps") == std::string::npos &&
            key.find("capturerate") == std::string::npos &&
            key.find("captureframerate") == std::string::npos)
            continue;
        // A point whatever the locale says.
        const std::string_view value = entry->value;
        double rate_hz = 0.0;
        std::from_chars(value.data(), value.data() + value.size(), rate_hz);
        if (rate_hz >= 1.0 && rate_hz <= 10000.0)
            return rate_hz;
    }
    return std::nullopt;
}

class VideoFilm : public Film {
public:
    /// Empty: it is open.
    Finding start(const std::filesystem::path& path) {
        const auto fail = [](const char* code, const std::string& what, const char* mend) {
            return Finding{Finding::Severity::Error, code, what, {}, mend};
        };
        path_ = path.string();
        OpenedFile file = open_file(path_);
        if (!file.error.empty() || !file.format)
            return fail(
                "not-a-film", "This cannot be opened as film: " + file.error + ".",
                "Copy it from the phone again, or have another program store it as MP4 or WebM.");
        if (!take_stream(std::move(file.format)))
            return fail("no-pictures", "There are no moving pictures in this file.",
                        "Choose the film itself: MP4, MOV, WebM, MKV or AVI.");
        facts_.has_sound = av_find_best_stream(format_.get(), AVMEDIA_TYPE_AUDIO, -1,
                                               stream_->index, nullptr, 0) >= 0;
        std::string error;
        decoder_ = open_decoder(*stream_, error);
        if (!decoder_)
            return fail("not-decodable", "The pictures of this film cannot be read: " + error + ".",
                        "Have another program store it as MP4 or WebM.");
        facts_.codec = avcodec_get_name(stream_->codecpar->codec_id);
        facts_.turned_deg = turn_of(*stream_);
        packet_.reset(av_packet_alloc());
        frame_.reset(av_frame_alloc());
        list();
        if (listed_.empty())
            return fail("no-pictures", "This film holds no picture that can be read.",
                        "Copy it from the phone again.");
        if (!first_picture())
            return fail("not-decodable",
                        "The pictures of this film cannot be read: " +
                            (problem_.empty() ? std::string("they are damaged") : problem_) + ".",
                        "Copy it from the phone again.");
        set_facts();
        return {Finding::Severity::Note, {}, {}, {}, {}};
    }

    SharedPicture picture(std::size_t number) override {
        if (number >= listed_.size())
            return nullptr;
        problem_.clear();
        const auto found = cache_.find(listed_[number].pts);
        if (found == cache_.end() && !fetch(number)) {
            if (problem_.empty())
                problem_ = "picture " + std::to_string(number + 1) + " is damaged";
            return nullptr;
        }
        const AVFrame& frame = *cache_.at(listed_[number].pts);
        SharedPicture out = upright_.show(frame, pixel_shape(), facts_.turned_deg);
        if (!out)
            problem_ = "picture " + std::to_string(number + 1) + " cannot be shown";
        return out;
    }

    bool prepare(std::size_t number, int pictures) override {
        if (number >= listed_.size() || is_near(number))
            return true;
        if (!is_on_the_way_to(number))
            seek(number);
        for (int i = 0; i < pictures; ++i) {
            if (!decode_one()) {
                next_.reset();
                return true;
            }
            const std::int64_t pts = time_of(*frame_);
            keep(pts, number);
            next_ = after(pts);
            if (*next_ > number)
                return true;
        }
        return false;
    }

    bool is_near(std::size_t number) const override {
        return number < listed_.size() && cache_.count(listed_[number].pts) > 0;
    }
    std::size_t cache_bytes() const override { return bytes_; }

private:
    /// The pictures of a file that was opened; only they are read from here on.
    bool take_stream(Owned<AVFormatContext> format) {
        const int found = av_find_best_stream(format.get(), AVMEDIA_TYPE_VIDEO, -1, -1, nullptr, 0);
        if (found < 0)
            return false;
        format_ = std::move(format);
        stream_ = format_->streams[found];
        for (unsigned i = 0; i < format_->nb_streams; ++i)
            if (static_cast<int>(i) != found)
                format_->streams[i]->discard = AVDISCARD_ALL;
        return true;
    }

    /// Times of all pictures from what the container lists, else by decoding them all.
    void list() {
        bool timed = true;
        while (av_read_frame(format_.get(), packet_.get()) >= 0) {
            if (packet_->stream_index == stream_->index &&
                (packet_->flags & AV_PKT_FLAG_DISCARD) == 0) {
                timed = timed && packet_->pts != AV_NOPTS_VALUE;
                listed_.push_back({packet_->pts,
                                   packet_->dts == AV_NOPTS_VALUE ? packet_->pts : packet_->dts,
                                   (packet_->flags & AV_PKT_FLAG_KEY) != 0});
            }
            av_packet_unref(packet_.get());
        }
        if (!timed)
            list_by_decoding();
        const auto earlier = [](const Listed& a, const Listed& b) { return a.pts < b.pts; };
        std::stable_sort(listed_.begin(), listed_.end(), earlier);
        listed_.erase(std::unique(listed_.begin(), listed_.end(),
                                  [](const Listed& a, const Listed& b) { return a.pts == b.pts; }),
                      listed_.end());
    }

    void list_by_decoding() {
        listed_.clear();
        by_decoding_ = true;
        rewind();
        while (decode_one())
            listed_.push_back({time_of(*frame_), time_of(*frame_), listed_.empty()});
    }

    /// Some films begin with pictures that need one that is not there: they are left out.
    bool first_picture() {
        constexpr std::size_t kTries = 32;
        for (std::size_t i = 0; i < std::min(kTries, listed_.size()); ++i)
            if (fetch(i)) {
                listed_.erase(listed_.begin(), listed_.begin() + static_cast<std::ptrdiff_t>(i));
                next_.reset(); // counted from the old first one
                const AVFrame& frame = *cache_.at(listed_.front().pts);
                facts_.interlaced = frame.interlaced_frame != 0;
                double wide = frame.width * pixel_width(pixel_shape());
                double high = frame.height;
                if (facts_.turned_deg == 90 || facts_.turned_deg == 270)
                    std::swap(wide, high);
                facts_.size_px = Pixel(std::round(wide), std::round(high));
                return true;
            }
        return false;
    }

    void set_facts() {
        const double unit_s = av_q2d(stream_->time_base);
        facts_.stored_s.reserve(listed_.size());
        for (const Listed& one : listed_)
            facts_.stored_s.push_back(unit_s * static_cast<double>(one.pts - listed_.front().pts));
        facts_.stored_rate_hz = rate_of(facts_.stored_s);
        facts_.capture_rate_hz = told_rate(stream_->metadata);
        if (!facts_.capture_rate_hz)
            facts_.capture_rate_hz = told_rate(format_->metadata);
    }

    AVRational pixel_shape() const {
        return av_guess_sample_aspect_ratio(format_.get(), stream_, nullptr);
    }
    static std::int64_t time_of(const AVFrame& frame) {
        return frame.best_effort_timestamp != AV_NOPTS_VALUE ? frame.best_effort_timestamp
                                                             : frame.pts;
    }

    /// Back to the first picture. What was listed by decoding is opened anew: such containers are
    /// searched through, and end up somewhere near.
    void rewind() {
        avcodec_flush_buffers(decoder_.get());
        ended_ = false;
        next_.reset();
        const std::int64_t start = stream_->start_time != AV_NOPTS_VALUE ? stream_->start_time : 0;
        if (!by_decoding_ &&
            avformat_seek_file(format_.get(), stream_->index, INT64_MIN, start, start, 0) >= 0)
            return;
        OpenedFile file = open_file(path_);
        if (file.error.empty() && file.format)
            take_stream(std::move(file.format));
    }

    /// The next decoded picture into `frame_`; false: there are no more.
    bool decode_one() {
        for (;;) {
            const int got = avcodec_receive_frame(decoder_.get(), frame_.get());
            if (got == 0) {
                if (by_decoding_ && time_of(*frame_) == AV_NOPTS_VALUE)
                    continue;
                return true;
            }
            if (got != AVERROR(EAGAIN))
                return false;
            if (ended_)
                return false;
            const int read = av_read_frame(format_.get(), packet_.get());
            if (read < 0) {
                ended_ = true;
                avcodec_send_packet(decoder_.get(), nullptr);
                continue;
            }
            if (packet_->stream_index == stream_->index) {
                const int sent = avcodec_send_packet(decoder_.get(), packet_.get());
                if (sent < 0 && sent != AVERROR(EAGAIN) && problem_.empty())
                    problem_ = ffmpeg_words(sent);
            }
            av_packet_unref(packet_.get());
        }
    }

    /// Whether decoding on from where it stands is no longer than from a picture that stands alone.
    bool is_on_the_way_to(std::size_t number) const {
        constexpr std::size_t kAhead = 48;
        if (!next_ || number < *next_)
            return false;
        if (number - *next_ < kAhead)
            return true;
        const auto begin = listed_.begin() + static_cast<std::ptrdiff_t>(*next_);
        const auto end = listed_.begin() + static_cast<std::ptrdiff_t>(number) + 1;
        return std::none_of(begin, end, [](const Listed& one) { return one.key; });
    }

    /// Decodes from where it stands, or from the nearest picture that stands alone.
    bool fetch(std::size_t number) {
        const std::int64_t wanted = listed_[number].pts;
        if (is_on_the_way_to(number) && run_to(wanted, number))
            return true;
        seek(number);
        if (run_to(wanted, number))
            return true;
        if (!overshot_)
            return false; // it was passed by: this one is damaged, the others are where they were
        // A list of places that lies: from the very beginning, now and from here on.
        by_decoding_ = true;
        rewind();
        return run_to(wanted, number);
    }

    void seek(std::size_t number) {
        std::size_t key = number;
        while (key > 0 && !listed_[key].key)
            --key;
        avcodec_flush_buffers(decoder_.get());
        ended_ = false;
        next_.reset();
        if (key == 0 || by_decoding_ ||
            av_seek_frame(format_.get(), stream_->index, listed_[key].dts, AVSEEK_FLAG_BACKWARD) <
                0)
            rewind();
    }

    /// The number of the first picture later than this.
    std::size_t after(std::int64_t pts) const {
        const auto at =
            std::upper_bound(listed_.begin(), listed_.end(), pts,
                             [](std::int64_t value, const Listed& one) { return value < one.pts; });
        return static_cast<std::size_t>(at - listed_.begin());
    }

    bool run_to(std::int64_t wanted, std::size_t number) {
        bool found = false;
        bool first = true;
        overshot_ = true; // unless something comes that is early enough
        while (decode_one()) {
            const std::int64_t pts = time_of(*frame_);
            if (first)
                overshot_ = pts > wanted;
            first = false;
            keep(pts, number);
            found = found || pts == wanted;
            if (pts >= wanted) {
                next_ = after(pts);
                return found;
            }
        }
        next_.reset(); // it has run out: the next one begins with a seek
        return found;
    }

    void keep(std::int64_t pts, std::size_t wanted) {
        const bool is_listed =
            std::binary_search(listed_.begin(), listed_.end(), Listed{pts, 0, false},
                               [](const Listed& a, const Listed& b) { return a.pts < b.pts; });
        if (!is_listed || cache_.count(pts) > 0)
            return;
        bytes_ += bytes_of(*frame_);
        Owned<AVFrame> kept(av_frame_alloc());
        av_frame_move_ref(kept.get(), frame_.get());
        cache_.emplace(pts, std::move(kept));
        // The farthest from what is wanted goes first.
        const std::int64_t centre = listed_[wanted].pts;
        while (bytes_ > kCacheBytes && cache_.size() > 2) {
            const auto first = cache_.begin();
            const auto last = std::prev(cache_.end());
            const auto far = centre - first->first >= last->first - centre ? first : last;
            bytes_ -= bytes_of(*far->second);
            cache_.erase(far);
        }
    }

    Owned<AVFormatContext> format_;
    Owned<AVCodecContext> decoder_;
    Owned<AVPacket> packet_;
    Owned<AVFrame> frame_;
    AVStream* stream_ = nullptr; ///< the format's
    std::vector<Listed> listed_; ///< in order of time
    std::map<std::int64_t, Owned<AVFrame>> cache_;
    std::size_t bytes_ = 0;
    std::optional<std::size_t> next_; ///< number of the picture that comes next; empty: unknown
    bool overshot_ = false; ///< the first picture after a seek was later than the one wanted
    bool ended_ = false;
    bool by_decoding_ = false; ///< the container does not list times, or lists them wrongly
    std::string path_;
    Upright upright_;
};

} // namespace

Outcome<std::shared_ptr<Film>> open_video(const std::filesystem::path& path) {
    Outcome<std::shared_ptr<Film>> out;
    auto film = std::make_shared<VideoFilm>();
    Finding problem = film->start(path);
    if (problem.severity == Finding::Severity::Error) {
        out.add(std::move(problem));
        return out;
    }
    if (film->facts().interlaced)
        out.add({Finding::Severity::Note,
                 "interlaced",
                 "The film is interlaced; of every picture the first half is shown.",
                 {},
                 {}});
    out.value = std::move(film);
    return out;
}

} // namespace kite::film
