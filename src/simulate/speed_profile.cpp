#include "simulate/speed_profile.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace kite::simulate {

namespace {

/// Coefficients of the quintic in u = (t - t0) / T with the knots' values, slopes and bends.
std::array<double, 6> quintic(const QuinticCurve::Knot& a, const QuinticCurve::Knot& b) {
    const double T = b.t_s - a.t_s;
    const double f0 = a.value;
    const double d0 = a.slope * T;
    const double c0 = a.bend * T * T;
    const double f1 = b.value;
    const double d1 = b.slope * T;
    const double c1 = b.bend * T * T;
    return {f0,
            d0,
            0.5 * c0,
            10.0 * (f1 - f0) - 6.0 * d0 - 4.0 * d1 - 1.5 * c0 + 0.5 * c1,
            -15.0 * (f1 - f0) + 8.0 * d0 + 7.0 * d1 + 1.5 * c0 - c1,
            6.0 * (f1 - f0) - 3.0 * (d0 + d1) - 0.5 * (c0 - c1)};
}

} // namespace

QuinticCurve::QuinticCurve(std::vector<Knot> knots) : knots_(std::move(knots)) {
    double sum = 0.0;
    for (std::size_t i = 0; i + 1 < knots_.size(); ++i) {
        integral_before_.push_back(sum);
        sum += piece_integral(knots_[i], knots_[i + 1]);
    }
    integral_before_.push_back(sum);
}

double QuinticCurve::piece_integral(const Knot& from, const Knot& to) {
    const double T = to.t_s - from.t_s;
    return T * (from.value + to.value) / 2.0 + T * T * (from.slope - to.slope) / 10.0 +
           T * T * T * (from.bend + to.bend) / 120.0;
}

double QuinticCurve::at(double t_s) const {
    if (t_s <= knots_.front().t_s)
        return knots_.front().value;
    if (t_s >= knots_.back().t_s)
        return knots_.back().value;
    std::size_t i = 0;
    while (t_s > knots_[i + 1].t_s)
        ++i;
    const auto c = quintic(knots_[i], knots_[i + 1]);
    const double u = (t_s - knots_[i].t_s) / (knots_[i + 1].t_s - knots_[i].t_s);
    return c[0] + u * (c[1] + u * (c[2] + u * (c[3] + u * (c[4] + u * c[5]))));
}

double QuinticCurve::integral_to(double t_s) const {
    if (t_s <= knots_.front().t_s)
        return knots_.front().value * (t_s - knots_.front().t_s);
    if (t_s >= knots_.back().t_s)
        return integral_before_.back() + knots_.back().value * (t_s - knots_.back().t_s);
    std::size_t i = 0;
    while (t_s > knots_[i + 1].t_s)
        ++i;
    const auto c = quintic(knots_[i], knots_[i + 1]);
    const double T = knots_[i + 1].t_s - knots_[i].t_s;
    const double u = (t_s - knots_[i].t_s) / T;
    const double inner =
        u *
        (c[0] + u * (c[1] / 2 + u * (c[2] / 3 + u * (c[3] / 4 + u * (c[4] / 5 + u * c[5] / 6)))));
    return integral_before_[i] + T * inner;
}

