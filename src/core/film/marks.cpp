#include "core/film/marks.h"

#include <algorithm>

namespace kite::film {

const std::array<std::string_view, kPoints>& point_keys() {
    static const std::array<std::string_view, kPoints> keys{
        "belt_lead",  "belt_trail",  "shoulder_lead", "shoulder_trail", "lead_shoulder",
        "wrist",      "grip",        "club_head",     "lead_knee",      "lead_ankle",
        "trail_knee", "trail_ankle", "head"};
    return keys;
}

namespace {

constexpr std::array<std::pair<Side, std::string_view>, 3> kSides{
    {{Side::FaceOn, "face-on"}, {Side::DownTheLine, "down-the-line"}, {Side::Above, "above"}}};

template <class Change>
void change_pixels(View& view, const Change& change) {
    for (auto* line : {&view.plumb_px, &view.target_line_px, &view.scale_px})
        if (*line)
            for (Pixel* pixel : {&(*line)->from, &(*line)->to})
                change(*pixel);
    for (MarkedFrame& frame : view.frames)
        for (auto& pixel : frame.at)
            if (pixel)
                change(*pixel);
}

} // namespace

std::string_view key_of(Side side) {
    return kSides[static_cast<std::size_t>(side)].second;
}

std::optional<Side> find_side(std::string_view key) {
    for (const auto& [side, name] : kSides)
        if (name == key)
            return side;
    return std::nullopt;
}

void mirror_in_place(Marks& marks) {
    for (View& view : marks.views)
        change_pixels(view, [&](Pixel& pixel) { pixel.x() = view.size_px.x() - pixel.x(); });
}

std::optional<FastestStep> find_fastest_step(const View& view,
                                             std::initializer_list<Point> points) {
    constexpr double kLeastStep_s = 1e-4;
    for (Point point : points) {
        std::optional<FastestStep> out;
        for (std::size_t i = 1; i < view.frames.size(); ++i) {
            const MarkedFrame& from = view.frames[i - 1];
            const MarkedFrame& to = view.frames[i];
            if (!from[point] || !to[point])
                continue;
            const Pixel px_s =
                (*to[point] - *from[point]) / std::max(kLeastStep_s, to.t_s - from.t_s);
            if (!out || px_s.norm() > out->px_s.norm())
                out = FastestStep{to.t_s, px_s};
        }
        if (out)
            return out;
    }
    return std::nullopt;
}

void turn_about(View& view) {
    change_pixels(view, [&](Pixel& pixel) { pixel = view.size_px - pixel; });
}

} // namespace kite::film
