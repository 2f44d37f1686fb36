#include "core/practice/eye.h"

#include "core/base/missing.h"
#include "core/base/statistics.h"

#include <cmath>
#include <map>

namespace kite {

namespace {

EyeScore score_of(const std::vector<double>& off_deg) {
    const Summary all = summarise(off_deg);
    EyeScore out;
    out.count = all.count;
    out.bias_deg = all.mean;
    out.scatter_deg = all.sd;
    out.bias_u_deg = all.count > 1 ? all.sd / std::sqrt(static_cast<double>(all.count)) : kMissing;
    return out;
}

} // namespace

std::string_view key_of(EyeAngle angle) {
    switch (angle) {
    case EyeAngle::PelvisTurn:
        return "pelvis_turn";
    case EyeAngle::TorsoTurn:
        return "torso_turn";
    case EyeAngle::Separation:
        return "separation";
    }
    return {};
}

std::string_view key_of(EyeView view) {
    return view == EyeView::FaceOn ? "face-on" : "down-the-line";
}

bool EyeGuess::operator==(const EyeGuess& other) const {
    return day == other.day && view == other.view && angle == other.angle &&
           truth_deg == other.truth_deg && said_deg == other.said_deg &&
           truth_order == other.truth_order && said_order == other.said_order;
}

EyeScore score(const std::vector<EyeGuess>& guesses, EyeAngle angle, EyeView view) {
    std::vector<double> off_deg;
    for (const EyeGuess& guess : guesses)
        if (guess.angle == angle && guess.view == view)
            off_deg.push_back(guess.off_deg());
    return score_of(off_deg);
}

EyeOrders score_orders(const std::vector<EyeGuess>& guesses) {
    EyeOrders out;
    for (const EyeGuess& guess : guesses)
        if (!guess.angle) {
            ++out.count;
            out.right += guess.said_order == guess.truth_order ? 1U : 0U;
        }
    return out;
}

std::vector<EyeWeek> by_week(const std::vector<EyeGuess>& guesses, EyeAngle angle) {
    std::map<Date, std::vector<double>> weeks;
    for (const EyeGuess& guess : guesses)
        if (guess.angle == angle && !guess.day.is_special()) {
            const int since_monday = (guess.day.day_of_week().as_number() + 6) % 7;
            weeks[guess.day - boost::gregorian::days(since_monday)].push_back(guess.off_deg());
        }
    std::vector<EyeWeek> out;
    for (const auto& [monday, off_deg] : weeks)
        out.push_back({monday, score_of(off_deg)});
    return out;
}

} // namespace kite
