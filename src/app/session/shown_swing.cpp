#include "app/session/shown_swing.h"

#include <algorithm>
#include <cmath>

namespace kite::app {

namespace {
constexpr double kBeforeTransition_s = 0.06;
constexpr double kAfterImpact_s = 0.10;
} // namespace

double ShownSwing::impact_s() const {
    return has_swing() ? swing_->analysis.moments.reference_s() : 0.0;
}

void ShownSwing::set_swing(std::shared_ptr<const LoadedSwing> swing) {
    if (swing == swing_)
        return;
    if (has_swing() && swing && swing->ok && swing->take == swing_->take) {
        swing_ = std::move(swing);
        set_clock();
        emit swing_changed();
        emit cursor_changed();
        return;
    }
    chosen_.reset();
    const bool was_whole = has_swing() && is_whole();
    const double from_impact_s = has_swing() ? cursor_s() - impact_s() : 0.0;
    const bool keep_place = has_swing();
    set_playing(false);
    swing_ = std::move(swing);
    set_contents(has_swing() ? swing_->analysis.duration_s : 0.0,
                 has_swing() ? swing_->analysis.rate_hz : 0.0);
    set_clock();
    lit_.clear();
    if (has_swing()) {
        // The next swing is looked at in the same place as the last one.
        put_cursor(keep_place ? impact_s() + from_impact_s : impact_s());
        if (was_whole)
            put_range({0.0, duration_s()});
        else
            show_transition();
    }
    emit swing_changed();
    emit range_changed();
    emit cursor_changed();
    emit lit_changed();
}

void ShownSwing::leave_place() {
    if (!chosen_)
        return;
    chosen_.reset();
    emit chosen_changed();
}

void ShownSwing::set_clock() {
    overlay_clock_ =
        has_swing() && overlay_.swing
            ? OverlayClock(swing_->analysis, overlay_.swing->analysis, overlay_.alignment)
            : OverlayClock{};
}

void ShownSwing::set_overlay(Overlay overlay) {
    overlay_ = std::move(overlay);
    set_clock();
    emit overlay_changed();
}

void ShownSwing::set_reference(std::shared_ptr<const Reference> reference) {
    if (!reference && !reference_)
        return;
    reference_ = std::move(reference);
    emit reference_changed();
}

void ShownSwing::step_moment(int direction) {
    if (!has_swing())
        return;
    set_playing(false);
    constexpr double kSame_s = 1e-4;
    double best = std::numeric_limits<double>::quiet_NaN();
    std::optional<Moment> found;
    for (Moment moment : kAllMoments) {
        const double t = swing_->analysis.moments.time_s(moment);
        const bool ahead = direction > 0 ? t > cursor_s() + kSame_s : t < cursor_s() - kSame_s;
        if (ahead && !(std::abs(best - cursor_s()) <= std::abs(t - cursor_s()))) {
            best = t;
            found = moment;
        }
    }
    if (found)
        choose_moment(*found);
}

void ShownSwing::choose_moment(Moment moment) {
    if (!has_swing() || !std::isfinite(swing_->analysis.moments.time_s(moment)))
        return;
    set_cursor_s(swing_->analysis.moments.time_s(moment));
    chosen_ = moment;
    nudging_ = next_gesture();
    emit chosen_changed();
}

void ShownSwing::request_move(Moment moment, double t_s, int gesture) {
    if (!has_swing())
        return;
    const double put_s = std::clamp(t_s, 0.0, swing_->analysis.duration_s);
    emit move_requested(moment, put_s, gesture);
    set_cursor_s(put_s);
    chosen_ = moment;
    emit chosen_changed();
}

void ShownSwing::nudge_moment(int frames) {
    if (!has_swing() || !chosen_)
        return;
    set_playing(false);
    request_move(*chosen_, cursor_s() + frames / swing_->analysis.rate_hz, nudging_);
}

void ShownSwing::show_transition() {
    if (!has_swing())
        return;
    const double first = swing_->analysis.transition.first_reversal_s;
    const double top = swing_->analysis.moments.time_s(Moment::Top);
    const double from = std::isfinite(first) ? std::min(first, top) : top;
    set_range({from - kBeforeTransition_s, impact_s() + kAfterImpact_s});
}

bool ShownSwing::is_lit(Segment segment) const {
    return lit_.empty() || std::find(lit_.begin(), lit_.end(), segment) != lit_.end();
}

void ShownSwing::set_lit(std::vector<Segment> segments) {
    if (segments == lit_)
        return;
    lit_ = std::move(segments);
    emit lit_changed();
}

} // namespace kite::app
