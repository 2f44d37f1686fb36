#include "formats/film/film_json.h"

#include "core/film/film_take.h"
#include "formats/json/strict_json.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace kite::formats {

namespace {

using film::Line;
using film::MarkedFrame;
using film::Marks;
using film::Pixel;
using film::View;
using Json = StrictJson::Json;
using Node = StrictJson::Node;
using Severity = Finding::Severity;

constexpr const char* kFilmVersion = "film 1";
/// A picture larger than any camera's, and a mark as far outside it, are damage.
constexpr double kLargestPicture_px = 20000.0;
constexpr std::size_t kMostViews = 3;
constexpr std::size_t kMostFrames = 3000;

class MarksReader : public StrictJson {
public:
    using StrictJson::StrictJson;

    Marks read(const Node& root) {
        only(root, {"kite-hinge", "handed", "club", "lengths_m", "mark_error_px", "views"});
        Marks out;
        out.handed = one_of<Handedness>(root, "handed", find_handedness, "right or left");
        out.club = one_of<ClubKind>(root, "club", find_club_kind, "driver, wood, iron or wedge");
        if (const auto lengths = told(root, "lengths_m")) {
            only(*lengths, {"belt_stick", "shoulder_stick", "arm", "club"});
            out.lengths_m.belt_stick = length(*lengths, "belt_stick");
            out.lengths_m.shoulder_stick = length(*lengths, "shoulder_stick");
            out.lengths_m.arm = length(*lengths, "arm");
            out.lengths_m.club = length(*lengths, "club");
        }
        out.mark_error_px = between(root, "mark_error_px", 0.05, 100.0, "pixels");
        const auto views = list(root, "views");
        if (views.empty())
            fail(root, "There is no view.", "Add \"views\" with the marks of one camera or more.");
        if (views.size() > kMostViews)
            fail(views[kMostViews], "There are more than three views.",
                 "Keep one face-on, one down the line and one from above.");
        for (std::size_t i = 0; i < std::min(views.size(), kMostViews); ++i)
            out.views.push_back(read_view(views[i]));
        for (std::size_t i = 0; i < out.views.size(); ++i)
            for (std::size_t j = 0; j < i; ++j)
                if (out.views[i].side == out.views[j].side)
                    fail(views[i],
                         "Two views are both " + std::string(key_of(out.views[i].side)) + ".",
                         "Keep the better one, or say where the other stood.");
        return out;
    }

    std::vector<Finding> notes;

private:
    /// What is there and is not null.
    std::optional<Node> told(const Node& at, const char* key) {
        const auto found = member(at, key);
        return found && !found->json->is_null() ? found : std::nullopt;
    }
    template <class Kind>
    std::optional<Kind> one_of(const Node& at, const char* key,
                               std::optional<Kind> (*find)(std::string_view), const char* known) {
        const auto found = told(at, key);
        if (!found)
            return std::nullopt;
        const auto kind =
            found->json->is_string() ? find(found->json->get<std::string>()) : std::nullopt;
        if (!kind)
            fail(*found, std::string("\"") + key + "\" is not known.",
                 std::string("Write ") + known + ".");
        return kind;
    }
    std::optional<double> between(const Node& at, const char* key, double least, double most,
                                  const char* unit) {
        const auto found = told(at, key);
        if (!found)
            return std::nullopt;
        const double value = number(at, key);
        if (std::isfinite(value) && value >= least && value <= most)
            return value;
        if (std::isfinite(value))
            fail(*found, std::string("\"") + key + "\" cannot be that many " + unit + ".",
                 "Mend the number, or leave it out if nobody knows.");
        return std::nullopt;
    }
    std::optional<double> length(const Node& at, const char* key) {
        return between(at, key, 0.1, 2.5, "metres");
    }
    std::optional<Pixel> pixel(const Node& at) {
        const Json& json = *at.json;
        if (!json.is_array() || json.size() != 2 || !json[0].is_number() || !json[1].is_number()) {
            fail(at, "A place in the picture is two numbers.", "Write it as [right, down].");
            return std::nullopt;
        }
        const Pixel out(json[0].get<double>(), json[1].get<double>());
        if (!(out.cwiseAbs().maxCoeff() <= kLargestPicture_px)) {
            fail(at, "This place lies outside of every picture.", "Mark it again.");
            return std::nullopt;
        }
        return out;
    }
    std::optional<Line> line(const Node& at, const char* key) {
        const auto found = told(at, key);
        if (!found)
            return std::nullopt;
        if (!found->json->is_array() || found->json->size() != 2) {
            fail(*found, "A line in the picture is two places.",
                 "Write it as [[right, down], [right, down]].");
            return std::nullopt;
        }
        const auto from = pixel({&(*found->json)[0], found->pointer + "/0"});
        const auto to = pixel({&(*found->json)[1], found->pointer + "/1"});
        if (!from || !to)
            return std::nullopt;
        if ((*to - *from).norm() < 2.0) {
            fail(*found, "Both ends of the line are the same place.", "Mark it again.");
            return std::nullopt;
        }
        return Line{*from, *to};
    }

