#include "app/session/bench_state.h"

#include <QTimerEvent>

#include <algorithm>
#include <cmath>

namespace kite::app {

namespace {
constexpr int kTick_ms = 16;
constexpr double kShortest_s = 0.02;
constexpr double kBeforeTransition_s = 0.06;
constexpr double kAfterImpact_s = 0.10;
} // namespace

BenchState::BenchState(QObject* parent) : QObject(parent) {}

double BenchState::impact_s() const {
    return has_swing() ? swing_->analysis.moments.reference_s() : 0.0;
}

void BenchState::set_swing(std::shared_ptr<const LoadedSwing> swing) {
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
    const double from_impact_s = has_swing() ? cursor_s_ - impact_s() : 0.0;
    const bool keep_place = has_swing();
    set_playing(false);
    swing_ = std::move(swing);
    set_clock();
    lit_.clear();
    if (has_swing()) {
        // The next swing is looked at in the same place as the last one.
        const double end = swing_->analysis.duration_s;
        cursor_s_ = std::clamp(keep_place ? impact_s() + from_impact_s : impact_s(), 0.0, end);
        if (was_whole)
            range_ = {0.0, end};
        else
            show_transition();
    }
    emit swing_changed();
    emit range_changed();
    emit cursor_changed();
    emit lit_changed();
}

void BenchState::set_cursor_s(double t_s) {
    if (!has_swing() || !std::isfinite(t_s))
        return;
    const double clamped = std::clamp(t_s, 0.0, swing_->analysis.duration_s);
    if (clamped == cursor_s_)
        return;
    cursor_s_ = clamped;
    if (chosen_) {
        chosen_.reset();
        emit chosen_changed();
    }
    // The cursor never leaves the picture: the stretch follows.
    if (cursor_s_ < range_.begin_s)
        set_range({cursor_s_, cursor_s_ + range_.duration_s()});
    else if (cursor_s_ > range_.end_s)
        set_range({cursor_s_ - range_.duration_s(), cursor_s_});
    emit cursor_changed();
}

void BenchState::set_clock() {
    overlay_clock_ =
        has_swing() && overlay_.swing
            ? OverlayClock(swing_->analysis, overlay_.swing->analysis, overlay_.alignment)
            : OverlayClock{};
}

void BenchState::set_overlay(Overlay overlay) {
    overlay_ = std::move(overlay);
    set_clock();
    emit overlay_changed();
}

void BenchState::set_reference(std::shared_ptr<const Reference> reference) {
    if (!reference && !reference_)
        return;
    reference_ = std::move(reference);
    emit reference_changed();
}

void BenchState::step_frames(int frames) {
    if (!has_swing())
        return;
    set_playing(false);
    const double rate = swing_->analysis.rate_hz;
    set_cursor_s((std::round(cursor_s_ * rate) + frames) / rate);
}

void BenchState::step_moment(int direction) {
    if (!has_swing())
        return;
    set_playing(false);
    constexpr double kSame_s = 1e-4;
    double best = std::numeric_limits<double>::quiet_NaN();
    std::optional<Moment> found;
    for (Moment moment : kAllMoments) {
        const double t = swing_->analysis.moments.time_s(moment);
        const bool ahead = direction > 0 ? t > cursor_s_ + kSame_s : t < cursor_s_ - kSame_s;
        if (ahead && !(std::abs(best - cursor_s_) <= std::abs(t - cursor_s_))) {
            best = t;
            found = moment;
        }
    }
    if (found)
        choose_moment(*found);
}

void BenchState::choose_moment(Moment moment) {
    if (!has_swing() || !std::isfinite(swing_->analysis.moments.time_s(moment)))
        return;
    set_cursor_s(swing_->analysis.moments.time_s(moment));
    chosen_ = moment;
    nudging_ = next_gesture();
    emit chosen_changed();
}

void BenchState::request_move(Moment moment, double t_s, int gesture) {
    if (!has_swing())
        return;
    const double put_s = std::clamp(t_s, 0.0, swing_->analysis.duration_s);
    emit move_requested(moment, put_s, gesture);
    set_cursor_s(put_s);
    chosen_ = moment;
    emit chosen_changed();
}

void BenchState::nudge_moment(int frames) {
    if (!has_swing() || !chosen_)
        return;
    set_playing(false);
    request_move(*chosen_, cursor_s_ + frames / swing_->analysis.rate_hz, nudging_);
}

void BenchState::set_range(TimeRange range) {
    if (!has_swing())
        return;
    const double whole = swing_->analysis.duration_s;
    const double length = std::clamp(range.duration_s(), std::min(kShortest_s, whole), whole);
    const double begin = std::clamp(range.begin_s, 0.0, whole - length);
    range_ = {begin, begin + length};
    emit range_changed();
}

void BenchState::zoom_at(double t_s, double factor) {
    const double length = range_.duration_s();
    if (!has_swing() || !(length > 0.0))
        return;
    const double share = (t_s - range_.begin_s) / length;
    const double longer = std::clamp(length * factor, kShortest_s, swing_->analysis.duration_s);
    set_range({t_s - share * longer, t_s + (1.0 - share) * longer});
}

void BenchState::show_transition() {
    if (!has_swing())
        return;
    const double first = swing_->analysis.transition.first_reversal_s;
    const double top = swing_->analysis.moments.time_s(Moment::Top);
    const double from = std::isfinite(first) ? std::min(first, top) : top;
    set_range({from - kBeforeTransition_s, impact_s() + kAfterImpact_s});
}

void BenchState::show_whole() {
    if (has_swing())
        set_range({0.0, swing_->analysis.duration_s});
}

bool BenchState::is_whole() const {
    return has_swing() && range_.duration_s() > swing_->analysis.duration_s - 1e-9;
}

bool BenchState::is_lit(Segment segment) const {
    return lit_.empty() || std::find(lit_.begin(), lit_.end(), segment) != lit_.end();
}

void BenchState::set_lit(std::vector<Segment> segments) {
    if (segments == lit_)
        return;
    lit_ = std::move(segments);
    emit lit_changed();
}

void BenchState::set_playing(bool playing) {
    if (playing == is_playing() || (playing && !has_swing()))
        return;
    if (playing) {
        if (cursor_s_ >= range_.end_s - 1e-6)
            set_cursor_s(range_.begin_s); // played to the end: once more
        clock_.start();
        timer_.start(kTick_ms, Qt::PreciseTimer, this);
    } else {
        timer_.stop();
    }
    emit play_changed();
}

void BenchState::set_speed(double speed) {
    speed_ = speed;
    emit play_changed();
}

void BenchState::timerEvent(QTimerEvent* event) {
    if (event->timerId() != timer_.timerId())
        return;
    const double passed_s = static_cast<double>(clock_.restart()) / 1000.0;
    const double next = cursor_s_ + passed_s * speed_;
    set_cursor_s(std::min(next, range_.end_s));
    if (next >= range_.end_s)
        set_playing(false);
}

} // namespace kite::app
