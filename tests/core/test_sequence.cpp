#include "core/base/units.h"
#include "core/measures/separation.h"
#include "core/measures/sequence.h"
#include "core/measures/tempo.h"
#include "reference/scipy_values.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

using namespace kite;

namespace {

constexpr double kSequenceRate_hz = 500.0;

SwingMoments plain_moments() {
    SwingMoments moments;
    moments[Moment::Takeaway] = MomentTime{0.1, 0.001, false};
    moments[Moment::Top] = MomentTime{1.0, 0.001, false};
    moments[Moment::Impact] = MomentTime{1.3, 0.001, false};
    moments.window_end_s = 1.35;
    return moments;
}

/// Back with a half wave until `reversal`, then a parabola with its peak at `peak`; the slopes of
/// the two meet, as those of a real part do.
Curve rate_curve(double reversal_s, double peak_s, double peak_deg_s) {
    std::vector<double> v;
    for (int i = 0; i < 900; ++i) {
        const double t = i / kSequenceRate_hz;
        const double u = (t - peak_s) / (peak_s - reversal_s);
        const double back_deg_s =
            2.0 * peak_deg_s * reversal_s / (3.14159265358979 * (peak_s - reversal_s));
        v.push_back(t < reversal_s ? -back_deg_s * std::sin(3.14159265358979 * t / reversal_s)
                                   : peak_deg_s * (1.0 - u * u));
    }
    return {std::move(v), kSequenceRate_hz};
}

SequenceInput input_with(const std::array<double, 4>& reversals_s,
                         const std::array<double, 4>& peaks_s, double noise_deg_s = 0.0) {
    SequenceInput input;
    input.rate_hz = kSequenceRate_hz;
    std::mt19937 random(3);
    std::normal_distribution<double> noise(0.0, noise_deg_s);
    const std::array speeds{500.0, 750.0, 1000.0, 2200.0};
    for (std::size_t i = 0; i < 4; ++i) {
        SequenceInput::Part part;
        part.rate_deg_s = rate_curve(reversals_s[i], peaks_s[i], speeds[i]);
        part.reversing_deg_s = part.rate_deg_s;
        part.cutoff_hz = 12.0;
        // As a source of rates gives it: the rate itself, with white noise.
        part.turned.rate_hz = kSequenceRate_hz;
        part.turned.x = part.rate_deg_s.values();
        for (double& value : part.turned.x)
            value += noise(random);
        input.parts[i] = part;
    }
    return input;
}

/// calc_sequence lays the curves of its input anew; here nobody looks at them again.
Sequence measured(SequenceInput input, const SwingMoments& moments) {
    return calc_sequence(input, moments);
}

} // namespace

// The curves are closed forms, so reversal, peak, slow-down and gain are known.
TEST(Sequence, MeasuresEveryPart) {
    const Sequence sequence =
        measured(input_with({0.95, 0.97, 0.98, 1.0}, {1.20, 1.22, 1.25, 1.29}), plain_moments());
    const SegmentSequence& pelvis = *sequence.find(Segment::Pelvis);
    EXPECT_NEAR(pelvis.reversal_t_s, 0.95, 1e-3);
    EXPECT_NEAR(pelvis.peak_t_s, 1.20, 1e-6);
    EXPECT_NEAR(pelvis.peak_deg_s, 500.0, 1e-6);
    EXPECT_NEAR(pelvis.before_impact_ms, 100.0, 1e-3);
    EXPECT_NEAR(pelvis.at_impact_deg_s, 500.0 * (1.0 - 0.16), 1e-6); // u = 0.1 / 0.25
    EXPECT_NEAR(pelvis.slowdown_pct, 16.0, 1e-6);
    EXPECT_TRUE(std::isnan(pelvis.gain));
    EXPECT_NEAR(sequence.find(Segment::Torso)->gain, 1.5, 1e-9);
    EXPECT_NEAR(pelvis.max_accel_deg_s2, 500.0 * 2.0 / 0.25,
                200.0); // steepest at the reversal; the curve has a kink there
    EXPECT_NEAR(sequence.fastest_at_ball_ms, -10.0, 1e-3);
    EXPECT_EQ(sequence.order, (std::vector<Segment>(kSequence.begin(), kSequence.end())));
    EXPECT_TRUE(sequence.tied.empty());
    EXPECT_GT(sequence.order_certainty, 0.999);
}

TEST(Sequence, OrdersByPeakTimeAndNamesTies) {
    const Sequence sequence = measured(
        input_with({0.95, 0.97, 0.98, 1.0}, {1.21, 1.2105, 1.19, 1.29}, 20.0), plain_moments());
    // Half a millisecond apart in this noise, pelvis and torso may be found either way round.
    ASSERT_EQ(sequence.order.size(), 4U);
    EXPECT_EQ(sequence.order.front(), Segment::LeadArm);
    EXPECT_EQ(sequence.order.back(), Segment::Club);
    EXPECT_TRUE(sequence.is_tied(Segment::Torso, Segment::Pelvis));
    EXPECT_FALSE(sequence.is_tied(Segment::LeadArm, Segment::Pelvis));
    EXPECT_LT(sequence.order_certainty, 0.01);
}