    View read_view(const Node& at) {
        only(at, {"view", "film", "size_px", "capture_rate_hz", "offset_s", "camera", "plumb_px",
                  "target_line_px", "scale", "moments_s", "marks"});
        View out;
        if (const auto side =
                one_of<film::Side>(at, "view", film::find_side, "face-on, down-the-line or above"))
            out.side = *side;
        else if (!told(at, "view"))
            fail(at, "Where this camera stood is missing.",
                 "Add \"view\": face-on, down-the-line or above.");
        out.film = told(at, "film") ? text(at, "film") : std::string();
        const auto size = told(at, "size_px");
        const auto size_px = size ? pixel(*size) : std::nullopt;
        if (size_px && size_px->minCoeff() >= 16.0)
            out.size_px = *size_px;
        else
            fail(size.value_or(at), "\"size_px\" must be the size of the upright picture.",
                 "Write it as [width, height] in pixels.");
        if (const auto rate = between(at, "capture_rate_hz", 5.0, 10000.0, "pictures a second"))
            out.capture_rate_hz = *rate;
        out.offset_s = between(at, "offset_s", -3600.0, 3600.0, "seconds");
        if (const auto camera = told(at, "camera")) {
            only(*camera, {"distance_m", "height_m", "focal_px"});
            out.distance_m = between(*camera, "distance_m", 0.5, 100.0, "metres");
            out.height_m = between(*camera, "height_m", 0.0, 20.0, "metres");
            out.focal_px = between(*camera, "focal_px", 50.0, 100000.0, "pixels");
        }
        out.plumb_px = line(at, "plumb_px");
        out.target_line_px = line(at, "target_line_px");
        if (const auto scale = told(at, "scale")) {
            only(*scale, {"px", "length_m"});
            out.scale_px = line(*scale, "px");
            if (const auto metres = between(*scale, "length_m", 0.05, 10.0, "metres"))
                out.scale_m = *metres;
        }
        if (const auto moments = told(at, "moments_s"))
            read_moments(*moments, out);
        const auto marks = list(at, "marks");
        if (marks.size() > kMostFrames)
            fail(marks[kMostFrames], "There are more than 3,000 pictures.", "Keep the swing.");
        for (std::size_t i = 0; i < std::min(marks.size(), kMostFrames); ++i)
            read_frame(marks[i], out);
        in_order(at, out);
        return out;
    }

    void read_moments(const Node& at, View& out) {
        if (!at.json->is_object()) {
            fail(at, "\"moments_s\" must be an object.", "Put it in braces.");
            return;
        }
        for (const auto& entry : at.json->items()) {
            const auto moment =
                std::find_if(kAllMoments.begin(), kAllMoments.end(),
                             [&](Moment known) { return key_of(known) == entry.key(); });
            const Node here{&entry.value(), at.pointer + "/" + entry.key()};
            if (moment == kAllMoments.end())
                fail(here, "There is no moment called \"" + entry.key() + "\".",
                     "Mend its spelling, or take it out.");
            else if (entry.value().is_number())
                out.moments_s[*moment] = entry.value().get<double>();
            else if (!entry.value().is_null())
                fail(here, "A moment is a number of seconds.", "Mend it, or take it out.");
        }
    }

