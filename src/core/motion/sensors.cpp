#include "core/motion/sensors.h"

#include "core/base/median.h"
#include "core/base/number.h"
#include "core/base/units.h"
#include "core/motion/gaps.h"
#include "core/motion/plausible.h"
#include "core/motion/rotation.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace kite {

using Eigen::Quaterniond;
using Eigen::Vector3d;
using Severity = Finding::Severity;

namespace {

constexpr double kStill_s = 0.25;

/// Mean squared turning speed of all sensors, frame by frame; NaN where one is missing.
std::vector<double> turning(const SensorTake& take) {
    std::vector<double> out(take.frames, 0.0);
    for (const auto& entry : take.sensors)
        for (std::size_t i = 0; i < take.frames; ++i)
            out[i] +=
                entry.second.gyro_rad_s[i].squaredNorm() / static_cast<double>(take.sensors.size());
    return out;
}

Vector3d mean_of(const std::vector<Vector3d>& values, FrameRange frames) {
    Vector3d sum = Vector3d::Zero();
    int count = 0;
    for (std::size_t i = frames.begin; i < frames.end; ++i)
        if (values[i].allFinite()) {
            sum += values[i];
            ++count;
        }
    return count > 0 ? Vector3d(sum / count) : missing_point();
}

/// How restless a gyro is in a stretch: its scatter, and half the weight of its size, since a slow
/// steady turn is no stillness either. A few samples may be missing, but not the middle one, from
/// which the turning is counted; else infinite.
double unrest_in(const std::vector<Vector3d>& gyro_rad_s, FrameRange frames) {
    constexpr double kSeenShare = 0.8;
    const Vector3d mean = mean_of(gyro_rad_s, frames);
    double scatter = 0.0;
    double seen = 0.0;
    for (std::size_t i = frames.begin; i < frames.end; ++i)
        if (gyro_rad_s[i].allFinite()) {
            scatter += (gyro_rad_s[i] - mean).squaredNorm();
            seen += 1.0;
        }
    const auto length = static_cast<double>(frames.size());
    if (!(seen >= kSeenShare * length) || !gyro_rad_s[(frames.begin + frames.end) / 2].allFinite())
        return std::numeric_limits<double>::infinity();
    return length * (scatter / seen + 0.5 * mean.squaredNorm());
}

/// The calmest stretch before the fastest moment: scatter counts, a steady bias does not.
FrameRange find_still_frames(const SensorTake& take, std::optional<double> within_s) {
    const std::vector<double> speed = turning(take);
    std::size_t fastest = 0;
    for (std::size_t i = 0; i < speed.size(); ++i)
        if (speed[i] > speed[fastest] || !std::isfinite(speed[fastest]))
            fastest = i;
    const auto length =
        std::max<std::size_t>(4, static_cast<std::size_t>(std::lround(kStill_s * take.rate_hz)));
    if (within_s)
        fastest =
            std::min(fastest, std::max(length, static_cast<std::size_t>(*within_s * take.rate_hz)));
    FrameRange best;
    double least = std::numeric_limits<double>::infinity();
    for (std::size_t begin = 0; begin + length <= fastest; ++begin) {
        double scatter = 0.0;
        for (const auto& entry : take.sensors)
            scatter += unrest_in(entry.second.gyro_rad_s, {begin, begin + length});
        if (std::isfinite(scatter) && scatter <= least) {
            least = scatter;
            best = {begin, begin + length};
        }
    }
    // A gap may lie in every stretch that was looked at.
    if (best.empty() && within_s)
        return find_still_frames(take, std::nullopt);
    return best;
}

/// Gyro and accelerometer as they may have been written: radians a second called degrees, m/s²
/// called g. Told by what a golfer's parts and gravity can be.
void mend_units(SensorTake& take, std::vector<Finding>& findings) {
    constexpr double kToDegrees = 180.0 / kPi;
    bool radians = !take.sensors.empty();
    for (const auto& [segment, sensor] : take.sensors) {
        double most = 0.0;
        for (std::size_t i = 1; i < sensor.gyro_rad_s.size(); ++i) {
            const double speed =
                std::min(sensor.gyro_rad_s[i].norm(), sensor.gyro_rad_s[i - 1].norm());
            if (std::isfinite(speed))
                most = std::max(most, speed);
        }
        const double peak_deg_s = deg_from_rad(most);
        const bool club = segment == Segment::Club;
        const plausible::Span span = segment == Segment::Pelvis  ? plausible::kPelvisPeak_deg_s
                                     : segment == Segment::Torso ? plausible::kTorsoPeak_deg_s
                                     : club                      ? plausible::kClubPeak_deg_s
                                                                 : plausible::kArmPeak_deg_s;
        radians = radians && peak_deg_s < 0.3 * span.low && peak_deg_s * kToDegrees > span.low &&
                  peak_deg_s * kToDegrees < 1.5 * span.high;
    }
    if (radians) {
        for (auto& entry : take.sensors)
            for (Vector3d& value : entry.second.gyro_rad_s)
                value *= kToDegrees;
        findings.push_back(
            {Severity::Warning, "radians-mended",
             "The gyros are in radians a second (in degrees no part would move as in "
             "a swing); they were converted.",
             "gyro columns", "Give them in degrees a second."});
    }
    std::vector<double> sizes;
    for (const auto& entry : take.sensors)
        for (const Vector3d& force : entry.second.specific_force_g)
            if (force.allFinite())
                sizes.push_back(force.norm());
    const double size = median_of(sizes);
    constexpr double kGravity_m_s2 = 9.80665;
    if (size > 0.7 * kGravity_m_s2 && size < 1.6 * kGravity_m_s2) {
        for (auto& entry : take.sensors)
            for (Vector3d& force : entry.second.specific_force_g)
                force /= kGravity_m_s2;
        findings.push_back(
            {Severity::Warning, "unit-mended",
             "The accelerometers are in m/s\u00b2, not g (at rest they show 9.8, not "
             "1); they were converted.",
             "accelerometer columns", "Give them in g."});
    }
}

/// Where a gyro stands at the end of its range the true rate is larger and not known.
void drop_clipped(Segment segment, SensorSeries& sensor, double rate_hz,
                  std::vector<Finding>& findings) {
    constexpr double kLeastRange_rad_s = 240.0 * kPi / 180.0;
    // The same number, however it was rounded; a smooth maximum differs more from frame to frame.
    constexpr double kSame = 1e-6;
    std::size_t dropped = 0;
    std::size_t first = sensor.gyro_rad_s.size();
    for (Eigen::Index axis = 0; axis < 3; ++axis) {
        double most = 0.0;
        for (const Vector3d& v : sensor.gyro_rad_s)
            if (v.allFinite())
                most = std::max(most, std::abs(v(axis)));
        if (most < kLeastRange_rad_s)
            continue;
        // Three in a row at the very same extreme: no rate does that by itself.
        std::vector<std::size_t> run;
        std::vector<std::size_t> ends;
        for (std::size_t i = 0; i <= sensor.gyro_rad_s.size(); ++i) {
            const bool at_end = i < sensor.gyro_rad_s.size() &&
                                std::abs(sensor.gyro_rad_s[i](axis)) >= most * (1.0 - kSame);
            if (at_end) {
                run.push_back(i);
                continue;
            }
            if (run.size() >= 3)
                ends.insert(ends.end(), run.begin(), run.end());
            run.clear();
        }
        for (std::size_t i : ends) {
            if (sensor.gyro_rad_s[i].allFinite())
                ++dropped;
            first = std::min(first, i);
            sensor.gyro_rad_s[i] = missing_point();
        }
        if (!ends.empty())
            sensor.clipped = true;
    }
    if (dropped > 0)
        findings.push_back({Severity::Warning, "gyro-clipped",
                            "The gyro of the " + std::string(name_of(segment)) +
                                " stands at the end of its range in " + std::to_string(dropped) +
                                " frames; from " + fixed(static_cast<double>(first) / rate_hz, 2) +
                                " s on this part is not known.",
                            std::string(key_of(segment)), "Use a sensor with a larger range."});
}

/// Turns about the vertical so that the trail→lead axis points along the target line.
Quaterniond squared(const Quaterniond& q_lab_segment) {
    const Vector3d x = q_lab_segment * Vector3d::UnitX();
    const double heading = std::atan2(x.y(), x.x());
    return Quaterniond(Eigen::AngleAxisd(-heading, Vector3d::UnitZ())) * q_lab_segment;
}

/// SD of the turn that bridging a gap in the rate leaves: what it may have done between, times how
/// long (common practice, no source).
double bridging_rad(const FourSignals& rate, const std::vector<Seen>& seen, double rate_hz) {
    constexpr double kOfTheChange = 0.1;
    double variance = 0.0;
    for (std::size_t i = 1; i < seen.size();) {
        if (seen[i] != Seen::Bridged) {
            ++i;
            continue;
        }
        const std::size_t before = i - 1;
        while (i < seen.size() && seen[i] == Seen::Bridged)
            ++i;
        if (i == seen.size())
            break;
        const double gap_s = static_cast<double>(i - before) / rate_hz;
        const double change = (rate[i] - rate[before]).matrix().norm();
        const double off = gap_s > kLongestFilledGap_s ? kOfTheChange * change * gap_s : 0.0;
        variance += off * off;
    }
    return std::sqrt(variance);
}

PoseSeries integrate(const SensorSeries& sensor, FrameRange still, double rate_hz,
                     double longest_s) {
    const std::size_t n = sensor.gyro_rad_s.size();
    const Quaterniond& mount = sensor.q_segment_sensor;
    const Vector3d bias = mean_of(sensor.gyro_rad_s, still);
    const Vector3d up_segment = mount * mean_of(sensor.specific_force_g, still);
    PoseSeries out;
    out.q_lab_segment.assign(n, missing_rotation());
    if (!bias.allFinite() || !up_segment.allFinite() || up_segment.norm() < 0.1)
        return out;
    // Short gaps are bridged to integrate over them; what was bridged is not handed on as measured.
    FourSignals rate(n, Eigen::Array4d::Zero());
    Flags known(n);
    for (std::size_t i = 0; i < n; ++i) {
        known[i] = sensor.gyro_rad_s[i].allFinite();
        if (known[i])
            rate[i].head<3>() = (mount * (sensor.gyro_rad_s[i] - bias)).array();
    }
    const Flags measured = known;
    if (!sensor.clipped) {
        const std::vector<Seen> seen = bridge_gaps(rate, known, rate_hz, longest_s);
        out.wander_rad = bridging_rad(rate, seen, rate_hz);
    }
    const auto omega = [&](std::size_t i) { return Vector3d(rate[i].head<3>()); };
    const std::size_t start = (still.begin + still.end) / 2;
    if (!known[start])
        return out;
    out.q_lab_segment[start] =
        squared(rotation_between(up_segment, Vector3d::UnitZ())).normalized();
    // Between two frames the rate is the mean of theirs; its change adds the second-order (coning)
    // term dt² / 12 · ω0 × ω1 (Bortz 1971; Savage 1998).
    const double dt = 1.0 / rate_hz;
    const auto increment = [&](std::size_t from, std::size_t to) {
        return exp_of(0.5 * dt * (omega(from) + omega(to)) +
                      dt * dt / 12.0 * omega(from).cross(omega(to)));
    };
    // Up to a hole that cannot be bridged: beyond it the orientation is not known.
    for (std::size_t i = start; i + 1 < n && known[i + 1]; ++i)
        out.q_lab_segment[i + 1] = (out.q_lab_segment[i] * increment(i, i + 1)).normalized();
    for (std::size_t i = start; i > 0 && known[i - 1]; --i)
        out.q_lab_segment[i - 1] =
            (out.q_lab_segment[i] * increment(i - 1, i).conjugate()).normalized();
    for (std::size_t i = 0; i < n; ++i)
        if (!measured[i])
            out.q_lab_segment[i] = missing_rotation();
    return out;
}

/// The sensor's own orientation, its heading made square at address.
PoseSeries realigned(const SensorSeries& sensor, FrameRange still) {
    PoseSeries out;
    out.q_lab_segment.assign(sensor.q_world_sensor.size(), missing_rotation());
    const Quaterniond from_mount = sensor.q_segment_sensor.conjugate();
    const Quaterniond at_rest = sensor.q_world_sensor[(still.begin + still.end) / 2] * from_mount;
    if (!is_finite(at_rest))
        return out;
    const Quaterniond align = squared(at_rest) * at_rest.conjugate();
    for (std::size_t i = 0; i < out.q_lab_segment.size(); ++i)
        if (is_finite(sensor.q_world_sensor[i]))
            out.q_lab_segment[i] = (align * sensor.q_world_sensor[i] * from_mount).normalized();
    return out;
}

} // namespace

