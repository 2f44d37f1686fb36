#include "core/measures/options.h"

namespace kite {

std::string_view key_of(RateConvention convention) {
    switch (convention) {
    case RateConvention::Axis:
        return "axis";
    case RateConvention::Resultant:
        return "resultant";
    case RateConvention::Plane:
        return "plane";
    }
    return "";
}

std::string_view key_of(SeparationMethod method) {
    return method == SeparationMethod::Joint ? "joint" : "projected";
}

std::string_view key_of(TopDefinition top) {
    return top == TopDefinition::LeadArm ? "arm" : "club";
}

std::optional<RateConvention> find_convention(std::string_view key) {
    for (auto convention : {RateConvention::Axis, RateConvention::Resultant, RateConvention::Plane})
        if (key == key_of(convention))
            return convention;
    return std::nullopt;
}

std::optional<SeparationMethod> find_separation(std::string_view key) {
    for (auto method : {SeparationMethod::Projected, SeparationMethod::Joint})
        if (key == key_of(method))
            return method;
    return std::nullopt;
}

std::optional<TopDefinition> find_top(std::string_view key) {
    for (auto top : {TopDefinition::Club, TopDefinition::LeadArm})
        if (key == key_of(top))
            return top;
    return std::nullopt;
}

bool is_trunk(Segment segment) {
    return segment == Segment::Pelvis || segment == Segment::Torso;
}

bool feels_impact(Segment segment) {
    return segment == Segment::Club || segment == Segment::LeadArm ||
           segment == Segment::LeadForearm || segment == Segment::TrailArm;
}

CutoffBounds cutoff_bounds(Segment segment) {
    switch (segment) {
    case Segment::LeadArm:
    case Segment::LeadForearm:
    case Segment::TrailArm:
        return {8.0, 20.0};
    case Segment::Club:
        return {15.0, 40.0};
    case Segment::Pelvis:
    case Segment::Torso:
    case Segment::Head:
        break;
    }
    return {7.0, 12.0};
}

} // namespace kite
