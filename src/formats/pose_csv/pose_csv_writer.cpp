#include "core/motion/rotation.h"
#include "formats/pose_csv/pose_csv.h"
#include "formats/text/numbers.h"

#include <cmath>

namespace kite::formats {

namespace {

constexpr int kDecimals = 7; ///< 1e-7 of a quaternion or a metre: far below any sensor

void append(std::string& out, double value) {
    out += ',';
    out += fixed(value, kDecimals);
}

void append(std::string& out, const Eigen::Vector3d& p) {
    append(out, p.x());
    append(out, p.y());
    append(out, p.z());
}

void append_length(std::string& out, const char* key, const std::optional<double>& value) {
    if (value)
        out += std::string("# ") + key + ": " + fixed(*value, 5) + "\n";
}

} // namespace

std::string write_pose_csv(const Take& right_handed) {
    Take take = right_handed;
    if (take.handed == Handedness::Left)
        mirror_in_place(take);

    std::string out = "# kite-hinge: pose 1\n";
    out += "# handed: " + std::string(key_of(take.handed)) + "\n";
    if (take.club_said)
        out += "# club: " + std::string(key_of(take.club)) + "\n";
    out += "# rate_hz: " + format_number(take.rate_hz) + "\n";
    append_length(out, "arm_length_m", take.arm_length_m);
    append_length(out, "club_length_m", take.club_length_m);
    append_length(out, "hip_joint_width_m", take.hip_joint_width_m);
    if (take.contact_s)
        out += "# contact_s: " + fixed(*take.contact_s, 6) + "\n";

    out += "time_s";
    for (const auto& [segment, series] : take.segments) {
        const std::string prefix(key_of(segment));
        for (const char* suffix : {"_qw", "_qx", "_qy", "_qz"})
            out += "," + prefix + suffix;
        if (series.has_positions())
            for (const char* suffix : {"_x_m", "_y_m", "_z_m"})
                out += "," + prefix + suffix;
    }
    for (const auto& entry : take.points_lab_m)
        for (const char* suffix : {"_x_m", "_y_m", "_z_m"})
            out += "," + std::string(key_of(entry.first)) + suffix;
    if (!take.lead_force_n.empty())
        out += ",lead_force_n";
    if (!take.trail_force_n.empty())
        out += ",trail_force_n";
    out += "\n";

    for (std::size_t i = 0; i < take.frames; ++i) {
        out += fixed(take.time_of(i), 6);
        for (const auto& [segment, series] : take.segments) {
            const Eigen::Quaterniond& q = series.q_lab_segment[i];
            for (double value : {q.w(), q.x(), q.y(), q.z()})
                append(out, value);
            if (series.has_positions())
                append(out, series.p_lab_m[i]);
        }
        for (const auto& [point, track] : take.points_lab_m)
            append(out, track[i]);
        if (!take.lead_force_n.empty())
            append(out, take.lead_force_n[i]);
        if (!take.trail_force_n.empty())
            append(out, take.trail_force_n[i]);
        out += "\n";
    }
    return out;
}

} // namespace kite::formats
