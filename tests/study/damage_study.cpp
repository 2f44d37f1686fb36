// Captures as they happen (recipes.h), each with golfers drawn anew: is what comes out right,
// missing with a reason, wrong but told, or wrong without a word? Usage: kite-damage-study [SEEDS
// [WORDS [FIRST]]]; WORDS: only recipes whose name holds them, with every fault explained; FIRST:
// the first seed, for golfers that nobody looked at before. Its table stands in docs/accuracy.md.

#include "core/base/units.h"
#include "core/measures/analyse.h"
#include "core/reading/reading.h"
#include "formats/reader.h"
#include "study/recipes.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <string>

using namespace kite;

namespace {

enum class Outcome5 { Right, Mended, Missing, Told, Silent, Refused };

struct Counts {
    int of[6] = {0, 0, 0, 0, 0, 0};
    int all() const {
        int sum = 0;
        for (int n : of)
            sum += n;
        return sum;
    }
};

struct Check {
    const char* what;
    double value;
    double truth;
    double allowed;
    bool expected = true; ///< the source can give it
};

bool warned(const std::vector<Finding>& findings) {
    return std::any_of(findings.begin(), findings.end(),
                       [](const Finding& f) { return f.severity == Finding::Severity::Warning; });
}

/// Allowed error of a time: what it claims, and not less than a few milliseconds.
double allowed_ms(double u_s, double least_ms) {
    return std::max(least_ms, 2.6 * ms_from_s(u_s));
}

} // namespace

