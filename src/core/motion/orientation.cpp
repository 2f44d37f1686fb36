#include "core/motion/orientation.h"

#include "core/base/median.h"
#include "core/base/units.h"
#include "core/motion/outline.h"
#include "core/motion/rotation.h"
#include "core/motion/stillness.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace kite {

using Eigen::Matrix3d;
using Eigen::Quaterniond;
using Eigen::Vector3d;
using Severity = Finding::Severity;
using Track = std::vector<Vector3d>;

namespace {

constexpr double kHeadU_deg = 6.0;
constexpr double kHandsU_deg = 14.0;
constexpr double kLineU_deg = 5.0;

double direction_deg(const Vector3d& v) {
    return deg_from_rad(std::atan2(v.y(), v.x()));
}

/// Difference of two directions, -180 to 180.
double apart_deg(double a, double b) {
    return std::remainder(a - b, 360.0);
}

/// Horizontal velocity of a track where it is lowest about its fastest moment: the bottom of the
/// swing's arc, where the club goes along the line.
std::optional<Vector3d> velocity_at_bottom(const Track& track, const Matrix3d& R_up_file,
                                           double rate_hz, std::size_t fastest) {
    const auto reach = static_cast<std::size_t>(std::max(2.0, std::round(0.06 * rate_hz)));
    const auto height = [&](std::size_t i) { return R_up_file.row(2).dot(track[i]); };
    std::size_t lowest = track.size();
    for (std::size_t i = fastest > reach ? fastest - reach : 0;
         i < std::min(track.size(), fastest + reach + 1); ++i)
        if (track[i].allFinite() && (lowest == track.size() || height(i) < height(lowest)))
            lowest = i;
    if (lowest == track.size())
        return std::nullopt;
    // Over some frames on either side, so that single bad ones do not turn it.
    for (std::size_t aside = static_cast<std::size_t>(std::max(1.0, std::round(0.006 * rate_hz)));
         aside < 4 + static_cast<std::size_t>(0.012 * rate_hz); ++aside) {
        if (lowest < aside || lowest + aside >= track.size())
            return std::nullopt;
        const Vector3d d = R_up_file * (track[lowest + aside] - track[lowest - aside]);
        if (d.allFinite() && d.head<2>().norm() > 0.0)
            return Vector3d(d.x(), d.y(), 0.0);
    }
    return std::nullopt;
}

void combine(Orientation& out) {
    Vector3d sum = Vector3d::Zero();
    double weights = 0.0;
    for (const Witness& w : out.witnesses) {
        const double weight = 1.0 / (w.u_deg * w.u_deg);
        const double a = rad_from_deg(w.target_deg);
        sum += weight * Vector3d(std::cos(a), std::sin(a), 0.0);
        weights += weight;
    }
    if (!(weights > 0.0))
        return;
    out.target_deg = direction_deg(sum);
    out.u_deg = 1.0 / std::sqrt(weights);
    for (const Witness& w : out.witnesses)
        out.spread_deg =
            std::max(out.spread_deg, std::abs(apart_deg(w.target_deg, out.target_deg)));
}

std::string degrees(double value) {
    return std::to_string(std::lround(value)) + "°";
}

std::string listed(const Orientation& seen) {
    std::string out;
    for (std::size_t i = 0; i < seen.witnesses.size(); ++i)
        out += (i == 0                           ? ""
                : i + 1 == seen.witnesses.size() ? " and "
                                                 : ", ") +
               std::string(seen.witnesses[i].who);
    return out;
}

std::string hand_word(Handedness hand) {
    return hand == Handedness::Left ? "left" : "right";
}

} // namespace

bool Orientation::has_head() const {
    return std::any_of(witnesses.begin(), witnesses.end(), [](const Witness& w) {
        return std::string_view(w.who).find("at the ball") != std::string_view::npos;
    });
}

