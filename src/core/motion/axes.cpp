#include "core/motion/axes.h"

#include <cctype>

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

std::string text_of(SignedAxis axis) {
    return std::string(axis.sign < 0 ? "-" : "+") + static_cast<char>('x' + axis.axis);
}

} // namespace kite
