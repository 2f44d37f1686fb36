#include "app/session/time_line.h"

#include <QTimerEvent>

#include <algorithm>
#include <cmath>

namespace kite::app {

namespace {
constexpr int kTick_ms = 16;
constexpr double kShortest_s = 0.02;
} // namespace

void TimeLine::set_contents(double duration_s, double rate_hz) {
    duration_s_ = duration_s;
    rate_hz_ = rate_hz;
}

void TimeLine::put_cursor(double t_s) {
    cursor_s_ = std::clamp(t_s, 0.0, duration_s_);
}

void TimeLine::put_range(TimeRange range) {
    const double length =
        std::clamp(range.duration_s(), std::min(kShortest_s, duration_s_), duration_s_);
    const double begin = std::clamp(range.begin_s, 0.0, duration_s_ - length);
    range_ = {begin, begin + length};
}

void TimeLine::set_cursor_s(double t_s) {
    if (!has_time() || !std::isfinite(t_s))
        return;
    const double before = cursor_s_;
    put_cursor(t_s);
    if (cursor_s_ == before)
        return;
    leave_place();
    // The cursor never leaves the picture: the stretch follows.
    if (cursor_s_ < range_.begin_s)
        set_range({cursor_s_, cursor_s_ + range_.duration_s()});
    else if (cursor_s_ > range_.end_s)
        set_range({cursor_s_ - range_.duration_s(), cursor_s_});
    emit cursor_changed();
}

void TimeLine::step_frames(int frames) {
    if (!has_time())
        return;
    set_playing(false);
    set_cursor_s((std::round(cursor_s_ * rate_hz_) + frames) / rate_hz_);
}

void TimeLine::set_range(TimeRange range) {
    if (!has_time())
        return;
    put_range(range);
    emit range_changed();
}

void TimeLine::zoom_at(double t_s, double factor) {
    const double length = range_.duration_s();
    if (!has_time() || !(length > 0.0))
        return;
    const double share = (t_s - range_.begin_s) / length;
    const double longer =
        std::clamp(length * factor, std::min(kShortest_s, duration_s_), duration_s_);
    set_range({t_s - share * longer, t_s + (1.0 - share) * longer});
}

void TimeLine::show_whole() {
    set_range({0.0, duration_s_});
}

bool TimeLine::is_whole() const {
    return has_time() && range_.duration_s() > duration_s_ - 1e-9;
}

void TimeLine::set_playing(bool playing) {
    if (playing == is_playing() || (playing && !has_time()))
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

void TimeLine::set_speed(double speed) {
    speed_ = speed;
    emit play_changed();
}

void TimeLine::timerEvent(QTimerEvent* event) {
    if (event->timerId() != timer_.timerId())
        return;
    const double passed_s = static_cast<double>(clock_.restart()) / 1000.0;
    const double next = cursor_s_ + passed_s * speed_;
    set_cursor_s(std::min(next, range_.end_s));
    if (next >= range_.end_s)
        set_playing(false);
}

} // namespace kite::app
