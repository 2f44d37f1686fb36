#pragma once

#include "core/practice/plan.h"

#include <optional>
#include <string>
#include <vector>

namespace kite {

// Training the instructor's eye: what was estimated of a figure, against what it was.

enum class EyeAngle { PelvisTurn, TorsoTurn, Separation };
inline constexpr std::array kEyeAngles{EyeAngle::PelvisTurn, EyeAngle::TorsoTurn,
                                       EyeAngle::Separation};
enum class EyeView { FaceOn, DownTheLine };
inline constexpr std::array kEyeViews{EyeView::FaceOn, EyeView::DownTheLine};

/// Keys as they stand in files.
std::string_view key_of(EyeAngle angle); ///< "pelvis_turn"
std::string_view key_of(EyeView view);   ///< "face-on"

/// One estimate. An angle in degrees, positive open, or an order by the keys of its parts.
struct EyeGuess {
    Date day;
    EyeView view = EyeView::FaceOn;
    std::optional<EyeAngle> angle; ///< empty: an order
    double truth_deg = 0.0;
    double said_deg = 0.0;
    std::string truth_order; ///< "pelvis torso lead_arm club"
    std::string said_order;

    double off_deg() const { return said_deg - truth_deg; }
    bool operator==(const EyeGuess& other) const;
};

/// How an eye sees one angle from one side. NaN where there are too few.
struct EyeScore {
    std::size_t count = 0;
    double bias_deg = 0.0;    ///< mean of said minus true: positive sees it too open
    double bias_u_deg = 0.0;  ///< its standard uncertainty, from the scatter
    double scatter_deg = 0.0; ///< SD about the bias
};
EyeScore score(const std::vector<EyeGuess>& guesses, EyeAngle angle, EyeView view);
/// Of the orders: how many were right.
struct EyeOrders {
    std::size_t count = 0;
    std::size_t right = 0;
};
EyeOrders score_orders(const std::vector<EyeGuess>& guesses);

/// One week's estimates of an angle from both sides, by the Monday it begins with, oldest first.
struct EyeWeek {
    Date monday;
    EyeScore score;
};
std::vector<EyeWeek> by_week(const std::vector<EyeGuess>& guesses, EyeAngle angle);

} // namespace kite
