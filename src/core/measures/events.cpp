#include "core/measures/events.h"

#include "core/base/number.h"
#include "core/base/units.h"
#include "core/measures/address.h"
#include "core/measures/impact.h"
#include "core/measures/turned.h"
#include "core/motion/rotation.h"
#include "core/signal/local_fit.h"
#include "core/signal/noise.h"

#include <algorithm>
#include <cmath>

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
constexpr double kLongestPlaneHalf_s = 0.12; ///< plane window where the shaft never gets level
constexpr double kFrameShare = 0.03; ///< of the frame interval that a crossing stays uncertain by
/// A moment that passed in an unseen stretch longer than this is not given.
constexpr double kLongestHidden_s = 0.15;
/// A picture that was picked for impact is the nearest one, or one beside it.
constexpr double kPicturesApart = 2.0;
/// How well the eye picks the picture of the top (common practice, no source).
constexpr double kToldTop_u_s = 0.008;
/// The filter spreads the onset of motion: known from the study in docs/accuracy.md.
constexpr double kTakeawayModel_u_s = 0.003;
constexpr double kSlowestPlane_hz = 70.0;
constexpr double kLeastTurn_deg = 25.0; ///< of a trunk from the top on, in any swing
/// A fastest moment counts where this much on either side of it was seen.
constexpr double kAboutPeak_s = 0.012;
constexpr double kAboutTop_s = 0.03;  ///< the same about the top
constexpr double kTopsApart_s = 0.25; ///< arm and club turn round no further apart
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

std::string seconds(double t_s, int digits = 2) {
    return fixed(t_s, digits) + " s";
}

class MomentFinder {
    using Wanted = SmoothedParts::Wanted;

public:
    MomentFinder(SmoothedParts& parts, const Take& take, Segment leader,
                 const AnalysisOptions& options)
        : parts_(parts), take_(take), options_(options), leader_(leader) {}

    /// One round about a provisional impact; the swing before it ended at `previous_end_s`. False:
    /// an error was added.
    bool go_round(double impact_s, double previous_end_s, bool split, Depth depth);
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
        if (moments[moment] || !t_s)
            return;
        if (const double hidden_s = curve.unseen_about_s(*t_s); hidden_s > kLongestHidden_s) {
            findings.push_back({Severity::Warning, "moment-hidden",
                                "The moment " + std::string(name_of(moment)) +
                                    " passed unseen, somewhere in " + seconds(hidden_s) +
                                    " about " + seconds(*t_s) + ".",
                                "", "Check whether that part was hidden from the cameras."});
            return;
        }
        moments[moment] = crossing(*t_s, curve, noise);
    }
    /// Turning of a part as measured, whose change of sign is its reversal.
    Samples turned(Segment segment, const SegmentMotion& motion, TimeRange stretch) const {
        return calc_turned_deg(*take_.find(segment), motion, segment, RateConvention::Axis,
                               moments.plane->normal, Turning::Reversing, stretch);
    }
    void find_plane(double impact_s);
    bool find_top(double impact_s, Depth depth);
    void find_backswing(double previous_end_s);
    void find_impact(double provisional_s);
    bool find_impact_by_blow(double provisional_s);
    bool has_backswing(double impact_s); ///< else says what is missing
    bool find_impact_by_direction(const SegmentMotion& part, Segment segment, TimeRange window);
    void prepare(Depth depth);
    /// The part filtered as this round has it; nullptr if the take has none.
    const SegmentMotion* smoothed(Segment segment, SmoothedParts::Wanted wanted) {
        return take_.find(segment) == nullptr
                   ? nullptr
                   : &parts_.get(segment, options_.cutoff_of_hz(segment), split_s_, wanted);
    }

    SmoothedParts& parts_;
    const Take& take_;
    const AnalysisOptions& options_;
    Segment leader_;
    std::optional<double> split_s_;
    Curve reversing_deg_s_; ///< leader within the plane or about its axis, positive down
};

