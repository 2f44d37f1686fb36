#include "app/charts/order_glyph.h"
#include "app/session/shown_swing.h"
#include "app/theme/theme.h"
#include "report/pictures/kite_geometry.h"
#include "report/pictures/stair_steps.h"
#include "simulate/simulate.h"

#include <QImage>
#include <QPainter>
#include <gtest/gtest.h>

#include <cmath>

using namespace kite;
using namespace kite::app;

namespace {

Sequence sequence_with(const std::array<double, 4>& peaks_s, double u_s) {
    Sequence out;
    for (std::size_t i = 0; i < 4; ++i) {
        SegmentSequence part;
        part.peak_t_s = peaks_s[i];
        part.peak_t_u_s = u_s;
        part.reversal_t_s = peaks_s[i] - 0.2;
        part.reversal_u_s = u_s;
        out.parts[i] = part;
    }
    return out;
}

std::shared_ptr<LoadedSwing> simulated() {
    auto out = std::make_shared<LoadedSwing>();
    out->take = std::make_shared<Take>(simulate::make_take({}));
    out->analysis = analyse(*out->take, {}).value;
    out->ok = true;
    return out;
}

} // namespace

/// A reading that mends the order of two peaks first.
Reading mends_peaks_of(Segment a, Segment b) {
    Fault fault;
    fault.id = "some-fault";
    fault.evidence = 1.0;
    fault.because.push_back({"", {}, 0.0, {a, b}, About::Peaks});
    Reading out;
    out.faults.push_back(fault);
    out.first_fix = fault.id;
    return out;
}

TEST(StairSteps, ClimbTieAndFallBack) {
    const auto steps = report::stair_of_peaks(sequence_with({1.00, 1.02, 0.98, 0.981}, 0.001),
                                              mends_peaks_of(Segment::Torso, Segment::LeadArm));
    ASSERT_EQ(steps.size(), 4u);
    EXPECT_TRUE(std::isnan(steps[0].after_below_ms));
    EXPECT_NEAR(steps[1].after_below_ms, 20.0, 1e-9);
    EXPECT_FALSE(steps[1].is_named);
    EXPECT_NEAR(steps[2].after_below_ms, -40.0, 1e-9);
    EXPECT_TRUE(steps[2].is_named);
    EXPECT_TRUE(steps[3].is_tied); // 1 ms apart, twice the combined uncertainty is 2.8 ms
    EXPECT_FALSE(steps[3].is_named);
}

// Whatever the times say: where nothing is to mend nothing is lit, and a reason about peaks lights
// no reversal.
TEST(StairSteps, AreLitOnlyWhereTheReadingNamesThem) {
    const Sequence back = sequence_with({1.00, 1.02, 0.98, 1.06}, 0.001);
    for (const report::StairStep& step : report::stair_of_peaks(back, {}))
        EXPECT_FALSE(step.is_named);
    for (const report::StairStep& step :
         report::stair_of_reversals(back, mends_peaks_of(Segment::Torso, Segment::LeadArm)))
        EXPECT_FALSE(step.is_named);
}

TEST(StairSteps, LeaveMissingPartsOut) {
    Sequence sequence = sequence_with({1.00, 1.02, 1.04, 1.06}, 0.001);
    sequence.parts[1].reset();
    sequence.parts[2]->peak_t_s = std::nan("");
    const auto steps = report::stair_of_peaks(sequence, {});
    ASSERT_EQ(steps.size(), 2u);
    EXPECT_NEAR(steps[1].after_below_ms, 60.0, 1e-9);
    EXPECT_EQ(report::stair_of_reversals(sequence, {}).size(), 3u);
}

// A step that is to be mended is drawn in the accent, any other never.
TEST(OrderGlyph, ShowsAStepThatIsToBeMended) {
    const auto has_accent = [](const Sequence& sequence, const Reading& reading) {
        QImage image(68, 68, QImage::Format_RGB32);
        image.fill(colours().surface);
        QPainter painter(&image);
        draw_order_glyph(painter, QRectF(0, 0, 68, 68), sequence, reading);
        painter.end();
        for (int y = 0; y < image.height(); ++y)
            for (int x = 0; x < image.width(); ++x)
                if (image.pixelColor(x, y) == colours().accent)
                    return true;
        return false;
    };
    const Sequence back = sequence_with({1.00, 1.04, 1.02, 1.06}, 0.001);
    EXPECT_FALSE(has_accent(back, {}));
    EXPECT_TRUE(has_accent(back, mends_peaks_of(Segment::Torso, Segment::LeadArm)));
}

