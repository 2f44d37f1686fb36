#pragma once

#include "core/base/names.h"

#include <map>
#include <optional>
#include <string_view>

namespace kite {

/// Which rotation speed is meant. The order of the peaks can depend on it.
///
/// | | pelvis, torso | lead arm, club |
/// |---|---|---|
/// | Axis | ω · Z of the segment | |ω ⟂ long axis|, signed by the swing plane's normal |
/// | Resultant | |ω| with the sign of the Axis rate | as Axis |
/// | Plane | ω · n | ω · n |
enum class RateConvention { Axis, Resultant, Plane };

/// Projected: pelvis turn - torso turn. Joint: minus the axial component of R_pelvis^T R_torso.
enum class SeparationMethod { Projected, Joint };

/// Whose reversal is the top.
enum class TopDefinition { Club, LeadArm };

std::string_view key_of(RateConvention convention);
std::string_view key_of(SeparationMethod method);
std::string_view key_of(TopDefinition top);
std::optional<RateConvention> find_convention(std::string_view key);
std::optional<SeparationMethod> find_separation(std::string_view key);
std::optional<TopDefinition> find_top(std::string_view key);

/// Low-pass cut-offs used where the options name none: the upper part of the usual bounds (trunk
/// 7–12, arm 8–20, club 15–40 Hz), so that the peaks keep their height.
double default_cutoff_hz(Segment segment);

struct AnalysisOptions {
    RateConvention convention = RateConvention::Axis;
    SeparationMethod separation = SeparationMethod::Projected;
    TopDefinition top = TopDefinition::Club;
    std::map<Segment, double> cutoff_hz; ///< overrides default_cutoff_hz, segment by segment

    double cutoff_of_hz(Segment segment) const {
        const auto found = cutoff_hz.find(segment);
        return found == cutoff_hz.end() ? default_cutoff_hz(segment) : found->second;
    }
};

} // namespace kite
