#pragma once

#include "app/session/overlay.h"
#include "app/session/swing_loader.h"
#include "core/base/range.h"

#include <QBasicTimer>
#include <QElapsedTimer>
#include <QObject>

#include <memory>
#include <optional>
#include <vector>

namespace kite::app {

struct Reference;

/// What the Bench shows: the swing, the time cursor, the visible stretch, the lit parts, and play.
/// Every chart shares it; none talks to another. Times are seconds from the swing's first frame.
class BenchState : public QObject {
    Q_OBJECT
public:
    explicit BenchState(QObject* parent = nullptr);

    const std::shared_ptr<const LoadedSwing>& swing() const { return swing_; }
    bool has_swing() const { return swing_ != nullptr && swing_->ok; }
    /// Another swing is looked at in the same place as the last one; the same one measured anew
    /// leaves everything as it is.
    void set_swing(std::shared_ptr<const LoadedSwing> swing);

    double cursor_s() const { return cursor_s_; }
    void set_cursor_s(double t_s);
    double impact_s() const;
    double ms_from_impact(double t_s) const { return 1000.0 * (t_s - impact_s()); }

    /// The moment that keys would move: stepped to or clicked, while the cursor stays there.
    std::optional<Moment> chosen_moment() const { return chosen_; }
    void choose_moment(Moment moment); ///< and goes there
    /// Asks for a moment to be put elsewhere; steps of one gesture belong together. The swing comes
    /// back measured anew.
    void request_move(Moment moment, double t_s, int gesture);
    int next_gesture() { return ++gestures_; }
    /// Moves the chosen moment by frames; nothing without one.
    void nudge_moment(int frames);

    void step_frames(int frames);
    void step_moment(int direction); ///< +1 next, -1 previous moment

    TimeRange range() const { return range_; }
    /// Clamped to the take; shorter than 20 ms is not shown.
    void set_range(TimeRange range);
    /// factor < 1 zooms in; the time under the pointer stays where it is.
    void zoom_at(double t_s, double factor);
    void show_transition(); ///< from a little before the first reversal to a little after impact
    void show_whole();
    bool is_whole() const;

    /// The second swing under this one; without a swing there is none.
    const Overlay& overlay() const { return overlay_; }
    void set_overlay(Overlay overlay);
    const OverlayClock& overlay_clock() const { return overlay_clock_; }
    bool has_overlay() const {
        return has_swing() && overlay_.swing && overlay_.swing != swing_ && !overlay_clock_.empty();
    }

    /// The set behind the swing; null: none.
    const std::shared_ptr<const Reference>& reference() const { return reference_; }
    void set_reference(std::shared_ptr<const Reference> reference);

    const std::vector<Segment>& lit() const { return lit_; }
    bool is_lit(Segment segment) const; ///< true for all while none is chosen
    void set_lit(std::vector<Segment> segments);

    bool is_playing() const { return timer_.isActive(); }
    void set_playing(bool playing);
    double speed() const { return speed_; } ///< share of real time
    void set_speed(double speed);

signals:
    void swing_changed();
    void cursor_changed();
    void range_changed();
    void chosen_changed();
    void lit_changed();
    void overlay_changed();
    void reference_changed();
    void play_changed();
    void move_requested(kite::Moment moment, double t_s, int gesture);
    void reset_requested(kite::Moment moment);
    /// Something about the swing that its file does not say, or says wrongly.
    void hand_said(kite::Handedness handed);
    void club_said(kite::ClubKind club);
    void swing_number_said(int number);

protected:
    void timerEvent(QTimerEvent* event) override;

private:
    void set_clock();

    std::shared_ptr<const LoadedSwing> swing_;
    double cursor_s_ = 0.0;
    TimeRange range_;
    Overlay overlay_;
    OverlayClock overlay_clock_;
    std::shared_ptr<const Reference> reference_;
    std::vector<Segment> lit_;
    std::optional<Moment> chosen_;
    int gestures_ = 0;
    int nudging_ = 0;
    double speed_ = 0.1;
    QBasicTimer timer_;
    QElapsedTimer clock_;
};

} // namespace kite::app
