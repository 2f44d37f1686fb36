#include "core/base/median.h"
#include "core/base/units.h"
#include "core/motion/orientation.h"
#include "core/motion/outline.h"
#include "core/motion/plausible.h"
#include "core/motion/rotation.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace kite {

using Eigen::Quaterniond;
using Eigen::Vector3d;
using Severity = Finding::Severity;

namespace {

/// How quaternions may have been written instead of w x y z, body to lab.
struct Writing {
    const char* words;
    Quaterniond (*mended)(const Quaterniond& q);
};

constexpr std::array<Writing, 4> kWritings{
    Writing{"", [](const Quaterniond& q) { return q; }},
    Writing{"in the order x y z w",
            [](const Quaterniond& q) { return Quaterniond(q.z(), q.w(), q.x(), q.y()); }},
    Writing{"from the lab to the body", [](const Quaterniond& q) { return q.conjugate(); }},
    Writing{
        "in the order x y z w and from the lab to the body",
        [](const Quaterniond& q) { return Quaterniond(q.z(), q.w(), q.x(), q.y()).conjugate(); }},
};

/// Of what a golfer at address looks like, how much holds (0 to 1), and how many things were asked.
struct Likeness {
    int asked = 0;
    int held = 0;
    void ask(bool holds) {
        ++asked;
        held += holds ? 1 : 0;
    }
    bool whole() const { return held == asked; }
};

Likeness likeness_of(const Take& take, const Outline& outline, const Writing& writing) {
    Likeness out;
    const auto at = [&](Segment segment) {
        const PoseSeries* part = take.find(segment);
        return part == nullptr ? missing_rotation()
                               : writing.mended(mean_rotation(part->q_lab_segment, outline.calm));
    };
    for (Segment segment : {Segment::Pelvis, Segment::Torso}) {
        const Quaterniond q = at(segment);
        if (!is_finite(q))
            continue;
        out.ask((q * Vector3d::UnitZ()).z() > 0.5);
    }
    for (Segment segment : {Segment::LeadArm, Segment::Club}) {
        const Quaterniond q = at(segment);
        if (is_finite(q))
            out.ask((q * Vector3d::UnitZ()).z() > 0.15); // hanging down
    }
    const PoseSeries* arm = take.find(Segment::LeadArm);
    const PoseSeries* club = take.find(Segment::Club);
    const PoseSeries* pelvis = take.find(Segment::Pelvis);
    const bool has_grip = club != nullptr && club->has_positions();
    if (arm != nullptr && arm->has_positions() && has_grip && take.arm_length_m) {
        // From the shoulder along the arm to the grip, at rest and when it is fastest.
        for (std::size_t i : {outline.calm.begin, outline.fastest}) {
            const Quaterniond q = writing.mended(arm->q_lab_segment[i]);
            const Vector3d reach = arm->p_lab_m[i] - *take.arm_length_m * (q * Vector3d::UnitZ());
            const double off_m = (reach - club->p_lab_m[i]).norm();
            if (std::isfinite(off_m))
                out.ask(off_m < 0.35 * *take.arm_length_m);
        }
    }
    if (pelvis != nullptr && pelvis->has_positions() && has_grip) {
        // Torso and pelvis lean to the side on which the hands are.
        Vector3d to_hands =
            mean_in(club->p_lab_m, outline.calm) - mean_in(pelvis->p_lab_m, outline.calm);
        to_hands.z() = 0.0;
        for (Segment segment : {Segment::Pelvis, Segment::Torso}) {
            Vector3d lean = at(segment) * Vector3d::UnitZ();
            lean.z() = 0.0;
            if (lean.allFinite() && to_hands.allFinite() && lean.norm() > 0.1 &&
                to_hands.norm() > 0.1)
                out.ask(lean.dot(to_hands) > 0.0);
        }
    }
    return out;
}

void check_unit(Take& take, std::vector<Finding>& findings) {
    const PoseSeries* pelvis = take.find(Segment::Pelvis);
    const PoseSeries* torso = take.find(Segment::Torso);
    const PoseSeries* arm = take.find(Segment::LeadArm);
    const PoseSeries* club = take.find(Segment::Club);
    const auto distance = [&](const PoseSeries* a, const PoseSeries* b) {
        std::vector<double> d;
        if (a != nullptr && b != nullptr && a->has_positions() && b->has_positions())
            for (std::size_t i = 0; i < take.frames; ++i)
                if (const double x = (a->p_lab_m[i] - b->p_lab_m[i]).norm(); std::isfinite(x))
                    d.push_back(x);
        return median_of(d);
    };
    const std::array<std::pair<double, plausible::Span>, 2> sizes{
        std::pair(distance(pelvis, torso), plausible::kOrigins_m),
        std::pair(distance(arm, club), plausible::kArm_m)};
    const auto fits = [&](double factor) {
        int held = 0;
        for (const auto& [size, span] : sizes) {
            if (!std::isfinite(size))
                continue;
            if (!span.holds(size * factor))
                return 0;
            ++held;
        }
        return held;
    };
    const bool any = std::isfinite(sizes[0].first) || std::isfinite(sizes[1].first);
    if (!any || fits(1.0) > 0)
        return;
    double found = 0.0;
    const char* unit = "";
    for (const auto& [factor, name] :
         {std::pair(0.001, "millimetres"), std::pair(0.01, "centimetres"),
          std::pair(0.0254, "inches"), std::pair(0.3048, "feet")})
        if (fits(factor) > 0 && found == 0.0) {
            found = factor;
            unit = name;
        }
    if (found == 0.0) {
        findings.push_back({Severity::Error, "size-impossible",
                            "No golfer has these sizes in metres, nor in any usual unit.",
                            "position columns", "Give positions in metres."});
        return;
    }
    for (auto& entry : take.segments)
        for (Vector3d& p : entry.second.p_lab_m)
            p *= found;
    for (auto& entry : take.points_lab_m)
        for (Vector3d& p : entry.second)
            p *= found;
    // A length told in metres stays; one that was told in the same unit does not fit a body.
    for (auto* length : {&take.arm_length_m, &take.club_length_m, &take.hip_joint_width_m})
        if (*length && **length > 3.0)
            **length *= found;
    findings.push_back({Severity::Warning, "unit-mended",
                        std::string("The positions are in ") + unit +
                            ", not metres (no golfer is that large); they were converted.",
                        "position columns", "Give positions in metres."});
}

} // namespace

