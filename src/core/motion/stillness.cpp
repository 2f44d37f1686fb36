#include "core/motion/stillness.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <optional>

namespace kite {

using Eigen::Vector3d;
using Track = std::vector<Vector3d>;

namespace {

constexpr double kAsCalm = 1.6;          ///< times the least unrest
constexpr double kStillHands_m_s = 0.25; ///< at address, noise of markers included

} // namespace

bool is_calm(const MarkerTake& markers, FrameRange frames) {
    if (frames.size() < 3 || frames.end > markers.frames)
        return false;
    for (const char* label : {"LWRA", "RWRA", "LWRB", "RWRB", "CLB1"}) {
        const Track* track = markers.find(label);
        if (track == nullptr)
            continue;
        const Vector3d d = (*track)[frames.end - 1] - (*track)[frames.begin];
        const double s = static_cast<double>(frames.size() - 1) / markers.rate_hz;
        if (d.allFinite())
            return d.norm() / s < kStillHands_m_s;
    }
    return true;
}

namespace {

struct Fastest {
    std::size_t frame = 0;
    double step2_m2 = 0.0; ///< over two frames; squared, so that no root is taken in every frame
};

/// Where a track is fastest over two frames on either side, by the slower of the two, on a way that
/// goes on: single spikes do not count. Nothing where it never moves.
std::optional<Fastest> fastest_of(const std::vector<Vector3d>& track, FrameRange frames) {
    Fastest out;
    for (std::size_t i = std::max<std::size_t>(2, frames.begin);
         i + 2 < track.size() && i < frames.end; ++i) {
        const double a_m2 = (track[i] - track[i - 2]).squaredNorm();
        const double b_m2 = (track[i + 2] - track[i]).squaredNorm();
        // Where one of them is not known neither counts; there and back is a spike.
        if (a_m2 > out.step2_m2 && b_m2 > out.step2_m2 && std::isfinite(a_m2) &&
            std::isfinite(b_m2) &&
            (track[i + 2] - track[i - 2]).squaredNorm() >= std::min(a_m2, b_m2))
            out = {i, std::min(a_m2, b_m2)};
    }
    return out.step2_m2 > 0.0 ? std::optional(out) : std::nullopt;
}

std::size_t longest_hole(const std::vector<Vector3d>& track, FrameRange frames) {
    std::size_t run = 0;
    std::size_t longest = 0;
    for (std::size_t i = frames.begin; i < std::min(frames.end, track.size()); ++i) {
        run = std::isfinite(track[i].x()) ? 0 : run + 1;
        longest = std::max(longest, run);
    }
    return longest;
}

} // namespace

std::size_t find_fastest_frame(const MarkerTake& markers) {
    constexpr double kSlowest_m_s = 2.0;
    constexpr double kLongHole_s = 0.2;
    constexpr double kHoleThere_s = 0.15;
    constexpr double kAboutThen_s = 0.15;
    // Further apart it may be another swing, if the hands are about as fast in that one.
    constexpr double kOtherSwing_s = 0.6;
    constexpr double kFast = 0.7;
    const auto frames_in = [&](double s) {
        return static_cast<std::size_t>(std::lround(s * markers.rate_hz));
    };
    const auto about = [&](std::size_t frame, double s) {
        const std::size_t reach = frames_in(s);
        return FrameRange{frame - std::min(frame, reach),
                          std::min(markers.frames, frame + reach + 1)};
    };
    std::optional<Fastest> slow;
    std::optional<Fastest> chosen;
    const std::vector<Vector3d>* chosen_track = nullptr;
    for (const char* label : {"CLB3", "CLB2", "CLB1", "LWRA", "RWRA", "LWRB", "RWRB", "LELB"}) {
        const auto* track = markers.find(label);
        const auto here = track == nullptr ? std::nullopt : fastest_of(*track, {0, track->size()});
        if (!here)
            continue;
        if (std::sqrt(here->step2_m2) * markers.rate_hz / 2.0 <= kSlowest_m_s) {
            if (!slow || here->step2_m2 > slow->step2_m2)
                slow = here;
            continue;
        }
        if (!chosen) {
            chosen = here;
            chosen_track = track;
            if (longest_hole(*track, {0, track->size()}) < frames_in(kLongHole_s))
                return chosen->frame;
            continue;
        }
        // A club that was hidden where the hands are fastest shows its backswing, or its finish.
        const std::size_t apart =
            std::max(here->frame, chosen->frame) - std::min(here->frame, chosen->frame);
        const auto then = fastest_of(*track, about(chosen->frame, kAboutThen_s));
        if (longest_hole(*chosen_track, about(here->frame, kLongHole_s)) >=
                frames_in(kHoleThere_s) &&
            (apart < frames_in(kOtherSwing_s) || !then ||
             then->step2_m2 < kFast * kFast * here->step2_m2)) {
            chosen = here;
            chosen_track = track;
        }
    }
    const auto& best = chosen ? chosen : slow;
    return best ? best->frame : markers.frames;
}

FrameRange find_calm_before_swing(const MarkerTake& markers) {
    const std::size_t fastest = find_fastest_frame(markers);
    const auto frames_in = [&](double s) {
        return static_cast<std::size_t>(std::lround(s * markers.rate_hz));
    };
    const std::size_t window = std::max<std::size_t>(3, frames_in(0.1) + 1);
    if (fastest == markers.frames || fastest < frames_in(0.5) + window)
        return {0, std::min(markers.frames, window)};
    const std::size_t end = fastest - frames_in(0.5);
    const std::size_t begin = end > frames_in(2.5) ? end - frames_in(2.5) : 0;
    std::vector<double> step(markers.frames, 0.0);
    for (std::size_t i = begin + 1; i < end; ++i) {
        double sum = 0.0;
        int count = 0;
        for (const auto& track : markers.tracks_m)
            if (const double d = (track[i] - track[i - 1]).squaredNorm(); std::isfinite(d)) {
                sum += std::min(d, 0.01); // a spike is no unrest
                ++count;
            }
        step[i] = count > 0 ? sum / count : std::numeric_limits<double>::infinity();
    }
    std::vector<double> unrest;
    double least = std::numeric_limits<double>::infinity();
    for (std::size_t first = begin; first + window <= end; ++first) {
        double sum = 0.0;
        for (std::size_t i = first + 1; i < first + window; ++i)
            sum += step[i];
        unrest.push_back(sum);
        least = std::min(least, sum);
    }
    // Of windows about as calm the last: before it the golfer may have stood elsewhere. The noise
    // of forty markers hides that the hands have begun to move: those are asked first.
    for (const bool hands_rest : {true, false})
        for (std::size_t k = unrest.size(); k-- > 0;) {
            const FrameRange frames{begin + k, begin + k + window};
            if (unrest[k] <= kAsCalm * least && (!hands_rest || is_calm(markers, frames)))
                return frames;
        }
    return {begin, std::min(end, begin + window)};
}

} // namespace kite