    void read_frame(const Node& at, View& out) {
        if (!at.json->is_object()) {
            fail(at, "What was marked in a picture is an object.", "Put it in braces.");
            return;
        }
        MarkedFrame frame;
        frame.t_s = number(at, "t_s");
        for (const auto& entry : at.json->items()) {
            if (entry.key() == "t_s" || entry.value().is_null())
                continue;
            const auto& keys = film::point_keys();
            const auto key = std::find(keys.begin(), keys.end(), entry.key());
            const Node here{&entry.value(), at.pointer + "/" + entry.key()};
            if (key == keys.end()) {
                fail(here, "There is no point called \"" + entry.key() + "\".",
                     "Mend its spelling, or take it out.");
                continue;
            }
            frame.at[static_cast<std::size_t>(key - keys.begin())] = pixel(here);
        }
        if (std::isfinite(frame.t_s))
            out.frames.push_back(frame);
    }

    /// Marks may have been made in any order, and a picture may stand there twice.
    void in_order(const Node& at, View& view) {
        auto& frames = view.frames;
        const auto earlier = [](const MarkedFrame& a, const MarkedFrame& b) {
            return a.t_s < b.t_s;
        };
        if (!std::is_sorted(frames.begin(), frames.end(), earlier))
            std::stable_sort(frames.begin(), frames.end(), earlier);
        constexpr double kSame_s = 1e-5;
        std::vector<MarkedFrame> out;
        std::size_t twice = 0;
        std::vector<double> apart_px;
        for (const MarkedFrame& frame : frames) {
            if (out.empty() || frame.t_s - out.back().t_s > kSame_s) {
                out.push_back(frame);
                continue;
            }
            ++twice;
            for (std::size_t p = 0; p < film::kPoints; ++p) {
                auto& kept = out.back().at[p];
                if (kept && frame.at[p]) {
                    for (int i = 0; i < 2; ++i)
                        apart_px.push_back((*frame.at[p] - *kept)(i));
                    kept = Pixel(0.5 * (*kept + *frame.at[p]));
                } else if (frame.at[p]) {
                    kept = frame.at[p];
                }
            }
        }
        frames = std::move(out);
        if (twice == 0)
            return;
        twice_px_.insert(twice_px_.end(), apart_px.begin(), apart_px.end());
        notes.push_back({Severity::Note, "marked-twice",
                         std::to_string(twice) + " pictures were marked twice; the middle of both "
                                                 "marks was taken.",
                         at.pointer, ""});
    }

public:
    /// SD of one mark by pictures that were marked twice; empty with fewer than ten places.
    std::optional<double> error_px() const {
        constexpr std::size_t kEnough = 20;
        if (twice_px_.size() < kEnough)
            return std::nullopt;
        double sum = 0.0;
        for (double d : twice_px_)
            sum += d * d;
        return std::max(0.3, std::sqrt(sum / (2.0 * static_cast<double>(twice_px_.size()))));
    }

private:
    std::vector<double> twice_px_;
};

Json json_of(const Pixel& at) {
    return Json::array({at.x(), at.y()});
}
Json json_of(const Line& line) {
    return Json::array({json_of(line.from), json_of(line.to)});
}

template <class Value>
void put(Json& into, const char* key, const std::optional<Value>& value) {
    if (!value)
        return;
    if constexpr (std::is_same_v<Value, double>)
        into[key] = *value;
    else
        into[key] = json_of(*value);
}

Json json_of(const View& view) {
    Json out;
    out["view"] = std::string(key_of(view.side));
    if (!view.film.empty())
        out["film"] = view.film;
    out["size_px"] = json_of(view.size_px);
    if (view.capture_rate_hz > 0.0)
        out["capture_rate_hz"] = view.capture_rate_hz;
    put(out, "offset_s", view.offset_s);
    Json camera = Json::object();
    put(camera, "distance_m", view.distance_m);
    put(camera, "height_m", view.height_m);
    put(camera, "focal_px", view.focal_px);
    if (!camera.empty())
        out["camera"] = camera;
    put(out, "plumb_px", view.plumb_px);
    put(out, "target_line_px", view.target_line_px);
    if (view.scale_px)
        out["scale"] = {{"px", json_of(*view.scale_px)}, {"length_m", view.scale_m}};
    for (const auto& [moment, t_s] : view.moments_s)
        out["moments_s"][std::string(key_of(moment))] = t_s;
    out["marks"] = Json::array();
    for (const MarkedFrame& frame : view.frames) {
        Json one;
        one["t_s"] = frame.t_s;
        for (std::size_t p = 0; p < film::kPoints; ++p)
            if (frame.at[p])
                one[std::string(film::point_keys()[p])] = json_of(*frame.at[p]);
        out["marks"].push_back(std::move(one));
    }
    return out;
}

} // namespace