Outcome<std::map<Segment, PoseSeries>> poses_from_sensors(SensorTake take) {
    Outcome<std::map<Segment, PoseSeries>> out;
    mend_units(take, out.findings);
    for (auto& [segment, sensor] : take.sensors)
        drop_clipped(segment, sensor, take.rate_hz, out.findings);
    const FrameRange still = find_still_frames(take, take.still_within_s);
    double rms_deg_s = std::numeric_limits<double>::infinity();
    if (!still.empty()) {
        const std::vector<double> speed = turning(take);
        double sum = 0.0;
        double seen = 0.0;
        for (std::size_t i = still.begin; i < still.end; ++i)
            if (std::isfinite(speed[i])) {
                sum += speed[i];
                seen += 1.0;
            }
        rms_deg_s = deg_from_rad(std::sqrt(sum / seen));
    }
    if (!(rms_deg_s < take.largest_still_deg_s)) {
        out.add({Severity::Error, "no-stillness",
                 "The sensors are never still before the swing, so tilt and bias cannot be found.",
                 "", "Stand still at address for half a second."});
        return out;
    }
    if (rms_deg_s > kUsualStill_deg_s)
        out.add({Severity::Warning, "restless-address",
                 "The sensors are hardly still before the swing (" +
                     std::to_string(std::lround(rms_deg_s)) +
                     " degrees a second): tilt, and what hangs on it, is less sure.",
                 "", "Stand still at address for half a second."});
    const auto lost_s = [&](const PoseSeries& series) {
        // From the first frame on that is missing to the end.
        std::size_t end = series.q_lab_segment.size();
        while (end > 0 && !is_finite(series.q_lab_segment[end - 1]))
            --end;
        return static_cast<double>(end) / take.rate_hz;
    };
    for (const auto& [segment, sensor] : take.sensors) {
        PoseSeries series = sensor.q_world_sensor.empty()
                                ? integrate(sensor, still, take.rate_hz, take.longest_integrated_s)
                                : realigned(sensor, still);
        if (is_finite(series.q_lab_segment[(still.begin + still.end) / 2])) {
            if (const double until_s = lost_s(series);
                !sensor.clipped && until_s < static_cast<double>(take.frames - 1) / take.rate_hz)
                out.add({Severity::Warning, "gap-open",
                         "The gyro of the " + std::string(name_of(segment)) +
                             " has a gap too long to bridge at " + fixed(until_s, 2) +
                             " s; from there on this part is not known.",
                         std::string(key_of(segment)), "Check the sensor's link."});
            out.value[segment] = std::move(series);
        } else
            out.add({Severity::Warning, "no-gravity",
                     "There is no gravity to take the tilt of the " + std::string(key_of(segment)) +
                         " from; it was left out.",
                     "", "Record the accelerometer too."});
    }
    out.add({Severity::Note, "heading-assumed",
             "Sensors cannot tell the heading: every part is taken as square to the target at "
             "address.",
             "", ""});
    return out;
}

} // namespace kite
