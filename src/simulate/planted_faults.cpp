#include "simulate/planted_faults.h"

#include <algorithm>
#include <array>

namespace kite::simulate {

namespace {

/// The torso reverses before the pelvis and opens faster; the pelvis follows.
void plant_upper_body_first(SwingParameters& p, double s) {
    p.torso.reversal_before_ms += 35.0 * s;
    p.pelvis.reversal_before_ms -= 25.0 * s;
    p.torso.impact_deg += 10.0 * s;
    p.pelvis.impact_deg -= 8.0 * s;
}

/// The torso hands on its speed after the arm has peaked.
void plant_out_of_order(SwingParameters& p, double s) {
    p.torso.peak_before_ms = std::max(28.0, p.torso.peak_before_ms - 30.0 * s);
    p.lead_arm.peak_before_ms += 20.0 * s;
    p.torso.at_impact_share = std::min(0.93, p.torso.at_impact_share + 0.26 * s);
}

/// Pelvis and torso reach their top speed together and face the same way at impact.
void plant_bunched_peaks(SwingParameters& p, double s) {
    const double share = std::min(1.0, s);
    p.pelvis.peak_before_ms += share * (p.torso.peak_before_ms - p.pelvis.peak_before_ms);
    p.torso.top_deg += 14.0 * s; // a shorter turn, so that the early downswing stays together
    p.pelvis.impact_deg -= 13.0 * s;
    p.torso.impact_deg += 8.0 * s;
    // The pelvis slows while the torso goes on.
    p.pelvis.at_impact_share = std::max(0.5, p.pelvis.at_impact_share - 0.04 * s);
    p.torso.at_impact_share = std::min(0.95, p.torso.at_impact_share + 0.14 * s);
}

struct Entry {
    std::string_view id;
    void (*apply)(SwingParameters&, double);
};

constexpr std::array kEntries{
    Entry{"upper-body-first", plant_upper_body_first},
    Entry{"out-of-order", plant_out_of_order},
    Entry{"bunched-peaks", plant_bunched_peaks},
};

} // namespace

std::vector<std::string_view> plantable_faults() {
    std::vector<std::string_view> out;
    out.reserve(kEntries.size());
    for (const Entry& entry : kEntries)
        out.push_back(entry.id);
    return out;
}

bool plant(SwingParameters& parameters, std::string_view id, double strength) {
    const auto* found = std::find_if(kEntries.begin(), kEntries.end(),
                                     [&](const Entry& entry) { return entry.id == id; });
    if (found == kEntries.end())
        return false;
    found->apply(parameters, strength);
    return true;
}

} // namespace kite::simulate
