#pragma once

#include "app/session/overlay.h"
#include "app/session/swing_loader.h"
#include "app/session/time_line.h"

#include <memory>
#include <optional>
#include <vector>

namespace kite::app {

struct Reference;

/// The swing that is looked at, on its time line: with the lit parts, the moment that keys would
/// move, what lies under and behind it. Every chart of it shares one.
class ShownSwing : public TimeLine {
    Q_OBJECT
public:
    explicit ShownSwing(QObject* parent = nullptr) : TimeLine(parent) {}

    const std::shared_ptr<const LoadedSwing>& swing() const { return swing_; }
    bool has_swing() const { return swing_ != nullptr && swing_->ok; }
    /// Another swing is looked at in the same place as the last one; the same one measured anew
    /// leaves everything as it is.
    void set_swing(std::shared_ptr<const LoadedSwing> swing);

    double impact_s() const;
    double ms_from_impact(double t_s) const { return 1000.0 * (t_s - impact_s()); }

    /// The moment that keys would move: stepped to or clicked, while the cursor stays there.
    std::optional<Moment> chosen_moment() const { return chosen_; }
    void choose_moment(Moment moment); ///< and goes there
    void step_moment(int direction);   ///< +1 next, -1 previous moment
    /// Asks for a moment to be put elsewhere; steps of one gesture belong together. The swing comes
    /// back measured anew.
    void request_move(Moment moment, double t_s, int gesture);
    int next_gesture() { return ++gestures_; }
    /// Moves the chosen moment by frames; nothing without one.
    void nudge_moment(int frames);

    void show_transition(); ///< from a little before the first reversal to a little after impact

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

signals:
    void swing_changed();
    void chosen_changed();
    void lit_changed();
    void overlay_changed();
    void reference_changed();
    void move_requested(kite::Moment moment, double t_s, int gesture);
    void reset_requested(kite::Moment moment);
    /// Something about the swing that its file does not say, or says wrongly.
    void hand_said(kite::Handedness handed);
    void club_said(kite::ClubKind club);
    void swing_number_said(int number);

private:
    void leave_place() override;
    void set_clock();

    std::shared_ptr<const LoadedSwing> swing_;
    Overlay overlay_;
    OverlayClock overlay_clock_;
    std::shared_ptr<const Reference> reference_;
    std::vector<Segment> lit_;
    std::optional<Moment> chosen_;
    int gestures_ = 0;
    int nudging_ = 0;
};

} // namespace kite::app
