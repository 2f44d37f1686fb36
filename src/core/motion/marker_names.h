#pragma once

#include "core/base/names.h"

#include <array>
#include <string>
#include <string_view>
#include <vector>

namespace kite {

/// The marker names of one golfer, by lead and trail.
struct Sides {
    char lead;
    char trail;

    explicit Sides(Handedness handed)
        : lead(handed == Handedness::Left ? 'R' : 'L'),
          trail(handed == Handedness::Left ? 'L' : 'R') {}
    std::string lead_of(std::string_view rest) const { return lead + std::string(rest); }
    std::string trail_of(std::string_view rest) const { return trail + std::string(rest); }
};

/// Order: lead ASIS, trail ASIS, lead PSIS, trail PSIS.
inline std::vector<std::string> pelvis_labels(const Sides& sides) {
    return {sides.lead_of("ASI"), sides.trail_of("ASI"), sides.lead_of("PSI"),
            sides.trail_of("PSI")};
}

/// Order: C7, T10, sternal notch, xiphoid.
inline const std::vector<std::string>& torso_labels() {
    static const std::vector<std::string> labels{"C7", "T10", "CLAV", "STRN"};
    return labels;
}

/// Upper shaft, lower shaft, head.
inline const std::vector<std::string>& club_labels() {
    static const std::vector<std::string> labels{"CLB1", "CLB2", "CLB3"};
    return labels;
}

} // namespace kite
