#pragma once

#include "core/measures/analyse.h"
#include "core/measures/marker_take.h"
#include "core/motion/rotation.h"
#include "study/golfer.h"

#include <algorithm>
#include <initializer_list>
#include <string>

namespace kite::test {

/// A marker capture of a golfer of the study's own generator, with its truth, to be damaged.
struct CapturedSwing {
    study::Golfer golfer;
    study::Motion motion;
    study::MotionTruth truth;
    MarkerTake markers;

    explicit CapturedSwing(std::uint32_t seed, double rate_hz = 240.0)
        : CapturedSwing(make(seed), seed, rate_hz) {}
    CapturedSwing(const study::Golfer& of, std::uint32_t seed, double rate_hz)
        : golfer(of), motion(golfer), truth(study::truth_of(motion)),
          markers(study::capture_markers(motion, rate_hz, 0.4, seed)) {}

    static study::Golfer make(std::uint32_t seed) {
        std::mt19937 random(seed);
        study::Golfer golfer = study::draw_golfer(random, 28.0);
        golfer.handed = Handedness::Right;
        for (auto& plan : golfer.plans)
            plan.shape = study::Shape::Bell;
        return golfer;
    }

    std::vector<Eigen::Vector3d>& track(const char* label) { return *markers.find(label); }

    /// Frames of a stretch of time, as far as the capture goes.
    FrameRange frames(double from_s, double to_s) const {
        const auto frame = [&](double t_s) {
            return std::min(markers.frames,
                            static_cast<std::size_t>(std::max(0.0, t_s) * markers.rate_hz));
        };
        return {frame(from_s), frame(to_s)};
    }
    void hide(std::initializer_list<const char*> labels, double from_s, double to_s) {
        const FrameRange hidden = frames(from_s, to_s);
        for (const char* label : labels)
            for (std::size_t i = hidden.begin; i < hidden.end; ++i)
                track(label)[i] = missing_point();
    }
    /// Keeps what lies between two times.
    void cut(double from_s, double to_s) {
        const FrameRange kept = frames(from_s, to_s);
        for (auto& points : markers.tracks_m)
            points = {points.begin() + static_cast<std::ptrdiff_t>(kept.begin),
                      points.begin() + static_cast<std::ptrdiff_t>(kept.end)};
        markers.frames = kept.end - kept.begin;
    }
    void remove(const char* label) {
        for (std::size_t i = 0; i < markers.labels.size(); ++i)
            if (markers.labels[i] == label) {
                markers.labels.erase(markers.labels.begin() + static_cast<std::ptrdiff_t>(i));
                markers.tracks_m.erase(markers.tracks_m.begin() + static_cast<std::ptrdiff_t>(i));
                return;
            }
    }
    Outcome<Take> taken(const AxisHints& hints = {}) const {
        return take_from_file_markers(markers, hints);
    }
    /// With what was said of the markers before what is said of the swing.
    Outcome<Analysis> analysed(const AnalysisOptions& options = {},
                               const AxisHints& hints = {}) const {
        const auto take = taken(hints);
        auto out = analyse(take.value, options);
        out.findings.insert(out.findings.begin(), take.findings.begin(), take.findings.end());
        return out;
    }
};

} // namespace kite::test
