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

/// What one round works with. `leader` is the club or what stands in for it.
struct Round {
    const SegmentMotion* leader = nullptr;
    std::vector<Vector3d> head_m;  ///< path of the leader's far end; empty for the trunk
    Curve shaft_up;                ///< sine of the shaft's angle above the ground; empty: no club
    Curve speed_deg_s;             ///< of the leader, without sign
    double rate_noise_deg_s = 0.0; ///< of the leader's rate after the filter
    double angle_noise_rad = 0.0;  ///< of the leader's direction after the filter
    double frame_u_s = 0.0;        ///< share of the frame interval in every moment's uncertainty
};

MomentTime crossing(double t_s, const Curve& curve, double noise) {
    return {t_s, crossing_u_s(curve, t_s, noise), false};
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
    MomentFinder(SmoothedParts& parts, const Take& take, Segment leader,
                 const AnalysisOptions& options)
        : parts_(parts), take_(take), options_(options), leader_(leader) {}

    /// One round about a provisional impact; the swing before it ended at `previous_end_s`. False:
    /// an error was added.
    bool go_round(double impact_s, double previous_end_s, bool split);
    /// The moments that no other leans on, after the last round.
    void find_the_rest();

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
    void prepare();
    /// The part filtered as this round has it; nullptr if the take has none.
    const SegmentMotion* smoothed(Segment segment) {
        return take_.find(segment) == nullptr
                   ? nullptr
                   : &parts_.get(segment, options_.cutoff_of_hz(segment), split_s_);
    }

    SmoothedParts& parts_;
    const Take& take_;
    const AnalysisOptions& options_;
    Segment leader_;
    std::optional<double> split_s_;
    Curve reversing_deg_s_; ///< leader within the plane or about its axis, positive down
};

void MomentFinder::prepare() {
    round.leader = smoothed(leader_);
    const NoiseGain gain = calc_noise_gain(round.leader->cutoff_hz, take_.rate_hz);
    const double noise_rad =
        is_trunk(leader_) ? round.leader->angle_noise_rad.z() : round.leader->noise_across_rad();
    round.angle_noise_rad = noise_rad * gain.value;
    round.rate_noise_deg_s = deg_from_rad(noise_rad * gain.first_derivative);
    if (leader_ == Segment::Club) {
        round.shaft_up = calc_elevation(*round.leader);
        const SegmentMotion* arm =
            round.leader->p_lab_m.empty() ? smoothed(Segment::LeadArm) : nullptr;
        round.head_m = calc_head_path(*round.leader, arm, take_.arm_length_m, take_.club_length_m);
    } else if (leader_ == Segment::LeadArm) {
        round.head_m = calc_head_path(*round.leader, nullptr, std::nullopt, take_.arm_length_m);
    }
    round.speed_deg_s = calc_leader_speed(*round.leader, leader_);
    round.frame_u_s = kFrameShare / take_.rate_hz;
}

void MomentFinder::find_plane(double impact_s) {
    const double end = take_.duration_s();
    put(Moment::ShaftLevelDown,
        round.shaft_up.find_last_crossing(0.0, Direction::Falling, {0.0, impact_s}), round.shaft_up,
        round.angle_noise_rad);
    put(Moment::ShaftLevelThrough,
        round.shaft_up.find_first_crossing(0.0, Direction::Rising, {impact_s, end}), round.shaft_up,
        round.angle_noise_rad);
    if (is_trunk(leader_)) {
        // No path to lay a plane through: the trunk's own axis as it turns down.
        moments.plane = plane_across_axis(*round.leader, impact_s);
        return;
    }
    const bool level = moments[Moment::ShaftLevelDown].has_value();
    const bool through = moments[Moment::ShaftLevelThrough].has_value();
    const double from =
        level ? moments.time_s(Moment::ShaftLevelDown) : impact_s - kLongestPlaneHalf_s;
    const double to = through ? moments.time_s(Moment::ShaftLevelThrough)
                              : std::min(end, level ? impact_s : impact_s + kLongestPlaneHalf_s);
    moments.plane = fit_swing_plane(round.head_m, *round.leader, {from, to});
}

