#pragma once

#include "core/live/messages.h"
#include "simulate/swing_model.h"

#include <array>
#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <random>
#include <string>
#include <vector>

/// A made-up bay: golfers with four sensors, a plate and a launch monitor, as they are on a Wi-Fi.
namespace kite::simulate {

using BodyPose = std::array<SwingModel::Pose, 4>; ///< of kSequence, right-handed lab

/// One swing as somebody makes it, from rest.
struct Stroke {
    std::function<BodyPose(double t_s)> pose;
    double impact_s = 0.0;
    double duration_s = 0.0;
    bool practice = false; ///< no ball: nothing is struck
    std::array<double, 4> peaks_s{};
    double club_head_m_s = 0.0;
    std::function<double(double t_s)> lead_force_pct;
    std::function<double(double t_s)> total_force_n;
};
/// The stroke of a swing model.
Stroke stroke_of(const SwingParameters& parameters, bool practice);

/// What every packet needs at least.
inline constexpr double kShortestWay_s = 0.0008;

struct BayPlan {
    std::uint32_t seed = 1;
    int swings = 10; ///< with a ball
    double rate_hz = 500.0;
    double plate_hz = 1000.0; ///< 0: no plate
    Handedness handed = Handedness::Right;
    ClubKind club = ClubKind::Iron;
    bool launch = true;
    bool orientations = false; ///< sensors send their own too
    bool clocks = true;        ///< else time tags say "immediately"
    double practice_share = 0.3;
    /// Begins the models that its devices tell. What begins with live::kStandIn is kept as
    /// nobody's; a test that plays real devices says otherwise.
    std::string makes = "stand-in";
    bool between = true; ///< waggles, walking, placing the ball
    bool slow = false;   ///< a drill: no ball, slow, held at the top
    /// Sensors sit anyhow on their parts, and the golfer first shows how.
    bool mounting = false;

    // The link.
    double offset_s = 3.0;        ///< clocks stand up to so far from the true time …
    double drift_ppm = 200.0;     ///< … and run fast or slow by up to so much
    double jitter_ms = 3.0;       ///< mean delay beyond the shortest
    double lost_pct = 0.5;        ///< single packets
    double bursts_a_minute = 1.0; ///< 10 to 60 ms without a packet
    double doubled_pct = 0.2;

    int slips_at = 0;  ///< the torso's sensor slips by 25° before this swing; 0: never
    int sleeps_at = 0; ///< the pelvis' sensor sleeps for 5 s before this swing; 0: never
    double battery_a_minute = 0.002;
    /// Whose swings they are; empty: made-up golfers, another one every ten swings.
    std::function<Stroke(int index, bool practice, std::mt19937& random)> strokes;
};

/// What really happened.
struct BayTruth {
    double impact_s = 0.0; ///< from the start
    bool practice = false;
    std::array<double, 4> peaks_s{};
    LaunchNumbers launch;
};

/// A message and when it arrives, from the start.
struct BaySent {
    double at_s = 0.0;
    live::Message message;
};

class BaySender {
public:
    explicit BaySender(const BayPlan& plan);
    ~BaySender();
    BaySender(BaySender&&) noexcept;

    /// The next to arrive; empty: it is over.
    std::optional<BaySent> next();
    double duration_s() const;
    const std::vector<BayTruth>& truth() const;
    /// Sensor → segment as they sit before anything slips.
    Eigen::Quaterniond mount(Segment segment) const;
    /// A device's clock at a true time from the start.
    double device_s(live::Role role, double t_s) const;

private:
    class Bay;
    std::unique_ptr<Bay> bay_;
};

} // namespace kite::simulate
