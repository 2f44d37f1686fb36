#include "app/session/overlay.h"

#include <algorithm>
#include <cmath>

namespace kite::app {

namespace {

using Anchor = std::pair<double, double>;

/// The value on the second side of the anchors at `t` on the first.
template <class From, class To>
double mapped(const std::vector<Anchor>& anchors, double t, From from, To to) {
    if (anchors.empty())
        return std::numeric_limits<double>::quiet_NaN();
    if (t <= from(anchors.front()))
        return to(anchors.front()) + t - from(anchors.front());
    for (std::size_t i = 1; i < anchors.size(); ++i) {
        if (t > from(anchors[i]))
            continue;
        const double share = (t - from(anchors[i - 1])) / (from(anchors[i]) - from(anchors[i - 1]));
        return to(anchors[i - 1]) + share * (to(anchors[i]) - to(anchors[i - 1]));
    }
    return to(anchors.back()) + t - from(anchors.back());
}

double other_side(const Anchor& anchor) {
    return anchor.first;
}
double shown_side(const Anchor& anchor) {
    return anchor.second;
}

} // namespace

OverlayClock::OverlayClock(const Analysis& shown, const Analysis& other, Alignment alignment) {
    std::vector<Moment> moments{Moment::Impact};
    if (alignment == Alignment::Top)
        moments = {Moment::Top};
    if (alignment == Alignment::Stretched)
        moments = {Moment::Takeaway, Moment::Top, Moment::LeadArmLevelDown, Moment::ShaftLevelDown,
                   Moment::Impact};
    for (Moment moment : moments) {
        const Anchor anchor{other.moments.time_s(moment), shown.moments.time_s(moment)};
        const bool ascends = anchors_.empty() || (anchor.first > anchors_.back().first &&
                                                  anchor.second > anchors_.back().second);
        if (std::isfinite(anchor.first) && std::isfinite(anchor.second) && ascends)
            anchors_.push_back(anchor);
    }
}

double OverlayClock::shown_of(double other_s) const {
    return mapped(anchors_, other_s, other_side, shown_side);
}

double OverlayClock::other_of(double shown_s) const {
    return mapped(anchors_, shown_s, shown_side, other_side);
}

} // namespace kite::app
