// Swings that are known by their rotation speeds alone.

#include "core/measures/analyse.h"
#include "core/measures/rate_moments.h"
#include "support/findings.h"

#include <gtest/gtest.h>

#include <cmath>
#include <limits>

using namespace kite;
using test::codes_of;
using test::find_code;
using test::has_code;

namespace {

constexpr double kTold_hz = 240.0;
constexpr double kImpact_s = 1.75;

double bell(double t, double at_s, double width_s) {
    return std::exp(-0.5 * std::pow((t - at_s) / width_s, 2.0));
}

/// Slow and negative going back, fast and positive coming down, every part with its peak where it
/// is told: the parts' rates as bells, the club stopped short by the ball.
Take rates(std::initializer_list<Segment> parts = {Segment::Pelvis, Segment::Torso,
                                                   Segment::LeadArm, Segment::Club}) {
    Take take;
    take.rate_hz = kTold_hz;
    take.frames = 720;
    take.source = Source::Rates;
    const auto peak_s = [](Segment segment) {
        return segment == Segment::Pelvis    ? 1.64
               : segment == Segment::Torso   ? 1.67
               : segment == Segment::LeadArm ? 1.70
                                             : 1.745;
    };
    const auto peak_deg_s = [](Segment segment) {
        return segment == Segment::Pelvis    ? 480.0
               : segment == Segment::Torso   ? 720.0
               : segment == Segment::LeadArm ? 1000.0
                                             : 2100.0;
    };
    for (Segment segment : parts) {
        auto& rate = take.rates_deg_s[segment];
        for (std::size_t i = 0; i < take.frames; ++i) {
            const double t = take.time_of(i);
            double value =
                peak_deg_s(segment) * (bell(t, peak_s(segment), 0.075) - 0.25 * bell(t, 1.1, 0.15));
            if (segment == Segment::Club && t > kImpact_s)
                value *= 0.75;
            rate.push_back(value);
        }
    }
    return take;
}

} // namespace

TEST(RateTakes, GiveOrderPeaksAndMoments) {
    const Outcome<Analysis> out = analyse(rates(), {});
    ASSERT_TRUE(out.ok()) << codes_of(out.findings);
    const Analysis& swing = out.value;
    const double wanted_s[] = {1.64, 1.67, 1.70, 1.745};
    const double wanted_deg_s[] = {480.0, 720.0, 1000.0, 2100.0};
    for (std::size_t i = 0; i < kSequence.size(); ++i) {
        const SegmentSequence* part = swing.sequence.find(kSequence[i]);
        ASSERT_NE(part, nullptr);
        EXPECT_NEAR(part->peak_t_s, wanted_s[i], i == 3 ? 0.005 : 0.002) << i;
        EXPECT_NEAR(part->peak_deg_s / wanted_deg_s[i], 1.0, 0.03) << i;
    }
    EXPECT_EQ(swing.sequence.order, std::vector<Segment>(kSequence.begin(), kSequence.end()));
    EXPECT_NEAR(swing.moments.time_s(Moment::Impact), kImpact_s, 0.003);
    EXPECT_TRUE(has_code(out.findings, "rates-only"));
    EXPECT_TRUE(has_code(out.findings, "impact-assumed"));
    // The backswing is fastest at 1.1 s and over where the rate changes its sign.
    EXPECT_GT(swing.moments.time_s(Moment::Top), 1.2);
    EXPECT_LT(swing.moments.time_s(Moment::Top), 1.55);
    EXPECT_LT(swing.moments.time_s(Moment::Takeaway), 0.9);
    // Nothing that needs angles.
    EXPECT_TRUE(swing.separation_deg.empty());
    EXPECT_FALSE(swing.separation);
}

TEST(RateTakes, AContactMarkIsImpactAndAMovedMomentStays) {
    Take take = rates();
    take.contact_s = 1.748;
    const Outcome<Analysis> marked = analyse(take, {});
    EXPECT_NEAR(marked.value.moments.time_s(Moment::Impact), 1.748, 1e-12);
    EXPECT_EQ(marked.value.moments.impact_source, ImpactSource::Contact);
    EXPECT_FALSE(has_code(marked.findings, "impact-assumed"));
    AnalysisOptions options;
    options.moved_s[Moment::Impact] = 1.76;
    options.moved_s[Moment::Top] = 1.4;
    const Outcome<Analysis> moved = analyse(take, options);
    EXPECT_NEAR(moved.value.moments.time_s(Moment::Impact), 1.76, 1e-12);
    EXPECT_EQ(moved.value.moments.impact_source, ImpactSource::Hand);
    EXPECT_NEAR(moved.value.moments.time_s(Moment::Top), 1.4, 1e-12);
    EXPECT_TRUE(moved.value.moments[Moment::Top]->moved);
}

TEST(RateTakes, WithoutAClubTheArmLeadsAndImpactIsNotTold) {
    const Outcome<Analysis> out =
        analyse(rates({Segment::Pelvis, Segment::Torso, Segment::LeadArm}), {});
    ASSERT_TRUE(out.ok()) << codes_of(out.findings);
    EXPECT_TRUE(has_code(out.findings, "no-impact"));
    EXPECT_FALSE(out.value.moments[Moment::Impact]);
    EXPECT_EQ(out.value.sequence.order.size(), 3U);
    EXPECT_NEAR(out.value.sequence.find(Segment::LeadArm)->peak_t_s, 1.70, 0.002);
    EXPECT_EQ(out.value.sequence.find(Segment::Club), nullptr);
}

