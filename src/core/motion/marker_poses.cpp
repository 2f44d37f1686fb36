// Segment poses from markers in the lab frame: rigid fits of pelvis and torso, directions of arm
// and club, single points.
#include "core/base/findings.h"
#include "core/base/median.h"
#include "core/base/units.h"
#include "core/motion/clusters.h"
#include "core/motion/marker_names.h"
#include "core/motion/markers.h"
#include "core/motion/plausible.h"
#include "core/motion/rotation.h"
#include "core/motion/stillness.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>

namespace kite {

using Eigen::Matrix3d;
using Eigen::Quaterniond;
using Eigen::Vector3d;
using Severity = Finding::Severity;
using Track = std::vector<Vector3d>;

namespace {

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

/// Order of the markers: C7, T10, CLAV (sternal notch), STRN (xiphoid). X points to the lead side:
/// that is where back × up points.
ReferenceFrame torso_frame(const std::vector<Vector3d>& marker) {
    const Vector3d upper = 0.5 * (marker[2] + marker[0]);
    const Vector3d lower = 0.5 * (marker[3] + marker[1]);
    const Vector3d z = (upper - lower).normalized();
    Vector3d x = (marker[0] - lower).cross(upper - lower).normalized();
    if (x.dot((marker[0] - marker[2]).cross(z)) < 0.0)
        x = -x;
    ReferenceFrame frame;
    frame.q_lab_segment = from_axes(x, z.cross(x), z);
    frame.origin_m = upper;
    return frame;
}

/// A vector that hardly changes in a frame, known in some frames: in the others as it stood in
/// those nearby, between two of them in between.
Track carried(const Track& vector_lab, const std::vector<Quaterniond>& q_lab_frame) {
    const std::size_t n = vector_lab.size();
    Track out(n, missing_point());
    std::vector<std::size_t> known;
    Track body(n, missing_point());
    for (std::size_t i = 0; i < n; ++i)
        if (vector_lab[i].allFinite() && is_finite(q_lab_frame[i])) {
            body[i] = q_lab_frame[i].conjugate() * vector_lab[i];
            known.push_back(i);
        }
    if (known.empty())
        return out;
    for (std::size_t i = 0; i < n; ++i) {
        if (vector_lab[i].allFinite()) {
            out[i] = vector_lab[i];
            continue;
        }
        if (!is_finite(q_lab_frame[i]))
            continue;
        const auto next = std::lower_bound(known.begin(), known.end(), i);
        Vector3d in_frame;
        if (next == known.begin())
            in_frame = body[known.front()];
        else if (next == known.end())
            in_frame = body[known.back()];
        else {
            const std::size_t a = *(next - 1);
            const std::size_t b = *next;
            const double share = static_cast<double>(i - a) / static_cast<double>(b - a);
            in_frame = (1.0 - share) * body[a] + share * body[b];
        }
        out[i] = q_lab_frame[i] * in_frame;
    }
    return out;
}

/// Lengths are medians, so that single bad frames do not matter.
std::optional<double> median_length(std::vector<double> lengths) {
    lengths.erase(
        std::remove_if(lengths.begin(), lengths.end(), [](double l) { return !std::isfinite(l); }),
        lengths.end());
    return lengths.empty() ? std::nullopt : std::optional(median_of(lengths));
}

/// Skin that slides by more than this is worth a word.
constexpr double kSlidingSkin_m = 0.003;

/// Root mean square distance of a shape's points from their middle.
double radius_of(const std::vector<Vector3d>& shape) {
    Vector3d middle = Vector3d::Zero();
    for (const Vector3d& p : shape)
        middle += p / static_cast<double>(shape.size());
    double sum = 0.0;
    for (const Vector3d& p : shape)
        sum += (p - middle).squaredNorm();
    return std::sqrt(sum / static_cast<double>(shape.size()));
}

bool any_pose(const PoseSeries& series) {
    return std::any_of(series.q_lab_segment.begin(), series.q_lab_segment.end(),
                       [](const Quaterniond& q) { return is_finite(q); });
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

class PoseBuilder {
public:
    /// Goes on with what another has built.
    PoseBuilder(const MarkerTake& ready, FrameRange reference, Outcome<Take> begun)
        : m_(ready), reference_(reference), sides_(ready.handed), n_(ready.frames),
          out_(std::move(begun)) {}

    explicit PoseBuilder(const MarkerTake& ready)
        : m_(ready), sides_(ready.handed), n_(ready.frames) {
        Take& take = out_.value;
        take.name = ready.name;
        take.source = Source::Markers;
        take.rate_hz = ready.rate_hz;
        take.frames = ready.frames;
        take.handed = ready.handed;
        take.handed_said = ready.handed_said;
        take.club = ready.club;
        take.club_said = ready.club_said;
        take.contact_s = ready.contact_s;
    }

    void build_clusters() {
        build_cluster(Segment::Pelvis, pelvis_labels(sides_),
                      [&](const std::vector<Vector3d>& shape) {
                          double width_m = 0.0;
                          ReferenceFrame frame = pelvis_frame(shape, width_m);
                          out_.value.hip_joint_width_m = width_m;
                          return frame;
                      });
        build_cluster(Segment::Torso, torso_labels(),
                      [&](const std::vector<Vector3d>& shape) { return torso_frame(shape); });
    }

    void build_arms() {
        const Track wrist =
            find_wrist(sides_.lead_of("WRA"), sides_.lead_of("WRB"), sides_.lead_of("SHO"));
        if (!wrist.empty())
            out_.value.points_lab_m[BodyPoint::LeadWrist] = wrist;
        out_.value.arm_length_m = add_direction(Segment::LeadArm, sides_.lead_of("SHO"), wrist);
        add_direction(Segment::LeadForearm, sides_.lead_of("ELB"), wrist);
        add_direction(
            Segment::TrailArm, sides_.trail_of("SHO"),
            find_wrist(sides_.trail_of("WRA"), sides_.trail_of("WRB"), sides_.trail_of("SHO")));
    }

    /// The shaft's line: that of its two markers.
    Track shaft_direction(const Track& a, const Track& b, const Track* head) const {
        // Where one is hidden it follows from the other and the head, whose direction stands off
        // the shaft's by what it did nearby.
        Track direction(n_, missing_point());
        for (std::size_t i = 0; i < n_; ++i)
            direction[i] = (b[i] - a[i]).normalized();
        if (head == nullptr)
            return direction;
        const auto borrow = [&](const Track& from) {
            Track other(n_, missing_point());
            Track off(n_, missing_point());
            bool any = false;
            for (std::size_t i = 0; i < n_; ++i) {
                other[i] = ((*head)[i] - from[i]).normalized();
                off[i] = direction[i] - other[i];
                any = any || (!direction[i].allFinite() && other[i].allFinite());
            }
            if (!any)
                return;
            const Track stood_off = carried(off, twist_free(other));
            for (std::size_t i = 0; i < n_; ++i)
                if (!direction[i].allFinite() && stood_off[i].allFinite())
                    direction[i] = (other[i] + stood_off[i]).normalized();
        };
        borrow(a);
        borrow(b);
        return direction;
    }

    /// The wrist centre on the shaft's line, and how far the head is from it.
    void place_grip(const Track& wrist, const Track& on_shaft, const Track& direction,
                    const Track& head_seen, PoseSeries& series) {
        series.p_lab_m.assign(n_, missing_point());
        std::vector<double> lengths(n_, std::numeric_limits<double>::quiet_NaN());
        // Where the wrist is hidden: as far up the shaft as it was nearby.
        std::vector<double> along(n_);
        for (std::size_t i = 0; i < n_; ++i)
            along[i] = (wrist[i] - on_shaft[i]).dot(direction[i]);
        const double usual_m = median_length(along).value_or(0.0);
        for (std::size_t i = 0; i < n_; ++i) {
            const double at_m = std::isfinite(along[i]) ? along[i] : usual_m;
            series.p_lab_m[i] = on_shaft[i] + at_m * direction[i];
            lengths[i] = (head_seen[i] - series.p_lab_m[i]).dot(direction[i]);
        }
        out_.value.club_length_m = median_length(std::move(lengths));
    }

    /// Direction and head from whichever markers were seen in a frame; the grip is the wrist centre
    /// on the shaft's line.
    void build_club() {
        const Track* upper = m_.find("CLB1");
        const Track* lower = m_.find("CLB2");
        const Track* head = m_.find("CLB3");
        const Track none(n_, missing_point());
        if (upper == nullptr)
            std::swap(upper, lower);
        if (upper == nullptr || (lower == nullptr && head == nullptr))
            return;
        const Track& a = *upper;
        const Track& b = lower != nullptr ? *lower : *head;
        const Track direction = shaft_direction(a, b, lower != nullptr ? head : nullptr);
        PoseSeries series;
        series.has_roll = false;
        series.q_lab_segment = twist_free(direction);
        if (!any_pose(series))
            return;
        const Track& line_a = a;
        const auto wrist_found = out_.value.points_lab_m.find(BodyPoint::LeadWrist);
        // A point of the shaft in every frame: the upper marker, else the lower one less its
        // distance.
        std::vector<double> apart(n_);
        for (std::size_t i = 0; i < n_; ++i)
            apart[i] = (b[i] - line_a[i]).norm();
        const double apart_m = median_length(std::move(apart)).value_or(0.0);
        Track on_shaft(n_, missing_point());
        for (std::size_t i = 0; i < n_; ++i)
            on_shaft[i] = line_a[i].allFinite() ? line_a[i] : b[i] - apart_m * direction[i];
        // The head: its own marker, else as it stood to the shaft nearby.
        const Track& head_seen = head != nullptr ? *head : none;
        Track from_shaft(n_, missing_point());
        for (std::size_t i = 0; i < n_; ++i)
            from_shaft[i] = head_seen[i] - on_shaft[i];
        const Track to_head = carried(from_shaft, series.q_lab_segment);
        Track head_m(n_, missing_point());
        bool any_head = false;
        for (std::size_t i = 0; i < n_; ++i) {
            head_m[i] = head_seen[i].allFinite() ? head_seen[i] : on_shaft[i] + to_head[i];
            any_head = any_head || head_m[i].allFinite();
        }
        if (any_head)
            out_.value.points_lab_m[BodyPoint::ClubHead] = head_m;
        if (wrist_found != out_.value.points_lab_m.end())
            place_grip(wrist_found->second, on_shaft, direction, head_seen, series);
        out_.value.segments[Segment::Club] = std::move(series);
    }

    void add_points() {
        const std::array<std::pair<BodyPoint, std::string>, 4> points{{
            {BodyPoint::LeadAnkle, sides_.lead_of("ANK")},
            {BodyPoint::TrailAnkle, sides_.trail_of("ANK")},
            {BodyPoint::LeadKnee, sides_.lead_of("KNE")},
            {BodyPoint::TrailKnee, sides_.trail_of("KNE")},
        }};
        for (const auto& [point, label] : points)
            if (const auto* track = m_.find(label))
                out_.value.points_lab_m[point] = *track;
        add_head();
    }

    /// The middle of the head's markers; of a frame where all that the take has were seen.
    void add_head() {
        std::vector<const Track*> tracks;
        for (const char* label : {"LFHD", "RFHD", "LBHD", "RBHD"})
            if (const Track* track = m_.find(label))
                tracks.push_back(track);
        if (tracks.empty())
            return;
        Track middle(n_, Vector3d::Zero());
        for (const Track* track : tracks)
            for (std::size_t i = 0; i < n_; ++i)
                middle[i] += (*track)[i] / static_cast<double>(tracks.size());
        out_.value.points_lab_m[BodyPoint::Head] = std::move(middle);
    }

    /// A part goes on without one of its markers, but not quite as before.
    void name_hidden_markers() {
        constexpr double kWorthSaying_s = 0.02;
        constexpr double kBefore_s = 0.4; // of the fastest moment: the downswing …
        constexpr double kAfter_s = 0.1;  // … to just after the ball
        const std::size_t fastest = find_fastest_frame(m_);
        if (fastest >= n_)
            return;
        const auto frames = [&](double s) { return static_cast<std::size_t>(s * m_.rate_hz); };
        const std::size_t begin = fastest - std::min(fastest, frames(kBefore_s));
        const std::size_t end = std::min(n_, fastest + frames(kAfter_s));
        std::string hidden;
        for (const auto& [segment, labels] :
             {std::pair(Segment::Pelvis, pelvis_labels(sides_)),
              std::pair(Segment::Torso, torso_labels()), std::pair(Segment::Club, club_labels())}) {
            const PoseSeries* part = out_.value.find(segment);
            for (const std::string& label : labels) {
                const Track* track = m_.find(label);
                std::size_t count = 0;
                for (std::size_t i = begin; i < end && track != nullptr && part != nullptr; ++i)
                    count += !(*track)[i].allFinite() && is_finite(part->q_lab_segment[i]) ? 1 : 0;
                const double s = static_cast<double>(count) / m_.rate_hz;
                if (s > kWorthSaying_s)
                    hidden += (hidden.empty() ? "" : ", ") + label + " for " +
                              std::to_string(std::lround(ms_from_s(s))) + " ms";
            }
        }
        if (!hidden.empty())
            out_.add({Severity::Warning, "markers-hidden",
                      "Markers were hidden in the downswing: " + hidden +
                          ". Their parts were followed by the other markers, a little less surely.",
                      "marker labels", "Check whether the cameras see them."});
    }

    void add_forces_and_say() {
        assign_plates(m_, out_.value);
        name_hidden_markers();
        const std::string missing = missing_markers(m_);
        if (!missing.empty())
            out_.add({out_.value.segments.empty() ? Severity::Error : Severity::Warning,
                      "markers-missing", "Markers that a swing needs are missing: " + missing + ".",
                      "marker labels", "Rename the markers to these names, or capture with them."});
    }

    Outcome<Take> take() { return std::move(out_); }

private:
    /// Shape of a cluster at address; markers hidden there take the place that they have to the
    /// others in the frames nearest to it that show all. Empty: no frame does, or too few are
    /// there.
    std::vector<Vector3d> find_shape(const std::vector<const Track*>& tracks) const {
        std::vector<Vector3d> at_address;
        for (const Track* track : tracks)
            at_address.push_back(mean_in(*track, reference_));
        const auto whole = [](const std::vector<Vector3d>& shape) {
            return std::all_of(shape.begin(), shape.end(),
                               [](const Vector3d& p) { return p.allFinite(); });
        };
        if (whole(at_address))
            return at_address;
        constexpr std::size_t kFrames = 25;
        const auto middle = static_cast<std::ptrdiff_t>((reference_.begin + reference_.end) / 2);
        std::vector<std::size_t> frames;
        for (std::ptrdiff_t off = 0;
             off < static_cast<std::ptrdiff_t>(n_) && frames.size() < kFrames; ++off)
            for (std::ptrdiff_t i : {middle - off, middle + off}) {
                if (i < 0 || i >= static_cast<std::ptrdiff_t>(n_) || (off == 0 && i != middle))
                    continue;
                const auto frame = static_cast<std::size_t>(i);
                if (std::all_of(tracks.begin(), tracks.end(),
                                [&](const Track* t) { return (*t)[frame].allFinite(); }))
                    frames.push_back(frame);
            }
        if (frames.empty())
            return {};
        std::vector<Vector3d> first;
        for (const Track* track : tracks)
            first.push_back((*track)[frames.front()]);
        std::vector<Vector3d> mean(first.size(), Vector3d::Zero());
        for (std::size_t frame : frames) {
            std::vector<Vector3d> now;
            for (const Track* track : tracks)
                now.push_back((*track)[frame]);
            const RigidFit fit = fit_rigid(now, first); // back onto the first
            if (!fit.ok)
                return {};
            for (std::size_t k = 0; k < now.size(); ++k)
                mean[k] += (fit.q_now_reference * now[k] + fit.t_now_m) /
                           static_cast<double>(frames.size());
        }
        return mean;
    }

    void
    build_cluster(Segment segment, const std::vector<std::string>& labels,
                  const std::function<ReferenceFrame(const std::vector<Vector3d>&)>& frame_of) {
        std::vector<const Track*> tracks;
        for (const std::string& label : labels)
            tracks.push_back(m_.find(label));
        if (std::any_of(tracks.begin(), tracks.end(), [](const Track* t) { return t == nullptr; }))
            return;
        const std::vector<Vector3d> shape = find_shape(tracks);
        if (shape.empty()) {
            out_.add({Severity::Warning, "reference-hidden",
                      "The markers of the " + std::string(name_of(segment)) +
                          " are never seen all at once, so its frame cannot be built.",
                      listed(labels), "Use a take that shows them."});
            return;
        }
        const ReferenceFrame frame = frame_of(shape);
        PoseSeries series;
        series.q_lab_segment.assign(n_, missing_rotation());
        series.p_lab_m.assign(n_, missing_point());
        const std::vector<RigidFit> fits = Cluster(shape).fit_all(tracks);
        std::size_t deformed = 0;
        double worst_m = 0.0;
        // What the markers are off their places, and how much of it is the same a frame on: noise
        // is not, sliding skin is.
        std::vector<Vector3d> off(shape.size(), missing_point());
        double sliding = 0.0;
        int slides = 0;
        for (std::size_t i = 0; i < n_; ++i) {
            const RigidFit& fit = fits[i];
            if (!fit.ok)
                continue;
            // What no longer has its shape is not used.
            if (fit.residual_rms_m > plausible::kDeformed_m) {
                ++deformed;
                worst_m = std::max(worst_m, fit.residual_rms_m);
                continue;
            }
            series.q_lab_segment[i] = (fit.q_now_reference * frame.q_lab_segment).normalized();
            series.p_lab_m[i] = fit.q_now_reference * frame.origin_m + fit.t_now_m;
            for (std::size_t k = 0; k < shape.size(); ++k) {
                const Vector3d off_now =
                    (*tracks[k])[i] - fit.q_now_reference * shape[k] - fit.t_now_m;
                const double same = off_now.dot(off[k]);
                if (std::isfinite(same)) {
                    sliding += same;
                    ++slides;
                }
                off[k] = off_now;
            }
        }
        const double sliding_m = slides > 0 ? std::sqrt(std::max(0.0, sliding / slides)) : 0.0;
        series.wander_rad = sliding_m / radius_of(shape);
        if (sliding_m > kSlidingSkin_m)
            out_.add({Severity::Warning, "skin-slides",
                      "The markers of the " + std::string(name_of(segment)) +
                          " slide against each other by about " +
                          std::to_string(static_cast<int>(std::lround(mm_from_m(sliding_m)))) +
                          " mm; its turn is known to about " +
                          std::to_string(std::lround(deg_from_rad(2.0 * series.wander_rad))) +
                          "\u00b0, slow changes of it less well.",
                      listed(labels), "Fix the markers on bone, or under tight clothes."});
        if (deformed > 0)
            out_.add({Severity::Warning, "cluster-deforms",
                      "The markers of the " + std::string(name_of(segment)) +
                          " move against each other by up to " +
                          std::to_string(static_cast<int>(std::lround(mm_from_m(worst_m)))) +
                          " mm; " + std::to_string(deformed) + " frames were not used.",
                      listed(labels), "Check for swapped labels or loose markers."});
        if (any_pose(series))
            out_.value.segments[segment] = std::move(series);
    }

    /// The middle of two wrist markers; where one is hidden, as the two stood to each other nearby.
    Track find_wrist(const std::string& label_a, const std::string& label_b,
                     const std::string& shoulder_label) const {
        const Track* a = m_.find(label_a);
        const Track* b = m_.find(label_b);
        if (a == nullptr || b == nullptr)
            return {};
        Track wrist(n_);
        bool whole = true;
        for (std::size_t i = 0; i < n_; ++i) {
            wrist[i] = 0.5 * ((*a)[i] + (*b)[i]);
            whole = whole && wrist[i].allFinite();
        }
        const Track* shoulder = m_.find(shoulder_label);
        if (whole || shoulder == nullptr)
            return wrist;
        for (const auto& [seen, sign] : {std::pair(a, 1.0), std::pair(b, -1.0)}) {
            Track along(n_, missing_point());
            Track half(n_, missing_point());
            for (std::size_t i = 0; i < n_; ++i) {
                along[i] = (*seen)[i] - (*shoulder)[i];
                half[i] = 0.5 * sign * ((*b)[i] - (*a)[i]);
            }
            const Track to_middle = carried(half, twist_free(along));
            for (std::size_t i = 0; i < n_; ++i)
                if (!wrist[i].allFinite())
                    wrist[i] = (*seen)[i] + to_middle[i];
        }
        return wrist;
    }

    std::optional<double> add_direction(Segment segment, const std::string& from_label,
                                        const Track& to) {
        const Track* from = m_.find(from_label);
        if (from == nullptr || to.empty())
            return std::nullopt;
        Track direction(n_);
        std::vector<double> lengths(n_);
        for (std::size_t i = 0; i < n_; ++i) {
            direction[i] = to[i] - (*from)[i];
            lengths[i] = direction[i].norm();
        }
        PoseSeries series;
        series.has_roll = false;
        series.q_lab_segment = twist_free(direction);
        series.p_lab_m = *from;
        if (!any_pose(series))
            return std::nullopt;
        out_.value.segments[segment] = std::move(series);
        return median_length(std::move(lengths));
    }

    const MarkerTake& m_;
    FrameRange reference_;
    Sides sides_;
    std::size_t n_;
    Outcome<Take> out_;
};

} // namespace

Outcome<Take> arms_from_markers(const MarkerTake& ready) {
    PoseBuilder builder(ready);
    builder.build_arms();
    builder.build_club();
    builder.add_points();
    return builder.take();
}

Outcome<Take> add_trunk_from_markers(const MarkerTake& ready, FrameRange reference,
                                     Outcome<Take> arms) {
    PoseBuilder builder(ready, reference, std::move(arms));
    builder.build_clusters();
    builder.add_forces_and_say();
    return builder.take();
}

} // namespace kite
