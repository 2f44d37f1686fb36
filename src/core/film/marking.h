#pragma once

#include "core/film/marks.h"

#include <optional>
#include <vector>

namespace kite::film {

/// Which pictures of a view are worth a mark, and which points of each: a few at address, a handful
/// of the backswing, every one from before the top to after impact.
struct MarkingPlan {
    std::vector<std::size_t> pictures; ///< by their numbers, in order
    std::vector<Point> points;         ///< in the order in which they are asked for
};

/// `real_s` are the times of the view's pictures, its moments are those that were marked; without
/// top and impact there is no plan yet.
MarkingPlan plan_marking(const View& view, const std::vector<double>& real_s);

/// The moments as they show themselves in how much the pictures change, before anything is marked.
struct GuessedMoments {
    std::optional<double> address_s;
    std::optional<double> top_s;
    std::optional<double> impact_s;
};
/// `change` of each picture against the one before, at `real_s`; `strike_s` where the sound tells
/// impact. A swing is stillness, a rise, the quiet of the top, and the greatest change at impact.
GuessedMoments guess_moments(const std::vector<double>& real_s, const std::vector<double>& change,
                             std::optional<double> strike_s);

/// Whether downswing and backswing last as long as a swing can at this capture rate: top to impact
/// 0.15 to 0.6 s, address to top under 4 s (common practice, no source). A rate that the file does
/// not tell shows itself there.
bool is_possible_tempo(const View& view);

/// The picture that is nearest to a time, by its number; 0 where there is none. Times ascend.
std::size_t nearest_picture(const std::vector<double>& times_s, double t_s);

/// The marked picture at a time, within half a picture; null: none.
const MarkedFrame* find_frame(const View& view, double t_s);
/// … made where there is none.
MarkedFrame& frame_at(View& view, double t_s);
/// A picture without any point is taken out.
void drop_empty_frames(View& view);

} // namespace kite::film
