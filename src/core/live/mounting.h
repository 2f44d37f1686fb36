#pragma once

#include "core/live/swing_take.h"

namespace kite::live {

/// How the sensors sit, from two things that every golfer can do.
/// 1. Standing upright for five seconds, arms hanging, the club hanging in line with the lead arm:
///    gravity shows every part's long axis in its sensor.
/// 2. From address, turning slowly once away and once through and back, all in one piece: the axis
///    of that turn leans to the ball, which shows where the target is.
/// Of arm and club, up and the axis of turning give the sensor's place in the lab at address.
/// The more one bends forward the better it is told.
struct Mounting {
    Mounts mounts;
    /// How well each is told: of a trunk sensor, how far its axis of turning lies from its long
    /// axis; else what the axes leave open. Standard uncertainty, degrees.
    std::map<Segment, double> u_deg;
};

/// Follows the golfer through it, from what was heard lately.
class MountGuide {
public:
    enum class Step { Upright, Address, Turn, Done, Failed };

    /// `now_s`: computer's time up to which `parts` were heard.
    MountGuide(Handedness handed, double now_s) : handed_(handed), begun_s_(now_s) {}

    /// Looks again; `parts` holds at least the last 25 s.
    void look(const Parts& parts, double now_s);
    Step step() const { return step_; }
    double share() const { return share_; } ///< of the present step, 0 to 1
    const Outcome<Mounting>& result() const { return result_; }

    static constexpr double kUpright_s = 5.0;

private:
    Handedness handed_;
    Step step_ = Step::Upright;
    double share_ = 0.0;
    double begun_s_ = 0.0;
    TimeRange upright_;
    TimeRange address_;
    Outcome<Mounting> result_;
};

/// From what was heard while standing upright, at address, and while turning. An empty `upright`:
/// one stood at address alone, and arm and shaft are taken to lie as they usually do there. Errors:
/// a part that did not turn, an axis that does not lean.
Outcome<Mounting> find_mounting(const Parts& parts, Handedness handed, TimeRange upright,
                                TimeRange address, TimeRange turning);

} // namespace kite::live
