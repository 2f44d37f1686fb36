// Do the stated uncertainties hold for speed curves of other shapes? Golfers of the study's own
// generator (golfer.h), by part, in each of: peaks close and far apart, 100, 120, 240, 500 frames a
// second, little and much noise. Usage: kite-calibration [SWINGS A CELL]. Its tables stand in
// docs/accuracy.md.

#include "core/base/units.h"
#include "core/measures/analyse.h"
#include "core/measures/marker_take.h"
#include "study/golfer.h"

#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <map>
#include <string>

using namespace kite;

namespace {

struct Tally {
    int count = 0;
    int covered = 0;
    int missing = 0;
    double sum = 0.0;
    double squares = 0.0;
    double u_squares = 0.0;

    void add(double error, double u) {
        if (!std::isfinite(error) || !(u > 0.0)) {
            ++missing;
            return;
        }
        ++count;
        covered += std::abs(error) <= 1.96 * u ? 1 : 0;
        sum += error;
        squares += error * error;
        u_squares += u * u;
    }
    void print(const std::string& name, double scale) const {
        const double n = std::max(1, count);
        std::printf("| %-30s | %4d | %7.2f | %6.2f | %6.2f | %5.1f %% | %3d |\n", name.c_str(),
                    count, scale * sum / n, scale * std::sqrt(squares / n),
                    scale * std::sqrt(u_squares / n), 100.0 * covered / n, missing);
    }
};

} // namespace

int main(int argc, char** argv) {
    const int swings = argc > 1 ? std::atoi(argv[1]) : 100;
    std::map<std::string, Tally> times;
    std::map<std::string, Tally> speeds;
    std::map<std::string, Tally> shapes;
    int failed = 0;
    int sure = 0;
    int sure_right = 0;
    int wrong_sure = 0;
    std::mt19937 random(4711);
    for (double apart_ms : {10.0, 32.0})
        for (double rate_hz : {100.0, 120.0, 240.0, 500.0})
            for (double noise_mm : {0.3, 1.5})
                for (int k = 0; k < swings; ++k) {
                    const study::Golfer golfer = study::draw_golfer(random, apart_ms);
                    const study::Motion motion(golfer);
                    const study::MotionTruth truth = study::truth_of(motion);
                    const Outcome<Take> take = take_from_file_markers(
                        study::capture_markers(motion, rate_hz, noise_mm, golfer.seed), {});
                    const Outcome<Analysis> result = analyse(take.value, {});
                    if (!take.ok() || !result.ok()) {
                        ++failed;
                        if (failed < 5)
                            for (const auto* list : {&take.findings, &result.findings})
                                for (const Finding& f : *list)
                                    std::printf("! %s\n", text_of(f).c_str());
                        continue;
                    }
                    const Analysis& a = result.value;
                    char cell[80];
                    std::snprintf(cell, sizeof cell, "%s %3.0f Hz %.1f mm",
                                  apart_ms < 20 ? "close" : "apart", rate_hz, noise_mm);
                    for (Segment segment : kSequence) {
                        const auto& t = truth.parts[index_of(segment)];
                        const SegmentSequence* part = a.sequence.find(segment);
                        const std::string name(key_of(segment));
                        const SegmentSequence none;
                        const SegmentSequence& p = part == nullptr ? none : *part;
                        times["peak " + name + ", " + cell].add(p.peak_t_s - t.peak_s,
                                                                p.peak_t_u_s);
                        times["peak " + name].add(p.peak_t_s - t.peak_s, p.peak_t_u_s);
                        times["reversal " + name].add(p.reversal_t_s - t.reversal_s,
                                                      p.reversal_u_s);
                        times["reversal " + name + ", " + cell].add(p.reversal_t_s - t.reversal_s,
                                                                    p.reversal_u_s);
                        shapes[name + ", " + study::name_of(golfer.plans[index_of(segment)].shape)]
                            .add(p.peak_t_s - t.peak_s, p.peak_t_u_s);
                        speeds["peak speed " + name + (noise_mm < 1 ? ", 0.3 mm" : ", 1.5 mm")].add(
                            p.peak_deg_s / t.peak_deg_s - 1.0, 0.01);
                        speeds["peak speed " + name + (noise_mm < 1 ? ", 0.3 mm" : ", 1.5 mm") +
                               ", its own interval"]
                            .add(p.peak_deg_s / t.peak_deg_s - 1.0, p.peak_u_deg_s / t.peak_deg_s);
                        const std::string flat =
                            std::isfinite(p.peak_t_s) ? "" : ", peak too flat to be placed";
                        speeds["slow-down " + name + flat].add(
                            (p.slowdown_pct - 100.0 * (1.0 - t.at_impact_deg_s / t.peak_deg_s)) /
                                100.0,
                            p.slowdown_u_pct / 100.0);
                    }
                    const auto& impact = a.moments[Moment::Impact];
                    times["impact"].add(impact ? impact->t_s - motion.impact_s() : NAN,
                                        impact ? impact->u_s : NAN);
                    times[std::string("impact, ") + cell].add(
                        impact ? impact->t_s - motion.impact_s() : NAN, impact ? impact->u_s : NAN);
                    char at[60];
                    std::snprintf(at, sizeof at, ", %3.0f Hz %.1f mm", rate_hz, noise_mm);
                    speeds[std::string("hands") + at].add(a.speed.hands_m_s / truth.hands_m_s - 1.0,
                                                          a.speed.hands_u_m_s / truth.hands_m_s);
                    speeds[std::string("club head") + at].add(
                        a.speed.club_head_m_s / truth.head_m_s - 1.0,
                        a.speed.club_head_u_m_s / truth.head_m_s);
                    const bool right =
                        truth.order() == std::vector<Segment>(kSequence.begin(), kSequence.end());
                    if (a.sequence.order_certainty >= 0.95) {
                        ++sure;
                        sure_right += right ? 1 : 0;
                    }
                    if (a.sequence.order_certainty <= 0.05 && right)
                        ++wrong_sure;
                }
    std::printf("%d not analysed; called 95 %% certain %d, right %d; called under 5 %% though in "
                "order %d\n",
                failed, sure, sure_right, wrong_sure);
    std::printf(
        "| what | n | bias ms | RMS | u | within | none |\n|---|---|---|---|---|---|---|\n");
    for (const auto* list : {&times, &shapes})
        for (const auto& [name, tally] : *list)
            tally.print(name, 1000.0);
    std::printf(
        "| what | n | bias %% | RMS | u | within | none |\n|---|---|---|---|---|---|---|\n");
    for (const auto& [name, tally] : speeds)
        tally.print(name, 100.0);
    return 0;
}
