#include "core/measures/separation.h"

#include "core/motion/gaps.h"

#include <algorithm>
#include <cmath>

namespace kite {

Separation calc_separation(const Curve& separation_deg, const Samples& samples,
                           const SwingMoments& moments) {
    Separation out;
    const double top = moments.time_s(Moment::Top);
    const double impact = moments.time_s(Moment::Impact);
    out.at_top_deg = separation_deg.at(top);
    out.at_impact_deg = separation_deg.at(impact);
    const auto rough = separation_deg.find_max({top, impact});
    if (!rough)
        return out;
    const auto widest = find_highest(samples, {top, impact}, rough->t_s);
    if (!widest)
        return out;
    // Between top and impact an end is a maximum too, but an unseen stretch may hide a larger one.
    if (widest->unseen_s > kLongestFilledGap_s)
        return out;
    out.max_deg = std::max(widest->value, out.at_top_deg);
    out.max_t_s = widest->t_s;
    out.max_t_u_s = widest->u_s;
    out.stretch_deg = out.max_deg - out.at_top_deg;
    // Of a separation near zero a percentage says nothing.
    if (std::abs(out.at_top_deg) >= 1.0)
        out.stretch_pct = out.stretch_deg / out.at_top_deg * 100.0;
    if (impact > out.max_t_s)
        if (const auto closing =
                separation_deg.derivative({out.max_t_s, impact}).find_min({out.max_t_s, impact}))
            out.closing_deg_s = std::max(0.0, -closing->value);
    return out;
}

} // namespace kite