// At a time, the drawn lines have the directions that were measured, cross on the pelvis, and the
// angle between them is the separation.
TEST(Kite, OpensByTheSeparation) {
    const auto swing = simulated();
    for (Moment moment : {Moment::Address, Moment::Top, Moment::Impact}) {
        const double t = swing->analysis.moments.time_s(moment);
        const report::KitePicture kite = report::calc_kite(measured(*swing), t);
        ASSERT_TRUE(kite.hips && kite.shoulders);
        EXPECT_NEAR(kite.hips->turn_deg, swing->analysis.position(Segment::Pelvis, moment).turn_deg,
                    0.2);
        EXPECT_NEAR(kite.hips->turn_deg - kite.shoulders->turn_deg, kite.separation_deg, 0.2);
        const Eigen::Vector2d hips = 0.5 * (kite.hips->lead_m + kite.hips->trail_m);
        const Eigen::Vector2d shoulders = 0.5 * (kite.shoulders->lead_m + kite.shoulders->trail_m);
        EXPECT_LT((hips - shoulders).norm(), 1e-9);
        EXPECT_NEAR(hips.x(), swing->analysis.position(Segment::Pelvis, moment).sway_m, 0.002);
    }
    const report::KitePicture top =
        report::calc_kite(measured(*swing), swing->analysis.moments.time_s(Moment::Top));
    EXPECT_LT(top.shoulders->lead_m.y(), top.shoulders->trail_m.y())
        << "closed: the lead shoulder is nearer to the ball";
    ASSERT_TRUE(top.ball_x_m);
    EXPECT_TRUE(top.lead_foot_m->x() > top.trail_foot_m->x());
}

TEST(Kite, DrawsWhatThereIs) {
    const auto swing = simulated();
    auto take = std::make_shared<Take>(*swing->take);
    take->segments.erase(Segment::Torso);
    take->points_lab_m.clear();
    swing->take = take;
    swing->analysis = analyse(*take, {}).value;
    const report::KitePicture kite = report::calc_kite(measured(*swing), 1.0);
    EXPECT_TRUE(kite.hips);
    EXPECT_FALSE(kite.shoulders);
    EXPECT_FALSE(kite.lead_foot_m);
    EXPECT_TRUE(std::isnan(kite.separation_deg));
}

TEST(ShownSwing, ZoomsAroundThePointerAndStaysInTheTake) {
    ShownSwing state;
    state.set_swing(simulated());
    state.set_range({1.0, 2.0});
    state.zoom_at(1.25, 0.5);
    EXPECT_NEAR(state.range().begin_s, 1.125, 1e-9);
    EXPECT_NEAR(state.range().end_s, 1.625, 1e-9);
    state.zoom_at(1.25, 1000.0);
    EXPECT_TRUE(state.is_whole());
    EXPECT_DOUBLE_EQ(state.range().begin_s, 0.0);
    state.set_range({5.0, 5.0001});
    EXPECT_NEAR(state.range().duration_s(), 0.02, 1e-9);
    EXPECT_LE(state.range().end_s, state.swing()->analysis.duration_s + 1e-9);
}

TEST(ShownSwing, StepsFramesAndMoments) {
    ShownSwing state;
    const auto swing = simulated();
    state.set_swing(swing);
    EXPECT_NEAR(state.cursor_s(), swing->analysis.moments.time_s(Moment::Impact), 1e-9);
    state.step_moment(-1);
    EXPECT_NEAR(state.cursor_s(), swing->analysis.moments.time_s(Moment::ShaftLevelDown), 1e-9);
    state.step_moment(1);
    EXPECT_NEAR(state.cursor_s(), swing->analysis.moments.time_s(Moment::Impact), 1e-9);
    const double before = std::round(state.cursor_s() * 240.0);
    state.step_frames(2);
    EXPECT_NEAR(state.cursor_s() * 240.0, before + 2.0, 1e-6);
    for (int i = 0; i < 20; ++i)
        state.step_moment(1);
    EXPECT_NEAR(state.cursor_s(), swing->analysis.moments.time_s(Moment::Finish), 1e-9)
        << "stays at the last one";
}
