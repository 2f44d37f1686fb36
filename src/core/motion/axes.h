#pragma once

#include <Eigen/Core>

#include <optional>
#include <string>
#include <string_view>

namespace kite {

/// A direction along one of the file's axes.
struct SignedAxis {
    int axis = 0;  ///< 0 x, 1 y, 2 z
    int sign = +1; ///< +1 or -1

    Eigen::Vector3d vector() const;
    bool operator==(const SignedAxis& other) const {
        return axis == other.axis && sign == other.sign;
    }
};

/// "+z", "z", "-X" and so on; empty if it is none of these.
std::optional<SignedAxis> find_axis(std::string_view text);
std::string text_of(SignedAxis axis);

/// Which of a file's axes point up and to the target, and how far the target line lies from its
/// axis.
struct LabAxes {
    SignedAxis up{2, +1};
    SignedAxis target{0, +1};
    double turn_deg =
        0.0; ///< of the target line from the target axis, counter-clockwise from above

    /// Unit vector along the target line, in the file's axes.
    Eigen::Vector3d target_vector() const;
};

/// "+x", or "+x turned by 23°".
std::string text_of_target(const LabAxes& axes);

/// The axis from which the direction of a target line is counted where it is given in degrees: x,
/// or y where x points up.
SignedAxis zero_axis(SignedAxis up);

} // namespace kite
