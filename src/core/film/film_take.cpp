#include "core/film/film_take.h"

#include "core/base/missing.h"
#include "core/base/units.h"
#include "core/film/upright.h"
#include "core/motion/gaps.h"
#include "core/motion/rotation.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace kite::film {

using Severity = Finding::Severity;

namespace {

/// A direction less sure than this is not told by its picture (SD; common practice, no source).
constexpr double kTrunkTold_deg = 5.0;
/// With one view the noise of a line grows as it comes square to it: what follows takes it for
/// even.
constexpr double kTrunkToldAlone_deg = 4.0;
constexpr double kArmTold_deg = 6.0;
/// Up to here a line seen from behind alone cannot be one that has turned past the line of sight:
/// hips hardly turn by more than 75 degrees, shoulders pass 90.
constexpr double kBeltFromBehind_deg = 70.0;
constexpr double kChestFromBehind_deg = 45.0;
constexpr double kChestIsRound_s = 0.15;
/// Forward bend where nothing shows it, and how far a body may be from that (common practice, no
/// source).
constexpr double kPelvisBend_deg = 20.0;
constexpr double kPelvisBend_u_deg = 8.0;
constexpr double kTorsoBend_deg = 36.0;
constexpr double kTorsoBend_u_deg = 8.0;
/// The line from belt to shoulders against the torso's long axis.
constexpr double kSpineLine_u_deg = 6.0;
/// Marks in the backswing lie as far apart as this.
constexpr double kSparse_s = 0.25;
/// Which end of a line is higher does not show from above alone, but turns it a little in the
/// picture (SD at the shoulders; half of it at the belt; set on the study's golfers).
constexpr double kTiltTurns_u_deg = 3.5;
/// A minute at 500 pictures a second.
constexpr std::size_t kMostFrames = 30000;
/// So much film before the first mark is counted along.
constexpr double kLongestLead_s = 20.0;
/// Frames nearer to a mark than this share of a frame are that mark.
constexpr double kSameFrame = 0.03;

Segment segment_of(Link link) {
    return kSequence[static_cast<std::size_t>(link)];
}

/// Even times on which the take stands, and the marks' own.
struct Clock {
    double start_s = 0.0;
    double rate_hz = 0.0;
    std::size_t frames = 0;
    double time_of(std::size_t i) const { return start_s + static_cast<double>(i) / rate_hz; }
};

Clock clock_of(const View& view, const std::vector<SpaceFrame>& frames) {
    std::vector<double> steps;
    for (std::size_t i = 1; i < frames.size(); ++i)
        steps.push_back(frames[i].t_s - frames[i - 1].t_s);
    std::sort(steps.begin(), steps.end());
    // Most marks stand in the downswing, picture by picture; some pictures may be left out.
    const double step_s = steps.empty() ? 0.0 : steps[steps.size() / 4];
    Clock out;
    out.rate_hz = step_s > 0.0 ? 1.0 / step_s : 0.0;
    if (view.capture_rate_hz > 0.0 && std::abs(step_s * view.capture_rate_hz - 1.0) < 0.02)
        out.rate_hz = view.capture_rate_hz;
    // At the rims only one view may have pictures, which then tell nothing.
    const auto last = std::find_if(frames.rbegin(), frames.rend(), [](const SpaceFrame& frame) {
        return std::any_of(frame.direction_sd_rad.begin(), frame.direction_sd_rad.end(),
                           [](double sd) { return std::isfinite(sd); });
    });
    const double end_s = last == frames.rend() ? frames.back().t_s : last->t_s;
    // Times are those of the film, unless the swing comes late in a long one.
    const double first_s = frames.front().t_s;
    if (first_s < 0.0 || first_s > kLongestLead_s)
        out.start_s = first_s;
    out.frames = static_cast<std::size_t>(
                     std::floor(std::clamp((end_s - out.start_s) * out.rate_hz, 0.0, 1e7) + 0.01)) +
                 1;
    return out;
}

/// A marked point on the even times: where a mark stands there, it; between two that are near, a
/// cubic; else missing.
std::vector<Eigen::Vector3d> on_clock(const std::vector<double>& times_s,
                                      const std::vector<Eigen::Vector3d>& at, const Clock& clock) {
    std::vector<double> t;
    std::vector<Eigen::Vector3d> seen;
    for (std::size_t i = 0; i < at.size(); ++i)
        if (at[i].allFinite()) {
            t.push_back(times_s[i]);
            seen.push_back(at[i]);
        }
    std::vector<Eigen::Vector3d> out(clock.frames, missing_point());
    if (t.empty())
        return out;
    const double near_s = kSameFrame / clock.rate_hz;
    std::vector<double> targets;
    std::vector<std::size_t> of;
    for (std::size_t i = 0; i < clock.frames; ++i) {
        const double when = clock.time_of(i);
        const auto next = std::lower_bound(t.begin(), t.end(), when - near_s);
        if (next != t.end() && *next - when <= near_s) {
            out[i] = seen[static_cast<std::size_t>(next - t.begin())];
            continue;
        }
        // One picture out of step or left out; further apart nothing is made up.
        if (next == t.begin() || next == t.end() || *next - *(next - 1) > 2.1 / clock.rate_hz)
            continue;
        targets.push_back(when);
        of.push_back(i);
    }
    if (targets.empty() || t.size() < 2)
        return out;
    Eigen::MatrixXd rows(static_cast<Eigen::Index>(t.size()), 3);
    for (std::size_t i = 0; i < t.size(); ++i)
        rows.row(static_cast<Eigen::Index>(i)) = seen[i].transpose();
    GapReport ignored;
    const Eigen::MatrixXd laid = fill_to_times(t, rows, targets, ignored, 2.2 / clock.rate_hz);
    for (std::size_t i = 0; i < of.size(); ++i)
        out[of[i]] = laid.row(static_cast<Eigen::Index>(i)).transpose();
    return out;
}

/// Bends that nobody marked.
struct Bends {
    double pelvis_deg = kPelvisBend_deg;
    double torso_deg = kTorsoBend_deg; ///< where the line from belt to shoulders tells nothing
    double off_line_deg = 0.0;         ///< of the torso against that line
    double tilted_deg = 0.0;           ///< by which an unseen tilt turns a line seen from above
};

/// Orientation with X along a line, bent forward by so much.
Eigen::Quaterniond trunk_along(const Eigen::Vector3d& across, double bend_rad) {
    const Eigen::Vector3d x = across.normalized();
    return rotation_of(
        {std::atan2(x.y(), x.x()), std::asin(std::clamp(x.z(), -1.0, 1.0)), bend_rad});
}

/// Forward bend of a part whose X lies along `across` and whose Z is nearest to `up`.
double bend_of(const Eigen::Vector3d& across, const Eigen::Vector3d& up) {
    const Eigen::Quaterniond level = trunk_along(across, 0.0);
    const Eigen::Vector3d in = level.conjugate() * up;
    return std::atan2(-in.y(), in.z());
}

class Builder {
public:
    Builder(const Marks& marks, const Solution& solution)
        : marks_(marks), solution_(solution),
          clock_(clock_of(marks.views.front(), solution.frames)) {
        for (const SpaceFrame& frame : solution.frames)
            times_s_.push_back(frame.t_s);
        bool x = false;
        bool y = false;
        for (const View& view : marks.views) {
            x = x || view.side != Side::DownTheLine;
            y = y || view.side != Side::FaceOn;
            level_ = level_ || view.side != Side::Above;
        }
        spine_told_ = x && y && level_;
        behind_alone_ = !x;
    }