bool MomentFinder::find_top(double impact_s) {
    reversing_deg_s_ = calc_reversing_deg_s(*round.leader, leader_, moments.plane->normal);
    const SegmentMotion* arm =
        options_.top == TopDefinition::LeadArm ? smoothed(Segment::LeadArm) : nullptr;
    const bool by_arm = arm != nullptr;
    const SegmentMotion& motion = by_arm ? *arm : *round.leader;
    const Curve reversing =
        by_arm ? calc_speed_along_deg_s(motion, moments.plane->normal) : reversing_deg_s_;
    moments[Moment::Top] = find_moved(Moment::Top);
    if (const auto t = reversing.find_last_crossing(0.0, Direction::Rising, {0.0, impact_s});
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
                    "The " + std::string(name_of(leader_)) +
                        " does not go back before its fastest moment at " + seconds(impact_s) +
                        ": the file holds only part of a swing.",
                    "Record from a second before the takeaway to a second after impact.");
    return true;
}

void MomentFinder::find_backswing(double previous_end_s) {
    const double top = moments.time_s(Moment::Top);
    // The backswing begins after the leader last moved forwards (a waggle, a practice swing).
    const auto downswing = reversing_deg_s_.find_max({top, take_.duration_s()});
    std::optional<double> forward_end;
    if (downswing)
        forward_end = reversing_deg_s_.find_last_crossing(kForwardFraction * downswing->value,
                                                          Direction::Falling, {0.0, top});
    const TimeRange backswing{forward_end.value_or(0.0), top};
    const auto fastest = round.speed_deg_s.find_max(backswing);
    std::optional<double> takeaway;
    if (fastest)
        takeaway = round.speed_deg_s.find_last_crossing(
            kStillFraction * fastest->value, Direction::Rising, {backswing.begin_s, fastest->t_s});
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
        round.shaft_up.find_first_crossing(0.0, Direction::Rising, {takeaway_s, top}),
        round.shaft_up, round.angle_noise_rad);
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
    const auto t = head_x.find_first_crossing(rest, Direction::Rising, window);
    if (!t)
        return false;
    const double noise_m = round.leader->noise_across_rad() * *take_.club_length_m;
    // Where the ball was is known to about 2 mm at best; the crossing itself is sharp.
    moments[Moment::Impact] = MomentTime{
        *t, combined(combined(noise_m, 0.002) / std::abs(head_x.slope_at(*t)), round.frame_u_s),
        false};
    moments.impact_source = ImpactSource::ClubHead;
    return true;
}

