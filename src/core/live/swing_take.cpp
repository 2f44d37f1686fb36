#include "core/live/swing_take.h"

#include "core/base/units.h"
#include "core/motion/gaps.h"
#include "core/motion/rotation.h"
#include "core/motion/sensors.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace kite::live {

using Eigen::Quaterniond;
using Eigen::Vector3d;
using Severity = Finding::Severity;

namespace {

/// Beyond this every second sample does.
constexpr double kMostRate_hz = 1500.0;
constexpr double kLongestIntegrated_s = 0.15;
/// A cut begins at most half a second before a rest of a quarter of a second.
constexpr double kRestWithin_s = 0.9;
/// Nobody can be asked to stand still once more: a restless address is better than no reading.
constexpr double kRestless_deg_s = 45.0;
/// Ways in which the clocks may also have stood.
constexpr int kDraws = 6;
constexpr std::uint32_t kSeed = 9130;

struct Grid {
    double begin_s = 0.0;
    double rate_hz = 0.0;
    std::size_t frames = 0;
    std::vector<double> times_s() const {
        std::vector<double> out(frames);
        for (std::size_t i = 0; i < frames; ++i)
            out[i] = begin_s + static_cast<double>(i) / rate_hz;
        return out;
    }
};

/// The samples of the fastest part stay where they are: whatever lies between samples is smeared
/// over the ball's blow.
Grid grid_of(const Heard& heard) {
    Grid out;
    const Samples* leader = nullptr;
    double last_s = heard.cut.range.begin_s;
    for (Segment segment : {Segment::Club, Segment::LeadArm, Segment::Torso, Segment::Pelvis}) {
        const auto sensor = heard.sensors.find(segment);
        if (sensor == heard.sensors.end() || sensor->second.samples.times_s.empty())
            continue;
        const Samples& samples = sensor->second.samples;
        last_s = std::max(last_s, samples.times_s.back());
        if (leader == nullptr)
            leader = &samples;
    }
    if (leader == nullptr || !(leader->rate_hz > 0.0))
        return out;
    out.rate_hz = leader->rate_hz;
    while (out.rate_hz > kMostRate_hz)
        out.rate_hz *= 0.5;
    const double begin_s = heard.cut.range.begin_s;
    const double before = std::floor((leader->times_s.front() - begin_s) * out.rate_hz);
    out.begin_s = leader->times_s.front() - before / out.rate_hz;
    const double end_s = std::min(heard.cut.range.end_s, last_s);
    if (end_s > out.begin_s)
        out.frames = static_cast<std::size_t>((end_s - out.begin_s) * out.rate_hz) + 1;
    return out;
}

Eigen::MatrixXd on_grid(const Samples& samples, const Grid& grid, double later_s,
                        Eigen::Index columns, GapReport& report) {
    Eigen::MatrixXd rows(static_cast<Eigen::Index>(samples.times_s.size()), columns);
    for (std::size_t i = 0; i < samples.times_s.size(); ++i)
        for (Eigen::Index k = 0; k < columns; ++k)
            rows(static_cast<Eigen::Index>(i), k) = samples.values[i][static_cast<std::size_t>(k)];
    std::vector<double> times_s = samples.times_s;
    for (double& t_s : times_s)
        t_s += later_s;
    return fill_to_times(times_s, rows, grid.times_s(), report, kBridged_s);
}

SensorSeries series_of(const SensorHeard& heard, const Grid& grid, double later_s,
                       GapReport& report) {
    SensorSeries out;
    out.q_segment_sensor = heard.q_segment_sensor;
    const Eigen::MatrixXd values = on_grid(heard.samples, grid, later_s, 6, report);
    for (Eigen::Index i = 0; i < values.rows(); ++i) {
        out.gyro_rad_s.push_back(values.row(i).head<3>().transpose() * rad_from_deg(1.0));
        out.specific_force_g.push_back(values.row(i).tail<3>().transpose());
    }
    // Its own orientation serves where the rate cannot be integrated; it lags behind in fast parts.
    if (report.longest_open_s > kLongestIntegrated_s && !heard.orientations.times_s.empty()) {
        Samples turns = heard.orientations;
        for (std::size_t i = 1; i < turns.values.size(); ++i) {
            double same = 0.0;
            for (std::size_t k = 0; k < 4; ++k)
                same += turns.values[i][k] * turns.values[i - 1][k];
            if (same < 0.0)
                for (std::size_t k = 0; k < 4; ++k)
                    turns.values[i][k] = -turns.values[i][k];
        }
        GapReport ignored;
        const Eigen::MatrixXd q = on_grid(turns, grid, later_s, 4, ignored);
        for (Eigen::Index i = 0; i < q.rows(); ++i)
            out.q_world_sensor.push_back(
                Quaterniond(q(i, 0), q(i, 1), q(i, 2), q(i, 3)).normalized());
    }
    return out;
}

/// The take with every sensor's samples later by so much.
Outcome<Take> build(const Heard& heard, const Grid& grid, const std::map<Segment, double>& later_s,
                    double feet_later_s) {
    Outcome<Take> out;
    Take& take = out.value;
    take.rate_hz = grid.rate_hz;
    take.frames = grid.frames;
    take.source = Source::Sensors;
    SensorTake sensors;
    sensors.rate_hz = grid.rate_hz;
    sensors.frames = grid.frames;
    sensors.longest_integrated_s = kLongestIntegrated_s;
    sensors.still_within_s = kRestWithin_s;
    sensors.largest_still_deg_s = kRestless_deg_s;
    for (const auto& [segment, sensor] : heard.sensors) {
        if (sensor.samples.times_s.empty())
            continue;
        GapReport report;
        const auto shift = later_s.find(segment);
        sensors.sensors[segment] =
            series_of(sensor, grid, shift == later_s.end() ? 0.0 : shift->second, report);
        if (report.longest_open_s > kBridged_s)
            out.add({Severity::Warning, "link-gap",
                     "The sensor on the " + std::string(name_of(segment)) + " was not heard for " +
                         std::to_string(std::lround(ms_from_s(report.longest_open_s))) + " ms, " +
                         std::to_string(std::lround(
                             ms_from_s(heard.cut.reference_s() - report.longest_open_at_s))) +
                         " ms before impact; nothing is told from there.",
                     std::string(key_of(segment)),
                     "Bring its receiver nearer, or keep people out of the way."});
    }
    Outcome<std::map<Segment, PoseSeries>> poses = poses_from_sensors(std::move(sensors));
    for (Finding& finding : poses.findings)
        out.add(std::move(finding));
    if (!out.ok())
        return out;
    take.segments = std::move(poses.value);
    for (auto& [segment, series] : take.segments)
        series.longest_bridge_s = kBridged_s;
    if (heard.cut.impact_s)
        take.contact_s = *heard.cut.impact_s - grid.begin_s;
    const Handedness by_motion = heard.cut.counter_clockwise ? Handedness::Right : Handedness::Left;
    take.handed = heard.handed.value_or(by_motion);
    take.handed_said = heard.handed.has_value();
    take.club = heard.club.value_or(ClubKind::Iron);
    take.club_said = heard.club.has_value();
    take.launch = heard.launch;
    if (!heard.feet.times_s.empty()) {
        ForceRecord feet;
        const bool right = take.handed == Handedness::Right;
        for (std::size_t i = 0; i < heard.feet.times_s.size(); ++i) {
            feet.times_s.push_back(heard.feet.times_s[i] - grid.begin_s + feet_later_s);
            feet.lead_n.push_back(heard.feet.values[i][right ? 0 : 1]);
            feet.trail_n.push_back(heard.feet.values[i][right ? 1 : 0]);
        }
        // Both lie on the computer's clock.
        std::vector<Finding> findings;
        const auto contact_s = take.contact_s;
        feet.contact_s = take.contact_s = 0.0;
        attach_forces(take, feet, findings);
        take.contact_s = contact_s;
        for (Finding& finding : findings)
            out.add(std::move(finding));
    }
    if (take.handed == Handedness::Left)
        mirror_in_place(take);
    if (take.handed_said && take.handed != by_motion)
        out.add({Severity::Warning, "turns-other-way",
                 "The body turned as a " +
                     std::string(by_motion == Handedness::Right ? "right" : "left") +
                     "-hander's does, not as was said.",
                 "", "Say the golfer's hand, or check how the sensors are mounted."});
    return out;
}

} // namespace

