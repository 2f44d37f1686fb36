#include "core/measures/pressure.h"

#include "core/measures/smoothed_series.h"

#include <cmath>

namespace kite {

namespace {

constexpr double kForceCutoff_hz = 20.0;
constexpr double kLeastTotal_n = 50.0; ///< below this nobody stands on the plates

} // namespace

Pressure calc_pressure(const Take& take, const SwingMoments& moments) {
    Pressure out;
    if (take.lead_force_n.size() != take.frames || take.trail_force_n.size() != take.frames ||
        take.frames == 0)
        return out;
    const auto lead = smoothed(take.lead_force_n, kForceCutoff_hz, take.rate_hz);
    const auto trail = smoothed(take.trail_force_n, kForceCutoff_hz, take.rate_hz);
    std::vector<double> share(lead.size(), kMissing);
    std::vector<double> total(lead.size(), kMissing);
    for (std::size_t i = 0; i < lead.size(); ++i) {
        total[i] = lead[i] + trail[i];
        if (total[i] > (take.force_is_share ? 0.0 : kLeastTotal_n))
            share[i] = 100.0 * lead[i] / total[i];
    }
    out.lead_pct = Curve(std::move(share), take.rate_hz);
    const Curve total_n(std::move(total), take.rate_hz);

    const double takeaway = moments.time_s(Moment::Takeaway);
    const double top = moments.time_s(Moment::Top);
    const double impact = moments.time_s(Moment::Impact);
    if (const auto least =
            out.lead_pct.find_min({std::isfinite(takeaway) ? takeaway : 0.0, impact})) {
        out.lead_min_pct = least->value;
        out.lead_min_t_s = least->t_s;
        out.lead_half_t_s =
            out.lead_pct.find_last_crossing(50.0, Curve::Direction::Rising, {least->t_s, impact})
                .value_or(kMissing);
    }
    if (moments[Moment::Address] && !take.force_is_share) {
        const double weight_n = mean_between(total_n, moments.address_window);
        const auto most = total_n.find_max({top, moments.window_end_s});
        if (most && weight_n > kLeastTotal_n) {
            out.peak_total_bw = most->value / weight_n;
            out.peak_total_t_s = most->t_s;
        }
    }
    return out;
}

} // namespace kite
