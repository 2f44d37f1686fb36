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

void turn_about(View& view) {
    change_pixels(view, [&](Pixel& pixel) { pixel = view.size_px - pixel; });
}

} // namespace kite::film
