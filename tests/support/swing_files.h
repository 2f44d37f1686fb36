#pragma once

#include "core/base/units.h"
#include "core/motion/rotation.h"
#include "formats/c3d/c3d.h"
#include "formats/pose_csv/pose_csv.h"
#include "formats/text/numbers.h"
#include "formats/trc/trc.h"
#include "simulate/simulate.h"

#include <functional>
#include <random>
#include <string>
#include <vector>

/// The same simulated swing in every format that is read. Those without a writer in the program are
/// written here.
namespace kite::test {

inline std::string angles_csv(const Take& take, const std::string& suffix = "_deg",
                              double factor = 1.0, const std::string& head = "") {
    std::string out = head + (head.empty() ? "time_s" : "time");
    const char sep = head.empty() ? ',' : '\t';
    for (Segment segment : kSequence)
        for (const char* angle : {"_turn", "_side_tilt", "_forward_bend"})
            out += sep + std::string(key_of(segment)) + angle + suffix;
    out += "\n";
    for (std::size_t i = 0; i < take.frames; ++i) {
        out += fixed(take.time_of(i), 6);
        for (Segment segment : kSequence) {
            const BodyAngles a = angles_of(take.find(segment)->q_lab_segment[i]);
            for (double angle : {a.turn_rad, a.side_tilt_rad, a.forward_bend_rad})
                out += sep + fixed(deg_from_rad(angle) * factor, 6);
        }
        out += "\n";
    }
    return out;
}

inline std::string storage_file(const Take& take, bool degrees) {
    return angles_csv(take, "", degrees ? 1.0 : rad_from_deg(1.0),
                      "swing\nversion=1\nnRows=" + std::to_string(take.frames) +
                          "\nnColumns=13\ninDegrees=" + (degrees ? "yes" : "no") + "\nendheader\n");
}

/// Rates from the model's turning speeds about each part's axis.
inline std::string rates_csv(const simulate::SwingParameters& parameters) {
    const simulate::SwingModel model(parameters);
    std::string out = "time_s";
    for (Segment segment : kSequence)
        out += "," + std::string(key_of(segment)) + "_rate_deg_s";
    out += "\n";
    const auto frames = static_cast<int>(model.duration_s() * parameters.rate_hz);
    for (int i = 0; i < frames; ++i) {
        const double t = i / parameters.rate_hz;
        out += fixed(t, 6);
        for (Segment segment : kSequence)
            out += "," + fixed(model.rate_deg_s(segment, t), 3);
        out += "\n";
    }
    return out;
}

struct SensorErrors {
    double gyro_noise_dps = 0.0;
    double gyro_bias_dps = 0.0;
    double force_noise_g = 0.0;
};

/// What ideal or imperfect sensors on the four parts would give. `mounts`: sensor → segment.
inline std::string sensor_csv(const simulate::SwingParameters& parameters,
                              const SensorErrors& errors = {},
                              const Eigen::Quaterniond& mount = Eigen::Quaterniond::Identity()) {
    const simulate::SwingModel model(parameters);
    std::mt19937 random(parameters.seed);
    std::normal_distribution<double> unit(0.0, 1.0);
    std::string out = "# handed: right\n";
    for (Segment segment : kSequence)
        out += "# mount_" + std::string(key_of(segment)) + ": " +
               formats::format_number(mount.w()) + " " + formats::format_number(mount.x()) + " " +
               formats::format_number(mount.y()) + " " + formats::format_number(mount.z()) + "\n";
    out += "time_s";
    std::array<Eigen::Vector3d, 4> bias;
    for (Segment segment : kSequence) {
        for (const char* suffix : {"_gx_dps", "_gy_dps", "_gz_dps", "_ax_g", "_ay_g", "_az_g"})
            out += "," + std::string(key_of(segment)) + suffix;
        bias[index_of(segment)] =
            errors.gyro_bias_dps * Eigen::Vector3d(unit(random), unit(random), unit(random));
    }
    out += "\n";
    const auto frames = static_cast<int>(model.duration_s() * parameters.rate_hz);
    for (int i = 0; i < frames; ++i) {
        const double t = i / parameters.rate_hz;
        out += fixed(t, 6);
        for (Segment segment : kSequence) {
            constexpr double h = 1e-4;
            const auto pose = [&](double at) { return model.pose(segment, at); };
            const Eigen::Quaterniond q = pose(t).q_lab_segment;
            const Eigen::Vector3d omega =
                log_of(pose(t + h).q_lab_segment * pose(t - h).q_lab_segment.conjugate()) / (2 * h);
            constexpr double kWide = 1e-3;
            const Eigen::Vector3d acceleration =
                (pose(t + kWide).p_lab_m - 2.0 * pose(t).p_lab_m + pose(t - kWide).p_lab_m) /
                (kWide * kWide);
            const Eigen::Quaterniond to_sensor = (q * mount).conjugate();
            Eigen::Vector3d gyro = to_sensor * omega;
            Eigen::Vector3d force = to_sensor * (acceleration / 9.80665 + Eigen::Vector3d::UnitZ());
            for (Eigen::Index axis = 0; axis < 3; ++axis) {
                gyro(axis) = deg_from_rad(gyro(axis)) + errors.gyro_noise_dps * unit(random) +
                             bias[index_of(segment)](axis);
                force(axis) += errors.force_noise_g * unit(random);
            }
            for (const Eigen::Vector3d& v : {gyro, force})
                for (Eigen::Index axis = 0; axis < 3; ++axis)
                    out += "," + fixed(v(axis), 5);
        }
        out += "\n";
    }
    return out;
}

/// A flat skeleton: every joint hangs from the root at its place in the lab, y up, centimetres.
inline std::string bvh_file(const simulate::SwingParameters& parameters) {
    const simulate::SwingModel model(parameters);
    using Place = std::function<Eigen::Vector3d(double)>;
    const auto torso = [&](const Eigen::Vector3d& offset) -> Place {
        return [&model, offset](double t) {
            const auto pose = model.pose(Segment::Torso, t);
            return Eigen::Vector3d(pose.p_lab_m + pose.q_lab_segment * offset);
        };
    };
    const std::vector<std::pair<const char*, Place>> joints{
        {"Hips", [&](double t) { return model.pose(Segment::Pelvis, t).p_lab_m; }},
        {"LeftUpLeg", [&](double t) { return model.hip_m(true, t); }},
        {"RightUpLeg", [&](double t) { return model.hip_m(false, t); }},
        {"LeftLeg", [&](double t) { return model.knee_m(true, t); }},
        {"LeftFoot", [&](double t) { return model.ankle_m(true, t); }},
        {"Neck", torso({0.0, 0.0, 0.0})},
        {"LeftArm", [&](double t) { return model.pose(Segment::LeadArm, t).p_lab_m; }},
        {"RightArm", [&](double t) { return model.trail_shoulder_m(t); }},
        {"LeftHand", [&](double t) { return model.pose(Segment::Club, t).p_lab_m; }},
        {"Club", [&](double t) { return model.head_m(t); }},
    };
    std::string out = "HIERARCHY\nROOT World\n{\n\tOFFSET 0 0 0\n\tCHANNELS 6 Xposition Yposition "
                      "Zposition Zrotation Xrotation Yrotation\n";
    for (const auto& joint : joints)
        out += std::string("\tJOINT ") + joint.first +
               "\n\t{\n\t\tOFFSET 0 0 0\n\t\tCHANNELS 3 Xposition Yposition Zposition\n"
               "\t\tEnd Site\n\t\t{\n\t\t\tOFFSET 0 1 0\n\t\t}\n\t}\n";
    const auto frames = static_cast<int>(model.duration_s() * parameters.rate_hz);
    out += "}\nMOTION\nFrames: " + std::to_string(frames) +
           "\nFrame Time: " + fixed(1.0 / parameters.rate_hz, 6) + "\n";
    for (int i = 0; i < frames; ++i) {
        out += "0 0 0 0 0 0";
        for (const auto& joint : joints) {
            const Eigen::Vector3d p = 100.0 * joint.second(i / parameters.rate_hz);
            // Lab (x target, y back, z up) → file (x target, y up, z towards the ball).
            for (double value : {p.x(), p.z(), -p.y()})
                out += " " + fixed(value, 4);
        }
        out += "\n";
    }
    return out;
}

struct SwingFile {
    const char* name;
    std::string bytes;
};

inline std::vector<SwingFile> swing_files(const simulate::SwingParameters& parameters) {
    const Take take = simulate::make_take(parameters);
    return {{"swing.csv", formats::write_pose_csv(take)},
            {"swing.c3d", formats::write_c3d(simulate::make_markers(parameters)).value},
            {"swing.trc", formats::write_trc(simulate::make_markers(parameters))},
            {"angles.csv", angles_csv(take)},
            {"rates.csv", rates_csv(parameters)},
            {"sensors.csv", sensor_csv(parameters)},
            {"swing.sto", storage_file(take, true)},
            {"swing.bvh", bvh_file(parameters)}};
}

} // namespace kite::test
