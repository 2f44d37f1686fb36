#include "core/measures/events.h"

#include "core/base/units.h"
#include "core/motion/rotation.h"
#include "core/signal/local_fit.h"
#include "core/signal/noise.h"

#include <algorithm>
#include <cmath>
#include <sstream>

namespace kite {

using Eigen::Vector3d;
using Severity = Finding::Severity;
using Direction = Curve::Direction;

std::string_view key_of(ImpactSource source) {
    switch (source) {
    case ImpactSource::Contact:
        return "contact";
    case ImpactSource::ClubHead:
        return "club_head";
    case ImpactSource::Shaft:
        return "shaft";
    case ImpactSource::Arm:
        return "arm";
    case ImpactSource::Peak:
        return "peak";
    case ImpactSource::Hand:
        return "hand";
    }
    return "";
}

double SwingMoments::time_s(Moment moment) const {
    const auto& found = (*this)[moment];
    return found ? found->t_s : std::numeric_limits<double>::quiet_NaN();
}

double SwingMoments::reference_s() const {
    const auto& impact = (*this)[Moment::Impact];
    return impact ? impact->t_s : fastest_s;
}

namespace {

constexpr double kSwingReach_s = 0.4;     ///< a swing is the fastest moment within this reach
constexpr double kSwingShare = 0.4;       ///< of the fastest: slower ones are waggles
constexpr double kChoosingBefore_s = 0.6; ///< stretch for the choice of cut-offs: from here …
constexpr double kChoosingAfter_s = 0.4;  ///< … to here about the swing's fastest moment
constexpr double kSlowestBackswing = 0.1; ///< of the club's speed at impact
constexpr double kStillFraction = 0.05;
constexpr double kForwardFraction =
    0.1; ///< of the downswing's peak: moving forwards, not trembling
constexpr double kAddressWindow_s = 0.1;
constexpr double kLongestPlaneHalf_s = 0.12; ///< plane window where the shaft never gets level
constexpr double kFrameShare = 0.03; ///< of the frame interval that a crossing stays uncertain by
/// The filter spreads the onset of motion: known from the study in docs/accuracy.md.
constexpr double kTakeawayModel_u_s = 0.003;
constexpr double kAfterImpact_s = 0.05;
constexpr double kAfterFastest_s = 0.15;

/// Root sum of squares.
double combined(double a, double b) {
    return std::hypot(a, b);
}

/// A part that never turns faster is not swung.
double slowest_swing_deg_s(Segment leader) {
    switch (leader) {
    case Segment::Club:
        return 250.0;
    case Segment::LeadArm:
        return 150.0;
    default:
        return 90.0;
    }
}

bool is_trunk(Segment segment) {
    return segment == Segment::Pelvis || segment == Segment::Torso;
}

std::string name_of(Segment segment) {
    return segment == Segment::LeadArm ? "lead arm" : std::string(key_of(segment));
}

/// Turning speed without sign, °/s: of arm and club without roll, of the trunk about its own axis.
Curve calc_leader_speed(const SegmentMotion& motion, Segment leader) {
    if (!is_trunk(leader))
        return calc_speed_deg_s(motion);
    const Curve rate = calc_rate_deg_s(motion, leader, RateConvention::Axis, Vector3d::UnitZ());
    std::vector<double> speed(rate.values());
    for (double& value : speed)
        value = std::abs(value);
    return {std::move(speed), motion.rate_hz, motion.change_s};
}

/// What one round works with. `leader` is the club or what stands in for it.
struct Round {
    SegmentMotion leader;
    std::optional<SegmentMotion> arm;
    std::optional<SegmentMotion> trail_arm;
    std::vector<Vector3d> head_m;  ///< path of the leader's far end; empty for the trunk
    Curve shaft_up;                ///< sine of the shaft's angle above the ground; empty: no club
    Curve arm_up;                  ///< the same of the lead arm; empty without arm
    Curve speed_deg_s;             ///< of the leader, without sign
    double rate_noise_deg_s = 0.0; ///< of the leader's rate after the filter
    double angle_noise_rad = 0.0;  ///< of the leader's direction after the filter
    double arm_noise_rad = 0.0;
    double frame_u_s = 0.0; ///< share of the frame interval in every moment's uncertainty
};

Round prepare(const Take& take, Segment leader, const AnalysisOptions& options,
              std::optional<double> impact_s) {
    const auto smoothed = [&](Segment segment) {
        return smooth(*take.find(segment), take.rate_hz, options.cutoff_of_hz(segment),
                      is_trunk(segment) ? std::nullopt : impact_s);
    };
    Round round;
    round.leader = smoothed(leader);
    const NoiseGain gain = calc_noise_gain(round.leader.cutoff_hz, take.rate_hz);
    const double noise_rad =
        is_trunk(leader) ? round.leader.angle_noise_rad.z() : round.leader.noise_across_rad();
    round.angle_noise_rad = noise_rad * gain.value;
    round.rate_noise_deg_s = deg_from_rad(noise_rad * gain.first_derivative);
    if (take.find(Segment::LeadArm) != nullptr) {
        round.arm = leader == Segment::LeadArm ? round.leader : smoothed(Segment::LeadArm);
        round.arm_up = calc_elevation(*round.arm);
        round.arm_noise_rad = round.arm->noise_across_rad() *
                              calc_noise_gain(round.arm->cutoff_hz, take.rate_hz).value;
    }
    if (take.find(Segment::TrailArm) != nullptr && impact_s)
        round.trail_arm = smoothed(Segment::TrailArm);
    if (leader == Segment::Club) {
        round.shaft_up = calc_elevation(round.leader);
        round.head_m = calc_head_path(round.leader, round.arm ? &*round.arm : nullptr,
                                      take.arm_length_m, take.club_length_m);
    } else if (leader == Segment::LeadArm) {
        round.head_m = calc_head_path(round.leader, nullptr, std::nullopt, take.arm_length_m);
    }
    round.speed_deg_s = calc_leader_speed(round.leader, leader);
    round.frame_u_s = kFrameShare / take.rate_hz;
    return round;
}

MomentTime crossing(double t_s, const Curve& curve, double noise) {
    return {t_s, crossing_u_s(curve, t_s, noise), false};
}

std::optional<double> first_crossing(const Curve& curve, double level, Direction direction,
                                     TimeRange range) {
    const auto times = curve.find_crossings(level, direction, range);
    if (times.empty())
        return std::nullopt;
    return times.front();
}

std::optional<double> last_crossing(const Curve& curve, double level, Direction direction,
                                    TimeRange range) {
    const auto times = curve.find_crossings(level, direction, range);
    if (times.empty())
        return std::nullopt;
    return times.back();
}

/// The calmest window of the leader between two times. Of windows that are equally calm within 1 %
/// (or 0.05 °/s) the one nearest to takeaway is taken.
TimeRange find_address_window(const Curve& speed_deg_s, double begin_s, double takeaway_s) {
    const double rate = speed_deg_s.rate_hz();
    const auto start = static_cast<std::size_t>(std::max(0.0, std::ceil(begin_s * rate - 1e-9)));
    const auto end = static_cast<std::size_t>(std::floor(takeaway_s * rate + 1e-9)) + 1;
    const auto length = static_cast<std::size_t>(std::lround(kAddressWindow_s * rate)) + 1;
    if (end <= start + length)
        return {std::min(begin_s, takeaway_s), takeaway_s};
    const auto& v = speed_deg_s.values();
    double best_rms = std::numeric_limits<double>::infinity();
    std::size_t best = end - length;
    for (std::size_t begin = end - length + 1; begin-- > start;) {
        double sum = 0.0;
        for (std::size_t i = begin; i < begin + length; ++i)
            sum += v[i] * v[i]; // NaN in a gap: never the calmest
        const double rms = std::sqrt(sum / static_cast<double>(length));
        if (rms < 0.99 * best_rms - 0.05 || (std::isfinite(rms) && !std::isfinite(best_rms))) {
            best_rms = rms;
            best = begin;
        }
    }
    return {speed_deg_s.time_of(best), speed_deg_s.time_of(best + length - 1)};
}

/// x of the club head from the unfiltered club: impact must not be smeared.
Curve raw_head_x_m(const Take& take) {
    const PoseSeries& club = *take.find(Segment::Club);
    std::vector<double> x(take.frames);
    for (std::size_t i = 0; i < x.size(); ++i)
        x[i] = (club.p_lab_m[i] -
                *take.club_length_m * (club.q_lab_segment[i].normalized() * Vector3d::UnitZ()))
                   .x();
    return {std::move(x), take.rate_hz};
}

/// Angle of shaft or arm in the swing plane against its direction at address, degrees, unwrapped.
Curve direction_angle_deg(const SegmentMotion& club, const Vector3d& normal, TimeRange address) {
    Vector3d rest = Vector3d::Zero();
    const auto first = static_cast<std::size_t>(std::ceil(address.begin_s * club.rate_hz - 1e-9));
    for (std::size_t i = first;
         i < club.size() && static_cast<double>(i) <= address.end_s * club.rate_hz + 1e-9; ++i)
        if (is_finite(club.q_lab_segment[i]))
            rest -= club.long_axis(i);
    const Vector3d e1 = (rest - rest.dot(normal) * normal).normalized();
    const Vector3d e2 = normal.cross(e1);
    std::vector<double> angle(club.size());
    for (std::size_t i = 0; i < angle.size(); ++i) {
        const Vector3d shaft = -club.long_axis(i);
        angle[i] = deg_from_rad(std::atan2(shaft.dot(e2), shaft.dot(e1)));
    }
    return {std::move(angle), club.rate_hz, club.change_s};
}

std::string seconds(double t_s) {
    std::ostringstream out;
    out.imbue(std::locale::classic());
    out.precision(2);
    out << std::fixed << t_s << " s";
    return out.str();
}

class MomentFinder {
public:
    MomentFinder(const Take& take, Segment leader, const AnalysisOptions& options)
        : take_(take), options_(options), leader_(leader) {}