namespace {

/// What markers say. `R_up_file` turns the file's axes so that z points up; x may point anywhere.
Orientation observe(const MarkerTake& markers, const Matrix3d& R_up_file,
                    std::optional<FrameRange> known_calm) {
    Orientation out;
    const std::size_t fastest = find_fastest_frame(markers);
    FrameRange calm = known_calm ? *known_calm : find_calm_before_swing(markers);
    // A take that begins late has no address: then the body at the ball tells front from back, and
    // only the feet still stand along the line.
    const bool has_address = is_calm(markers, calm);
    if (!has_address && fastest < markers.frames)
        calm = {fastest > 1 ? fastest - 1 : 0, std::min(markers.frames, fastest + 2)};
    const auto mean_seen = [&](std::initializer_list<const char*> labels) {
        return Vector3d(R_up_file * mean_in(markers, labels, calm));
    };
    // Which way the golfer looks, from where the hands are.
    const Vector3d body =
        mean_seen({"LASI", "RASI", "LPSI", "RPSI", "C7", "T10", "CLAV", "STRN", "LSHO", "RSHO"});
    const Vector3d hands = mean_seen({"LWRA", "LWRB", "RWRA", "RWRB", "CLB1", "CLB2"});
    Vector3d front = hands - body;
    front.z() = 0.0;
    const bool has_front = front.allFinite() && front.norm() > 0.08;
    const Vector3d left =
        has_front ? Vector3d(Vector3d::UnitZ().cross(front.normalized())) : missing_point();

    // The way of the club head, else of the hands.
    std::optional<Vector3d> way;
    double way_u_deg = kHeadU_deg;
    const char* who = "the club head at the ball";
    if (fastest < markers.frames) {
        for (const char* label : {"CLB3", "CLB2"})
            if (const Track* track = markers.find(label); track != nullptr && !way)
                way = velocity_at_bottom(*track, R_up_file, markers.rate_hz, fastest);
        for (const char* label : {"LWRA", "RWRA", "LWRB", "RWRB"})
            if (const Track* track = markers.find(label); track != nullptr && !way) {
                way = velocity_at_bottom(*track, R_up_file, markers.rate_hz, fastest);
                way_u_deg = kHandsU_deg;
                who = "the hands at the ball";
            }
    }
    if (way)
        out.witnesses.push_back({who, direction_deg(*way), way_u_deg});
    if (way && has_front) {
        const double along = way->normalized().dot(left);
        if (std::abs(along) > 0.5)
            out.hand = along > 0.0 ? Handedness::Right : Handedness::Left;
    }
    // Lines across the body point to the golfer's left; the target is there for a right-hander.
    const Handedness hand = out.hand.value_or(markers.handed);
    const double sign = hand == Handedness::Left ? -1.0 : 1.0;
    for (const auto& [name, a, b] :
         {std::tuple("the hips", "LASI", "RASI"), std::tuple("the feet", "LANK", "RANK"),
          std::tuple("the shoulders", "LSHO", "RSHO")}) {
        Vector3d line = mean_seen({a}) - mean_seen({b});
        line.z() = 0.0;
        if (!has_address && std::string_view(name) != "the feet")
            continue;
        if (line.allFinite() && line.norm() > 0.05)
            out.witnesses.push_back({name, direction_deg(sign * line), kLineU_deg});
    }
    combine(out);
    return out;
}

SignedAxis nearest_axis(const Vector3d& direction) {
    Eigen::Index axis = 0;
    direction.cwiseAbs().maxCoeff(&axis);
    return {static_cast<int>(axis), direction(axis) < 0.0 ? -1 : +1};
}

/// From the feet to the chest, else from the pelvis to it; in the file's axes.
std::optional<Vector3d> find_up(const MarkerTake& markers) {
    const FrameRange all{0, markers.frames};
    const auto mean_seen = [&](std::initializer_list<const char*> labels) {
        return mean_in(markers, labels, all);
    };
    const Vector3d chest = mean_seen({"C7", "CLAV", "LSHO", "RSHO"});
    const Vector3d hips = mean_seen({"LASI", "RASI", "LPSI", "RPSI"});
    const Vector3d feet = mean_seen({"LANK", "RANK"});
    for (const auto& [from, to] :
         {std::pair(feet, chest), std::pair(feet, hips), std::pair(hips, chest)}) {
        const Vector3d up = to - from;
        if (up.allFinite() && up.norm() > 0.1)
            return up.normalized();
    }
    return std::nullopt;
}

/// The file's axis nearest to a direction seen from above, and how far it is off.
LabAxes along_axis(SignedAxis up, double target_deg) {
    LabAxes best{up, zero_axis(up), 0.0};
    double least = 360.0;
    for (int axis = 0; axis < 3; ++axis)
        for (int sign : {+1, -1}) {
            if (axis == up.axis)
                continue;
            // Direction of this axis in the stood-up frame.
            const Vector3d x = zero_axis(up).vector();
            const Vector3d y = up.vector().cross(x);
            const Vector3d v = SignedAxis{axis, sign}.vector();
            const double off = apart_deg(target_deg, deg_from_rad(std::atan2(v.dot(y), v.dot(x))));
            if (std::abs(off) < std::abs(least)) {
                least = off;
                best.target = {axis, sign};
            }
        }
    best.turn_deg = least;
    return best;
}

void find_target(const Orientation& seen, const AxisHints& hints, Outcome<Setting>& out) {
    LabAxes& axes = out.value.axes;
    if (hints.target_deg || hints.target) {
        LabAxes told{axes.up, zero_axis(axes.up), 0.0};
        if (hints.target_deg)
            told.turn_deg = *hints.target_deg;
        else
            told.target = *hints.target;
        axes = told;
        if (axes.up.axis == axes.target.axis) {
            out.add({Severity::Error, "axes-equal",
                     "The up axis and the target axis are the same line (" + text_of(axes.up) +
                         " and " + text_of(axes.target) + ").",
                     "", "Choose two different axes."});
            return;
        }
        if (seen.has_head() && seen.spread_deg < kAgree_deg) {
            const LabAxes found = along_axis(axes.up, seen.target_deg);
            const double off = deg_from_rad(
                std::acos(std::clamp(found.target_vector().dot(axes.target_vector()), -1.0, 1.0)));
            if (off > 20.0)
                out.add({Severity::Warning, "target-contradicted",
                         "The target was told to lie along " + text_of_target(axes) + ", but " +
                             listed(seen) + " say " + degrees(off) +
                             " away from it; what was told is used.",
                         "target line", "Check the target direction told for this file."});
        }
        return;
    }
    if (seen.witnesses.empty()) {
        out.add({Severity::Error, "target-unknown",
                 "Which way the target lies cannot be told: neither club nor hips were seen.", "",
                 "Say which of the file's axes points to the target."});
        return;
    }
    LabAxes found = along_axis(axes.up, seen.target_deg);
    if (seen.spread_deg > kAgree_deg) {
        // The club head is the best single witness; that they disagree is said.
        Orientation head = seen;
        if (seen.has_head())
            found = along_axis(axes.up, seen.witnesses.front().target_deg);
        if (std::abs(found.turn_deg) <= 20.0)
            found.turn_deg = 0.0;
        axes = found;
        out.add({Severity::Warning, "target-unsure",
                 "Where the target lies is not sure: " + listed(seen) + " are up to " +
                     degrees(seen.spread_deg) + " apart; " + text_of_target(axes) +
                     " was taken. Turns, sway and depth hang on it.",
                 "target line", "Say which of the file's axes points to the target."});
        return;
    }
    const bool several = seen.witnesses.size() > 1;
    if (std::abs(found.turn_deg) <= kAligned_deg) {
        found.turn_deg = 0.0;
        axes = found;
        out.add({Severity::Note, "target-from-golfer",
                 "The target direction was taken from " + listed(seen) + ": " +
                     text_of_target(axes) +
                     (several ? ", to which they agree within " +
                                    degrees(std::max(1.0, seen.spread_deg)) + "."
                              : "."),
                 "", several ? "" : "If that is wrong, say which axis points to the target."});
        return;
    }
    axes = found;
    out.add({Severity::Warning, "target-turned",
             "The capture does not lie along the target line: " + listed(seen) + " put it at " +
                 text_of_target(axes) + ", known to ±" + degrees(2.0 * seen.u_deg) +
                 "; all turns carry that uncertainty.",
             "target line", "Set the target line in degrees if you know it better."});
}

} // namespace