int film_json_sureness(std::string_view bytes, const std::filesystem::path& path) {
    constexpr std::size_t kHead = 4096;
    const std::string_view head = bytes.substr(0, kHead);
    const std::size_t first = head.find_first_not_of(" \t\r\n\xEF\xBB\xBF");
    if (first == std::string_view::npos || head[first] != '{')
        return 0;
    if (head.find("\"film ") != std::string_view::npos &&
        head.find("\"kite-hinge\"") != std::string_view::npos)
        return 100;
    const std::string name = path.filename().string();
    constexpr std::string_view kEnd = ".film.json";
    const bool named = name.size() > kEnd.size() &&
                       name.compare(name.size() - kEnd.size(), kEnd.size(), kEnd) == 0;
    return named ? 60 : 0;
}

Outcome<film::Marks> read_film_marks(std::string_view bytes) {
    Outcome<film::Marks> out;
    MarksReader reader(bytes);
    if (const auto root = reader.open(kFilmVersion, "a file of marks in film")) {
        out.value = reader.read(*root);
        if (!out.value.mark_error_px)
            out.value.mark_error_px = reader.error_px();
    }
    out.findings = reader.findings;
    out.findings.insert(out.findings.end(), reader.notes.begin(), reader.notes.end());
    return out;
}

Outcome<Take> read_film_json(std::string_view bytes, const ReadOptions& options) {
    Outcome<Take> out;
    Outcome<film::Marks> marks = read_film_marks(bytes);
    if (marks.ok()) {
        if (options.handed)
            marks.value.handed = options.handed;
        if (options.club)
            marks.value.club = options.club;
        out = film::take_from_marks(std::move(marks.value));
    }
    out.findings.insert(out.findings.begin(), marks.findings.begin(), marks.findings.end());
    return out;
}

std::string write_film_marks(const film::Marks& marks) {
    Json out;
    out["kite-hinge"] = kFilmVersion;
    if (marks.handed)
        out["handed"] = std::string(key_of(*marks.handed));
    if (marks.club)
        out["club"] = std::string(key_of(*marks.club));
    Json lengths = Json::object();
    put(lengths, "belt_stick", marks.lengths_m.belt_stick);
    put(lengths, "shoulder_stick", marks.lengths_m.shoulder_stick);
    put(lengths, "arm", marks.lengths_m.arm);
    put(lengths, "club", marks.lengths_m.club);
    if (!lengths.empty())
        out["lengths_m"] = lengths;
    put(out, "mark_error_px", marks.mark_error_px);
    for (const View& view : marks.views)
        out["views"].push_back(json_of(view));
    return out.dump(1) + "\n";
}

} // namespace kite::formats