    /// One round about a provisional impact; the swing before it ended at `previous_end_s`. False:
    /// an error was added.
    bool go_round(double impact_s, double previous_end_s, bool split);

    SwingMoments moments;
    std::vector<Finding> findings;
    Round round;

private:
    bool fail(std::string code, std::string what, std::string mend) {
        findings.push_back(
            {Severity::Error, std::move(code), std::move(what), "", std::move(mend)});
        return false;
    }
    /// Where the user put a moment, if so.
    std::optional<MomentTime> find_moved(Moment moment) const {
        const auto found = options_.moved_s.find(moment);
        if (found == options_.moved_s.end())
            return std::nullopt;
        return MomentTime{found->second, round.frame_u_s, true};
    }
    /// The user's place, else the crossing that was found, if any.
    void put(Moment moment, std::optional<double> t_s, const Curve& curve, double noise) {
        moments[moment] = find_moved(moment);
        if (!moments[moment] && t_s)
            moments[moment] = crossing(*t_s, curve, noise);
    }
    void find_plane(double impact_s);
    bool find_top(double impact_s);
    void find_backswing(double previous_end_s);
    void find_impact(double provisional_s);
    bool find_impact_by_head(TimeRange window);
    bool find_impact_by_direction(TimeRange window);
    void find_through();

