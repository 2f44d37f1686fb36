#pragma once

#include "core/base/names.h"
#include "core/motion/beside.h"

#include <Eigen/Geometry>

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <variant>

/// What devices in the bay say of themselves and of the swing (docs/live.md).
namespace kite::live {

/// How the models of devices begin that a program stands in for.
inline constexpr std::string_view kStandIn = "stand-in";

enum class Role { Pelvis, Torso, LeadArm, Club, Plate, Launch };
inline constexpr std::array kRoles{Role::Pelvis, Role::Torso, Role::LeadArm,
                                   Role::Club,   Role::Plate, Role::Launch};
std::string_view key_of(Role role); ///< "lead_arm", as on the wire
std::string_view name_of(Role role);
std::optional<Role> find_role(std::string_view key);
/// The part that a sensor of this role sits on; empty for plate and launch monitor.
std::optional<Segment> segment_of(Role role);

struct About {
    Role role = Role::Pelvis;
    std::string model;    ///< begins with kStandIn where nobody wears the device
    double rate_hz = 0.0; ///< nominal
    double battery = 0.0; ///< 0 to 1
};
struct Imu {
    std::int32_t number = 0; ///< counts up by one, wraps at 2³¹
    Eigen::Vector3d gyro_deg_s = Eigen::Vector3d::Zero();
    Eigen::Vector3d force_g = Eigen::Vector3d::Zero(); ///< specific force: +1 g upwards at rest
};
struct Orientation {
    std::int32_t number = 0;
    Eigen::Quaterniond q_world_sensor = Eigen::Quaterniond::Identity(); ///< world: z up
};
struct Feet {
    std::int32_t number = 0;
    double left_n = 0.0;
    double right_n = 0.0;
};
struct Shot {
    std::int32_t number = 0;
    LaunchNumbers numbers;
};

/// One message of one device.
struct Message {
    std::string device;             ///< letters, digits and '-'
    std::optional<double> device_s; ///< on the device's own clock, any epoch; empty: it has none
    std::variant<About, Imu, Orientation, Feet, Shot> body;
};

} // namespace kite::live
