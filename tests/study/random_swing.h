#pragma once

#include "simulate/golfers.h"
#include "simulate/swing_model.h"

#include <cmath>
#include <random>

namespace kite::study {

/// A golfer drawn at random: any club, right- or left-handed, with peaks from far apart to out of
/// order, so that some orders are plain and some are close.
inline simulate::SwingParameters random_swing(std::mt19937& random) {
    const auto uniform = [&](double low, double high) {
        return std::uniform_real_distribution<double>(low, high)(random);
    };
    constexpr std::array kClubs{ClubKind::Driver, ClubKind::Wood, ClubKind::Iron, ClubKind::Wedge};
    simulate::SwingParameters p =
        simulate::typical_swing(kClubs[static_cast<std::size_t>(uniform(0.0, 3.999))]);
    p.handed = uniform(0.0, 1.0) < 0.2 ? Handedness::Left : Handedness::Right;
    simulate::scatter(p, random, 1.5);
    p.lead_arm.peak_before_ms = uniform(30.0, 55.0);
    p.torso.peak_before_ms = p.lead_arm.peak_before_ms + uniform(-5.0, 25.0);
    p.pelvis.peak_before_ms = std::max(52.0, p.torso.peak_before_ms + uniform(-10.0, 35.0));
    // What is left at impact goes with how early the peak was: a peak that falls to two thirds
    // within 0.02 s is no body's.
    const auto slow_down = [](simulate::PartParameters& part, double usual_ms, double usual_loss) {
        const double early = part.peak_before_ms / usual_ms;
        part.at_impact_share = std::max(0.4, 1.0 - usual_loss * early * early);
    };
    slow_down(p.pelvis, 85.0, 0.32);
    slow_down(p.torso, 58.0, 0.34);
    slow_down(p.lead_arm, 45.0, 0.30);
    // The club: from the ball to a little before it, with a rounded top.
    if (uniform(0.0, 1.0) < 0.5) {
        p.club_turn.peak_before_ms = uniform(0.0, 15.0);
        p.club_turn.at_impact_share = 1.0 - std::pow(p.club_turn.peak_before_ms / 100.0, 2);
    }
    // Frames fall anywhere on the swing.
    p.lead_in_s = uniform(0.5, 0.52);
    return p;
}

} // namespace kite::study