    const Clock& clock() const { return clock_; }

    /// With `draw` < 0 what was found, else one of the ways it may also have been.
    std::shared_ptr<Take> build(int draw, const Bends& bends) const {
        auto out = std::make_shared<Take>();
        Take& take = *out;
        take.rate_hz = clock_.rate_hz;
        take.frames = clock_.frames;
        take.source = Source::Film;
        for (Link link : kLinks)
            if (told(link))
                add(take, link, draw, bends);
        take.arm_length_m = length(Link::Arm);
        take.club_length_m = length(Link::Club);
        add_point(take, BodyPoint::LeadWrist, Point::Wrist, Link::Arm, draw);
        add_point(take, BodyPoint::ClubHead, Point::ClubHead, Link::Club, draw);
        for (const auto& [body, point] : {std::pair(BodyPoint::LeadKnee, Point::LeadKnee),
                                          std::pair(BodyPoint::LeadAnkle, Point::LeadAnkle),
                                          std::pair(BodyPoint::TrailKnee, Point::TrailKnee),
                                          std::pair(BodyPoint::TrailAnkle, Point::TrailAnkle)})
            add_leg(take, body, point, draw);
        // Of a moment that several views marked the first one's counts.
        for (std::size_t v = marks_.views.size(); v-- > 0;)
            for (const auto& [moment, t_s] : marks_.views[v].moments_s)
                tell(take, moment, t_s + solution_.offset_s[v] - clock_.start_s);
        return out;
    }