// How large it must be is checked against drawn noise in test_peak.cpp.
TEST(Sequence, UncertaintyGrowsWithNoiseAndFlatness) {
    const auto calm = measured(input_with({0.95, 0.97, 0.98, 1.0}, {1.20, 1.22, 1.25, 1.29}, 0.0),
                               plain_moments());
    const auto noisy = measured(input_with({0.95, 0.97, 0.98, 1.0}, {1.20, 1.22, 1.25, 1.29}, 40.0),
                                plain_moments());
    EXPECT_GT(calm.find(Segment::Pelvis)->peak_t_u_s, 0.0);
    EXPECT_GT(noisy.find(Segment::Pelvis)->peak_t_u_s,
              3.0 * calm.find(Segment::Pelvis)->peak_t_u_s);
    // The same noise moves the pelvis' flat peak more than the club's sharp one.
    EXPECT_GT(noisy.find(Segment::Pelvis)->peak_t_u_s, noisy.find(Segment::Club)->peak_t_u_s);
}

TEST(Sequence, WorksWithThePartsThereAre) {
    SequenceInput input = input_with({0.95, 0.97, 0.98, 1.0}, {1.20, 1.22, 1.25, 1.29});
    input.parts[1].reset();
    const Sequence sequence = calc_sequence(input, plain_moments());
    EXPECT_EQ(sequence.find(Segment::Torso), nullptr);
    EXPECT_EQ(sequence.order.size(), 3u);
    EXPECT_TRUE(std::isnan(sequence.order_certainty));
    EXPECT_TRUE(std::isnan(sequence.find(Segment::LeadArm)->gain))
        << "there is no torso to compare with";
}

// Two normal times: P(t1 < t2) = Phi((m2 - m1) / sqrt(s1² + s2²)), closed form. Four: SciPy's
// random draws (4 million, so good to about 0.0005).
TEST(OrderCertainty, IsTheProbabilityOfTheOrder) {
    const double expected = 0.5 * std::erfc(-(0.010 / std::hypot(0.006, 0.008)) / std::sqrt(2.0));
    EXPECT_NEAR(calc_order_certainty({0.0, 0.010}, {0.006, 0.008}), expected, 1e-4);
    EXPECT_NEAR(calc_order_certainty({0.0, 0.0}, {0.005, 0.005}), 0.5, 1e-4);
    EXPECT_NEAR(calc_order_certainty({0.0, 0.010, 0.015, 0.040}, {0.006, 0.005, 0.004, 0.003}),
                reference::order_certainty[0], 1e-3);
    EXPECT_TRUE(std::isnan(calc_order_certainty({0.0, 0.01}, {0.005, kMissing})));
    // One known to a tenth of a millisecond, the other to fifty: the sharper one is not stepped
    // over.
    const double unlike = 0.5 * std::erfc(-(0.020 / std::hypot(0.0001, 0.05)) / std::sqrt(2.0));
    EXPECT_NEAR(calc_order_certainty({0.0, 0.020}, {0.0001, 0.05}), unlike, 1e-3);
    EXPECT_NEAR(calc_order_certainty({0.0, 0.020}, {0.05, 0.0001}), unlike, 1e-3);
}

// sep(t) = 40 + 5 sin(pi (t - 1) / 0.2) after the top: 40° at top, most 45° after 0.1 s.
TEST(Separation, FindsStretchAndClosing) {
    std::vector<double> v;
    for (int i = 0; i < 900; ++i)
        v.push_back(40.0 + 5.0 * std::sin(3.14159265358979 * (i / kSequenceRate_hz - 1.0) / 0.2));
    Samples samples;
    samples.x = v;
    samples.rate_hz = kSequenceRate_hz;
    const Separation separation =
        calc_separation(Curve(v, kSequenceRate_hz), samples, plain_moments());
    EXPECT_NEAR(separation.at_top_deg, 40.0, 1e-6);
    EXPECT_NEAR(separation.max_deg, 45.0, 1e-4);
    EXPECT_NEAR(separation.max_t_s, 1.1, 1e-4);
    EXPECT_NEAR(separation.stretch_deg, 5.0, 1e-4);
    EXPECT_NEAR(separation.stretch_pct, 12.5, 1e-3);
    EXPECT_NEAR(separation.at_impact_deg, 35.0, 1e-4);
    EXPECT_NEAR(separation.closing_deg_s, 5.0 * 3.14159265358979 / 0.2, 0.1);
}

TEST(Tempo, IsBackswingOverDownswing) {
    const Tempo tempo = calc_tempo(plain_moments());
    EXPECT_NEAR(tempo.backswing_s, 0.9, 1e-12);
    EXPECT_NEAR(tempo.downswing_s, 0.3, 1e-12);
    EXPECT_NEAR(tempo.ratio, 3.0, 1e-12);
}
