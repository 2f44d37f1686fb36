#include "simulate/golfers.h"

namespace kite::simulate {

SwingParameters typical_swing(ClubKind club) {
    SwingParameters p;
    p.club = club;
    const auto scale_speed = [&](double body, double head) {
        for (Segment segment : {Segment::Pelvis, Segment::Torso, Segment::LeadArm})
            p.part(segment).peak_deg_s *= body;
        p.club_turn.peak_deg_s *= head;
    };
    switch (club) {
    case ClubKind::Driver:
        scale_speed(1.03, 1.08);
        p.club_turn.top_deg -= 6.0;
        p.torso.impact_deg -= 3.0;
        break;
    case ClubKind::Wood:
        scale_speed(1.02, 1.05);
        break;
    case ClubKind::Iron:
        break;
    case ClubKind::Wedge:
        scale_speed(0.9, 0.9);
        p.club_turn.top_deg += 22.0;
        p.lead_arm.top_deg += 10.0;
        p.lead_arm.impact_deg += 2.0;
        p.torso.top_deg += 8.0;
        p.pelvis.top_deg += 6.0;
        p.pelvis_path.impact_m.x() = 0.08;
        p.pelvis_path.arm_level_down_m.x() = 0.05;
        break;
    }
    return p;
}

void scatter(SwingParameters& p, std::mt19937& random, double amount) {
    std::normal_distribution<double> normal(0.0, amount);
    p.backswing_s *= 1.0 + 0.02 * normal(random);
    for (Segment segment : kSequence) {
        PartParameters& part = p.part(segment);
        part.reversal_before_ms += 5.0 * normal(random);
        // The club stays fastest at the ball or just before it.
        if (segment != Segment::Club)
            part.peak_before_ms += 2.0 * normal(random);
        part.peak_deg_s *= 1.0 + 0.015 * normal(random);
        part.top_deg += 1.2 * normal(random);
        part.impact_deg += 1.2 * normal(random);
    }
    p.pelvis_path.top_m.x() += 0.004 * normal(random);
    p.pelvis_path.impact_m.x() += 0.006 * normal(random);
}

} // namespace kite::simulate
