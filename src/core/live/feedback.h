#pragma once

#include "core/live/messages.h"

#include <array>
#include <limits>
#include <optional>

namespace kite::live {

/// What is listened for while the golfer moves.
enum class Wanted {
    PelvisFirst, ///< the pelvis is past square before the lead arm starts down
    HoldOpen     ///< the pelvis is held open, within a band
};

/// What is to be heard at once.
enum class Cue { Good, Early, Inside, Outside };

/// One measure against a band, sample by sample. Turns are about gravity as it lay at rest, from
/// the last rest on; open is positive for either hand. Errors grow with the gyro's drift, a degree
/// or two in ten seconds.
class Feedback {
public:
    struct Rule {
        Wanted wanted = Wanted::PelvisFirst;
        double from_deg = 40.0; ///< of the band (HoldOpen); of PelvisFirst the least turn
        double to_deg = 50.0;
        Handedness handed = Handedness::Right;
    };
    explicit Feedback(const Rule& rule) : rule_(rule) {}

    /// A sample of a part, in its sensor's axes. A cue when there is something to be heard.
    std::optional<Cue> add(Segment segment, double t_s, const Imu& imu);
    /// NaN before the first rest.
    double pelvis_turn_deg() const { return parts_[index_of(Segment::Pelvis)].turn_deg; }

private:
    /// A sensor that is followed from rest to rest.
    struct Followed {
        double last_s = kNaN;
        double turn_deg = kNaN;
        double rate_deg_s = 0.0; ///< about gravity
        Eigen::Vector3d up = Eigen::Vector3d::Zero();
        Eigen::Vector3d bias_deg_s = Eigen::Vector3d::Zero();
        double resting_s = 0.0;
        Eigen::Vector3d sum_force = Eigen::Vector3d::Zero();
        Eigen::Vector3d sum_gyro = Eigen::Vector3d::Zero();
        double count = 0.0;
        Eigen::Vector3d away = Eigen::Vector3d::Zero(); ///< about which it turned since the rest
    };
    static constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();

    void follow(Followed& part, double t_s, const Imu& imu);
    std::optional<Cue> judge_arm(const Imu& imu);
    std::optional<Cue> judge_hold();

    Rule rule_;
    std::array<Followed, 4> parts_{};
    enum class Arm { AtAddress, Back, Down };
    Arm arm_ = Arm::AtAddress;
    bool inside_ = false;
};

} // namespace kite::live