    const Take& take_;
    const AnalysisOptions& options_;
    Segment leader_;
    Curve reversing_deg_s_; ///< leader within the plane or about its axis, positive down
};

void MomentFinder::find_plane(double impact_s) {
    const double end = take_.duration_s();
    put(Moment::ShaftLevelDown,
        last_crossing(round.shaft_up, 0.0, Direction::Falling, {0.0, impact_s}), round.shaft_up,
        round.angle_noise_rad);
    put(Moment::ShaftLevelThrough,
        first_crossing(round.shaft_up, 0.0, Direction::Rising, {impact_s, end}), round.shaft_up,
        round.angle_noise_rad);
    if (is_trunk(leader_)) {
        // No path to lay a plane through: the trunk's own axis as it turns down.
        moments.plane = plane_across_axis(round.leader, impact_s);
        return;
    }
    const bool level = moments[Moment::ShaftLevelDown].has_value();
    const bool through = moments[Moment::ShaftLevelThrough].has_value();
    const double from =
        level ? moments.time_s(Moment::ShaftLevelDown) : impact_s - kLongestPlaneHalf_s;
    const double to = through ? moments.time_s(Moment::ShaftLevelThrough)
                              : std::min(end, level ? impact_s : impact_s + kLongestPlaneHalf_s);
    moments.plane = fit_swing_plane(round.head_m, round.leader, {from, to});
}

bool MomentFinder::find_top(double impact_s) {
    reversing_deg_s_ = calc_reversing_deg_s(round.leader, leader_, moments.plane->normal);
    const bool by_arm = options_.top == TopDefinition::LeadArm && round.arm;
    const SegmentMotion& motion = by_arm ? *round.arm : round.leader;
    const Curve reversing =
        by_arm ? calc_speed_along_deg_s(motion, moments.plane->normal) : reversing_deg_s_;
    moments[Moment::Top] = find_moved(Moment::Top);
    if (const auto t = last_crossing(reversing, 0.0, Direction::Rising, {0.0, impact_s});
        t && !moments[Moment::Top]) {
        const double noise_rad =
            !by_arm && is_trunk(leader_) ? motion.angle_noise_rad.z() : motion.noise_across_rad();
        const Crossing top = refine_crossing(reversing, *t, kReversalMethod,
                                             {deg_from_rad(noise_rad), motion.cutoff_hz, 1});
        moments[Moment::Top] = MomentTime{top.t_s, top.u_s, false};
    }
    // Trembling at rest has reversals too: a backswing must lie before the top.
    const double top_s = moments.time_s(Moment::Top);
    const auto fastest_back = round.speed_deg_s.find_max({0.0, top_s});
    const double fastest_down = round.speed_deg_s.at(impact_s);
    if (!fastest_back || fastest_back->value < kSlowestBackswing * fastest_down)
        return fail("half-a-swing",
                    "The " + name_of(leader_) + " does not go back before its fastest moment at " +
                        seconds(impact_s) + ": the file holds only part of a swing.",
                    "Record from a second before the takeaway to a second after impact.");
    return true;
}

void MomentFinder::find_backswing(double previous_end_s) {
    const double top = moments.time_s(Moment::Top);
    // The backswing begins after the leader last moved forwards (a waggle, a practice swing).
    const auto downswing = reversing_deg_s_.find_max({top, take_.duration_s()});
    std::optional<double> forward_end;
    if (downswing)
        forward_end = last_crossing(reversing_deg_s_, kForwardFraction * downswing->value,
                                    Direction::Falling, {0.0, top});
    const TimeRange backswing{forward_end.value_or(0.0), top};
    const auto fastest = round.speed_deg_s.find_max(backswing);
    std::optional<double> takeaway;
    if (fastest)
        takeaway = last_crossing(round.speed_deg_s, kStillFraction * fastest->value,
                                 Direction::Rising, {backswing.begin_s, fastest->t_s});
    put(Moment::Takeaway, takeaway, round.speed_deg_s, round.rate_noise_deg_s);
    if (auto& at = moments[Moment::Takeaway]; at && !at->moved)
        at->u_s = combined(at->u_s, kTakeawayModel_u_s);
    if (!moments[Moment::Takeaway]) {
        findings.push_back({Severity::Warning, "late-start",
                            "The take begins after the takeaway, so there is no address to compare "
                            "with: sway, depth, lift and tempo are not available.",
                            "", "Start recording a second before the takeaway."});
        return;
    }
    const double takeaway_s = moments.time_s(Moment::Takeaway);
    if (const auto moved = find_moved(Moment::Address)) {
        moments[Moment::Address] = moved;
        moments.address_window = {std::max(0.0, moved->t_s - 0.5 * kAddressWindow_s),
                                  moved->t_s + 0.5 * kAddressWindow_s};
    } else {
        moments.address_window = find_address_window(round.speed_deg_s, previous_end_s, takeaway_s);
        MomentTime address;
        address.t_s = 0.5 * (moments.address_window.begin_s + moments.address_window.end_s);
        // Anywhere in the window: the golfer stands still.
        address.u_s = moments.address_window.duration_s() / std::sqrt(12.0);
        moments[Moment::Address] = address;
    }
    if (moments.address_window.duration_s() < 0.9 * kAddressWindow_s)
        findings.push_back({Severity::Warning, "short-address",
                            "There is less than 0.1 s of stillness before the takeaway; what is "
                            "measured against address is less certain.",
                            "", "Start recording a second before the takeaway."});
    put(Moment::ShaftLevelBack,
        first_crossing(round.shaft_up, 0.0, Direction::Rising, {takeaway_s, top}), round.shaft_up,
        round.angle_noise_rad);
}

void MomentFinder::find_impact(double provisional_s) {
    if (const auto moved = find_moved(Moment::Impact)) {
        moments[Moment::Impact] = moved;
        moments.impact_source = ImpactSource::Hand;
        return;
    }
    if (take_.contact_s) {
        moments[Moment::Impact] =
            MomentTime{*take_.contact_s, 1.0 / (take_.rate_hz * std::sqrt(12.0)), false};
        moments.impact_source = ImpactSource::Contact;
        return;
    }
    if (is_trunk(leader_))
        return; // hips and shoulders do not tell where the ball was
    // After shaft level down, and not later than the club needs to come round: half a turn.
    const double from = moments[Moment::ShaftLevelDown] ? moments.time_s(Moment::ShaftLevelDown)
                                                        : moments.time_s(Moment::Top);
    const double fastest = round.speed_deg_s.at(provisional_s);
    const TimeRange window{
        from, std::min(take_.duration_s(), provisional_s + 180.0 / std::max(fastest, 1.0))};
    if (moments[Moment::Address] &&
        (find_impact_by_head(window) || find_impact_by_direction(window)))
        return;
    moments[Moment::Impact] = MomentTime{provisional_s, 0.005, false};
    moments.impact_source = ImpactSource::Peak;
}

bool MomentFinder::find_impact_by_head(TimeRange window) {
    if (leader_ != Segment::Club || take_.find(Segment::Club)->p_lab_m.empty() ||
        !take_.club_length_m)
        return false;
    const Curve head_x = raw_head_x_m(take_);
    const double rest = mean_between(head_x, moments.address_window);
    const auto t = first_crossing(head_x, rest, Direction::Rising, window);
    if (!t)
        return false;
    const double noise_m = round.leader.noise_across_rad() * *take_.club_length_m;
    // Where the ball was is known to about 2 mm at best; the crossing itself is sharp.
    moments[Moment::Impact] = MomentTime{
        *t, combined(combined(noise_m, 0.002) / std::abs(head_x.slope_at(*t)), round.frame_u_s),
        false};
    moments.impact_source = ImpactSource::ClubHead;
    return true;
}

bool MomentFinder::find_impact_by_direction(TimeRange window) {
    const Curve angle =
        direction_angle_deg(round.leader, moments.plane->normal, moments.address_window);
    const auto t = first_crossing(angle, 0.0, Direction::Rising, window);
    if (!t)
        return false;
    // Hands ahead of the ball or behind it by some centimetres: several degrees at the shaft.
    const bool club = leader_ == Segment::Club;
    const double off_deg = club ? 8.0 : 10.0;
    moments[Moment::Impact] =
        MomentTime{*t, combined(off_deg / std::abs(angle.slope_at(*t)), round.frame_u_s), false};
    moments.impact_source = club ? ImpactSource::Shaft : ImpactSource::Arm;
    return true;
}

void MomentFinder::find_through() {
    const double impact = moments.time_s(Moment::Impact);
    const double top = moments.time_s(Moment::Top);
    const double end = take_.duration_s();
    const double begin = moments[Moment::Takeaway] ? moments.time_s(Moment::Takeaway) : 0.0;
    put(Moment::LeadArmLevelBack, last_crossing(round.arm_up, 0.0, Direction::Rising, {begin, top}),
        round.arm_up, round.arm_noise_rad);
    put(Moment::LeadArmLevelDown,
        first_crossing(round.arm_up, 0.0, Direction::Falling, {top, impact}), round.arm_up,
        round.arm_noise_rad);
    const Curve through_up = round.trail_arm ? calc_elevation(*round.trail_arm) : round.arm_up;
    put(Moment::TrailArmLevelThrough,
        first_crossing(through_up, 0.0, Direction::Rising, {impact, end}), through_up,
        round.arm_noise_rad);
    const double after = moments[Moment::TrailArmLevelThrough]
                             ? moments.time_s(Moment::TrailArmLevelThrough)
                             : impact + kLongestPlaneHalf_s;
    if (const auto moved = find_moved(Moment::Finish)) {
        moments[Moment::Finish] = moved;
    } else if (moments[Moment::TrailArmLevelThrough] || (round.arm_up.empty() && after < end)) {
        const auto fastest = round.speed_deg_s.find_max({top, std::min(end, after)});
        const double still = fastest ? kStillFraction * fastest->value : 0.0;
        const auto t = first_crossing(round.speed_deg_s, still, Direction::Falling, {after, end});
        moments[Moment::Finish] =
            t ? crossing(*t, round.speed_deg_s, round.rate_noise_deg_s)
              : MomentTime{end, std::numeric_limits<double>::quiet_NaN(), false};
        if (!t)
            findings.push_back({Severity::Note, "finish-cut",
                                "The take ends before the finish; the last frame stands for it.",
                                "", ""});
    }
}

bool MomentFinder::go_round(double impact_s, double previous_end_s, bool split) {
    moments = SwingMoments{};
    findings.clear();
    round = prepare(take_, leader_, options_, split ? std::optional(impact_s) : std::nullopt);
    find_plane(impact_s);
    if (!moments.plane)
        return fail("no-plane",
                    "The path of the " + name_of(leader_) + " about " + seconds(impact_s) +
                        " spans no plane.",
                    "Check that the columns hold a swing.");
    if (!find_top(impact_s))
        return false;
    find_backswing(previous_end_s);
    find_impact(impact_s);
    find_through();
    moments.window_end_s = moments[Moment::Impact] ? moments.time_s(Moment::Impact) + kAfterImpact_s
                                                   : impact_s + kAfterFastest_s;
    return true;
}

/// Which of the swings in the take is meant, as an index.
std::size_t choose_swing(const Take& take, const AnalysisOptions& options,
                         const std::vector<double>& swings_s, const Curve& speed_deg_s) {
    if (options.swing)
        return std::min(*options.swing == 0 ? 0 : *options.swing - 1, swings_s.size() - 1);
    std::size_t best = 0;
    for (std::size_t i = 1; i < swings_s.size(); ++i) {
        const bool better = take.contact_s
                                ? std::abs(swings_s[i] - *take.contact_s) <
                                      std::abs(swings_s[best] - *take.contact_s)
                                : speed_deg_s.at(swings_s[i]) > speed_deg_s.at(swings_s[best]);
        if (better)
            best = i;
    }
    return best;
}

/// The take's swings and the one that is meant.
struct ChosenSwing {
    Segment leader = Segment::Club;
    std::vector<double> swings_s;
    std::size_t index = 0;
    double fastest_s = 0.0;
    double fastest_deg_s = 0.0; ///< of the whole take
};

std::optional<ChosenSwing> find_swing(const Take& take, const AnalysisOptions& options) {
    ChosenSwing out;
    const auto leader = find_leader(take);
    if (!leader)
        return std::nullopt;
    out.leader = *leader;
    const SegmentMotion motion =
        smooth(*take.find(*leader), take.rate_hz, options.cutoff_of_hz(*leader), std::nullopt);
    const Curve speed_deg_s = calc_leader_speed(motion, *leader);
    if (const auto fastest = speed_deg_s.find_max({0.0, take.duration_s()}))
        out.fastest_deg_s = fastest->value;
    out.swings_s = find_swings_s(speed_deg_s, *leader);
    if (!out.swings_s.empty()) {
        out.index = choose_swing(take, options, out.swings_s, speed_deg_s);
        out.fastest_s = out.swings_s[out.index];
    }
    return out;
}

} // namespace

std::optional<Segment> find_leader(const Take& take) {
    for (Segment segment : {Segment::Club, Segment::LeadArm, Segment::Torso, Segment::Pelvis})
        if (take.find(segment) != nullptr)
            return segment;
    return std::nullopt;
}

std::vector<double> find_swings_s(const Curve& speed_deg_s, Segment leader) {
    std::vector<double> out;
    const auto fastest = speed_deg_s.find_max({0.0, speed_deg_s.duration_s()});
    if (!fastest || fastest->value < slowest_swing_deg_s(leader))
        return out;
    const double least = std::max(kSwingShare * fastest->value, slowest_swing_deg_s(leader));
    // From one fastest moment to the next: what lies within reach of a faster one is part of it.
    double begin_s = 0.0;
    while (begin_s < speed_deg_s.duration_s()) {
        const auto above = speed_deg_s.at(begin_s) >= least
                               ? std::optional(begin_s)
                               : first_crossing(speed_deg_s, least, Direction::Rising,
                                                {begin_s, speed_deg_s.duration_s()});
        if (!above)
            break;
        auto peak = speed_deg_s.find_max({*above, *above + kSwingReach_s});
        if (!peak)
            break;
        // Climbing on: the reach is taken from the peak.
        for (;;) {
            const auto next = speed_deg_s.find_max({*above, peak->t_s + kSwingReach_s});
            if (!next || !(next->t_s > peak->t_s))
                break;
            peak = next;
        }
        out.push_back(peak->t_s);
        const auto down = first_crossing(speed_deg_s, least, Direction::Falling,
                                         {peak->t_s, speed_deg_s.duration_s()});
        begin_s = std::max(peak->t_s + kSwingReach_s, down.value_or(speed_deg_s.duration_s()));
    }
    return out;
}

AnalysisOptions with_cutoffs(const Take& take, const AnalysisOptions& options) {
    AnalysisOptions out = options;
    const auto swing = find_swing(take, options);
    const double centre_s = take.contact_s.value_or(swing ? swing->fastest_s : 0.0);
    const bool has_swing = swing && !swing->swings_s.empty();
    for (const auto& [segment, series] : take.segments) {
        if (out.cutoff_hz.count(segment) > 0)
            continue;
        const CutoffBounds bounds = cutoff_bounds(segment);
        out.cutoff_hz[segment] =
            has_swing
                ? choose_cutoff_hz(series, take.rate_hz,
                                   {centre_s - kChoosingBefore_s,
                                    centre_s + (feels_impact(segment) ? 0.0 : kChoosingAfter_s)},
                                   bounds)
                : bounds.high_hz;
    }
    return out;
}

Outcome<SwingMoments> find_moments(const Take& take, const AnalysisOptions& options) {
    Outcome<SwingMoments> out;
    const auto swing = find_swing(take, options);
    if (!swing) {
        out.add({Severity::Error, "no-parts",
                 "There is neither club nor arm nor trunk in this take, so the moments of a swing "
                 "cannot be found.",
                 "", "Record the club and the body."});
        return out;
    }
    if (swing->swings_s.empty()) {
        std::ostringstream what;
        what << "There is no swing in this take: the " << name_of(swing->leader)
             << " never turns faster than " << std::lround(swing->fastest_deg_s) << " °/s.";
        out.add({Severity::Error, "no-swing", what.str(), "",
                 "A swing passes 1000 °/s at the club; check the file and its units."});
        return out;
    }
    MomentFinder finder(take, swing->leader, options);
    const double previous_end_s =
        swing->index == 0 ? 0.0 : swing->swings_s[swing->index - 1] + kSwingReach_s;
    const auto moved = options.moved_s.find(Moment::Impact);
    const double given_s =
        moved != options.moved_s.end() ? moved->second : take.contact_s.value_or(swing->fastest_s);
    bool ok = finder.go_round(given_s, previous_end_s, false);
    // A second round with the impact that the first one found, and a third where that moved it, so
    // that the filter's split and the moments agree.
    constexpr double kSettled_s = 1e-6;
    double split_s = std::numeric_limits<double>::quiet_NaN();
    for (int i = 0; ok && i < 2 && finder.moments[Moment::Impact]; ++i) {
        const double impact_s = finder.moments.time_s(Moment::Impact);
        if (std::abs(impact_s - split_s) < kSettled_s)
            break;
        split_s = impact_s;
        ok = finder.go_round(impact_s, previous_end_s, true);
    }
    out.value = finder.moments;
    out.value.fastest_s = swing->fastest_s;
    out.findings = finder.findings;
    if (!ok)
        return out;
    if (swing->swings_s.size() > 1) {
        std::string what =
            "The take holds " + std::to_string(swing->swings_s.size()) + " swings, fastest at ";
        for (std::size_t i = 0; i < swing->swings_s.size(); ++i)
            what += (i == 0                            ? ""
                     : i + 1 == swing->swings_s.size() ? " and "
                                                       : ", ") +
                    seconds(swing->swings_s[i]);
        out.add({Severity::Warning, "several-swings",
                 what + "; number " + std::to_string(swing->index + 1) + " was analysed.", "",
                 "Choose another by its number."});
    }
    if (swing->leader != Segment::Club)
        out.add({Severity::Warning, "no-club",
                 "There is no club in this take; the moments were found from the " +
                     name_of(swing->leader) + ".",
                 "", "Record the club too."});
    if (!finder.moments[Moment::Impact])
        out.add({Severity::Warning, "no-impact",
                 "Impact could not be found from the " + name_of(swing->leader) +
                     "; what is measured there is not available.",
                 "", "Add a contact mark, or record arm and club."});
    else if (finder.moments.impact_source == ImpactSource::Peak)
        out.add({Severity::Warning, "impact-assumed",
                 "Impact could not be seen; the club's fastest moment is taken for it.", "",
                 "Add a contact mark, or club positions."});
    else if (finder.moments.impact_source == ImpactSource::Arm)
        out.add({Severity::Warning, "impact-assumed",
                 "Impact could not be seen; the lead arm passing its direction at address is taken "
                 "for it.",
                 "", "Add a contact mark, or record the club."});
    return out;
}

} // namespace kite
