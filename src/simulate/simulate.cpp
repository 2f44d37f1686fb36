#include "simulate/simulate.h"

#include "core/base/units.h"
#include "core/measures/analyse.h"
#include "core/measures/marker_take.h"
#include "core/motion/rotation.h"

#include <cmath>
#include <random>
#include <string>
#include <vector>

namespace kite::simulate {

using Eigen::Vector3d;

namespace {

std::size_t frame_count(const SwingModel& model) {
    return static_cast<std::size_t>(
               std::floor(model.duration_s() * model.parameters().rate_hz + 1e-9)) +
           1;
}

/// A marker fixed to a segment, at a place in the segment's axes. "L…" is the lead side here.
struct BodyMarker {
    const char* label;
    Segment segment;
    Vector3d p_segment_m;
};

/// Marker places that are true to the frames: the pelvis' hip joint centres come out where the
/// regression puts them, the torso's origin between C7 and the sternal notch.
std::vector<BodyMarker> body_markers(const SwingParameters& p) {
    // Pelvic width from the hip joint width: width of joints = 2 (0.33 PW + 7.3 mm).
    const double width_m = (0.5 * p.hip_joint_width_m - 0.0073) / 0.33;
    const double depth_m = 0.15;
    const HipJointCentres hips = calc_hip_joint_centres(width_m, depth_m);
    const Vector3d mid_asis = -0.5 * (hips.lead_m + hips.trail_m);
    const double club_m = p.club_length_m();
    return {
        {"LASI", Segment::Pelvis, mid_asis + Vector3d(0.5 * width_m, 0.0, 0.0)},
        {"RASI", Segment::Pelvis, mid_asis - Vector3d(0.5 * width_m, 0.0, 0.0)},
        {"LPSI", Segment::Pelvis, mid_asis + Vector3d(0.045, depth_m, 0.0)},
        {"RPSI", Segment::Pelvis, mid_asis + Vector3d(-0.045, depth_m, 0.0)},
        {"C7", Segment::Torso, {0.0, 0.065, 0.015}},
        {"CLAV", Segment::Torso, {0.0, -0.065, -0.015}},
        {"STRN", Segment::Torso, {0.0, -0.10, -0.19}},
        {"T10", Segment::Torso, {0.0, 0.10, -0.21}},
        {"LSHO", Segment::LeadArm, {0.0, 0.0, 0.0}},
        {"LELB", Segment::LeadArm, {0.0, 0.0, -0.5 * p.arm_length_m}},
        {"LWRA", Segment::LeadArm, {0.03, 0.0, -p.arm_length_m}},
        {"LWRB", Segment::LeadArm, {-0.03, 0.0, -p.arm_length_m}},
        {"CLB1", Segment::Club, {0.0, 0.0, -0.28 * club_m}},
        {"CLB2", Segment::Club, {0.0, 0.0, -0.88 * club_m}},
        {"CLB3", Segment::Club, {0.0, 0.0, -club_m}},
    };
}

std::string other_side(std::string label) {
    if (label.size() == 4 && label != "CLAV" && label != "RBAK" && label.rfind("CLB", 0) != 0) {
        if (label.front() == 'L')
            label.front() = 'R';
        else if (label.front() == 'R')
            label.front() = 'L';
    }
    return label;
}

} // namespace

MarkerTake make_markers(const SwingParameters& parameters) {
    const SwingModel model(parameters);
    MarkerTake out;
    out.name = "simulated";
    out.rate_hz = parameters.rate_hz;
    out.frames = frame_count(model);
    out.handed = parameters.handed;
    out.handed_said = true;
    out.club = parameters.club;
    out.club_said = true;

    std::mt19937 random(parameters.seed);
    std::normal_distribution<double> noise_m(0.0, m_from_mm(parameters.noise_mm));
    const auto add = [&](const std::string& label, const auto& place_at) {
        const bool left = parameters.handed == Handedness::Left;
        out.labels.push_back(left ? other_side(label) : label);
        std::vector<Vector3d> track(out.frames);
        for (std::size_t i = 0; i < out.frames; ++i) {
            track[i] = place_at(static_cast<double>(i) / out.rate_hz);
            if (parameters.noise_mm > 0.0)
                track[i] += Vector3d(noise_m(random), noise_m(random), noise_m(random));
            if (left)
                track[i] = mirrored(track[i]);
        }
        out.tracks_m.push_back(std::move(track));
    };
    for (const BodyMarker& marker : body_markers(parameters))
        add(marker.label, [&](double t_s) -> Vector3d {
            const SwingModel::Pose pose = model.pose(marker.segment, t_s);
            return pose.p_lab_m + pose.q_lab_segment * marker.p_segment_m;
        });
    add("LANK", [&](double t_s) { return model.ankle_m(true, t_s); });
    add("RANK", [&](double t_s) { return model.ankle_m(false, t_s); });
    add("LKNE", [&](double t_s) { return model.knee_m(true, t_s); });
    add("RKNE", [&](double t_s) { return model.knee_m(false, t_s); });
    const auto trail_arm = [&](double share, double aside_m) {
        return [&model, share, aside_m](double t_s) -> Vector3d {
            const Vector3d shoulder = model.trail_shoulder_m(t_s);
            return shoulder + share * (model.trail_wrist_m(t_s) - shoulder) +
                   aside_m * (model.pose(Segment::Club, t_s).q_lab_segment * Vector3d::UnitX());
        };
    };
    add("RSHO", trail_arm(0.0, 0.0));
    add("RELB", trail_arm(0.5, 0.0));
    add("RWRA", trail_arm(1.0, 0.03));
    add("RWRB", trail_arm(1.0, -0.03));
    // What else a full marker set has; Kite Hinge reads it and does not need it.
    const auto along_leg = [&](bool lead, double share, bool thigh) {
        return [&model, lead, share, thigh](double t_s) -> Vector3d {
            const Vector3d from = thigh ? model.hip_m(lead, t_s) : model.knee_m(lead, t_s);
            const Vector3d to = thigh ? model.knee_m(lead, t_s) : model.ankle_m(lead, t_s);
            return from + share * (to - from) + Vector3d(lead ? 0.06 : -0.06, 0.0, 0.0);
        };
    };
    const auto by_ankle = [&](bool lead, const Vector3d& offset_m) {
        return [&model, lead, offset_m](double t_s) -> Vector3d {
            return model.ankle_m(lead, t_s) + offset_m;
        };
    };
    for (const bool lead : {true, false}) {
        const std::string side = lead ? "L" : "R";
        add(side + "THI", along_leg(lead, 0.5, true));
        add(side + "THA", along_leg(lead, 0.3, true));
        add(side + "TIB", along_leg(lead, 0.5, false));
        add(side + "TIA", along_leg(lead, 0.3, false));
        add(side + "HEE", by_ankle(lead, {0.0, 0.06, -0.05}));
        add(side + "TOE", by_ankle(lead, {0.0, -0.18, -0.05}));
    }
    for (const auto& [label, place] : {std::pair("LFHD", Vector3d(0.07, -0.08, 0.25)),
                                       std::pair("RFHD", Vector3d(-0.07, -0.08, 0.25)),
                                       std::pair("LBHD", Vector3d(0.07, 0.08, 0.27)),
                                       std::pair("RBHD", Vector3d(-0.07, 0.08, 0.27)),
                                       std::pair("RBAK", Vector3d(-0.09, 0.10, -0.12))})
        add(label, [&, place = place](double t_s) -> Vector3d {
            const SwingModel::Pose torso = model.pose(Segment::Torso, t_s);
            return torso.p_lab_m + torso.q_lab_segment * place;
        });
    return out;
}

namespace {

/// Force plates hardly have noise: the exact forces go with noisy markers too.
void add_forces(Take& take, const SwingModel& model) {
    for (std::size_t i = 0; i < take.frames; ++i) {
        const double t_s = take.time_of(i);
        const double total_n = model.parameters().force.weight_n * model.total_force_bw(t_s);
        take.lead_force_n.push_back(total_n * model.lead_force_pct(t_s) / 100.0);
        take.trail_force_n.push_back(total_n - take.lead_force_n.back());
    }
}

} // namespace

Take make_take(const SwingParameters& parameters) {
    const SwingModel model(parameters);
    if (parameters.noise_mm > 0.0) {
        Take out = take_from_markers(make_markers(parameters)).value;
        add_forces(out, model);
        return out;
    }
    Take out;
    out.name = "simulated";
    out.rate_hz = parameters.rate_hz;
    out.frames = frame_count(model);
    out.handed = parameters.handed;
    out.handed_said = true;
    out.club = parameters.club;
    out.club_said = true;
    out.arm_length_m = parameters.arm_length_m;
    out.club_length_m = parameters.club_length_m();
    out.hip_joint_width_m = parameters.hip_joint_width_m;
    for (Segment segment : kSequence) {
        PoseSeries& series = out.segments[segment];
        for (std::size_t i = 0; i < out.frames; ++i) {
            const SwingModel::Pose pose = model.pose(segment, out.time_of(i));
            series.q_lab_segment.push_back(pose.q_lab_segment);
            series.p_lab_m.push_back(pose.p_lab_m);
        }
    }
    PoseSeries& trail_arm = out.segments[Segment::TrailArm];
    trail_arm.has_roll = false;
    for (std::size_t i = 0; i < out.frames; ++i) {
        const double t_s = out.time_of(i);
        for (const bool lead : {true, false}) {
            out.points_lab_m[lead ? BodyPoint::LeadAnkle : BodyPoint::TrailAnkle].push_back(
                model.ankle_m(lead, t_s));
            out.points_lab_m[lead ? BodyPoint::LeadKnee : BodyPoint::TrailKnee].push_back(
                model.knee_m(lead, t_s));
        }
        const Vector3d shoulder = model.trail_shoulder_m(t_s);
        trail_arm.p_lab_m.push_back(shoulder);
        trail_arm.q_lab_segment.push_back(
            rotation_between(-Vector3d::UnitZ(), model.trail_wrist_m(t_s) - shoulder));
    }
    add_forces(out, model);
    return out;
}

} // namespace kite::simulate
