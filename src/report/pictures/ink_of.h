#pragma once

#include "core/base/language.h"
#include "core/base/names.h"
#include "report/drawing.h"

#include <string>

namespace kite::report {

inline Ink ink_of(Segment segment) {
    switch (segment) {
    case Segment::Pelvis:
        return Ink::Pelvis;
    case Segment::Torso:
        return Ink::Torso;
    case Segment::LeadArm:
        return Ink::LeadArm;
    default:
        return Ink::Club;
    }
}

inline std::string part_name(Segment segment, const Language& language) {
    return language.translate(std::string(name_of(segment)));
}

} // namespace kite::report
