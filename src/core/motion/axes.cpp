#include "core/motion/axes.h"

#include "core/base/units.h"

#include <Eigen/Geometry>

#include <cctype>
#include <cmath>

namespace kite {

Eigen::Vector3d SignedAxis::vector() const {
    return sign * Eigen::Vector3d::Unit(axis);
}

std::optional<SignedAxis> find_axis(std::string_view text) {
    SignedAxis out;
    if (!text.empty() && (text.front() == '+' || text.front() == '-')) {
        out.sign = text.front() == '-' ? -1 : +1;
        text.remove_prefix(1);
    }
    if (text.size() != 1)
        return std::nullopt;
    const char letter = static_cast<char>(std::tolower(static_cast<unsigned char>(text.front())));
    if (letter < 'x' || letter > 'z')
        return std::nullopt;
    out.axis = letter - 'x';
    return out;
}

SignedAxis zero_axis(SignedAxis up) {
    return up.axis == 0 ? SignedAxis{1, +1} : SignedAxis{0, +1};
}

Eigen::Vector3d LabAxes::target_vector() const {
    return Eigen::AngleAxisd(rad_from_deg(turn_deg), up.vector()) * target.vector();
}

std::string text_of_target(const LabAxes& axes) {
    const long turned = std::lround(axes.turn_deg);
    return text_of(axes.target) +
           (turned == 0 ? std::string() : " turned by " + std::to_string(turned) + "\u00b0");
}

std::string text_of(SignedAxis axis) {
    return std::string(axis.sign < 0 ? "-" : "+") + static_cast<char>('x' + axis.axis);
}

} // namespace kite
