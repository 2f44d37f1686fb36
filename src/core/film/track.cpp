#include "core/film/track.h"

#include <algorithm>
#include <cmath>

namespace kite::film {

namespace {

/// Marks further apart than this tell nothing of what lies between them.
constexpr double kLongestBetween_s = 0.25;
/// SD of what a cubic through four marks leaves, as a share of what it bends from the straight line
/// (common practice, no source).
constexpr double kBendShare = 0.2;

} // namespace

std::optional<Track::Place> Track::at(double t_s) const {
    if (t_s_.empty())
        return std::nullopt;
    constexpr double kSame_s = 1e-6;
    const auto after = std::lower_bound(t_s_.begin(), t_s_.end(), t_s - kSame_s);
    if (after == t_s_.end())
        return std::nullopt;
    const std::size_t j = static_cast<std::size_t>(after - t_s_.begin());
    if (std::abs(t_s_[j] - t_s) <= kSame_s)
        return Place{at_[j], 1.0, 0.0};
    if (j == 0 || t_s_[j] - t_s_[j - 1] > kLongestBetween_s)
        return std::nullopt;
    const std::size_t i = j - 1;
    const double share = (t_s - t_s_[i]) / (t_s_[j] - t_s_[i]);
    const Pixel straight = at_[i] + share * (at_[j] - at_[i]);
    const double gap_s = t_s_[j] - t_s_[i];
    // A cubic through two marks on either side, as far as they are near.
    const bool before = i > 0 && t_s_[i] - t_s_[i - 1] < 2.5 * gap_s + kSame_s;
    const bool behind = j + 1 < t_s_.size() && t_s_[j + 1] - t_s_[j] < 2.5 * gap_s + kSame_s;
    const std::size_t first = before ? i - 1 : i;
    const std::size_t last = behind ? j + 1 : j;
    Place out{Pixel::Zero(), 0.0, 0.0};
    for (std::size_t a = first; a <= last; ++a) {
        double weight = 1.0;
        for (std::size_t b = first; b <= last; ++b)
            if (b != a)
                weight *= (t_s - t_s_[b]) / (t_s_[a] - t_s_[b]);
        out.at += weight * at_[a];
        out.noise += weight * weight;
    }
    out.noise = std::sqrt(out.noise);
    const double bend = (out.at - straight).norm();
    // With a mark missing on a side the bend itself is not known that well.
    out.bend_px = before && behind ? kBendShare * bend : 0.5 * bend;
    if (!before && !behind)
        out.bend_px = 0.25 * (at_[j] - at_[i]).norm();
    return out;
}

} // namespace kite::film
