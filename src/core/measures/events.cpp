#include "core/measures/events.h"

#include "core/base/units.h"
#include "core/motion/rotation.h"
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
    case ImpactSource::Peak:
        return "peak";
    }
    return "";
}

double SwingMoments::time_s(Moment moment) const {
    const auto& found = (*this)[moment];
    return found ? found->t_s : std::numeric_limits<double>::quiet_NaN();
}

namespace {

constexpr double kSlowestSwing_deg_s = 250.0; ///< a club that never turns faster is not swung
constexpr double kSlowestBackswing = 0.1;     ///< of the club's speed at impact
constexpr double kStillFraction = 0.05;
constexpr double kForwardFraction =
    0.1; ///< of the downswing's peak: moving forwards, not trembling
constexpr double kAddressWindow_s = 0.1;
constexpr double kLongestPlaneHalf_s = 0.12; ///< plane window where the shaft never gets level

/// Root sum of squares.
double combined(double a, double b) {
    return std::hypot(a, b);
}

/// What one round works with.
struct Round {
    SegmentMotion club;
    std::optional<SegmentMotion> arm;
    std::vector<Vector3d> head_m;
    Curve shaft_up;                ///< sine of the shaft's angle above the ground
    Curve arm_up;                  ///< the same of the lead arm; empty without arm
    Curve speed_deg_s;             ///< club, without sign
    double rate_noise_deg_s = 0.0; ///< of the club's rate after the filter
    double angle_noise_rad = 0.0;  ///< of the club's direction after the filter
    double arm_noise_rad = 0.0;
    double frame_u_s = 0.0; ///< share of the frame interval in every moment's uncertainty
};

Round prepare(const Take& take, const AnalysisOptions& options, std::optional<double> impact_s) {
    Round round;
    round.club = smooth(*take.find(Segment::Club), take.rate_hz,
                        options.cutoff_of_hz(Segment::Club), impact_s);
    const NoiseGain gain = calc_noise_gain(round.club.cutoff_hz, take.rate_hz);
    round.angle_noise_rad = round.club.angle_noise_rad * gain.value;
    round.rate_noise_deg_s = deg_from_rad(round.club.angle_noise_rad * gain.first_derivative);
    if (const PoseSeries* arm = take.find(Segment::LeadArm)) {
        round.arm = smooth(*arm, take.rate_hz, options.cutoff_of_hz(Segment::LeadArm), impact_s);
        round.arm_up = calc_elevation(*round.arm);
        round.arm_noise_rad =
            round.arm->angle_noise_rad * calc_noise_gain(round.arm->cutoff_hz, take.rate_hz).value;
    }
    round.head_m = calc_head_path(round.club, round.arm ? &*round.arm : nullptr, take.arm_length_m,
                                  take.club_length_m);
    round.shaft_up = calc_elevation(round.club);
    round.speed_deg_s = calc_speed_deg_s(round.club);
    round.frame_u_s = 1.0 / (take.rate_hz * std::sqrt(12.0));
    return round;
}

MomentTime crossing(double t_s, const Curve& curve, double noise, double frame_u_s) {
    MomentTime out;
    out.t_s = t_s;
    out.u_s = combined(noise / std::abs(curve.slope_at(t_s)), frame_u_s);
    return out;
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

/// The calmest window of the club before takeaway. Of windows that are equally calm within 1 %
/// (or 0.05 °/s) the one nearest to takeaway is taken.
TimeRange find_address_window(const Curve& speed_deg_s, double takeaway_s) {
    const double rate = speed_deg_s.rate_hz();
    const auto end = static_cast<std::size_t>(std::floor(takeaway_s * rate + 1e-9)) + 1;
    const auto length = static_cast<std::size_t>(std::lround(kAddressWindow_s * rate)) + 1;
    if (end <= length)
        return {0.0, takeaway_s};
    const auto& v = speed_deg_s.values();
    double best_rms = std::numeric_limits<double>::infinity();
    std::size_t best = end - length;
    for (std::size_t begin = end - length + 1; begin-- > 0;) {
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

/// Angle of the shaft in the swing plane against its direction at address, degrees, unwrapped.
Curve shaft_angle_deg(const SegmentMotion& club, const Vector3d& normal, TimeRange address) {
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
    MomentFinder(const Take& take, const AnalysisOptions& options)
        : take_(take), options_(options) {}

    /// One round about a provisional impact. False: an error was added.
    bool go_round(double impact_s, bool split);

    SwingMoments moments;
    std::vector<Finding> findings;
    Round round;

private:
    bool fail(std::string code, std::string what, std::string mend) {
        findings.push_back(
            {Severity::Error, std::move(code), std::move(what), "", std::move(mend)});
        return false;
    }
    void find_plane(double impact_s);
    bool find_top(double impact_s);
    void find_backswing();
    void find_impact(double provisional_s);
    void find_through();

    const Take& take_;
    const AnalysisOptions& options_;
    Curve along_deg_s_; ///< club within the plane, positive down
};

void MomentFinder::find_plane(double impact_s) {
    const double end = take_.duration_s();
    const auto level = last_crossing(round.shaft_up, 0.0, Direction::Falling, {0.0, impact_s});
    if (level)
        moments[Moment::ShaftLevelDown] =
            crossing(*level, round.shaft_up, round.angle_noise_rad, round.frame_u_s);
    const auto through = first_crossing(round.shaft_up, 0.0, Direction::Rising, {impact_s, end});
    if (through)
        moments[Moment::ShaftLevelThrough] =
            crossing(*through, round.shaft_up, round.angle_noise_rad, round.frame_u_s);
    const double from = level ? *level : impact_s - kLongestPlaneHalf_s;
    const double to =
        through ? *through : std::min(end, level ? impact_s : impact_s + kLongestPlaneHalf_s);
    moments.plane = fit_swing_plane(round.head_m, round.club, {from, to});
}

bool MomentFinder::find_top(double impact_s) {
    along_deg_s_ = calc_speed_along_deg_s(round.club, moments.plane->normal);
    Curve reversing = along_deg_s_;
    double noise = round.rate_noise_deg_s;
    if (options_.top == TopDefinition::LeadArm && round.arm) {
        reversing = calc_speed_along_deg_s(*round.arm, moments.plane->normal);
        noise = deg_from_rad(round.arm->angle_noise_rad *
                             calc_noise_gain(round.arm->cutoff_hz, take_.rate_hz).first_derivative);
    }
    const auto top = last_crossing(reversing, 0.0, Direction::Rising, {0.0, impact_s});
    // Trembling at rest has reversals too: a backswing must lie before the top.
    const auto fastest_back = top ? round.speed_deg_s.find_max({0.0, *top}) : std::nullopt;
    const double fastest_down = round.speed_deg_s.at(impact_s);
    if (!fastest_back || fastest_back->value < kSlowestBackswing * fastest_down)
        return fail("half-a-swing",
                    "The club does not go back before its fastest moment at " + seconds(impact_s) +
                        ": the file holds only part of a swing.",
                    "Record from a second before the takeaway to a second after impact.");
    moments[Moment::Top] = crossing(*top, reversing, noise, round.frame_u_s);
    return true;
}

void MomentFinder::find_backswing() {
    const double top = moments.time_s(Moment::Top);
    // The backswing begins after the club last moved forwards (a waggle, a practice swing).
    const auto downswing = along_deg_s_.find_max({top, take_.duration_s()});
    std::optional<double> forward_end;
    if (downswing)
        forward_end = last_crossing(along_deg_s_, kForwardFraction * downswing->value,
                                    Direction::Falling, {0.0, top});
    const TimeRange backswing{forward_end.value_or(0.0), top};
    const auto fastest = round.speed_deg_s.find_max(backswing);
    std::optional<double> takeaway;
    if (fastest)
        takeaway = last_crossing(round.speed_deg_s, kStillFraction * fastest->value,
                                 Direction::Rising, {backswing.begin_s, fastest->t_s});
    if (!takeaway) {
        findings.push_back({Severity::Warning, "late-start",
                            "The take begins after the takeaway, so there is no address to compare "
                            "with: sway, depth, lift and tempo are not available.",
                            "", "Start recording a second before the takeaway."});
        return;
    }
    moments[Moment::Takeaway] =
        crossing(*takeaway, round.speed_deg_s, round.rate_noise_deg_s, round.frame_u_s);
    moments.address_window = find_address_window(round.speed_deg_s, *takeaway);
    MomentTime address;
    address.t_s = 0.5 * (moments.address_window.begin_s + moments.address_window.end_s);
    moments[Moment::Address] = address;
    if (moments.address_window.duration_s() < 0.9 * kAddressWindow_s)
        findings.push_back({Severity::Warning, "short-address",
                            "There is less than 0.1 s of stillness before the takeaway; what is "
                            "measured against address is less certain.",
                            "", "Start recording a second before the takeaway."});

    const auto shaft = first_crossing(round.shaft_up, 0.0, Direction::Rising, {*takeaway, top});
    if (shaft)
        moments[Moment::ShaftLevelBack] =
            crossing(*shaft, round.shaft_up, round.angle_noise_rad, round.frame_u_s);
}

void MomentFinder::find_impact(double provisional_s) {
    if (take_.contact_s) {
        moments[Moment::Impact] = MomentTime{*take_.contact_s, round.frame_u_s, false};
        moments.impact_source = ImpactSource::Contact;
        return;
    }
    // After shaft level down, and not later than the club needs to come round: half a turn.
    const double from = moments[Moment::ShaftLevelDown] ? moments.time_s(Moment::ShaftLevelDown)
                                                        : moments.time_s(Moment::Top);
    const double fastest = round.speed_deg_s.at(provisional_s);
    const TimeRange window{
        from, std::min(take_.duration_s(), provisional_s + 180.0 / std::max(fastest, 1.0))};
    const bool has_head = !take_.find(Segment::Club)->p_lab_m.empty() && take_.club_length_m;
    if (moments[Moment::Address] && has_head) {
        const Curve head_x = raw_head_x_m(take_);
        const double rest = mean_between(head_x, moments.address_window);
        if (const auto t = first_crossing(head_x, rest, Direction::Rising, window)) {
            const double noise_m = round.club.angle_noise_rad * *take_.club_length_m;
            MomentTime impact;
            impact.t_s = *t;
            // Where the ball was is known to about 2 mm at best; the crossing itself is sharp.
            impact.u_s = combined(combined(noise_m, 0.002) / std::abs(head_x.slope_at(*t)),
                                  0.2 * round.frame_u_s);
            moments[Moment::Impact] = impact;
            moments.impact_source = ImpactSource::ClubHead;
            return;
        }
    }
    if (moments[Moment::Address]) {
        const Curve angle =
            shaft_angle_deg(round.club, moments.plane->normal, moments.address_window);
        if (const auto t = first_crossing(angle, 0.0, Direction::Rising, window)) {
            // Hands ahead of or behind address by a few degrees: taken as 2° standard uncertainty.
            MomentTime impact;
            impact.t_s = *t;
            impact.u_s = combined(2.0 / std::abs(angle.slope_at(*t)), round.frame_u_s);
            moments[Moment::Impact] = impact;
            moments.impact_source = ImpactSource::Shaft;
            return;
        }
    }
    moments[Moment::Impact] = MomentTime{provisional_s, 0.005, false};
    moments.impact_source = ImpactSource::Peak;
}

void MomentFinder::find_through() {
    const double impact = moments.time_s(Moment::Impact);
    const double top = moments.time_s(Moment::Top);
    const double end = take_.duration_s();
    if (round.arm) {
        const auto at = [&](double t) {
            return crossing(t, round.arm_up, round.arm_noise_rad, round.frame_u_s);
        };
        const double begin = moments[Moment::Takeaway] ? moments.time_s(Moment::Takeaway) : 0.0;
        if (const auto t = last_crossing(round.arm_up, 0.0, Direction::Rising, {begin, top}))
            moments[Moment::LeadArmLevelBack] = at(*t);
        if (const auto t = first_crossing(round.arm_up, 0.0, Direction::Falling, {top, impact}))
            moments[Moment::LeadArmLevelDown] = at(*t);
        if (const auto t = first_crossing(round.arm_up, 0.0, Direction::Rising, {impact, end}))
            moments[Moment::TrailArmLevelThrough] = at(*t);
    }
    if (moments[Moment::TrailArmLevelThrough]) {
        const double after = moments.time_s(Moment::TrailArmLevelThrough);
        const auto fastest = round.speed_deg_s.find_max({top, end});
        const double still = fastest ? kStillFraction * fastest->value : 0.0;
        const auto t = first_crossing(round.speed_deg_s, still, Direction::Falling, {after, end});
        moments[Moment::Finish] =
            t ? crossing(*t, round.speed_deg_s, round.rate_noise_deg_s, round.frame_u_s)
              : MomentTime{end, std::numeric_limits<double>::quiet_NaN(), false};
        if (!t)
            findings.push_back({Severity::Note, "finish-cut",
                                "The take ends before the finish; the last frame stands for it.",
                                "", ""});
    }
}

bool MomentFinder::go_round(double impact_s, bool split) {
    moments = SwingMoments{};
    findings.clear();
    round = prepare(take_, options_, split ? std::optional(impact_s) : std::nullopt);
    find_plane(impact_s);
    if (!moments.plane)
        return fail("no-plane", "The club's path about " + seconds(impact_s) + " spans no plane.",
                    "Check that the club columns hold a swing.");
    if (!find_top(impact_s))
        return false;
    find_backswing();
    find_impact(impact_s);
    find_through();
    return true;
}

} // namespace

Outcome<SwingMoments> find_moments(const Take& take, const AnalysisOptions& options) {
    Outcome<SwingMoments> out;
    if (take.find(Segment::Club) == nullptr) {
        out.add({Severity::Error, "no-club",
                 "There is no club in this take, so the moments of the swing cannot be found.", "",
                 "Record the club too."});
        return out;
    }
    MomentFinder finder(take, options);
    finder.round = prepare(take, options, std::nullopt);
    const auto fastest = finder.round.speed_deg_s.find_max({0.0, take.duration_s()});
    if (!fastest || fastest->value < kSlowestSwing_deg_s) {
        std::ostringstream what;
        what << "There is no swing in this take: the club never turns faster than "
             << std::lround(fastest ? fastest->value : 0.0) << " °/s.";
        out.add({Severity::Error, "no-swing", what.str(), "",
                 "A swing passes 1000 °/s; check the file and its units."});
        return out;
    }
    bool ok = finder.go_round(take.contact_s.value_or(fastest->t_s), false);
    // A second round with the impact that the first one found, and a third so that the filter's
    // split and the moments agree.
    for (int i = 0; ok && i < 2; ++i)
        ok = finder.go_round(finder.moments.time_s(Moment::Impact), true);
    out.value = finder.moments;
    out.findings = finder.findings;
    if (ok && finder.moments.impact_source == ImpactSource::Peak)
        out.add({Severity::Warning, "impact-assumed",
                 "Impact could not be seen; the club's fastest moment is taken for it.", "",
                 "Add a contact mark, or club positions."});
    return out;
}

} // namespace kite
