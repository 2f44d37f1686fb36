#pragma once

#include "core/base/range.h"

#include <QBasicTimer>
#include <QElapsedTimer>
#include <QObject>

namespace kite::app {

/// A cursor in a stretch of time, how much of that is looked at, and play. Whatever shows something
/// over time shares one; none of them talks to another. Times are seconds from the first frame.
class TimeLine : public QObject {
    Q_OBJECT
public:
    explicit TimeLine(QObject* parent = nullptr) : QObject(parent) {}

    bool has_time() const { return rate_hz_ > 0.0; }
    double duration_s() const { return duration_s_; }
    double rate_hz() const { return rate_hz_; }

    double cursor_s() const { return cursor_s_; }
    void set_cursor_s(double t_s);
    void step_frames(int frames);

    TimeRange range() const { return range_; }
    /// Clamped to the whole; shorter than 20 ms is not shown.
    void set_range(TimeRange range);
    /// factor < 1 zooms in; the time under the pointer stays where it is.
    void zoom_at(double t_s, double factor);
    void show_whole();
    bool is_whole() const;

    bool is_playing() const { return timer_.isActive(); }
    void set_playing(bool playing);
    double speed() const { return speed_; } ///< share of real time
    void set_speed(double speed);

signals:
    void cursor_changed();
    void range_changed();
    void play_changed();

protected:
    /// Other contents; nothing is said of it yet. A rate of 0: there are none.
    void set_contents(double duration_s, double rate_hz);
    void put_cursor(double t_s); ///< without a word
    void put_range(TimeRange range);
    virtual void leave_place() {} ///< the cursor has gone elsewhere
    void timerEvent(QTimerEvent* event) override;

private:
    double duration_s_ = 0.0;
    double rate_hz_ = 0.0;
    double cursor_s_ = 0.0;
    TimeRange range_;
    double speed_ = 0.1;
    QBasicTimer timer_;
    QElapsedTimer clock_;
};

} // namespace kite::app