void MomentFinder::prepare(Depth depth) {
    // What somebody saw counts by how sure the rest is, in every round.
    const bool places_alone = depth == Depth::PlaceAlone && take_.told_s.empty();
    round.leader = smoothed(leader_, places_alone ? Wanted::PlacesToo : Wanted::All);
    const NoiseGain gain = calc_noise_gain(round.leader->cutoff_hz, take_.rate_hz);
    const double noise_rad =
        is_trunk(leader_) ? round.leader->angle_noise_rad.z() : round.leader->noise_across_rad();
    round.angle_noise_rad = noise_rad * gain.value;
    round.rate_noise_deg_s = deg_from_rad(noise_rad * gain.first_derivative);
    if (leader_ == Segment::Club) {
        round.shaft_up = calc_elevation(*round.leader);
        const SegmentMotion* arm =
            round.leader->p_lab_m.empty() ? smoothed(Segment::LeadArm, Wanted::PlacesToo) : nullptr;
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
    // Of a club whose direction is off by much it is level at the wrong time, now and then just
    // at the ball; the plane is that of the fast stretch all the same.
    if (!moments.plane)
        moments.plane = fit_swing_plane(
            round.head_m, *round.leader,
            {impact_s - kLongestPlaneHalf_s, std::min(end, impact_s + kLongestPlaneHalf_s)});
}

bool MomentFinder::find_top(double impact_s, Depth depth) {
    reversing_deg_s_ = calc_reversing_deg_s(*round.leader, leader_, moments.plane->normal);
    // The club's reversal, even where another part leads, if the club was seen there.
    Segment whose = leader_;
    Curve reversing = reversing_deg_s_;
    const auto own_s = reversing.find_last_crossing(0.0, Direction::Rising, {0.0, impact_s});
    const SegmentMotion* turning = &*round.leader;
    const auto try_part = [&](Segment segment) {
        const SegmentMotion* part = smoothed(segment, Wanted::Turning);
        if (part == nullptr)
            return false;
        Curve along = calc_speed_along_deg_s(*part, moments.plane->normal);
        const auto t = along.find_last_crossing(0.0, Direction::Rising, {0.0, impact_s});
        if (!t || along.longest_unseen_s({*t - kAboutTop_s, *t + kAboutTop_s}) > 0.0)
            return false;
        // Trembling at address has reversals too: that is the last one seen of a part that was
        // hidden from then on.
        if (own_s && std::abs(*t - *own_s) > kTopsApart_s)
            return false;
        whose = segment;
        turning = part;
        reversing = std::move(along);
        return true;
    };
    if (options_.top == TopDefinition::LeadArm)
        try_part(Segment::LeadArm);
    else if (leader_ != Segment::Club && !is_trunk(leader_) && !try_part(Segment::Club))
        findings.push_back({Severity::Warning, "top-of-other",
                            "The club was not seen where it turns round; the top is that of the " +
                                std::string(name_of(leader_)) + ".",
                            "", "Check that the cameras see the club at the top."});
    const SegmentMotion& motion = *turning;
    moments[Moment::Top] = find_moved(Moment::Top);
    if (const auto t = reversing.find_last_crossing(0.0, Direction::Rising, {0.0, impact_s});
        t && !moments[Moment::Top]) {
        const auto place =
            depth == Depth::PlaceAlone
                ? std::nullopt
                : find_rise(turned(whose, motion, {*t - 0.3, *t + 0.3}), {0.0, impact_s}, *t);
        moments[Moment::Top] = place ? MomentTime{place->t_s, place->u_s, false}
                                     : crossing(*t, reversing, round.rate_noise_deg_s);
        if (place && place->unseen_s > kLongestFilledGap_s)
            findings.push_back({Severity::Warning, "moment-hidden",
                                "The top passed while the " + std::string(name_of(whose)) +
                                    " was hidden; it is known to ±" +
                                    std::to_string(std::lround(ms_from_s(2.0 * place->u_s))) +
                                    " ms.",
                                "", "Check whether that part was hidden from the cameras."});
    }
    // Seen by somebody, that holds where it was found less surely.
    if (const auto told = take_.told_s.find(Moment::Top); told != take_.told_s.end()) {
        auto& found = moments[Moment::Top];
        const double told_u_s = std::max(kToldTop_u_s, 2.0 * round.frame_u_s);
        const bool own = whose == Segment::Club;
        if (!found || (!found->moved && !(own && found->u_s < told_u_s)))
            found = MomentTime{told->second, told_u_s, false};
    }
    // A trunk that tells the moments must turn as in a swing; bending and rising turn it too.
    if (is_trunk(leader_) && moments[Moment::Top]) {
        const Curve turn = calc_trunk_angles(*round.leader).turn_deg;
        const TimeRange down{moments.time_s(Moment::Top), impact_s + kAfterFastest_s};
        const auto least = turn.find_min(down);
        const auto most = turn.find_max(down);
        const double turned_deg = least && most ? most->value - least->value : 0.0;
        if (turned_deg < kLeastTurn_deg)
            return fail("no-swing",
                        "There is no swing in this take: the " + std::string(name_of(leader_)) +
                            " turns by no more than " + std::to_string(std::lround(turned_deg)) +
                            "\u00b0.",
                        "Check that the file holds a swing.");
    }
    return has_backswing(impact_s);
}

bool MomentFinder::has_backswing(double impact_s) {
    // Trembling at rest has reversals too: a backswing must lie before the top.
    const double top_s = moments.time_s(Moment::Top);
    const auto fastest_back = round.speed_deg_s.find_max({0.0, top_s});
    const double fastest_down = round.speed_deg_s.at(impact_s);
    const double hidden_s = round.speed_deg_s.longest_unseen_s({impact_s - 1.2, impact_s});
    if (take_.told_s.count(Moment::Top) > 0)
        return true; // somebody saw it
    if ((!fastest_back || fastest_back->value < kSlowestBackswing * fastest_down) &&
        hidden_s > kLongestFilledGap_s && impact_s > 0.3)
        return fail("backswing-hidden",
                    "The " + std::string(name_of(leader_)) + " was hidden for " +
                        seconds(hidden_s) + " before its fastest moment at " + seconds(impact_s) +
                        ", so its backswing and top cannot be found.",
                    "Check that the cameras see it from takeaway to impact.");
    if (!fastest_back || fastest_back->value < kSlowestBackswing * fastest_down) {
        const bool slow = take_.rate_hz < kSlowestPlane_hz;
        return fail(
            "half-a-swing",
            "The " + std::string(name_of(leader_)) +
                " does not go back before its fastest moment at " + seconds(impact_s) +
                ": the file holds only part of a swing" +
                (slow ? ", or too few frames of it at " +
                            std::to_string(std::lround(take_.rate_hz)) + " a second."
                      : "."),
            std::string("Record from a second before the takeaway to a second after impact") +
                (slow ? ", at 120 frames a second or more." : "."));
    }
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
    const auto told = take_.told_s.find(Moment::Address);
    const bool address_told = told != take_.told_s.end() && !find_moved(Moment::Address);
    if (address_told) {
        // Seen by somebody, in a picture or two: nothing is still for 0.1 s there.
        moments[Moment::Address] = MomentTime{told->second, round.frame_u_s, false};
        moments.address_window = {std::max(0.0, told->second - 0.5 * kAddressWindow_s),
                                  told->second + 0.5 * kAddressWindow_s};
    }
    if (!moments[Moment::Takeaway]) {
        if (address_told)
            return;
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
    } else if (!address_told) {
        moments.address_window = find_address_window(
            round.speed_deg_s, std::max(previous_end_s, find_stance_begin(take_, takeaway_s)),
            takeaway_s);
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
    const auto use_contact = [&] {
        moments[Moment::Impact] =
            MomentTime{*take_.contact_s, 1.0 / (take_.rate_hz * std::sqrt(12.0)), false};
        moments.impact_source = ImpactSource::Contact;
    };
    if (take_.contact_s && (is_trunk(leader_) || !moments[Moment::Address]))
        return use_contact();
    if (is_trunk(leader_))
        return; // hips and shoulders do not tell where the ball was
    // After shaft level down, and not later than the club needs to come round: half a turn.
    const double from = moments[Moment::ShaftLevelDown] ? moments.time_s(Moment::ShaftLevelDown)
                                                        : moments.time_s(Moment::Top);
    const double fastest = round.speed_deg_s.at(provisional_s);
    const TimeRange window{
        from, std::min(take_.duration_s(), provisional_s + 180.0 / std::max(fastest, 1.0))};
    if (moments[Moment::Address])
        moments.head_passing = find_head_passing(take_, moments.address_window, window);
    const auto& head = moments.head_passing;
    if (take_.contact_s) {
        use_contact();
        const double apart_s = head ? std::abs(head->t_s - *take_.contact_s) : 0.0;
        const double u_s = head ? combined(head->u_s, moments[Moment::Impact]->u_s) : 0.0;
        // To the nearest picture alone: where the club head is well known, it tells more.
        if (head && take_.contact_is_picture && head->u_s < moments[Moment::Impact]->u_s &&
            apart_s < kPicturesApart / take_.rate_hz) {
            moments[Moment::Impact] = head;
            moments.impact_source = ImpactSource::ClubHead;
            return;
        }
        // In film somebody saw the ball being hit; where the club head is, is worked out.
        if (take_.source == Source::Film ||
            !(apart_s > std::max(kContactApart_s, kContactSigmas * u_s)))
            return;
        findings.push_back(
            {Severity::Warning, "contact-contradicted",
             "The contact mark says " + seconds(*take_.contact_s, 3) +
                 ", but the club head passes its place at address at " + seconds(head->t_s, 3) +
                 ", " + std::to_string(std::lround(ms_from_s(apart_s))) +
                 " ms away; the club head was believed.",
             "contact mark", "If the mark is right, move the moment of impact to it by hand."});
    }
    if (head) {
        moments[Moment::Impact] = head;
        moments.impact_source = ImpactSource::ClubHead;
        return;
    }
    if (moments[Moment::Address] && find_impact_by_direction(*round.leader, leader_, window))
        return;
    // Where the leader is lost about its fastest moment, that says nothing: the arm may.
    const bool lost = round.speed_deg_s.longest_unseen_s(
                          {provisional_s - kAboutPeak_s, provisional_s + kAboutPeak_s}) > 0.0 ||
                      provisional_s + kAboutPeak_s > take_.duration_s();
    if (leader_ == Segment::Club && lost)
        if (const SegmentMotion* arm = smoothed(Segment::LeadArm, Wanted::Turning);
            arm != nullptr && moments[Moment::Address] &&
            find_impact_by_direction(*arm, Segment::LeadArm, window))
            return;
    if (lost && provisional_s + kAboutPeak_s < take_.duration_s())
        return;
    // The arm is fastest some hundredths of a second before the ball, how many is anybody's guess.
    if (leader_ != Segment::Club)
        return;
    moments.impact_source = ImpactSource::Peak;
    if (find_impact_by_blow(provisional_s))
        return;
    moments[Moment::Impact] = MomentTime{provisional_s, 0.005, false};
}

/// The ball takes speed from the club within a millisecond: where that shows, it was there.
bool MomentFinder::find_impact_by_blow(double provisional_s) {
    const Samples way = turned(leader_, *round.leader, {provisional_s - 0.1, provisional_s + 0.1});
    std::vector<double> rate(way.x.size(), std::numeric_limits<double>::quiet_NaN());
    for (std::size_t i = 0; i + 1 < way.x.size(); ++i)
        rate[i] = (way.x[i + 1] - way.x[i]) * take_.rate_hz;
    if (const auto blow_s = find_blow_s(rate, take_.rate_hz, provisional_s)) {
        moments[Moment::Impact] =
            MomentTime{*blow_s + 0.5 / take_.rate_hz, 0.5 / take_.rate_hz, false};
        moments.impact_by_blow = true;
        return true;
    }
    return false;
}

bool MomentFinder::find_impact_by_direction(const SegmentMotion& part, Segment segment,
                                            TimeRange window) {
    const Curve angle = direction_angle_deg(part, moments.plane->normal, moments.address_window);
    const auto t = angle.find_first_crossing(0.0, Direction::Rising, window);
    if (!t)
        return false;
    // Hands ahead of the ball or behind it by some centimetres: several degrees at the shaft.
    const bool club = segment == Segment::Club;
    const double off_deg = club ? 8.0 : 10.0;
    const double slope = angle.slope_at(*t);
    const double hidden_s = angle.unseen_about_s(*t);
    moments[Moment::Impact] =
        MomentTime{*t,
                   hidden_s > 0.0 ? hidden_s / std::sqrt(12.0)
                                  : combined(off_deg / std::abs(slope), round.frame_u_s),
                   false};
    moments.impact_source = club ? ImpactSource::Shaft : ImpactSource::Arm;
    return true;
}

void MomentFinder::find_the_rest() {
    const double impact = moments.time_s(Moment::Impact);
    const double top = moments.time_s(Moment::Top);
    const double end = take_.duration_s();
    const double begin = moments[Moment::Takeaway] ? moments.time_s(Moment::Takeaway) : 0.0;
    const SegmentMotion* arm = smoothed(Segment::LeadArm, Wanted::All);
    const Curve arm_up = arm == nullptr ? Curve{} : calc_elevation(*arm);
    const double noise_rad =
        arm == nullptr
            ? 0.0
            : arm->noise_across_rad() * calc_noise_gain(arm->cutoff_hz, take_.rate_hz).value;
    put(Moment::LeadArmLevelBack, arm_up.find_last_crossing(0.0, Direction::Rising, {begin, top}),
        arm_up, noise_rad);
    put(Moment::LeadArmLevelDown,
        arm_up.find_first_crossing(0.0, Direction::Falling, {top, impact}), arm_up, noise_rad);
    const SegmentMotion* trail = smoothed(Segment::TrailArm, Wanted::Turning);
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

bool MomentFinder::go_round(double impact_s, double previous_end_s, bool split, Depth depth) {
    moments = SwingMoments{};
    findings.clear();
    split_s_ = split ? std::optional(impact_s) : std::nullopt;
    round = Round{};
    prepare(depth);
    find_plane(impact_s);
    if (!moments.plane) {
        // The plane needs some frames of the stretch in which the club is fastest.
        if (take_.rate_hz < kSlowestPlane_hz)
            return fail(
                "rate-too-slow",
                "At " + std::to_string(std::lround(take_.rate_hz)) +
                    " frames a second too few frames fall into the downswing to lay a swing "
                    "plane through.",
                "Record at 120 frames a second or more.");
        if (round.speed_deg_s.longest_unseen_s({impact_s - 0.2, impact_s + 0.1}) >
            kLongestFilledGap_s)
            return fail("downswing-hidden",
                        "The " + std::string(name_of(leader_)) + " was hidden about " +
                            seconds(impact_s) + ", so no swing plane can be laid through its path.",
                        "Check that the cameras see it from the top to impact.");
        return fail("no-plane",
                    "The path of the " + std::string(name_of(leader_)) + " about " +
                        seconds(impact_s) + " spans no plane.",
                    "Check that the columns hold a swing.");
    }
    if (!find_top(impact_s, depth))
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
                         false, Depth::PlaceAlone) ||
        !finder.moments[Moment::Address])
        return std::nullopt;
    return finder.moments.address_window;
}

namespace {

/// What the moments rest on where it is not what they should rest on.
void say_how_found(const MomentFinder& finder, const Swings& swings, Outcome<SwingMoments>& out) {
    if (swings.fastest_s.size() > 1)
        out.add(several_swings(swings));
    if (swings.hidden_leader)
        out.add({Severity::Warning, "leader-hidden",
                 "The " + std::string(name_of(*swings.hidden_leader)) + " was hidden for " +
                     seconds(swings.hidden_s) + " of the swing; the moments were found from the " +
                     std::string(name_of(swings.leader)) + ".",
                 "", "Check that the cameras see it from takeaway to impact."});
    else if (swings.leader != Segment::Club)
        out.add({Severity::Warning, "no-club",
                 "There is no club in this take; the moments were found from the " +
                     std::string(name_of(swings.leader)) + ".",
                 "", "Record the club too."});
    if (!finder.moments[Moment::Impact])
        out.add({Severity::Warning, "no-impact",
                 "Impact could not be found from the " + std::string(name_of(swings.leader)) +
                     "; what is measured there is not available.",
                 "", "Add a contact mark, or record arm and club."});
    else if (finder.moments.impact_source == ImpactSource::Peak)
        out.add({Severity::Warning, "impact-assumed",
                 finder.moments.impact_by_blow
                     ? "Impact is taken where the club suddenly loses speed."
                     : "Impact could not be seen; the club's fastest moment is taken for it.",
                 "", "Add a contact mark, or club positions."});
    else if (finder.moments.impact_source == ImpactSource::Arm)
        out.add({Severity::Warning, "impact-assumed",
                 "Impact could not be seen; the lead arm passing its direction at address is taken "
                 "for it.",
                 "", "Add a contact mark, or record the club."});
}

} // namespace

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
        const std::string what = "There is no swing in this take: the " +
                                 std::string(name_of(swings->leader)) +
                                 " never turns faster than " +
                                 std::to_string(std::lround(swings->fastest_deg_s)) + " °/s.";
        out.add({Severity::Error, "no-swing", what, "",
                 "A swing passes 1000 °/s at the club; check the file and its units."});
        return out;
    }
    MomentFinder finder(parts, take, swings->leader, options);
    const double previous_end_s = swings->previous_end_s();
    const auto moved = options.moved_s.find(Moment::Impact);
    const double given_s = moved != options.moved_s.end()
                               ? moved->second
                               : take.contact_s.value_or(swings->chosen_s());
    // For the first round the top need not be known to the millisecond, nor how sure it is.
    bool ok = finder.go_round(given_s, previous_end_s, false, Depth::PlaceAlone);
    bool sure = false;
    // A second round with the impact that the first one found, and a third where that moved it to
    // another frame, so that the filter's split and the moments agree.
    std::optional<std::size_t> split;
    for (int i = 0; ok && i < 2 && finder.moments[Moment::Impact]; ++i) {
        const double impact_s = finder.moments.time_s(Moment::Impact);
        const auto now = split_frame(impact_s, take.rate_hz);
        if (sure && now == split)
            break;
        split = now;
        sure = true;
        ok = finder.go_round(impact_s, previous_end_s, true, Depth::WithUncertainty);
    }
    // Without an impact there was no round with a split: once more, with how sure.
    if (ok && !sure)
        ok = finder.go_round(given_s, previous_end_s, false, Depth::WithUncertainty);
    if (ok)
        finder.find_the_rest();
    out.value = finder.moments;
    out.value.fastest_s = swings->chosen_s();
    out.findings = finder.findings;
    if (!ok)
        return out;
    say_how_found(finder, *swings, out);
    return out;
}

} // namespace kite