    /// Whether the pictures tell a part's direction in enough of the swing.
    bool told(Link link) const { return share_told(link) >= 0.5; }
    bool marked(Link link) const { return marked_frames(link) >= 8; }

private:
    void tell(Take& take, Moment moment, double from_start_s) const {
        if (from_start_s < 0.0 || from_start_s > take.duration_s())
            return;
        if (moment == Moment::Impact) {
            take.contact_s = from_start_s;
            take.contact_is_picture = marks_.views.size() > 1;
        } else {
            take.told_s[moment] = from_start_s;
        }
    }
    bool told_in(Link link, const SpaceFrame& frame) const {
        const double sd = frame.direction_sd_rad[static_cast<std::size_t>(link)];
        const bool trunk = is_trunk(link);
        // From behind they swing in the line of sight; from above it does not show how high they
        // are.
        if (!trunk && (behind_alone_ || !level_))
            return false;
        if (trunk && behind_alone_) {
            // From behind alone a line turned by 60 degrees looks like one turned by 120.
            const auto [from, to] = ends_of(link);
            const Eigen::Vector3d d = frame[to] - frame[from];
            const double most = link == Link::Belt ? kBeltFromBehind_deg : kChestFromBehind_deg;
            if (!(std::abs(std::atan2(d.y(), d.x())) <= rad_from_deg(most)))
                return false;
            // Shoulders may turn so far that they look as if they had hardly turned at all.
            const auto& moments_s = marks_.views.front().moments_s;
            const auto impact = moments_s.find(Moment::Impact);
            if (link == Link::Shoulders &&
                (impact == moments_s.end() || frame.t_s < impact->second - kChestIsRound_s))
                return false;
        }
        const bool alone = marks_.views.size() == 1;
        return sd <= rad_from_deg(!trunk  ? kArmTold_deg
                                  : alone ? kTrunkToldAlone_deg
                                          : kTrunkTold_deg);
    }
    std::size_t marked_frames(Link link) const {
        return static_cast<std::size_t>(std::count_if(
            solution_.frames.begin(), solution_.frames.end(), [&](const SpaceFrame& frame) {
                return std::isfinite(frame.direction_sd_rad[static_cast<std::size_t>(link)]);
            }));
    }
    double share_told(Link link) const {
        const std::size_t all = marked_frames(link);
        if (all < 8)
            return 0.0;
        const auto told =
            std::count_if(solution_.frames.begin(), solution_.frames.end(),
                          [&](const SpaceFrame& frame) { return told_in(link, frame); });
        return static_cast<double>(told) / static_cast<double>(all);
    }
    double length(Link link) const { return solution_.length_m[static_cast<std::size_t>(link)]; }

