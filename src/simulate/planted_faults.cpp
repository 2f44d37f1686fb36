#include "simulate/planted_faults.h"

#include <algorithm>
#include <array>

namespace kite::simulate {

namespace {

using Parameters = SwingParameters;

/// How each fault is planted, strength 1 being clear.
struct Entry {
    std::string_view id;
    void (*apply)(Parameters& p, double s);
};

void start_together(Parameters& p, double s) {
    const double club = p.club_turn.reversal_before_ms;
    const double share = std::min(1.0, s);
    for (Segment segment : {Segment::Pelvis, Segment::Torso, Segment::LeadArm}) {
        double& reversal = p.part(segment).reversal_before_ms;
        const double wanted = club + (segment == Segment::Pelvis  ? 8.0
                                      : segment == Segment::Torso ? -10.0
                                                                  : 0.0);
        reversal += share * (wanted - reversal);
    }
    p.club_turn.top_deg += 20.0 * share; // the wrists hinge no more for it
}

constexpr std::array kEntries{
    Entry{"shallow-hip-load", [](Parameters& p, double s) { p.pelvis.top_deg += 27.0 * s; }},
    Entry{"backswing-slide",
          [](Parameters& p, double s) {
              p.pelvis_path.arm_level_back_m.x() -= 0.05 * s;
              p.pelvis_path.top_m.x() -= 0.02 * s;
          }},
    Entry{"reverse-tilt",
          [](Parameters& p, double s) {
              p.spine_lean_top_deg += 14.0 * s;
              p.pelvis_path.top_m.x() -= 0.01 * s;
          }},
    Entry{"short-torso-turn", [](Parameters& p, double s) { p.torso.top_deg += 27.0 * s; }},
    Entry{"over-hinge", [](Parameters& p, double s) { p.club_turn.top_deg -= 50.0 * s; }},
    Entry{"late-pelvis-start", start_together},
    // The torso reverses before the pelvis and opens faster; the pelvis follows.
    Entry{"upper-body-first",
          [](Parameters& p, double s) {
              p.torso.reversal_before_ms += 47.0 * s;
              p.pelvis.reversal_before_ms -= 25.0 * s;
              p.torso.impact_deg += 10.0 * s;
              p.pelvis.impact_deg -= 8.0 * s;
          }},
    Entry{"no-recentre",
          [](Parameters& p, double s) {
              // Further away it would be a slide of the backswing.
              p.pelvis_path.top_m.x() -= std::min(0.042, 0.04 * s);
              p.force.arm_level_down_pct -= 30.0 * s;
              p.force.top_pct -= 10.0 * s;
          }},
    Entry{"lead-hip-up", [](Parameters& p, double s) { p.pelvis_tilt_down_deg += 9.0 * s; }},
    Entry{"no-drop",
          [](Parameters& p, double s) {
              p.pelvis_path.arm_level_down_m.z() += 0.042 * s;
              p.pelvis_path.top_m.z() = -0.008;
          }},
    Entry{"no-stretch",
          [](Parameters& p, double s) {
              p.torso.reversal_before_ms += 16.0 * s;
              p.pelvis.impact_deg -= 8.0 * s;
              p.torso.impact_deg -= 4.0 * s;
          }},
    Entry{"over-separation",
          [](Parameters& p, double s) {
              p.torso.top_deg -= 15.0 * s;
              p.torso.reversal_before_ms -= 12.0 * s;
          }},
    Entry{"spin-out",
          [](Parameters& p, double s) { p.pelvis_path.arm_level_down_m.y() -= 0.038 * s; }},
    Entry{"slide",
          [](Parameters& p, double s) {
              p.pelvis_path.impact_m.x() += 0.09 * s;
              p.pelvis_path.arm_level_down_m.x() += 0.03 * s;
              p.pelvis.impact_deg -= 27.0 * s;
              p.torso.impact_deg -= 18.0 * s;
              p.torso.reversal_before_ms -= 20.0 * s;
          }},
    Entry{"cast",
          [](Parameters& p, double s) { p.club_turn.peak_deg_s *= 1.0 - 0.38 * std::min(1.3, s); }},
    Entry{"early-rise", [](Parameters& p, double s) { p.pelvis_path.impact_m.z() += 0.06 * s; }},
    Entry{"early-extension",
          [](Parameters& p, double s) { p.pelvis_path.impact_m.y() -= 0.06 * s; }},
    Entry{"outside-path", [](Parameters& p, double s) { p.path_deg += 9.0 * s; }},
    Entry{"arms-behind",
          [](Parameters& p, double s) {
              p.torso.impact_deg += 15.0 * s;
              p.club_turn.top_deg += 8.0 * s;
          }},
    Entry{"lead-hip-not-back",
          [](Parameters& p, double s) {
              p.pelvis_path.impact_m.y() -= 0.1 * s;
              p.pelvis_path.arm_level_down_m.y() -= 0.008 * s;
          }},
    Entry{"flip",
          [](Parameters& p, double s) {
              p.lead_arm.impact_deg -= (p.club == ClubKind::Driver ? 15.0 : 8.0) * std::min(1.2, s);
          }},
    // The torso hands on its speed after the arm has peaked.
    Entry{"out-of-order",
          [](Parameters& p, double s) {
              p.torso.peak_before_ms = std::max(28.0, p.torso.peak_before_ms - 30.0 * s);
              p.lead_arm.peak_before_ms += 20.0 * s;
              p.torso.after_impact_share = 1.0; // its peak lies before the ball
              p.torso.at_impact_share = std::min(0.92, p.torso.at_impact_share + 0.21 * s);
          }},
    // Pelvis and torso reach their top speed together and face the same way at impact.
    Entry{"bunched-peaks",
          [](Parameters& p, double s) {
              const double share = std::min(1.0, s);
              p.torso.after_impact_share = 1.0;
              p.pelvis.peak_before_ms += share * (p.torso.peak_before_ms - p.pelvis.peak_before_ms);
              p.pelvis.impact_deg -= 5.0 * s;
              p.torso.impact_deg += 16.0 * s;
              // The pelvis slows while the torso goes on.
              p.pelvis.at_impact_share = std::max(0.5, p.pelvis.at_impact_share - 0.06 * s);
              p.torso.at_impact_share = std::min(0.95, p.torso.at_impact_share + 0.10 * s);
          }},
    Entry{"no-slow-down",
          [](Parameters& p, double s) {
              const double share = std::min(1.3, s);
              p.pelvis.after_impact_share = p.torso.after_impact_share = 1.0;
              p.pelvis.at_impact_share += share * (0.88 - p.pelvis.at_impact_share);
              p.torso.at_impact_share += share * (0.90 - p.torso.at_impact_share);
              p.lead_arm.at_impact_share += share * (0.90 - p.lead_arm.at_impact_share);
          }},
    Entry{"hip-stall",
          [](Parameters& p, double s) {
              p.pelvis.at_impact_share = std::max(0.0, p.pelvis.at_impact_share - 0.72 * s);
          }},
    Entry{"square-hips",
          [](Parameters& p, double s) {
              p.pelvis.impact_deg -= 30.0 * s;
              p.pelvis.at_impact_share -= 0.2 * std::min(1.5, s);
              p.torso.impact_deg -= 20.0 * s;
              p.torso.reversal_before_ms -= 34.0 * s;
          }},
    Entry{"over-open",
          [](Parameters& p, double s) {
              p.pelvis.impact_deg += 23.0 * s;
              p.pelvis.peak_deg_s *= 1.0 + 0.07 * s;
          }},
    Entry{"hang-back",
          [](Parameters& p, double s) {
              p.pelvis_path.impact_m.x() -= 0.09 * s;
              p.pelvis_path.arm_level_down_m.x() -= 0.02 * s;
              p.lead_arm.impact_deg += 4.0 * s;
              p.club_turn.top_deg += 8.0 * s;
              p.force.impact_pct -= 25.0 * s;
          }},
    // A fault of the driver alone: the hips run on and the chest goes with them.
    Entry{"hips-ahead",
          [](Parameters& p, double s) {
              p.club = ClubKind::Driver;
              p.pelvis_path.impact_m.x() += 0.06 * s;
              p.torso_side_tilt_impact_deg += 8.0 * s;
          }},
    Entry{"no-push",
          [](Parameters& p, double s) {
              p.pelvis_path.impact_m.z() -= 0.045 * s;
              p.pelvis_path.arm_level_down_m.z() += 0.004 * s;
          }},
    Entry{"early-club-peak",
          [](Parameters& p, double s) {
              p.club_turn.peak_before_ms += 22.0 * s;
              p.club_turn.at_impact_share = 1.0 - 0.08 * std::min(1.0, s);
          }},
    Entry{"late-club",
          [](Parameters& p, double s) {
              p.club_turn.peak_before_ms = 0.0;
              p.club_turn.after_impact_share = 1.0;
              p.club_turn.after_gain_share = 0.06 * s;
          }},
    Entry{"short-finish",
          [](Parameters& p, double s) {
              p.pelvis.finish_deg -= 50.0 * s;
              p.torso.finish_deg -= 70.0 * s;
              p.pelvis.after_impact_share = 1.05 - 0.25 * std::min(1.0, s);
              p.torso.after_impact_share = 1.15 - 0.4 * std::min(1.0, s);
          }},
};

constexpr std::array kSecondWays{
    // The shift away comes late in the backswing.
    Entry{"backswing-slide",
          [](Parameters& p, double s) {
              p.pelvis_path.arm_level_back_m.x() -= 0.025 * s;
              p.pelvis_path.top_m.x() -= 0.05 * s;
          }},
    // The pelvis goes away from under a spine that leans less.
    Entry{"reverse-tilt",
          [](Parameters& p, double s) {
              p.spine_lean_top_deg += 11.0 * s;
              p.pelvis_path.arm_level_back_m.x() -= 0.01 * s;
              p.pelvis_path.top_m.x() -= 0.02 * s;
          }},
    // The whole trunk turns little.
    Entry{"short-torso-turn",
          [](Parameters& p, double s) {
              p.torso.top_deg += 27.0 * s;
              p.pelvis.top_deg += 6.0 * s;
          }},
    // The arm stays low while the club goes as far as ever.
    Entry{"over-hinge",
          [](Parameters& p, double s) {
              p.lead_arm.top_deg += 26.0 * s;
              p.club_turn.top_deg -= 34.0 * s;
          }},
    // The club comes back early instead of the pelvis late.
    Entry{"late-pelvis-start",
          [](Parameters& p, double s) {
              const double share = std::min(1.0, s);
              const double early =
                  share * (p.pelvis.reversal_before_ms - 8.0 - p.club_turn.reversal_before_ms);
              p.club_turn.reversal_before_ms += early;
              for (Segment segment : {Segment::Torso, Segment::LeadArm}) {
                  double& reversal = p.part(segment).reversal_before_ms;
                  reversal += share * (p.club_turn.reversal_before_ms -
                                       (segment == Segment::Torso ? 10.0 : 0.0) - reversal);
              }
          }},
    // On the way to the target.
    Entry{"lead-hip-up",
          [](Parameters& p, double s) {
              p.pelvis_tilt_down_deg += 6.0 * s;
              p.pelvis_path.arm_level_down_m.x() += 0.02 * s;
          }},
    // It has sunk in the backswing and rises from the top.
    Entry{"no-drop",
          [](Parameters& p, double s) {
              p.pelvis_path.top_m.z() -= 0.022 * s;
              p.pelvis_path.arm_level_down_m.z() += 0.018 * s;
          }},
    // The pelvis gathers speed late, and the torso comes along.
    Entry{"no-stretch",
          [](Parameters& p, double s) {
              p.torso.reversal_before_ms += 5.5 * s;
              p.torso.impact_deg += 2.8 * s;
              p.pelvis.peak_deg_s *= 1.0 + 0.07 * s;
              p.pelvis.peak_before_ms -= 6.5 * s;
              p.pelvis.impact_deg -= 2.0 * s;
          }},
    // The pelvis has turned less and the torso more.
    Entry{"over-separation",
          [](Parameters& p, double s) {
              p.pelvis.top_deg += 8.0 * s;
              p.torso.top_deg -= 10.0 * s;
              p.torso.reversal_before_ms -= 8.0 * s;
          }},
    // It opens early, where it is.
    Entry{"spin-out",
          [](Parameters& p, double s) {
              p.pelvis.reversal_before_ms += 35.0 * s;
              p.pelvis.peak_before_ms += 15.0 * s;
              p.pelvis.impact_deg += 6.0 * s;
              p.pelvis_path.arm_level_down_m.x() -= 0.03 * s;
              p.pelvis_path.arm_level_down_m.y() -= 0.026 * s;
          }},
    // All the way down, and the pelvis turns slower.
    Entry{"slide",
          [](Parameters& p, double s) {
              p.pelvis_path.arm_level_down_m.x() += 0.06 * s;
              p.pelvis_path.impact_m.x() += 0.09 * s;
              p.pelvis.impact_deg -= 24.0 * s;
              p.torso.impact_deg -= 18.0 * s;
              p.torso.reversal_before_ms -= 20.0 * s;
              p.pelvis.peak_deg_s *= 1.0 - 0.08 * s;
          }},
    // The arm slows too.
    Entry{"cast",
          [](Parameters& p, double s) {
              p.club_turn.peak_deg_s *= 1.0 - 0.395 * std::min(1.3, s);
              p.lead_arm.peak_deg_s *= 1.0 - 0.05 * s;
          }},
    // From the top on.
    Entry{"early-rise",
          [](Parameters& p, double s) {
              p.pelvis_path.impact_m.z() += 0.045 * s;
              p.pelvis_path.arm_level_down_m.z() += 0.012 * s;
          }},
    // From a plane that steepens.
    Entry{"outside-path",
          [](Parameters& p, double s) {
              p.path_deg += 8.5 * s;
              p.shallow_deg -= 6.0 * s;
          }},
    // The chest runs ahead of a fast arm.
    Entry{"arms-behind",
          [](Parameters& p, double s) {
              p.torso.impact_deg += 15.0 * s;
              p.lead_arm.peak_deg_s *= 1.0 + 0.04 * s;
              p.club_turn.top_deg += 5.0 * s;
          }},
    // It turns less, and comes to the ball.
    Entry{"lead-hip-not-back",
          [](Parameters& p, double s) {
              p.pelvis.impact_deg -= 6.0 * s;
              p.pelvis_path.impact_m.y() -= 0.09 * s;
              p.pelvis_path.arm_level_down_m.y() -= 0.008 * s;
          }},
    // The hands stay behind with the body.
    Entry{"flip",
          [](Parameters& p, double s) {
              p.lead_arm.impact_deg -= (p.club == ClubKind::Driver ? 14.0 : 7.0) * std::min(1.2, s);
              p.pelvis_path.impact_m.x() -= 0.02 * s;
              p.torso.impact_deg -= 4.0 * s;
          }},
    // The peaks come so late that there is no time for it.
    Entry{"no-slow-down",
          [](Parameters& p, double s) {
              const double share = std::min(1.3, s);
              p.pelvis.after_impact_share = p.torso.after_impact_share = 1.0;
              p.pelvis.peak_before_ms -= 20.0 * share;
              p.torso.peak_before_ms -= 10.0 * share;
              p.pelvis.at_impact_share += share * (0.86 - p.pelvis.at_impact_share);
              p.torso.at_impact_share += share * (0.90 - p.torso.at_impact_share);
              p.lead_arm.at_impact_share += share * (0.90 - p.lead_arm.at_impact_share);
          }},
    // It peaks early and stops.
    Entry{"hip-stall",
          [](Parameters& p, double s) {
              p.pelvis.at_impact_share = std::max(0.0, p.pelvis.at_impact_share - 0.73 * s);
              p.pelvis.peak_before_ms += 12.0 * s;
          }},
    // The pelvis turns slower.
    Entry{"square-hips",
          [](Parameters& p, double s) {
              p.pelvis.impact_deg -= 30.0 * s;
              p.pelvis.peak_deg_s *= 1.0 - 0.12 * std::min(1.5, s);
              p.torso.impact_deg -= 20.0 * s;
              p.torso.reversal_before_ms -= 34.0 * s;
          }},
    // The pelvis turns faster, and takes the torso along.
    Entry{"over-open",
          [](Parameters& p, double s) {
              p.pelvis.impact_deg += 20.0 * s;
              p.pelvis.peak_deg_s *= 1.0 + 0.1 * s;
              p.torso.impact_deg += 8.0 * s;
          }},
    // The whole way down.
    Entry{"hips-ahead",
          [](Parameters& p, double s) {
              p.club = ClubKind::Driver;
              p.pelvis_path.impact_m.x() += 0.075 * s;
              p.pelvis_path.arm_level_down_m.x() += 0.02 * s;
              p.torso_side_tilt_impact_deg += 6.0 * s;
          }},
    // It sinks less, and stays down.
    Entry{"no-push",
          [](Parameters& p, double s) {
              p.pelvis_path.arm_level_down_m.z() += 0.012 * s;
              p.pelvis_path.impact_m.z() -= 0.035 * s;
          }},
    // Earlier, and it loses little until the ball.
    Entry{"early-club-peak",
          [](Parameters& p, double s) {
              p.club_turn.peak_before_ms += 18.0 * s;
              p.club_turn.top_deg += 12.0 * s;
              p.club_turn.at_impact_share = 1.0 - 0.05 * std::min(1.0, s);
          }},
    // Half as much.
    Entry{"late-club",
          [](Parameters& p, double s) {
              p.club_turn.peak_before_ms = 0.0;
              p.club_turn.after_impact_share = 1.0;
              p.club_turn.after_gain_share = 0.03 * s;
          }},
    // The pelvis turns, but comes to the ball as it does.
    Entry{"shallow-hip-load", [](Parameters& p, double s) { p.pelvis_path.top_m.y() -= 0.05 * s; }},
    // The arms start down first.
    Entry{"upper-body-first",
          [](Parameters& p, double s) {
              p.lead_arm.reversal_before_ms += 70.0 * s;
              p.pelvis.reversal_before_ms -= 15.0 * s;
          }},
    // It moves, but the pressure stays behind.
    Entry{"no-recentre",
          [](Parameters& p, double s) {
              p.force.arm_level_down_pct -= 38.0 * s;
              p.force.top_pct -= 12.0 * s;
          }},
    Entry{"hang-back", [](Parameters& p, double s) { p.force.impact_pct -= 34.0 * s; }},
    // The pelvis is late instead of the torso.
    Entry{"out-of-order",
          [](Parameters& p, double s) {
              p.pelvis.peak_before_ms -= 52.0 * s;
              p.pelvis.after_impact_share = 1.0;
              p.pelvis.at_impact_share = std::min(0.92, p.pelvis.at_impact_share + 0.12 * s);
          }},
    // The torso reaches its top speed early, with the pelvis.
    Entry{"bunched-peaks",
          [](Parameters& p, double s) {
              const double share = std::min(1.0, s);
              p.torso.after_impact_share = 1.0;
              p.torso.peak_before_ms += share * (p.pelvis.peak_before_ms - p.torso.peak_before_ms);
              p.pelvis.impact_deg -= 17.0 * s;
              p.torso.impact_deg += 4.0 * s;
          }},
    Entry{"short-finish",
          [](Parameters& p, double s) {
              p.torso.finish_deg -= 75.0 * s;
              p.torso.after_impact_share = 1.15 - 0.5 * std::min(1.0, s);
          }},
    // The pelvis comes to the ball on the whole way down, not at its end alone.
    Entry{"early-extension",
          [](Parameters& p, double s) {
              p.pelvis_path.arm_level_down_m.y() -= 0.012 * s;
              p.pelvis_path.impact_m.y() -= 0.052 * s;
              p.pelvis_path.impact_m.z() += 0.005 * s;
          }},
};

template <class Entries>
bool plant_one_of(const Entries& entries, Parameters& parameters, std::string_view id,
                  double strength) {
    const auto* found = std::find_if(entries.begin(), entries.end(),
                                     [&](const Entry& entry) { return entry.id == id; });
    if (found == entries.end())
        return false;
    found->apply(parameters, strength);
    return true;
}

} // namespace

std::vector<std::string_view> plantable_faults() {
    std::vector<std::string_view> out;
    out.reserve(kEntries.size());
    for (const Entry& entry : kEntries)
        out.push_back(entry.id);
    return out;
}

bool plant(SwingParameters& parameters, std::string_view id, double strength, int way) {
    return way == 2 ? plant_one_of(kSecondWays, parameters, id, strength)
                    : plant_one_of(kEntries, parameters, id, strength);
}

} // namespace kite::simulate
