#include "core/motion/markers.h"

#include "core/base/units.h"
#include "core/motion/clusters.h"
#include "core/motion/gaps.h"
#include "core/motion/rotation.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <limits>

namespace kite {

using Eigen::Matrix3d;
using Eigen::Quaterniond;
using Eigen::Vector3d;
using Severity = Finding::Severity;

namespace {

/// Compares without a `subject:` prefix, case and blanks.
bool same_label(std::string_view a, std::string_view b) {
    const auto without_subject = [](std::string_view label) {
        const auto colon = label.rfind(':');
        return colon == std::string_view::npos ? label : label.substr(colon + 1);
    };
    a = without_subject(a);
    b = without_subject(b);
    std::size_t i = 0;
    std::size_t j = 0;
    const auto skip_blanks = [](std::string_view text, std::size_t& at) {
        while (at < text.size() && std::isspace(static_cast<unsigned char>(text[at])) != 0)
            ++at;
    };
    for (;;) {
        skip_blanks(a, i);
        skip_blanks(b, j);
        if (i == a.size() || j == b.size())
            return i == a.size() && j == b.size();
        if (std::toupper(static_cast<unsigned char>(a[i++])) !=
            std::toupper(static_cast<unsigned char>(b[j++])))
            return false;
    }
}

/// The marker names of one golfer, by lead and trail.
struct Sides {
    char lead;
    char trail;