    Eigen::Vector3d place(const SpaceFrame& frame, Point point, int draw) const {
        const auto i = static_cast<std::size_t>(point);
        if (draw < 0 || !frame.at_m[i].allFinite())
            return frame.at_m[i];
        return frame.drawn_m[i].col(draw);
    }

    void add(Take& take, Link link, int draw, const Bends& bends) const {
        const auto [from, to] = ends_of(link);
        std::vector<Eigen::Vector3d> along(solution_.frames.size(), missing_point());
        std::vector<Eigen::Vector3d> up = along;
        for (std::size_t i = 0; i < along.size(); ++i) {
            const SpaceFrame& frame = solution_.frames[i];
            if (!told_in(link, frame))
                continue;
            along[i] = place(frame, to, draw) - place(frame, from, draw);
            up[i] =
                0.5 * (place(frame, Point::ShoulderLead, draw) +
                       place(frame, Point::ShoulderTrail, draw) -
                       place(frame, Point::BeltLead, draw) - place(frame, Point::BeltTrail, draw));
        }
        PoseSeries& series = take.segments[segment_of(link)];
        // A single view does not see a line turn while it is square to it: nothing is made up
        // there.
        const bool trunk = is_trunk(link);
        if (!trunk || marks_.views.size() > 1)
            series.longest_bridge_s = kSparse_s;
        const auto direction = on_clock(times_s_, along, clock_);
        if (!trunk) {
            series.has_roll = false;
            series.q_lab_segment = twist_free(direction);
            return;
        }
        // From one side alone hips and shoulders are hardly seen to turn somewhere in the
        // downswing: where they are fastest would be a guess.
        series.tells_peak = marks_.views.size() > 1;
        const bool by_line = link == Link::Shoulders && spine_told_;
        const auto spine = on_clock(times_s_, up, clock_);
        series.q_lab_segment.assign(clock_.frames, missing_rotation());
        for (std::size_t i = 0; i < clock_.frames; ++i) {
            if (!direction[i].allFinite())
                continue;
            const double by_tilt =
                level_ ? 0.0 : rad_from_deg(bends.tilted_deg * (link == Link::Belt ? 0.5 : 1.0));
            double bend_rad = rad_from_deg(link == Link::Belt ? bends.pelvis_deg : bends.torso_deg);
            if (by_line && spine[i].allFinite())
                bend_rad = bend_of(direction[i], spine[i]) + rad_from_deg(bends.off_line_deg);
            series.q_lab_segment[i] =
                rotation_of({by_tilt, 0.0, 0.0}) * trunk_along(direction[i], bend_rad);
        }
    }

    /// Knees and ankles, where they were marked and the front was seen: of one that was only seen
    /// from behind nothing is known along the target line.
    void add_leg(Take& take, BodyPoint body, Point point, int draw) const {
        const bool from_front =
            std::any_of(marks_.views.begin(), marks_.views.end(), [&](const View& view) {
                return view.side == Side::FaceOn &&
                       std::any_of(
                           view.frames.begin(), view.frames.end(),
                           [&](const MarkedFrame& frame) { return frame[point].has_value(); });
            });
        if (!from_front)
            return;
        std::vector<Eigen::Vector3d> at;
        for (const SpaceFrame& frame : solution_.frames)
            at.push_back(place(frame, point, draw));
        take.points_lab_m[body] = on_clock(times_s_, at, clock_);
    }

    void add_point(Take& take, BodyPoint body, Point point, Link link, int draw) const {
        if (!told(link))
            return;
        std::vector<Eigen::Vector3d> at(solution_.frames.size(), missing_point());
        for (std::size_t i = 0; i < at.size(); ++i)
            if (told_in(link, solution_.frames[i]))
                at[i] = place(solution_.frames[i], point, draw);
        take.points_lab_m[body] = on_clock(times_s_, at, clock_);
    }

