#pragma once

#include "simulate/bay.h"

#include <vector>

namespace kite::simulate {

/// What a golfer does in front of the sensors, from one thing to the next.
class BayScript {
public:
    explicit BayScript(const BayPlan& plan);

    BodyPose pose(double t_s) const; ///< right-handed lab
    double duration_s() const { return duration_s_; }
    const std::vector<BayTruth>& truth() const { return truth_; }
    /// When the body gets ready for the n-th swing with a ball (from 1).
    double ready_s(int swing) const;
    struct Feet {
        double lead_n = 0.0;
        double trail_n = 0.0;
    };
    Feet feet_n(double t_s) const;

private:
    enum class Doing { Rest, Go, Waggle, Walk, Place, Turn, Swing, Mount };
    struct Episode {
        Doing doing = Doing::Rest;
        double begin_s = 0.0;
        double end_s = 0.0;
        BodyPose from;
        BodyPose to;                          ///< where it goes (Go)
        std::shared_ptr<const Stroke> stroke; ///< Swing
        double size = 1.0;
        double held_s = 0.0; ///< at the top, of a slow one
        double slower = 1.0;
    };

    void add(Episode episode, double length_s);
    BodyPose last_pose() const;
    void go_to(const BodyPose& pose, double length_s);
    void show_mounting(const BodyPose& address);
    void swing(const Stroke& stroke, const BayPlan& plan);
    const Episode& at(double t_s) const;
    BodyPose pose_in(const Episode& episode, double t_s) const;

    std::vector<Episode> episodes_;
    std::vector<BayTruth> truth_;
    std::vector<double> ready_s_;
    double duration_s_ = 0.0;
};

} // namespace kite::simulate
