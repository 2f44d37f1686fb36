#include "core/motion/sensors.h"

#include "core/base/units.h"
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
constexpr double kLargestStill_deg_s = 15.0; ///< a golfer at address, bias included

/// Mean squared turning speed of all sensors, frame by frame; NaN where one is missing.
std::vector<double> turning(const SensorTake& take) {
    std::vector<double> out(take.frames, 0.0);
    for (const auto& entry : take.sensors)
        for (std::size_t i = 0; i < take.frames; ++i)
            out[i] +=
                entry.second.gyro_rad_s[i].squaredNorm() / static_cast<double>(take.sensors.size());
    return out;
}

/// The calmest stretch before the fastest moment: scatter counts, a steady bias does not.
FrameRange find_still_frames(const SensorTake& take) {
    const std::vector<double> speed = turning(take);
    std::size_t fastest = 0;
    for (std::size_t i = 0; i < speed.size(); ++i)
        if (speed[i] > speed[fastest] || !std::isfinite(speed[fastest]))
            fastest = i;
    const auto length =
        std::max<std::size_t>(4, static_cast<std::size_t>(std::lround(kStill_s * take.rate_hz)));
    FrameRange best;
    double least = std::numeric_limits<double>::infinity();
    for (std::size_t begin = 0; begin + length <= fastest; ++begin) {
        double scatter = 0.0;
        for (const auto& entry : take.sensors) {
            Vector3d mean = Vector3d::Zero();
            for (std::size_t i = begin; i < begin + length; ++i)
                mean += entry.second.gyro_rad_s[i] / static_cast<double>(length);
            for (std::size_t i = begin; i < begin + length; ++i)
                scatter += (entry.second.gyro_rad_s[i] - mean).squaredNorm();
            // A slow steady turn is no stillness either: half the weight of its size.
            scatter += 0.5 * static_cast<double>(length) * mean.squaredNorm();
        }
        if (scatter <= least) {
            least = scatter;
            best = {begin, begin + length};
        }
    }
    return best;
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

/// Turns about the vertical so that the trail→lead axis points along the target line.
Quaterniond squared(const Quaterniond& q_lab_segment) {
    const Vector3d x = q_lab_segment * Vector3d::UnitX();
    const double heading = std::atan2(x.y(), x.x());
    return Quaterniond(Eigen::AngleAxisd(-heading, Vector3d::UnitZ())) * q_lab_segment;
}

PoseSeries integrate(const SensorSeries& sensor, FrameRange still, double rate_hz) {
    const std::size_t n = sensor.gyro_rad_s.size();
    const Quaterniond& mount = sensor.q_segment_sensor;
    const Vector3d bias = mean_of(sensor.gyro_rad_s, still);
    const Vector3d up_segment = mount * mean_of(sensor.specific_force_g, still);
    PoseSeries out;
    out.q_lab_segment.assign(n, missing_rotation());
    if (!bias.allFinite() || !up_segment.allFinite() || up_segment.norm() < 0.1)
        return out;
    std::vector<Vector3d> omega(n);
    for (std::size_t i = 0; i < n; ++i)
        omega[i] = mount * (sensor.gyro_rad_s[i] - bias);
    const std::size_t start = (still.begin + still.end) / 2;
    out.q_lab_segment[start] =
        squared(Quaterniond::FromTwoVectors(up_segment, Vector3d::UnitZ())).normalized();
    // Between two frames the rate is the mean of theirs; its change adds the second-order (coning)
    // term dt² / 12 · ω0 × ω1 (Bortz 1971; Savage 1998).
    const double dt = 1.0 / rate_hz;
    const auto increment = [&](std::size_t from, std::size_t to) {
        return exp_of(0.5 * dt * (omega[from] + omega[to]) +
                      dt * dt / 12.0 * omega[from].cross(omega[to]));
    };
    for (std::size_t i = start; i + 1 < n; ++i)
        out.q_lab_segment[i + 1] = (out.q_lab_segment[i] * increment(i, i + 1)).normalized();
    for (std::size_t i = start; i > 0; --i)
        out.q_lab_segment[i - 1] =
            (out.q_lab_segment[i] * increment(i - 1, i).conjugate()).normalized();
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

Outcome<std::map<Segment, PoseSeries>> poses_from_sensors(const SensorTake& take) {
    Outcome<std::map<Segment, PoseSeries>> out;
    const FrameRange still = find_still_frames(take);
    double rms_deg_s = std::numeric_limits<double>::infinity();
    if (!still.empty()) {
        const std::vector<double> speed = turning(take);
        double sum = 0.0;
        for (std::size_t i = still.begin; i < still.end; ++i)
            sum += speed[i];
        rms_deg_s = deg_from_rad(std::sqrt(sum / static_cast<double>(still.size())));
    }
    if (!(rms_deg_s < kLargestStill_deg_s)) {
        out.add({Severity::Error, "no-stillness",
                 "The sensors are never still before the swing, so tilt and bias cannot be found.",
                 "", "Stand still at address for half a second."});
        return out;
    }
    for (const auto& [segment, sensor] : take.sensors) {
        PoseSeries series = sensor.q_world_sensor.empty() ? integrate(sensor, still, take.rate_hz)
                                                          : realigned(sensor, still);
        if (is_finite(series.q_lab_segment[(still.begin + still.end) / 2]))
            out.value[segment] = std::move(series);
        else
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