Outcome<Setting> find_setting(const MarkerTake& markers, const AxisHints& hints,
                              std::optional<FrameRange> calm) {
    Outcome<Setting> out;
    out.value.handed = markers.handed;
    const std::optional<Vector3d> body_up = find_up(markers);
    if (hints.up) {
        out.value.axes.up = *hints.up;
    } else if (hints.file_up && (!body_up || hints.file_up->vector().dot(*body_up) > 0.5)) {
        out.value.axes.up = *hints.file_up;
    } else if (body_up) {
        out.value.axes.up = nearest_axis(*body_up);
        out.add({hints.file_up ? Severity::Warning : Severity::Note, "up-from-golfer",
                 (hints.file_up ? "The file says that " + text_of(*hints.file_up) +
                                      " points up, but the golfer stands along "
                                : std::string("The up axis was taken from the golfer's body: ")) +
                     text_of(out.value.axes.up) + (hints.file_up ? "; that was used." : "."),
                 "", ""});
    } else {
        out.add({Severity::Error, "up-unknown",
                 "Which axis points up cannot be told: the body was not seen.", "",
                 "Say which of the file's axes points up."});
        return out;
    }
    if (hints.up && body_up && hints.up->vector().dot(*body_up) < 0.3)
        out.add({Severity::Warning, "up-contradicted",
                 "The axis " + text_of(*hints.up) +
                     " was told to point up, but the golfer stands along " +
                     text_of(nearest_axis(*body_up)) + "; what was told is used.",
                 "up axis", "Check the up axis told for this file."});
    const SignedAxis up = out.value.axes.up;
    const Orientation seen = observe(markers, R_lab_from_file({up, zero_axis(up), 0.0}), calm);
    if (seen.hand) {
        out.value.handed = *seen.hand;
        if (markers.handed_said && *seen.hand != markers.handed)
            out.add({Severity::Warning, "hand-contradicted",
                     "The golfer was said to play " + hand_word(markers.handed) +
                         "-handed, but the club swings as a " + hand_word(*seen.hand) +
                         "-hander's; it was read so.",
                     "hand", "Correct the hand if the motion is mirrored."});
        else if (!markers.handed_said && *seen.hand == Handedness::Left)
            out.add({Severity::Note, "hand-found",
                     "Nobody said the hand; the club swings as a left-hander's.", "hand", ""});
    }
    find_target(seen, hints, out);
    return out;
}