Outcome<Take> take_of(const Heard& heard) {
    const Grid grid = grid_of(heard);
    Outcome<Take> out;
    if (grid.frames < 16) {
        out.add({Severity::Error, "nothing-heard", "No sensor was heard during this swing.", "",
                 "Check that the sensors are awake and send."});
        return out;
    }
    out = build(heard, grid, {}, 0.0);
    if (!out.ok())
        return out;
    std::mt19937 random(kSeed);
    std::normal_distribution<double> normal;
    for (int draw = 0; draw < kDraws; ++draw) {
        std::map<Segment, double> later_s;
        for (const auto& [segment, sensor] : heard.sensors)
            later_s[segment] = sensor.clock_u_s * normal(random);
        const double feet_later_s = heard.feet_u_s * normal(random);
        Outcome<Take> also = build(heard, grid, later_s, feet_later_s);
        if (also.ok())
            out.value.also.push_back(std::make_shared<const Take>(std::move(also.value)));
    }
    if (heard.is_made_up)
        out.add({Severity::Note, kMadeUp, "This swing was made up by the stand-in.", "",
                 "It is nobody's, and is kept as nobody's."});
    return out;
}

double first_frame_s(const Heard& heard) {
    return grid_of(heard).begin_s;
}

std::map<Segment, Vector3d> up_at_address(const Heard& heard) {
    Parts parts;
    for (const auto& [segment, sensor] : heard.sensors)
        parts[segment] = sensor.samples;
    const double begin_s = heard.cut.range.begin_s;
    const TimeRange rest = find_rest(parts, {begin_s, begin_s + kRestWithin_s});
    std::map<Segment, Vector3d> out;
    for (const auto& [segment, sensor] : heard.sensors)
        if (const Vector3d up = mean_force(sensor.samples, rest); up.norm() > 0.1)
            out[segment] = (sensor.q_segment_sensor * up).normalized();
    return out;
}