    explicit Sides(Handedness handed)
        : lead(handed == Handedness::Left ? 'R' : 'L'),
          trail(handed == Handedness::Left ? 'L' : 'R') {}
    std::string lead_of(std::string_view rest) const { return lead + std::string(rest); }
    std::string trail_of(std::string_view rest) const { return trail + std::string(rest); }
};

std::vector<std::string> pelvis_labels(const Sides& sides) {
    return {sides.lead_of("ASI"), sides.trail_of("ASI"), sides.lead_of("PSI"),
            sides.trail_of("PSI")};
}

const std::array<const char*, 4> kTorsoLabels{"C7", "T10", "CLAV", "STRN"};

Vector3d mean_in(const std::vector<Vector3d>& track, FrameRange frames) {
    Vector3d sum = Vector3d::Zero();
    int count = 0;
    for (std::size_t i = frames.begin; i < std::min(frames.end, track.size()); ++i) {
        if (track[i].allFinite()) {
            sum += track[i];
            ++count;
        }
    }
    return count > 0 ? Vector3d(sum / count) : missing_point();
}

/// Anatomical frame of a segment in its reference pose.
struct ReferenceFrame {
    Quaterniond q_lab_segment = missing_rotation();
    Vector3d origin_m = missing_point();
};

Quaterniond from_axes(const Vector3d& x, const Vector3d& y, const Vector3d& z) {
    Matrix3d R;
    R << x, y, z;
    return Quaterniond(R).normalized();
}

/// Order of the markers: lead ASIS, trail ASIS, lead PSIS, trail PSIS.
ReferenceFrame pelvis_frame(const std::vector<Vector3d>& marker, double& hip_joint_width_m) {
    const Vector3d mid_asis = 0.5 * (marker[0] + marker[1]);
    const Vector3d mid_psis = 0.5 * (marker[2] + marker[3]);
    const Vector3d x = (marker[0] - marker[1]).normalized();
    const Vector3d back = mid_psis - mid_asis;
    const Vector3d y = (back - back.dot(x) * x).normalized();
    const Vector3d z = x.cross(y);
    const HipJointCentres hips =
        calc_hip_joint_centres((marker[0] - marker[1]).norm(), back.norm());
    hip_joint_width_m = (hips.lead_m - hips.trail_m).norm();
    ReferenceFrame frame;
    frame.q_lab_segment = from_axes(x, y, z);
    frame.origin_m = mid_asis + frame.q_lab_segment * (0.5 * (hips.lead_m + hips.trail_m));
    return frame;
}

/// Order of the markers: C7, T10, CLAV (sternal notch), STRN (xiphoid). `lead` points roughly to
/// the lead side and settles the sign of X.
ReferenceFrame torso_frame(const std::vector<Vector3d>& marker, const Vector3d& lead) {
    const Vector3d upper = 0.5 * (marker[2] + marker[0]);
    const Vector3d lower = 0.5 * (marker[3] + marker[1]);
    const Vector3d z = (upper - lower).normalized();
    Vector3d x = (marker[0] - lower).cross(upper - lower).normalized();
    if (x.dot(lead) < 0.0)
        x = -x;
    ReferenceFrame frame;
    frame.q_lab_segment = from_axes(x, z.cross(x), z);
    frame.origin_m = upper;
    return frame;
}

/// Orientation from a direction alone: -Z along it, without twist from frame to frame.
std::vector<Quaterniond> twist_free(const std::vector<Vector3d>& direction) {
    std::vector<Quaterniond> out(direction.size(), missing_rotation());
    Quaterniond last = Quaterniond::Identity();
    Vector3d last_direction = -Vector3d::UnitZ();
    for (std::size_t i = 0; i < direction.size(); ++i) {
        if (!direction[i].allFinite())
            continue;
        last = (Quaterniond::FromTwoVectors(last_direction, direction[i]) * last).normalized();
        last_direction = direction[i];
        out[i] = last;
    }
    return out;
}

std::string joined(const std::vector<std::string>& words) {
    std::string out;
    for (std::size_t i = 0; i < words.size(); ++i)
        out += (i == 0 ? "" : i + 1 == words.size() ? " and " : ", ") + words[i];
    return out;
}

/// Fits a cluster frame by frame and carries its anatomical frame along.
PoseSeries follow_cluster(const std::vector<const std::vector<Vector3d>*>& tracks,
                          const std::vector<Vector3d>& reference, const ReferenceFrame& frame,
                          std::size_t frames, double& worst_residual_m) {
    PoseSeries out;
    out.q_lab_segment.assign(frames, missing_rotation());
    out.p_lab_m.assign(frames, missing_point());
    const Cluster cluster(reference);
    std::vector<Vector3d> now(reference.size());
    std::optional<Quaterniond> last;
    for (std::size_t i = 0; i < frames; ++i) {
        for (std::size_t m = 0; m < now.size(); ++m)
            now[m] = (*tracks[m])[i];
        const RigidFit fit = cluster.fit(now, last);
        if (!fit.ok)
            continue;
        last = fit.q_now_reference;
        out.q_lab_segment[i] = (fit.q_now_reference * frame.q_lab_segment).normalized();
        out.p_lab_m[i] = fit.q_now_reference * frame.origin_m + fit.t_now_m;
        worst_residual_m = std::max(worst_residual_m, fit.residual_rms_m);
    }
    return out;
}

/// Two plates or more: the one furthest towards the target carries the lead foot, the one furthest
/// away the trail foot.
void assign_plates(const MarkerTake& markers, Take& take) {
    if (markers.plates.size() < 2)
        return;
    const auto by_x = [](const ForcePlate& a, const ForcePlate& b) {
        return a.centre_m.x() < b.centre_m.x();
    };
    const auto [trail, lead] =
        std::minmax_element(markers.plates.begin(), markers.plates.end(), by_x);
    if (trail->vertical_n.size() != take.frames || lead->vertical_n.size() != take.frames)
        return;
    take.lead_force_n = lead->vertical_n;
    take.trail_force_n = trail->vertical_n;
}

bool any_pose(const PoseSeries& series) {
    return std::any_of(series.q_lab_segment.begin(), series.q_lab_segment.end(),
                       [](const Quaterniond& q) { return is_finite(q); });
}

} // namespace

const std::vector<Vector3d>* MarkerTake::find(std::string_view label) const {
    for (std::size_t i = 0; i < labels.size(); ++i)
        if (same_label(labels[i], label))
            return &tracks_m[i];
    return nullptr;
}

namespace {

SignedAxis nearest_axis(const Vector3d& direction) {
    Eigen::Index axis = 0;
    direction.cwiseAbs().maxCoeff(&axis);
    return {static_cast<int>(axis), direction(axis) < 0.0 ? -1 : +1};
}

/// Mean of a marker over the whole take; NaN if it is absent.
Vector3d mean_of(const MarkerTake& markers, std::string_view label) {
    const auto* track = markers.find(label);
    return track == nullptr ? missing_point() : mean_in(*track, {0, markers.frames});
}

} // namespace

Outcome<LabAxes> find_lab_axes(const MarkerTake& markers, const AxisHints& hints) {
    Outcome<LabAxes> out;
    const Sides sides(markers.handed);
    if (hints.up) {
        out.value.up = *hints.up;
    } else {
        const Vector3d trunk =
            mean_of(markers, "C7") - 0.5 * (mean_of(markers, "LPSI") + mean_of(markers, "RPSI"));
        if (!trunk.allFinite()) {
            out.add({Severity::Error, "up-unknown", "Which axis points up cannot be told.", "",
                     "Say it: --up z (or y, -x and so on)."});
            return out;
        }
        out.value.up = nearest_axis(trunk);
        out.add({Severity::Note, "up-from-golfer",
                 "The up axis was taken from the golfer's trunk: " + text_of(out.value.up) + ".",
                 "", "If that is wrong, say it with --up."});
    }
    if (hints.target) {
        out.value.target = *hints.target;
    } else {
        const FrameRange calm = find_calmest_frames(markers);
        const auto at_rest = [&](const std::string& label) {
            const auto* track = markers.find(label);
            return track == nullptr ? missing_point() : mean_in(*track, calm);
        };
        Vector3d line = at_rest(sides.lead_of("ASI")) - at_rest(sides.trail_of("ASI"));
        if (!line.allFinite()) {
            out.add({Severity::Error, "target-unknown",
                     "Which axis points to the target cannot be told.", "",
                     "Say it: --target +x (or -y and so on)."});
            return out;
        }
        line -= line.dot(out.value.up.vector()) * out.value.up.vector();
        out.value.target = nearest_axis(line);
        out.add({Severity::Note, "target-from-golfer",
                 "The target direction was taken from the golfer's hips at rest: " +
                     text_of(out.value.target) + ".",
                 "", "If that is wrong, say it with --target."});
    }
    if (out.value.up.axis == out.value.target.axis)
        out.add({Severity::Error, "axes-equal",
                 "The up axis and the target axis are the same line (" + text_of(out.value.up) +
                     " and " + text_of(out.value.target) + ").",
                 "", "Choose two different axes with --up and --target."});
    return out;
}

void rotate_to_lab(MarkerTake& markers, const LabAxes& axes) {
    Matrix3d R_lab_file;
    const Vector3d x = axes.target.vector();
    const Vector3d z = axes.up.vector();
    R_lab_file << x.transpose(), z.cross(x).transpose(), z.transpose();
    for (auto& track : markers.tracks_m)
        for (auto& p : track)
            p = R_lab_file * p;
    for (ForcePlate& plate : markers.plates)
        plate.centre_m = R_lab_file * plate.centre_m;
}

HipJointCentres calc_hip_joint_centres(double pelvis_width_m, double pelvis_depth_m) {
    const double width_mm = mm_from_m(pelvis_width_m);
    const double depth_mm = mm_from_m(pelvis_depth_m);
    const double back_m = m_from_mm(0.24 * depth_mm + 9.9);
    const double down_m = m_from_mm(0.30 * width_mm + 10.9);
    const double side_m = m_from_mm(0.33 * width_mm + 7.3);
    return {{side_m, back_m, -down_m}, {-side_m, back_m, -down_m}};
}

FrameRange find_calmest_frames(const MarkerTake& markers) {
    const std::size_t window = std::min<std::size_t>(
        markers.frames,
        std::max<std::size_t>(2, static_cast<std::size_t>(std::lround(0.1 * markers.rate_hz)) + 1));
    // Mean squared step of all seen markers, frame by frame, then a sliding sum.
    std::vector<double> step(markers.frames, std::numeric_limits<double>::infinity());
    for (std::size_t i = 1; i < markers.frames; ++i) {
        double sum = 0.0;
        int count = 0;
        for (const auto& track : markers.tracks_m) {
            const double d = (track[i] - track[i - 1]).squaredNorm();
            if (std::isfinite(d)) {
                sum += d;
                ++count;
            }
        }
        if (count > 0)
            step[i] = sum / count;
    }
    FrameRange best{0, window};
    double best_sum = std::numeric_limits<double>::infinity();
    for (std::size_t begin = 0; begin + window <= markers.frames; ++begin) {
        double sum = 0.0;
        for (std::size_t i = begin + 1; i < begin + window; ++i)
            sum += step[i];
        if (sum < best_sum) {
            best_sum = sum;
            best = {begin, begin + window};
        }
    }
    return best;
}

std::string missing_markers(const MarkerTake& markers) {
    const Sides sides(markers.handed);
    const auto has = [&](const std::string& label) { return markers.find(label) != nullptr; };
    std::vector<std::string> parts;
    const auto ask = [&](const std::string& part, const std::vector<std::string>& labels) {
        std::vector<std::string> absent;
        for (const auto& label : labels)
            if (!has(label))
                absent.push_back(label);
        if (!absent.empty())
            parts.push_back(part + " (" + joined(absent) + ")");
    };
    ask("pelvis", pelvis_labels(sides));
    ask("torso", {kTorsoLabels.begin(), kTorsoLabels.end()});
    ask("lead arm", {sides.lead_of("SHO"), sides.lead_of("WRA"), sides.lead_of("WRB")});
    const int club = static_cast<int>(has("CLB1")) + static_cast<int>(has("CLB2")) +
                     static_cast<int>(has("CLB3"));
    if (club < 2)
        ask("club", {"CLB1", "CLB2", "CLB3"});
    return joined(parts);
}

void fill_and_mirror(MarkerTake& markers) {
    std::vector<double> times(markers.frames);
    for (std::size_t i = 0; i < markers.frames; ++i)
        times[i] = static_cast<double>(i) / markers.rate_hz;
    for (auto& track : markers.tracks_m) {
        const bool whole = std::all_of(track.begin(), track.end(),
                                       [](const Vector3d& p) { return p.allFinite(); });
        if (!whole) {
            Eigen::MatrixXd rows(static_cast<Eigen::Index>(track.size()), 3);
            for (std::size_t i = 0; i < track.size(); ++i)
                rows.row(static_cast<Eigen::Index>(i)) = track[i].transpose();
            GapReport report;
            const Eigen::MatrixXd filled = fill_to_times(times, rows, times, report);
            for (std::size_t i = 0; i < track.size(); ++i)
                track[i] = filled.row(static_cast<Eigen::Index>(i)).transpose();
        }
        if (markers.handed == Handedness::Left)
            for (auto& p : track)
                p = mirrored(p);
    }
}

Outcome<Take> poses_from_markers(const MarkerTake& ready, FrameRange reference, MarkerParts parts) {
    Outcome<Take> out;
    Take& take = out.value;
    take.name = ready.name;
    take.rate_hz = ready.rate_hz;
    take.frames = ready.frames;
    take.handed = ready.handed;
    take.club = ready.club;
    take.contact_s = ready.contact_s;

    const Sides sides(ready.handed);
    const auto tracks_of = [&](const auto& labels) {
        std::vector<const std::vector<Vector3d>*> tracks;
        tracks.reserve(labels.size());
        for (const auto& label : labels)
            tracks.push_back(ready.find(label));
        return tracks;
    };
    const auto complete = [](const std::vector<const std::vector<Vector3d>*>& tracks) {
        return std::none_of(tracks.begin(), tracks.end(),
                            [](const auto* t) { return t == nullptr; });
    };

    if (parts == MarkerParts::All) {
        Vector3d lead = Vector3d::UnitX();
        const auto follow = [&](Segment segment, const auto& labels, const auto& frame_of) {
            const auto tracks = tracks_of(labels);
            if (!complete(tracks))
                return;
            std::vector<Vector3d> shape;
            shape.reserve(tracks.size());
            for (const auto* track : tracks)
                shape.push_back(mean_in(*track, reference));
            if (!std::all_of(shape.begin(), shape.end(),
                             [](const Vector3d& p) { return p.allFinite(); })) {
                out.add({Severity::Warning, "reference-hidden",
                         "Some markers of the " + std::string(key_of(segment)) +
                             " are hidden at address, so its frame cannot be built.",
                         joined({labels.begin(), labels.end()}), "Use a take that shows them."});
                return;
            }
            const ReferenceFrame frame = frame_of(shape);
            double worst_m = 0.0;
            PoseSeries series = follow_cluster(tracks, shape, frame, ready.frames, worst_m);
            if (!any_pose(series))
                return;
            if (worst_m > 0.02)
                out.add({Severity::Warning, "cluster-deforms",
                         "The markers of the " + std::string(key_of(segment)) +
                             " move against each other by up to " +
                             std::to_string(static_cast<int>(std::lround(mm_from_m(worst_m)))) +
                             " mm.",
                         joined({labels.begin(), labels.end()}),
                         "Check for swapped labels or loose ready."});
            take.segments[segment] = std::move(series);
        };
        follow(Segment::Pelvis, pelvis_labels(sides), [&](const std::vector<Vector3d>& shape) {
            double width_m = 0.0;
            ReferenceFrame frame = pelvis_frame(shape, width_m);
            take.hip_joint_width_m = width_m;
            lead = frame.q_lab_segment * Vector3d::UnitX();
            return frame;
        });
        follow(Segment::Torso, std::vector<std::string>{kTorsoLabels.begin(), kTorsoLabels.end()},
               [&](const std::vector<Vector3d>& shape) { return torso_frame(shape, lead); });
    }

    const std::size_t n = ready.frames;
    std::vector<Vector3d> wrist;
    const auto* wrist_a = ready.find(sides.lead_of("WRA"));
    const auto* wrist_b = ready.find(sides.lead_of("WRB"));
    if (wrist_a != nullptr && wrist_b != nullptr) {
        wrist.resize(n);
        for (std::size_t i = 0; i < n; ++i)
            wrist[i] = 0.5 * ((*wrist_a)[i] + (*wrist_b)[i]);
    }
    // Lengths are medians, so that single bad frames do not matter.
    const auto median_length = [](std::vector<double> lengths) -> std::optional<double> {
        lengths.erase(std::remove_if(lengths.begin(), lengths.end(),
                                     [](double l) { return !std::isfinite(l); }),
                      lengths.end());
        if (lengths.empty())
            return std::nullopt;
        const auto middle = lengths.begin() + static_cast<std::ptrdiff_t>(lengths.size() / 2);
        std::nth_element(lengths.begin(), middle, lengths.end());
        return *middle;
    };

    if (const auto* shoulder = ready.find(sides.lead_of("SHO"));
        shoulder != nullptr && !wrist.empty()) {
        std::vector<Vector3d> direction(n);
        std::vector<double> lengths(n);
        for (std::size_t i = 0; i < n; ++i) {
            direction[i] = wrist[i] - (*shoulder)[i];
            lengths[i] = direction[i].norm();
        }
        PoseSeries series;
        series.q_lab_segment = twist_free(direction);
        series.p_lab_m = *shoulder;
        series.has_roll = false;
        if (any_pose(series)) {
            take.segments[Segment::LeadArm] = std::move(series);
            take.arm_length_m = median_length(std::move(lengths));
        }
    }

    // Parts that are a direction from a marker to the middle of two others.
    const auto add_direction = [&](Segment segment, const std::string& from,
                                   const std::string& to_a, const std::string& to_b) {
        const auto* begin = ready.find(from);
        const auto* a = ready.find(to_a);
        const auto* b = ready.find(to_b);
        if (begin == nullptr || a == nullptr || b == nullptr)
            return;
        std::vector<Vector3d> direction(n);
        for (std::size_t i = 0; i < n; ++i)
            direction[i] = 0.5 * ((*a)[i] + (*b)[i]) - (*begin)[i];
        PoseSeries series;
        series.q_lab_segment = twist_free(direction);
        series.p_lab_m = *begin;
        series.has_roll = false;
        if (any_pose(series))
            take.segments[segment] = std::move(series);
    };
    add_direction(Segment::TrailArm, sides.trail_of("SHO"), sides.trail_of("WRA"),
                  sides.trail_of("WRB"));
    add_direction(Segment::LeadForearm, sides.lead_of("ELB"), sides.lead_of("WRA"),
                  sides.lead_of("WRB"));

    const auto* upper = ready.find("CLB1");
    const auto* lower = ready.find("CLB2");
    const auto* head = ready.find("CLB3");
    // The shaft line: the two shaft markers, else one of them and the head.
    const auto* from = upper != nullptr ? upper : lower;
    const auto* to = upper != nullptr && lower != nullptr ? lower : head;
    if (from != nullptr && to != nullptr) {
        std::vector<Vector3d> direction(n);
        for (std::size_t i = 0; i < n; ++i)
            direction[i] = ((*to)[i] - (*from)[i]).normalized();
        PoseSeries series;
        series.q_lab_segment = twist_free(direction);
        series.has_roll = false;
        if (!wrist.empty()) {
            series.p_lab_m.resize(n);
            std::vector<double> lengths(n, std::numeric_limits<double>::quiet_NaN());
            for (std::size_t i = 0; i < n; ++i) {
                const double along = (wrist[i] - (*from)[i]).dot(direction[i]);
                series.p_lab_m[i] = (*from)[i] + along * direction[i];
                if (head != nullptr)
                    lengths[i] = ((*head)[i] - series.p_lab_m[i]).dot(direction[i]);
            }
            take.club_length_m = median_length(std::move(lengths));
        }
        if (any_pose(series))
            take.segments[Segment::Club] = std::move(series);
    }

    const std::array<std::pair<BodyPoint, std::string>, 4> points{{
        {BodyPoint::LeadAnkle, sides.lead_of("ANK")},
        {BodyPoint::TrailAnkle, sides.trail_of("ANK")},
        {BodyPoint::LeadKnee, sides.lead_of("KNE")},
        {BodyPoint::TrailKnee, sides.trail_of("KNE")},
    }};
    for (const auto& [point, label] : points)
        if (const auto* track = ready.find(label))
            take.points_lab_m[point] = *track;

    if (parts == MarkerParts::All)
        assign_plates(ready, take);

    if (parts == MarkerParts::All) {
        const std::string missing = missing_markers(ready);
        if (!missing.empty())
            out.add({take.segments.empty() ? Severity::Error : Severity::Warning, "markers-missing",
                     "Markers that a swing needs are missing: " + missing + ".", "marker labels",
                     "Rename the markers to these names, or capture with them."});
    }
    return out;
}

} // namespace kite