// Neither one part that is turned round, which nobody measures so, nor a single frame's spike is a
// sign or a unit to be mended.
TEST(RateTakes, WhatOnlyLooksLikeAnotherSignIsLeftAsItCame) {
    Take turned = rates();
    for (double& value : turned.rates_deg_s[Segment::Pelvis])
        value = -value;
    Take spiked = rates();
    for (auto& entry : spiked.rates_deg_s)
        entry.second[100] = -9000.0;
    for (Take* take : {&turned, &spiked}) {
        const Take before = *take;
        std::vector<Finding> findings;
        mend_rates(*take, findings);
        EXPECT_TRUE(findings.empty()) << codes_of(findings);
        EXPECT_EQ(take->rates_deg_s, before.rates_deg_s);
    }
}

TEST(RateTakes, SaysWhatIsNoSwing) {
    Take slow = rates();
    for (auto& entry : slow.rates_deg_s)
        for (double& value : entry.second)
            value *= 0.1;
    const Outcome<Analysis> still = analyse(slow, {});
    EXPECT_FALSE(still.ok());
    EXPECT_TRUE(has_code(still.findings, "no-swing")) << codes_of(still.findings);

    Take half = rates();
    for (auto& entry : half.rates_deg_s)
        for (double& value : entry.second)
            value = std::max(value, 0.0);
    const Outcome<Analysis> down = analyse(half, {});
    EXPECT_FALSE(down.ok());
    EXPECT_TRUE(has_code(down.findings, "half-a-swing")) << codes_of(down.findings);

    Take hidden = rates();
    for (auto& entry : hidden.rates_deg_s)
        for (std::size_t i = 0; i < 380; ++i)
            entry.second[i] = std::numeric_limits<double>::quiet_NaN();
    const Outcome<Analysis> lost = analyse(hidden, {});
    EXPECT_FALSE(lost.ok());
    EXPECT_TRUE(has_code(lost.findings, "backswing-hidden")) << codes_of(lost.findings);

    Take none = rates({});
    none.rates_deg_s[Segment::Head] = std::vector<double>(none.frames, 100.0);
    const Outcome<Analysis> nothing = analyse(none, {});
    EXPECT_FALSE(nothing.ok());
    EXPECT_TRUE(has_code(nothing.findings, "no-parts")) << codes_of(nothing.findings);
}

TEST(RateTakes, OneThatBeginsLateHasNoTempo) {
    Take take = rates();
    for (auto& entry : take.rates_deg_s)
        entry.second.erase(entry.second.begin(), entry.second.begin() + 240); // from 1.0 s on
    take.frames -= 240;
    const Outcome<Analysis> out = analyse(take, {});
    ASSERT_TRUE(out.ok()) << codes_of(out.findings);
    EXPECT_TRUE(has_code(out.findings, "late-start"));
    EXPECT_TRUE(std::isnan(out.value.tempo.ratio));
    EXPECT_NEAR(out.value.sequence.find(Segment::Torso)->peak_t_s, 0.67, 0.002);
}

TEST(RateTakes, APeakIsToldAcrossAShortHoleAndNotInALongOne) {
    const auto hidden = [](double from_s, double to_s) {
        Take take = rates();
        for (std::size_t i = 0; i < take.frames; ++i)
            if (take.time_of(i) > from_s && take.time_of(i) < to_s)
                take.rates_deg_s[Segment::Torso][i] = std::numeric_limits<double>::quiet_NaN();
        const Outcome<Analysis> out = analyse(take, {});
        const SegmentSequence* part = out.value.sequence.find(Segment::Torso);
        return part == nullptr ? SegmentSequence{} : *part;
    };
    const SegmentSequence bridged = hidden(1.645, 1.695);
    EXPECT_LT(std::abs(bridged.peak_t_s - 1.67), 3.0 * bridged.peak_t_u_s);
    EXPECT_NEAR(bridged.peak_unseen_s, 0.05, 0.005);
    EXPECT_TRUE(std::isnan(hidden(1.59, 1.75).peak_t_s));
    // Beside its end a summit cannot be told from a slope that goes on.
    EXPECT_TRUE(std::isnan(hidden(1.675, 1.80).peak_t_s));
}

TEST(RateTakes, OneSmoothedRateKeepsItsSuddenStop) {
    std::vector<double> raw;
    for (int i = 0; i < 400; ++i)
        raw.push_back(i <= 200 ? 1000.0 : 600.0);
    const auto part = smooth_rate(raw, kTold_hz, 20.0, 200.5 / kTold_hz);
    EXPECT_NEAR(part.rate_deg_s.values()[200], 1000.0, 1e-6);
    EXPECT_NEAR(part.rate_deg_s.values()[201], 600.0, 1e-6);
    const auto smeared = smooth_rate(raw, kTold_hz, 20.0, std::nullopt);
    EXPECT_LT(smeared.rate_deg_s.values()[200], 900.0);
    // What no filter of this rate can do is not tried.
    EXPECT_LT(smooth_rate(raw, 30.0, 200.0, std::nullopt).cutoff_hz, 15.0);
}