SpeedProfile::SpeedProfile(const TurnPlan& plan) : impact_t_s_(plan.impact_t_s) {
    using Knot = QuinticCurve::Knot;
    const double rise_s = plan.peak_t_s - plan.reversal_t_s;
    const double peak = plan.peak_deg_s;

    // Downswing. What stays free is the slope at the reversal and the bend at the peak.
    Knot at_peak{plan.peak_t_s, peak, 0.0, 0.0};
    const double fall_s = plan.impact_t_s - plan.peak_t_s;
    Knot at_impact{plan.impact_t_s, peak * plan.at_impact_share, 0.0, 0.0};
    const bool peaks_at_impact = fall_s < 1e-6;
    if (!peaks_at_impact)
        at_impact.slope = -1.5 * peak * (1.0 - plan.at_impact_share) / fall_s;
    Knot reversal{plan.reversal_t_s, 0.0, 0.0, 0.0};

    const double natural_bend = -peak * 6.0 / (rise_s * rise_s);
    const double natural_slope = peak / rise_s;
    at_peak.bend = natural_bend * 2.0;
    if (!peaks_at_impact) {
        // Between what the rise and what the fall would have by themselves: a rounded, even peak.
        const double fall_bend = -6.0 * (peak - at_impact.value) / (fall_s * fall_s);
        at_peak.bend = std::max(4.0 * natural_bend,
                                -std::sqrt(natural_bend * std::min(fall_bend, natural_bend)));
    }
    const auto angle_gained = [&] {
        return QuinticCurve::piece_integral(reversal, at_peak) +
               (peaks_at_impact ? 0.0 : QuinticCurve::piece_integral(at_peak, at_impact));
    };
    const double wanted_deg = plan.impact_deg - plan.top_deg;
    reversal.slope = 0.0;
    const double short_of = wanted_deg - angle_gained();
    reversal.slope =
        std::clamp(10.0 * short_of / (rise_s * rise_s), 0.15 * natural_slope, 2.2 * natural_slope);
    // The bend at the peak takes up what the slope could not, within a rounded peak.
    const double T3 = rise_s * rise_s * rise_s + (peaks_at_impact ? 0.0 : fall_s * fall_s * fall_s);
    const double left = wanted_deg - angle_gained();
    at_peak.bend =
        std::clamp(at_peak.bend + 120.0 * left / T3, 4.0 * natural_bend, 0.4 * natural_bend);

    // Backswing: one lobe whose depth gives the angle at the top.
    const double back_s = plan.reversal_t_s - plan.takeaway_t_s;
    // A part that turns round sharply is fastest late: else the turning round alone would take most
    // of the way, and the part would hang back until then.
    constexpr double kMostAtTheEnd = 0.6;
    const double slow_s = std::min(
        0.5 * back_s, std::sqrt(10.0 * kMostAtTheEnd * std::abs(plan.top_deg) / reversal.slope));
    const double fastest_t = plan.reversal_t_s - slow_s;
    const double lobe_deg = plan.top_deg + slow_s * slow_s * reversal.slope / 10.0;
    const Knot backswing{fastest_t, 2.0 * lobe_deg / back_s, 0.0, 0.0};

    std::vector<Knot> knots{{plan.takeaway_t_s, 0.0, 0.0, 0.0}, backswing, reversal, at_peak};
    if (!peaks_at_impact)
        knots.push_back(at_impact);
    before_ = QuinticCurve(std::move(knots));

    // After impact the speed dies away with 1 - 2u + 2u^3 - u^4, whose area is 0.3: the time it
    // takes follows from the angle left to the finish. A part that the blow does not touch first
    // carries its slope on and bends into that within 0.08 s.
    const double after_rate = peak * plan.at_impact_share * plan.after_impact_share;
    Knot dying{plan.impact_t_s, after_rate, 0.0, 0.0};
    std::vector<Knot> after;
    double left_deg = std::max(5.0, plan.finish_deg - plan.impact_deg);
    if (plan.after_impact_share == 1.0 && !peaks_at_impact) {
        constexpr double kBending_s = 0.08;
        after.push_back({plan.impact_t_s, after_rate, at_impact.slope, 0.0});
        dying.t_s += kBending_s;
        dying.value = std::max(0.35 * after_rate, after_rate + 0.5 * at_impact.slope * kBending_s);
        left_deg = std::max(5.0, left_deg - 0.5 * (after_rate + dying.value) * kBending_s);
    }
    if (plan.after_gain_share > 0.0) {
        // Still faster for a moment after the ball.
        constexpr double kGaining_s = 0.022;
        after.push_back({plan.impact_t_s, after_rate, 0.0, 0.0});
        dying.t_s += kGaining_s;
        dying.value = after_rate * (1.0 + plan.after_gain_share);
    }
    const double last_s = std::clamp(left_deg / (0.3 * std::max(dying.value, 1.0)), 0.1, 2.0);
    dying.slope = -2.0 * dying.value / last_s;
    after.push_back(dying);
    after.push_back({dying.t_s + last_s, 0.0, 0.0, 0.0});
    after_ = QuinticCurve(std::move(after));
}

double SpeedProfile::rate_deg_s(double t_s, bool after_impact) const {
    if (t_s < impact_t_s_ || (t_s == impact_t_s_ && !after_impact))
        return before_.at(t_s);
    return after_.at(t_s);
}

double SpeedProfile::angle_deg(double t_s) const {
    if (t_s <= impact_t_s_)
        return before_.integral_to(t_s);
    return before_.integral_to(impact_t_s_) + after_.integral_to(t_s);
}

} // namespace kite::simulate