    const Marks& marks_;
    const Solution& solution_;
    Clock clock_;
    std::vector<double> times_s_;
    bool level_ = false;
    bool spine_told_ = false;
    bool behind_alone_ = false;
};

std::string names_of(const std::vector<Link>& links) {
    std::string out;
    for (std::size_t i = 0; i < links.size(); ++i)
        out += (i == 0                  ? ""
                : i + 1 == links.size() ? " and "
                                        : ", ") +
               std::string(name_of(segment_of(links[i])));
    return out;
}

} // namespace

Outcome<Take> take_from_marks(Marks marks) {
    Outcome<Take> out;
    const auto shown = hand_in_film(marks);
    const Handedness handed = marks.handed.value_or(shown.value_or(Handedness::Right));
    if (marks.handed && shown && *shown != *marks.handed)
        out.add({Severity::Warning, "hand-contradicted",
                 "The file says a " + std::string(key_of(*marks.handed)) +
                     "-handed golfer, but in the film the club swings the other way.",
                 "handed", "Say the hand that is right, or mirror the film back."});
    if (handed == Handedness::Left)
        mirror_in_place(marks);
    set_above_upright(marks);
    const Outcome<Solution> solved = solve(marks);
    out.findings.insert(out.findings.end(), solved.findings.begin(), solved.findings.end());
    if (!solved.ok())
        return out;
    const Solution& solution = solved.value;
    const Builder builder(marks, solution);
    if (!(builder.clock().rate_hz >= 10.0) || builder.clock().frames < 8 ||
        builder.clock().frames > kMostFrames) {
        out.add({Severity::Error, "film-times",
                 "The times of the marks make no film: they stand still or lie far apart.", "",
                 "Give every mark the time of its picture in seconds."});
        return out;
    }
    out.value = *builder.build(-1, {});
    out.value.handed = handed;
    out.value.handed_said = marks.handed.has_value();
    out.value.club = marks.club.value_or(ClubKind::Iron);
    out.value.club_said = marks.club.has_value();

    std::mt19937 random(7); // NOLINT(cert-msc32-c,cert-msc51-cpp): the same every time
    std::normal_distribution<double> normal;
    std::array<double, 4> bent{};
    for (int draw = 0; draw < kFilmDraws; ++draw) {
        for (double& one : bent)
            one = draw % 2 == 0 ? normal(random) : -one;
        auto also = builder.build(draw, {kPelvisBend_deg + kPelvisBend_u_deg * bent[0],
                                         kTorsoBend_deg + kTorsoBend_u_deg * bent[1],
                                         kSpineLine_u_deg * bent[2], kTiltTurns_u_deg * bent[3]});
        also->handed = out.value.handed;
        also->club = out.value.club;
        out.value.also.push_back(std::move(also));
    }

    if (builder.clock().start_s > 0.0)
        out.add({Severity::Note, "film-starts-late",
                 "Times count from the first mark, " +
                     std::to_string(std::lround(builder.clock().start_s)) + " s into the film.",
                 "", ""});

    std::vector<Link> untold;
    for (Link link : kLinks)
        if (builder.marked(link) && !builder.told(link))
            untold.push_back(link);
    if (!untold.empty())
        out.add({Severity::Warning, "film-cannot-tell",
                 "How the " + names_of(untold) + " turned cannot be told from this film.", "",
                 marks.views.size() < 2
                     ? "A second view, or a stick of known length along hips and shoulders, would "
                       "tell."
                     : "Sticks of known length along hips and shoulders would tell."});
    if (solution.worse_than_told)
        out.add({Severity::Warning, "film-marks-disagree",
                 "The marks fit each other only to " +
                     std::to_string(std::lround(solution.mark_error_px)) +
                     " pixels; uncertainties were widened.",
                 "", "Look through the marks for points on the wrong place."});
    return out;
}

} // namespace kite::film
