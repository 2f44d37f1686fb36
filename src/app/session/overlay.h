#pragma once

#include "app/session/swing_loader.h"

#include <memory>
#include <utility>
#include <vector>

namespace kite::app {

/// How a second swing is laid under the one shown.
enum class Alignment {
    Impact,   ///< both at impact
    Top,      ///< both at the top
    Stretched ///< moment to moment: takeaway, top, lead arm level, shaft level, impact
};

/// From the second swing's time to the shown one's and back. Between two anchors time is stretched,
/// beyond them it runs on unstretched.
class OverlayClock {
public:
    OverlayClock() = default;
    /// Empty if the swings have no such moment in common.
    OverlayClock(const Analysis& shown, const Analysis& other, Alignment alignment);

    bool empty() const { return anchors_.empty(); }
    double shown_of(double other_s) const;
    double other_of(double shown_s) const;

private:
    std::vector<std::pair<double, double>> anchors_; ///< other, shown; ascending
};

/// A second swing under the one shown.
struct Overlay {
    std::shared_ptr<const LoadedSwing> swing;
    QString name;
    Alignment alignment = Alignment::Impact;
};

} // namespace kite::app
