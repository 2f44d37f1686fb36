#pragma once

/// What a golfer and a club can be and do, in one place. Wide on purpose: these limits tell swaps,
/// spikes, wrong units and turned axes from people, not people from each other. Sizes:
/// anthropometry of children from about 1.2 m to adults of 2.1 m, from memory; speeds: well above
/// what is published of professionals (club head 60 m/s, hands 12 m/s).
namespace kite::plausible {

struct Span {
    double low = 0.0;
    double high = 0.0;
    constexpr bool holds(double value) const { return value >= low && value <= high; }
};

// Sizes, m.
inline constexpr Span kPelvisWidth_m{0.15, 0.42}; ///< between the ASIS
inline constexpr Span kTrunk_m{0.28, 0.75};       ///< mid-PSIS to C7
inline constexpr Span kOrigins_m{0.22, 0.75};     ///< pelvis' origin to torso's
inline constexpr Span kArm_m{0.38, 0.90};         ///< shoulder to wrist
inline constexpr Span kShank_m{0.25, 0.60};       ///< knee to ankle
inline constexpr Span kHipHeight_m{0.45, 1.35};   ///< hips above the ankles or the ground

// Rotation speeds at the fastest, °/s.
inline constexpr Span kPelvisPeak_deg_s{120.0, 900.0};
inline constexpr Span kTorsoPeak_deg_s{180.0, 1300.0};
inline constexpr Span kArmPeak_deg_s{300.0, 1900.0};
inline constexpr Span kClubPeak_deg_s{600.0, 3600.0};
inline constexpr double kMostTurn_deg_s = 4500.0; ///< of anything that a golfer swings

/// Torso against pelvis, °. The most supple players' is about 70.
inline constexpr double kMostSeparation_deg = 110.0;

// Speeds of markers, m/s.
inline constexpr double kFastestClub_m_s = 80.0;
inline constexpr double kFastestHand_m_s = 25.0;
inline constexpr double kFastestBody_m_s = 10.0;

/// Markers of a rigid cluster stay within this of their distances, m (skin moves over bone).
inline constexpr double kRigid_m = 0.015;
/// A cluster that fits its shape no better than this (RMS) is not used, m.
inline constexpr double kDeformed_m = 0.02;
/// A single point this far from the line of its neighbours in time is no movement, m.
inline constexpr double kSpike_m = 0.03;

// Times, s.
inline constexpr Span kDownswing_s{0.12, 0.60};
inline constexpr Span kRate_hz{20.0, 5000.0};

} // namespace kite::plausible