std::vector<Finding> check_mounts(const std::map<Segment, Vector3d>& up,
                                  const std::map<Segment, Vector3d>& up_before) {
    constexpr double kSlipped_deg = 15.0;
    std::vector<Finding> out;
    for (const auto& [segment, here] : up) {
        const std::string name(name_of(segment));
        if (const auto before = up_before.find(segment); before != up_before.end()) {
            const double apart =
                deg_from_rad(std::acos(std::clamp(here.dot(before->second), -1.0, 1.0)));
            if (apart > kSlipped_deg)
                out.push_back(
                    {Severity::Warning, "mount-slipped",
                     "The sensor on the " + name + " sits " + std::to_string(std::lround(apart)) +
                         " degrees from where it sat before.",
                     std::string(key_of(segment)), "Fasten it and do the mounting again."});
            continue;
        }
        // An upright or bent trunk, an arm that hangs, a club that points down (common practice).
        const bool trunk = segment == Segment::Pelvis || segment == Segment::Torso;
        const double leaning = deg_from_rad(std::acos(std::clamp(here.z(), -1.0, 1.0)));
        const double aside = deg_from_rad(std::asin(std::clamp(here.x(), -1.0, 1.0)));
        constexpr double kMostAside_deg = 30.0;
        if (leaning > 75.0 || (trunk && std::abs(aside) > kMostAside_deg))
            out.push_back({Severity::Warning, "mount-unlikely",
                           "The sensor on the " + name +
                               " does not sit along its part: at address up lies " +
                               std::to_string(std::lround(leaning)) + " degrees from its z axis.",
                           std::string(key_of(segment)), "Do the mounting."});
    }
    return out;
}

} // namespace kite::live
