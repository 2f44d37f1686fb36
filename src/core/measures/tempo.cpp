#include "core/measures/tempo.h"

namespace kite {

Tempo calc_tempo(const SwingMoments& moments) {
    Tempo out;
    out.backswing_s = moments.time_s(Moment::Top) - moments.time_s(Moment::Takeaway);
    out.downswing_s = moments.time_s(Moment::Impact) - moments.time_s(Moment::Top);
    out.ratio = out.backswing_s / out.downswing_s;
    return out;
}

} // namespace kite