namespace {

/// How fast parts turn about the vertical just before the fastest moment, added up; positive:
/// counter-clockwise from above. The turning of the trunk, else of what there is.
double vertical_turning(const Take& take, const Outline& outline) {
    const auto reach = static_cast<std::size_t>(std::lround(0.08 * take.rate_hz));
    double sum = 0.0;
    for (Segment segment : {Segment::Pelvis, Segment::Torso, Segment::LeadArm, Segment::Club}) {
        const PoseSeries* part = take.find(segment);
        if (part == nullptr)
            continue;
        double turned = 0.0;
        for (std::size_t i = outline.fastest > reach ? outline.fastest - reach : 0;
             i < outline.fastest; ++i) {
            const Quaterniond& a = part->q_lab_segment[i];
            const Quaterniond& b = part->q_lab_segment[i + 1];
            if (is_finite(a) && is_finite(b))
                turned += log_of(b * a.conjugate()).z();
        }
        sum += turned;
    }
    return sum;
}

Track far_end(const PoseSeries& series, double length_m) {
    Track out(series.p_lab_m.size());
    for (std::size_t i = 0; i < out.size(); ++i)
        out[i] = series.p_lab_m[i] - length_m * (series.q_lab_segment[i] * Vector3d::UnitZ());
    return out;
}

void turn_about_vertical(Take& take, double by_deg) {
    const Quaterniond turn(Eigen::AngleAxisd(rad_from_deg(by_deg), Vector3d::UnitZ()));
    for (auto& entry : take.segments) {
        for (Quaterniond& q : entry.second.q_lab_segment)
            if (is_finite(q))
                q = (turn * q).normalized();
        for (Vector3d& p : entry.second.p_lab_m)
            p = turn * p;
    }
    for (auto& entry : take.points_lab_m)
        for (Vector3d& p : entry.second)
            p = turn * p;
}

Orientation observe(const Take& take, const Outline& outline) {
    Orientation out;
    const PoseSeries* club = take.find(Segment::Club);
    std::optional<Vector3d> way;
    if (const auto head = take.points_lab_m.find(BodyPoint::ClubHead);
        head != take.points_lab_m.end())
        way = velocity_at_bottom(head->second, Matrix3d::Identity(), take.rate_hz, outline.fastest);
    if (!way && club != nullptr && club->has_positions() && take.club_length_m)
        way = velocity_at_bottom(far_end(*club, *take.club_length_m), Matrix3d::Identity(),
                                 take.rate_hz, outline.fastest);
    if (way)
        out.witnesses.push_back({"the club head at the ball", direction_deg(*way), kHeadU_deg});
    for (const auto& [segment, name] :
         {std::pair(Segment::Pelvis, "the hips"), std::pair(Segment::Torso, "the shoulders")})
        if (const PoseSeries* part = take.find(segment)) {
            const Quaterniond q = mean_rotation(part->q_lab_segment, outline.calm);
            if (is_finite(q))
                out.witnesses.push_back({name, direction_deg(q * Vector3d::UnitX()), kLineU_deg});
        }
    const auto lead = take.points_lab_m.find(BodyPoint::LeadAnkle);
    const auto trail = take.points_lab_m.find(BodyPoint::TrailAnkle);
    if (lead != take.points_lab_m.end() && trail != take.points_lab_m.end()) {
        const Vector3d line =
            mean_in(lead->second, outline.calm) - mean_in(trail->second, outline.calm);
        if (line.allFinite() && line.head<2>().norm() > 0.05)
            out.witnesses.push_back({"the feet", direction_deg(line), kLineU_deg});
    }
    combine(out);
    return out;
}

} // namespace

