// How well the stated uncertainties hold: simulated swings with known truth, marker noise of 0.3 to
// 1.5 mm and 120 to 500 frames a second. Usage: kite-peak-study [SWINGS]. The figures stand in
// docs/accuracy.md. Inside evidence: the simulator is our own.

#include "core/base/units.h"
#include "core/measures/analyse.h"
#include "simulate/simulate.h"
#include "simulate/truth.h"
#include "study/random_swing.h"

#include <cstdio>
#include <cstdlib>
#include <map>
#include <string>

namespace {

using namespace kite;

/// Errors against stated standard uncertainties.
struct Tally {
    int count = 0;
    int covered = 0;
    double sum_ms = 0.0;
    double sum_squares_ms2 = 0.0;
    double sum_z2 = 0.0;
    double sum_u2 = 0.0;

    void add(double error_s, double u_s) {
        if (!std::isfinite(error_s) || !(u_s > 0.0))
            return;
        ++count;
        covered += std::abs(error_s) <= 1.96 * u_s ? 1 : 0;
        sum_ms += ms_from_s(error_s);
        sum_squares_ms2 += ms_from_s(error_s) * ms_from_s(error_s);
        sum_z2 += error_s * error_s / (u_s * u_s);
        sum_u2 += ms_from_s(u_s) * ms_from_s(u_s);
    }
    void print(const std::string& name) const {
        if (count == 0)
            return;
        const double n = count;
        std::printf("| %-22s | %4d | %6.2f | %5.2f | %5.2f | %5.1f %% |\n", name.c_str(), count,
                    sum_ms / n, std::sqrt(sum_squares_ms2 / n), std::sqrt(sum_u2 / n),
                    100.0 * covered / n);
    }
};

/// How often "P likely" was right.
struct Certainty {
    int sure = 0;
    int sure_right = 0;
    double expected = 0.0;
    int all = 0;
    int all_right = 0;
};

} // namespace

int main(int argc, char** argv) {
    const int swings = argc > 1 ? std::atoi(argv[1]) : 500;
    std::mt19937 random(20261125);
    std::uniform_real_distribution<double> noise_mm(0.3, 1.5);
    constexpr std::array kRates_hz{120.0, 200.0, 240.0, 360.0, 500.0};

    std::map<std::string, Tally> tallies;
    Certainty certainty;
    int failed = 0;
    for (int i = 0; i < swings; ++i) {
        simulate::SwingParameters p = study::random_swing(random);
        p.rate_hz = kRates_hz[static_cast<std::size_t>(i) % kRates_hz.size()];
        p.noise_mm = noise_mm(random);
        p.seed = static_cast<std::uint32_t>(i) + 1;
        const simulate::Truth truth = simulate::calc_truth(simulate::SwingModel(p));
        const Outcome<Analysis> result = analyse(simulate::make_take(p), {});
        if (!result.ok()) {
            ++failed;
            continue;
        }
        const Analysis& a = result.value;
        std::array<double, 4> t_s{};
        for (Segment segment : kSequence) {
            const std::size_t s = index_of(segment);
            t_s[s] = truth.parts[s].peak_t_s;
            const SegmentSequence* part = a.sequence.find(segment);
            const std::string name(key_of(segment));
            tallies["1 peak " + name].add(part->peak_t_s - t_s[s], part->peak_t_u_s);
            char at_rate[64];
            std::snprintf(at_rate, sizeof at_rate, "4 peak %s %3.0f Hz", name.c_str(), p.rate_hz);
            tallies[at_rate].add(part->peak_t_s - t_s[s], part->peak_t_u_s);
            tallies["2 reversal " + name].add(part->reversal_t_s - truth.parts[s].reversal_t_s,
                                              part->reversal_u_s);
        }
        for (const auto& [moment, true_s] : truth.moments_s)
            if (a.moments[moment])
                tallies["3 " + std::string(key_of(moment))].add(a.moments.time_s(moment) - true_s,
                                                                a.moments[moment]->u_s);
        const bool right = t_s[0] < t_s[1] && t_s[1] < t_s[2] && t_s[2] < t_s[3];
        ++certainty.all;
        certainty.all_right += right ? 1 : 0;
        certainty.expected += a.sequence.order_certainty;
        if (a.sequence.order_certainty >= 0.95) {
            ++certainty.sure;
            certainty.sure_right += right ? 1 : 0;
        }
    }
    std::printf("%d swings, %d not analysed\n\n", swings, failed);
    std::printf("| time of                | n    | bias   | RMS   | u     | within |\n");
    std::printf("|------------------------|------|--------|-------|-------|--------|\n");
    for (const auto& [name, tally] : tallies)
        tally.print(name.substr(2));
    std::printf("\nOrder called 95 %% certain: %d swings, right in %d (%.1f %%).\n", certainty.sure,
                certainty.sure_right,
                certainty.sure > 0 ? 100.0 * certainty.sure_right / certainty.sure : 0.0);
    std::printf("Mean certainty %.3f, order true in %.3f of swings.\n",
                certainty.expected / std::max(1, certainty.all),
                static_cast<double>(certainty.all_right) / std::max(1, certainty.all));
    return failed == 0 ? 0 : 1;
}