bool MomentFinder::find_impact_by_direction(TimeRange window) {
    const Curve angle =
        direction_angle_deg(*round.leader, moments.plane->normal, moments.address_window);
    const auto t = angle.find_first_crossing(0.0, Direction::Rising, window);
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

void MomentFinder::find_the_rest() {
    const double impact = moments.time_s(Moment::Impact);
    const double top = moments.time_s(Moment::Top);
    const double end = take_.duration_s();
    const double begin = moments[Moment::Takeaway] ? moments.time_s(Moment::Takeaway) : 0.0;
    const SegmentMotion* arm = smoothed(Segment::LeadArm);
    const Curve arm_up = arm == nullptr ? Curve{} : calc_elevation(*arm);
    const double noise_rad =
        arm == nullptr
            ? 0.0
            : arm->noise_across_rad() * calc_noise_gain(arm->cutoff_hz, take_.rate_hz).value;
    put(Moment::LeadArmLevelBack, arm_up.find_last_crossing(0.0, Direction::Rising, {begin, top}),
        arm_up, noise_rad);
    put(Moment::LeadArmLevelDown,
        arm_up.find_first_crossing(0.0, Direction::Falling, {top, impact}), arm_up, noise_rad);
    const SegmentMotion* trail = smoothed(Segment::TrailArm);
    const Curve through_up = trail == nullptr ? arm_up : calc_elevation(*trail);
    put(Moment::TrailArmLevelThrough,
        through_up.find_first_crossing(0.0, Direction::Rising, {impact, end}), through_up,
        noise_rad);
    const double after = moments[Moment::TrailArmLevelThrough]
                             ? moments.time_s(Moment::TrailArmLevelThrough)
                             : impact + kLongestPlaneHalf_s;
    if (const auto moved = find_moved(Moment::Finish)) {
        moments[Moment::Finish] = moved;
    } else if (moments[Moment::TrailArmLevelThrough] || (arm_up.empty() && after < end)) {
        const auto fastest = round.speed_deg_s.find_max({top, std::min(end, after)});
        const double still = fastest ? kStillFraction * fastest->value : 0.0;
        const auto t =
            round.speed_deg_s.find_first_crossing(still, Direction::Falling, {after, end});
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
    split_s_ = split ? std::optional(impact_s) : std::nullopt;
    round = Round{};
    prepare();
    find_plane(impact_s);
    if (!moments.plane)
        return fail("no-plane",
                    "The path of the " + std::string(name_of(leader_)) + " about " +
                        seconds(impact_s) + " spans no plane.",
                    "Check that the columns hold a swing.");
    if (!find_top(impact_s))
        return false;
    find_backswing(previous_end_s);
    find_impact(impact_s);
    moments.window_end_s = moments[Moment::Impact] ? moments.time_s(Moment::Impact) + kAfterImpact_s
                                                   : impact_s + kAfterFastest_s;
    return true;
}

} // namespace

std::optional<TimeRange> find_address(const Take& take) {
    SmoothedParts parts(take);
    const AnalysisOptions options;
    const auto swings = find_swings(parts, take, options);
    if (!swings || swings->fastest_s.empty())
        return std::nullopt;
    MomentFinder finder(parts, take, swings->leader, options);
    if (!finder.go_round(take.contact_s.value_or(swings->chosen_s()), swings->previous_end_s(),
                         false) ||
        !finder.moments[Moment::Address])
        return std::nullopt;
    return finder.moments.address_window;
}

Outcome<SwingMoments> find_moments(SmoothedParts& parts, const Take& take,
                                   const AnalysisOptions& options,
                                   const std::optional<Swings>& swings) {
    Outcome<SwingMoments> out;
    if (!swings) {
        out.add({Severity::Error, "no-parts",
                 "There is neither club nor arm nor trunk in this take, so the moments of a swing "
                 "cannot be found.",
                 "", "Record the club and the body."});
        return out;
    }
    if (swings->fastest_s.empty()) {
        std::ostringstream what;
        what << "There is no swing in this take: the " << name_of(swings->leader)
             << " never turns faster than " << std::lround(swings->fastest_deg_s) << " °/s.";
        out.add({Severity::Error, "no-swing", what.str(), "",
                 "A swing passes 1000 °/s at the club; check the file and its units."});
        return out;
    }
    MomentFinder finder(parts, take, swings->leader, options);
    const double previous_end_s = swings->previous_end_s();
    const auto moved = options.moved_s.find(Moment::Impact);
    const double given_s = moved != options.moved_s.end()
                               ? moved->second
                               : take.contact_s.value_or(swings->chosen_s());
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
    if (ok)
        finder.find_the_rest();
    out.value = finder.moments;
    out.value.fastest_s = swings->chosen_s();
    out.findings = finder.findings;
    if (!ok)
        return out;
    if (swings->fastest_s.size() > 1) {
        std::string what =
            "The take holds " + std::to_string(swings->fastest_s.size()) + " swings, fastest at ";
        for (std::size_t i = 0; i < swings->fastest_s.size(); ++i)
            what += (i == 0                              ? ""
                     : i + 1 == swings->fastest_s.size() ? " and "
                                                         : ", ") +
                    seconds(swings->fastest_s[i]);
        out.add({Severity::Warning, "several-swings",
                 what + "; number " + std::to_string(swings->index + 1) + " was analysed.", "",
                 "Choose another by its number."});
    }
    if (swings->leader != Segment::Club)
        out.add({Severity::Warning, "no-club",
                 "There is no club in this take; the moments were found from the " +
                     std::string(name_of(swings->leader)) + ".",
                 "", "Record the club too."});
    if (!finder.moments[Moment::Impact])
        out.add({Severity::Warning, "no-impact",
                 "Impact could not be found from the " + std::string(name_of(swings->leader)) +
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
