#include "core/motion/skeleton.h"

#include "core/base/median.h"
#include "core/motion/orientation.h"
#include "core/motion/rotation.h"

#include <algorithm>
#include <cmath>

namespace kite {

using Eigen::Vector3d;
using Severity = Finding::Severity;

namespace {

constexpr double kUsualLeg_m = 0.86; ///< hip joint to ankle of a middling adult

using Track = std::vector<Vector3d>;

/// The joints as tracks, lead and trail instead of left and right.
class Joints {
public:
    explicit Joints(const JointTake& take)
        : take_(take), lead_(take.handed == Handedness::Left ? "right_" : "left_"),
          trail_(take.handed == Handedness::Left ? "left_" : "right_") {}
    const Track* find(const std::string& name) const {
        const auto found = take_.joints.find(name);
        return found == take_.joints.end() ? nullptr : &found->second;
    }
    const Track* lead(const std::string& name) const { return find(lead_ + name); }
    const Track* trail(const std::string& name) const { return find(trail_ + name); }

private:
    const JointTake& take_;
    std::string lead_;
    std::string trail_;
};

double median_distance(const Track& a, const Track& b) {
    std::vector<double> d;
    for (std::size_t i = 0; i < a.size(); ++i)
        if ((a[i] - b[i]).allFinite())
            d.push_back((a[i] - b[i]).norm());
    return d.empty() ? 0.0 : median_of(d);
}

/// Frame with X along `across` and Z as near to `up` as it can be.
Eigen::Quaterniond frame_of(const Vector3d& across, const Vector3d& up) {
    const Vector3d x = across.normalized();
    const Vector3d z = (up - up.dot(x) * x).normalized();
    Eigen::Matrix3d R;
    R << x, z.cross(x), z;
    return Eigen::Quaterniond(R).normalized();
}

PoseSeries direction_series(const Track& from, const Track& to) {
    PoseSeries out;
    out.has_roll = false;
    out.p_lab_m = from;
    Track direction(from.size());
    for (std::size_t i = 0; i < from.size(); ++i)
        direction[i] = to[i] - from[i];
    out.q_lab_segment = twist_free(direction);
    return out;
}

/// Metres in the skeleton's unit, from its legs.
double skeleton_unit_m(const Joints& joints, std::vector<Finding>& findings) {
    const Track* hip = joints.lead("hip");
    const Track* ankle = joints.lead("ankle");
    const double leg = ankle == nullptr ? 0.0 : median_distance(*hip, *ankle);
    for (double unit : {1.0, 0.01, 0.001})
        if (leg * unit > 0.6 && leg * unit < 1.1)
            return unit;
    findings.push_back(
        {Severity::Note, "unit-from-golfer",
         "The skeleton's unit of length is not said; sizes were taken from a leg of 0.86 m.", "",
         "Lengths and speeds are only as good as that."});
    return leg > 0.0 ? kUsualLeg_m / leg : 1.0;
}

/// Stand-ins for the markers of which axes and hand are asked, in metres: front is told by how far
/// the hands are off the body.
MarkerTake stand_in_of(const JointTake& take, const Joints& joints, const Track& neck,
                       double unit_m) {
    MarkerTake out;
    out.rate_hz = take.rate_hz;
    out.frames = take.frames;
    out.handed = take.handed;
    out.handed_said = take.handed_said;
    for (const auto& [label, joint] :
         {std::pair("LASI", "left_hip"), std::pair("RASI", "right_hip"),
          std::pair("LSHO", "left_shoulder"), std::pair("RSHO", "right_shoulder"),
          std::pair("LWRA", "left_wrist"), std::pair("RWRA", "right_wrist"),
          std::pair("LANK", "left_ankle"), std::pair("RANK", "right_ankle"),
          std::pair("CLB3", "club"), std::pair("C7", "neck")})
        if (const Track* track = joints.find(joint)) {
            out.labels.emplace_back(label);
            out.tracks_m.push_back(*track);
        }
    if (out.find("C7") == nullptr) {
        out.labels.emplace_back("C7");
        out.tracks_m.push_back(neck);
    }
    for (Track& track : out.tracks_m)
        for (Vector3d& p : track)
            p *= unit_m;
    return out;
}

/// Joints into the lab, in metres; a left-hander's mirrored.
void bring_to_lab(JointTake& take, double unit_m, const LabAxes& axes) {
    MarkerTake all;
    std::vector<std::string> names;
    for (auto& [name, track] : take.joints) {
        names.push_back(name);
        for (Vector3d& p : track)
            p *= unit_m;
        all.tracks_m.push_back(std::move(track));
    }
    rotate_to_lab(all, axes);
    for (std::size_t i = 0; i < names.size(); ++i) {
        if (take.handed == Handedness::Left)
            for (Vector3d& p : all.tracks_m[i])
                p = mirrored(p);
        take.joints[names[i]] = std::move(all.tracks_m[i]);
    }
}

/// Arms, club and legs, as far as they are there.
void add_limbs(const Joints& joints, Take& result) {
    const Track* lead_shoulder = joints.lead("shoulder");
    const Track* trail_shoulder = joints.trail("shoulder");
    const Track* wrist = joints.lead("wrist");
    if (lead_shoulder != nullptr && wrist != nullptr) {
        result.segments[Segment::LeadArm] = direction_series(*lead_shoulder, *wrist);
        result.arm_length_m = median_distance(*lead_shoulder, *wrist);
    }
    if (const Track* elbow = joints.lead("elbow"); elbow != nullptr && wrist != nullptr)
        result.segments[Segment::LeadForearm] = direction_series(*elbow, *wrist);
    if (const Track* arm = joints.trail("wrist"); arm != nullptr && trail_shoulder != nullptr)
        result.segments[Segment::TrailArm] = direction_series(*trail_shoulder, *arm);
    if (const Track* head = joints.find("club"); head != nullptr && wrist != nullptr) {
        result.segments[Segment::Club] = direction_series(*wrist, *head);
        result.club_length_m = median_distance(*wrist, *head);
    }
    for (const auto& [point, track] : {std::pair(BodyPoint::LeadAnkle, joints.lead("ankle")),
                                       std::pair(BodyPoint::TrailAnkle, joints.trail("ankle")),
                                       std::pair(BodyPoint::LeadKnee, joints.lead("knee")),
                                       std::pair(BodyPoint::TrailKnee, joints.trail("knee"))})
        if (track != nullptr)
            result.points_lab_m[point] = *track;
}

} // namespace

Outcome<Take> poses_from_joints(const JointTake& source, const AxisHints& hints) {
    Outcome<Take> out;
    JointTake take = source;
    const Joints joints(take);
    const Track* lead_hip = joints.lead("hip");
    const Track* trail_hip = joints.trail("hip");
    const Track* neck = joints.find("neck") != nullptr ? joints.find("neck") : joints.find("head");
    const Track* chest =
        joints.find("chest") != nullptr ? joints.find("chest") : joints.find("spine");
    if (lead_hip == nullptr || trail_hip == nullptr || neck == nullptr) {
        out.add(
            {Severity::Error, "joints-missing",
             "The joints that a swing needs are missing: both hips (thighs) and the neck or head.",
             "HIERARCHY", "Say in your table of names what they are called."});
        return out;
    }

    const double unit_m = skeleton_unit_m(joints, out.findings);
    const Outcome<Setting> setting = find_setting(stand_in_of(take, joints, *neck, unit_m), hints);
    out.findings.insert(out.findings.end(), setting.findings.begin(), setting.findings.end());
    if (!setting.ok())
        return out;
    if (take.handed != setting.value.handed) {
        // Lead and trail change places.
        take.handed = setting.value.handed;
        JointTake other = source;
        other.handed = setting.value.handed;
        other.handed_said = true;
        Outcome<Take> again = poses_from_joints(other, hints);
        again.findings = std::move(out.findings);
        again.value.handed_said = source.handed_said;
        return again;
    }
    bring_to_lab(take, unit_m, setting.value.axes);

    Take& result = out.value;
    result.name = take.name;
    result.source = Source::Joints;
    result.rate_hz = take.rate_hz;
    result.frames = take.frames;
    result.handed = take.handed;
    result.handed_said = take.handed_said;
    result.club = take.club;
    result.club_said = take.club_said;
    result.hip_joint_width_m = median_distance(*lead_hip, *trail_hip);
    PoseSeries pelvis;
    PoseSeries torso;
    const Track* lead_shoulder = joints.lead("shoulder");
    const Track* trail_shoulder = joints.trail("shoulder");
    const bool shoulders = lead_shoulder != nullptr && trail_shoulder != nullptr;
    for (std::size_t i = 0; i < take.frames; ++i) {
        const Vector3d middle = 0.5 * ((*lead_hip)[i] + (*trail_hip)[i]);
        const Vector3d up = (chest != nullptr ? (*chest)[i] : (*neck)[i]) - middle;
        pelvis.q_lab_segment.push_back(frame_of((*lead_hip)[i] - (*trail_hip)[i], up));
        pelvis.p_lab_m.push_back(middle);
        if (shoulders) {
            torso.q_lab_segment.push_back(
                frame_of((*lead_shoulder)[i] - (*trail_shoulder)[i], (*neck)[i] - middle));
            torso.p_lab_m.push_back((*neck)[i]);
        }
    }
    result.segments[Segment::Pelvis] = std::move(pelvis);
    if (shoulders)
        result.segments[Segment::Torso] = std::move(torso);
    add_limbs(joints, result);
    return out;
}

} // namespace kite
