#pragma once

#include "core/base/names.h"
#include "core/signal/residual_analysis.h"

#include <map>
#include <optional>
#include <string_view>
#include <tuple>

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

/// Bounds within which residual analysis chooses the low-pass cut-off: trunk 7–12 Hz, arm 8–20 Hz,
/// club 15–40 Hz. The upper bound serves where nothing was chosen.
CutoffBounds cutoff_bounds(Segment segment);

bool is_trunk(Segment segment); ///< pelvis or torso

/// Arm and club change their motion within a millisecond at impact; the trunk does not.
bool feels_impact(Segment segment);

/// For who asks for measures alone the curves that these are read from need not go beyond the
/// swing: outside of it they are missing then.
enum class CurvesOf { WholeTake, Swing };

struct AnalysisOptions {
    RateConvention convention = RateConvention::Axis;
    SeparationMethod separation = SeparationMethod::Projected;
    TopDefinition top = TopDefinition::Club;
    std::map<Segment, double> cutoff_hz; ///< fixed by the user; else residual analysis chooses
    std::map<Moment, double> moved_s;    ///< moments put by hand, s from the first frame
    /// Which swing of a take with several, from 1; empty: the one with the contact mark, else the
    /// fastest.
    std::optional<std::size_t> swing;
    CurvesOf curves = CurvesOf::WholeTake; ///< changes no measure

    /// Do they give the same measures?
    bool operator==(const AnalysisOptions& other) const {
        return std::tie(convention, separation, top, cutoff_hz, moved_s, swing) ==
               std::tie(other.convention, other.separation, other.top, other.cutoff_hz,
                        other.moved_s, other.swing);
    }
    double cutoff_of_hz(Segment segment) const {
        const auto found = cutoff_hz.find(segment);
        return found == cutoff_hz.end() ? cutoff_bounds(segment).high_hz : found->second;
    }
};

} // namespace kite