void check_pose_conventions(Take& take, std::vector<Finding>& findings) {
    check_unit(take, findings);
    const Outline outline = outline_of(take);
    if (!outline.swings || has_errors(findings))
        return;
    const Likeness as_is = likeness_of(take, outline, kWritings.front());
    // One oddity may be the golfer's.
    if (as_is.asked < 2 || as_is.held + 1 >= as_is.asked)
        return;
    const Writing* found = nullptr;
    int ways = 0;
    for (std::size_t k = 1; k < kWritings.size(); ++k)
        if (likeness_of(take, outline, kWritings[k]).whole()) {
            found = &kWritings[k];
            ++ways;
        }
    if (ways != 1) {
        findings.push_back(
            {2 * as_is.held < as_is.asked ? Severity::Error : Severity::Warning,
             "orientation-impossible",
             "The orientations are no golfer's: at address the trunk does not stand or the arms do "
             "not hang, in whichever order the quaternions are read.",
             "quaternion columns",
             "Give unit quaternions, scalar first, from the body's axes to the lab's."});
        return;
    }
    for (auto& entry : take.segments)
        for (Quaterniond& q : entry.second.q_lab_segment)
            if (is_finite(q))
                q = found->mended(q);
    findings.push_back({Severity::Warning, "quaternions-mended",
                        std::string("The quaternions are written ") + found->words +
                            " (only so do they make a golfer); they were read so.",
                        "quaternion columns",
                        "Give them scalar first, from the body's axes to the lab's."});
}

} // namespace kite