void check_orientation(Take& take, std::vector<Finding>& findings) {
    const Outline outline = outline_of(take);
    if (!outline.swings)
        return;
    // As a right-hander's the swing turns counter-clockwise from above.
    constexpr double kPlain_rad = 0.3;
    if (vertical_turning(take, outline) < -kPlain_rad) {
        const Handedness told = take.handed;
        mirror_in_place(take);
        take.handed = told == Handedness::Left ? Handedness::Right : Handedness::Left;
        findings.push_back(
            {take.handed_said ? Severity::Warning : Severity::Note,
             take.handed_said ? "hand-contradicted" : "hand-found",
             take.handed_said ? "The golfer was said to play " + hand_word(told) +
                                    "-handed, but the body turns as a " + hand_word(take.handed) +
                                    "-hander's; it was read so."
                              : "Nobody said the hand; the body turns as a " +
                                    hand_word(take.handed) + "-hander's.",
             "hand", take.handed_said ? "Correct the hand if the motion is mirrored." : ""});
    }
    const Orientation seen = observe(take, outline);
    if (!seen.has_head() || seen.witnesses.size() < 2)
        return;
    const double off_deg = apart_deg(seen.target_deg, 0.0);
    if (std::abs(off_deg) <= kAligned_deg)
        return;
    constexpr double kOneVoice_deg = 12.0;
    if (seen.spread_deg > kOneVoice_deg) {
        if (std::abs(off_deg) > kAgree_deg)
            findings.push_back({Severity::Warning, "target-unsure",
                                "The file says that x points to the target, but " + listed(seen) +
                                    " are up to " + degrees(seen.spread_deg) +
                                    " apart from each other about " + degrees(off_deg) + ".",
                                "target line", "Check the axes of this file."});
        return;
    }
    turn_about_vertical(take, -off_deg);
    findings.push_back({Severity::Warning, "target-turned",
                        "The file says that x points to the target, but " + listed(seen) +
                            " put it " + degrees(std::abs(off_deg)) + " to the " +
                            (off_deg > 0.0 ? "left" : "right") + " of it, known to ±" +
                            degrees(2.0 * seen.u_deg) + "; the motion was turned so.",
                        "target line", "Check the axes of this file."});
}

} // namespace kite