int main(int argc, char** argv) {
    const int seeds = argc > 1 ? std::atoi(argv[1]) : 20;
    const std::string words = argc > 2 ? argv[2] : "";
    const int first_seed = argc > 3 ? std::atoi(argv[3]) : 0;
    Counts total;
    Counts tellable;
    int recipes = 0;
    std::printf("| group | capture | right | mended | missing, said | wrong, told | wrong, silent "
                "| refused "
                "|\n|---|---|---|---|---|---|---|---|\n");
    std::uint32_t number = 0;
    for (const study::Recipe& recipe : study::all_recipes()) {
        ++number;
        if (!words.empty() && (recipe.group + ": " + recipe.name).find(words) == std::string::npos)
            continue;
        ++recipes;
        Counts counts;
        for (int seed = first_seed; seed < first_seed + seeds; ++seed) {
            std::mt19937 random(1000 * number + static_cast<std::uint32_t>(seed));
            study::Golfer golfer = study::draw_golfer(random, 24.0);
            if (recipe.prepare)
                recipe.prepare(golfer, random);
            const study::Capture capture = recipe.make(golfer, random);
            const study::Motion motion(golfer);
            const study::MotionTruth truth = study::truth_of(motion);
            Outcome<Take> take =
                formats::read_take(std::string_view(capture.bytes), capture.name, capture.options);
            std::vector<Finding> findings = take.findings;
            Outcome<Analysis> result;
            if (take.ok()) {
                result = analyse(take.value, capture.analysis);
                findings.insert(findings.end(), result.findings.begin(), result.findings.end());
            }
            Outcome5 outcome = Outcome5::Right;
            std::string faults;
            if (has_errors(findings)) {
                outcome = Outcome5::Refused;
                for (const Finding& f : findings)
                    if (f.severity == Finding::Severity::Error)
                        faults += " " + text_of(f);
            } else {
                const Analysis& a = result.value;
                const bool rates = take.value.segments.empty();
                const bool places = take.value.find(Segment::Pelvis) != nullptr &&
                                    take.value.find(Segment::Pelvis)->has_positions();
                const double shift = capture.shift_s;
                std::vector<Check> checks;
                const auto time = [&](const char* what, double t_s, double u_s, double truth_s,
                                      double least_ms) {
                    checks.push_back({what, ms_from_s(t_s), ms_from_s(truth_s + shift),
                                      allowed_ms(u_s, least_ms)});
                };
                for (Segment segment : kSequence) {
                    const auto* part = a.sequence.find(segment);
                    const auto& t = truth.parts[index_of(segment)];
                    static const char* const kPeak[] = {"pelvis peak", "torso peak", "arm peak",
                                                        "club peak"};
                    static const char* const kBack[] = {"pelvis reversal", "torso reversal",
                                                        "arm reversal", "club reversal"};
                    static const char* const kSpeed[] = {"pelvis speed", "torso speed", "arm speed",
                                                         "club speed"};
                    const std::size_t k = index_of(segment);
                    const SegmentSequence p = part == nullptr ? SegmentSequence{} : *part;
                    time(kPeak[k], p.peak_t_s, p.peak_t_u_s, t.peak_s, 4.0);
                    time(kBack[k], p.reversal_t_s, p.reversal_u_s, t.reversal_s, 4.0);
                    checks.push_back({kSpeed[k], p.peak_deg_s, t.peak_deg_s,
                                      std::max(0.05 * t.peak_deg_s, 2.6 * p.peak_u_deg_s)});
                }
                const auto moment = [&](Moment m, const char* what, double truth_s,
                                        double least_ms) {
                    const auto& at = a.moments[m];
                    time(what, at ? at->t_s : NAN, at ? at->u_s : NAN, truth_s, least_ms);
                };
                moment(Moment::Impact, "impact", motion.impact_s(), 3.0);
                moment(Moment::Top, "top", truth.moments_s.at(Moment::Top), 4.0);
                const double turn = 3.0 + recipe.turn_allowed_deg;
                if (!rates) {
                    const Separation s = a.separation.value_or(Separation{});
                    checks.push_back(
                        {"separation at top", s.at_top_deg, truth.separation_top_deg, turn});
                    checks.push_back({"separation at impact", s.at_impact_deg,
                                      truth.separation_impact_deg, turn});
                    checks.push_back({"pelvis turn at impact",
                                      a.position(Segment::Pelvis, Moment::Impact).turn_deg,
                                      truth.pelvis_turn_impact_deg, turn});
                    checks.push_back({"torso turn at top",
                                      a.position(Segment::Torso, Moment::Top).turn_deg,
                                      truth.torso_turn_top_deg, turn});
                }
                if (!rates && places) {
                    checks.push_back({"sway at impact",
                                      cm_from_m(a.position(Segment::Pelvis, Moment::Impact).sway_m),
                                      cm_from_m(truth.pelvis_sway_impact_m),
                                      1.0 + 0.2 * recipe.turn_allowed_deg});
                    checks.push_back(
                        {"club head speed", a.speed.club_head_m_s, truth.head_m_s,
                         std::max(0.04 * truth.head_m_s, 2.6 * a.speed.club_head_u_m_s)});
                    checks.push_back({"hand speed", a.speed.hands_m_s, truth.hands_m_s,
                                      std::max(0.05 * truth.hands_m_s, 2.6 * a.speed.hands_u_m_s)});
                }
                int wrong = 0;
                int missing = 0;
                for (const Check& check : checks) {
                    if (!std::isfinite(check.value)) {
                        ++missing;
                        faults += std::string(" no ") + check.what + ";";
                    } else if (!(std::abs(check.value - check.truth) <= check.allowed)) {
                        ++wrong;
                        char text[120];
                        std::snprintf(text, sizeof text, " %s %.1f for %.1f (±%.1f);", check.what,
                                      check.value, check.truth, check.allowed);
                        faults += text;
                    }
                }
                const bool in_order =
                    truth.order() == std::vector<Segment>(kSequence.begin(), kSequence.end());
                const double certainty = a.sequence.order_certainty;
                if ((certainty >= 0.95 && !in_order) || (certainty <= 0.02 && in_order)) {
                    ++wrong;
                    faults += " order called certain and wrong;";
                }
                if (take.value.handed != golfer.handed && !rates) {
                    ++wrong;
                    faults += " wrong hand;";
                }
                const bool told = warned(findings);
                outcome = wrong > 0     ? (told ? Outcome5::Told : Outcome5::Silent)
                          : missing > 0 ? (told ? Outcome5::Missing : Outcome5::Silent)
                          : told        ? Outcome5::Mended
                                        : Outcome5::Right;
            }
            ++counts.of[static_cast<int>(outcome)];
            ++total.of[static_cast<int>(outcome)];
            if (recipe.tellable)
                ++tellable.of[static_cast<int>(outcome)];
            if (!words.empty() && !faults.empty()) {
                std::printf("  seed %d:%s\n", seed, faults.c_str());
                for (const Finding& f : findings)
                    if (f.severity != Finding::Severity::Note)
                        std::printf("      %s\n", text_of(f).c_str());
            }
        }
        std::printf("| %s | %s%s |", recipe.group.c_str(), recipe.name.c_str(),
                    recipe.tellable ? "" : " *");
        for (int n : counts.of)
            std::printf(n == 0 ? " |" : " %d |", n);
        std::printf("\n");
        std::fflush(stdout);
    }
    const auto share = [](const Counts& counts, std::initializer_list<Outcome5> which) {
        int n = 0;
        for (Outcome5 o : which)
            n += counts.of[static_cast<int>(o)];
        return 100.0 * n / std::max(1, counts.all());
    };
    std::printf(
        "\n%d recipes (*: not everything can be told from it), %d captures: right %.1f %%, right "
        "after mending %.1f %%, missing with a reason %.1f %%, wrong but told %.1f %%, wrong "
        "without a word %.1f %%, refused %.1f %%.\n",
        recipes, total.all(), share(total, {Outcome5::Right}), share(total, {Outcome5::Mended}),
        share(total, {Outcome5::Missing}), share(total, {Outcome5::Told}),
        share(total, {Outcome5::Silent}), share(total, {Outcome5::Refused}));
    std::printf("Of those that can be told: right %.1f %%, refused %.1f %%.\n",
                share(tellable, {Outcome5::Right, Outcome5::Mended}),
                share(tellable, {Outcome5::Refused}));
    return 0;
}
