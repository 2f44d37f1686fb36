// How well planted faults are found: each fault, several strengths, golfers who differ, right- and
// left-handed, with and without noise of the markers. Prints the table of docs/faults.md.
// Usage: kite-fault-study [GOLFERS]

#include "core/base/units.h"
#include "core/reading/reading.h"
#include "formats/rules/rules_json.h"
#include "simulate/golfers.h"
#include "simulate/planted_faults.h"
#include "simulate/simulate.h"

#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <map>
#include <string>
#include <utility>
#include <vector>

using namespace kite;

namespace {

/// Another golfer for every seed: body, tempo and speed differ.
simulate::SwingParameters golfer(std::uint32_t seed) {
    std::mt19937 random(seed * 7919U + 17U);
    std::uniform_real_distribution<double> even(-1.0, 1.0);
    simulate::SwingParameters p =
        simulate::typical_swing(seed % 3 == 2 ? ClubKind::Driver : ClubKind::Iron);
    simulate::scatter(p, random, 0.7);
    p.handed = seed % 2 == 0 ? Handedness::Right : Handedness::Left;
    const double size = 1.0 + 0.07 * even(random);
    for (double* length :
         {&p.arm_length_m, &p.hip_joint_width_m, &p.hip_height_m, &p.thigh_m, &p.shank_m})
        *length *= size;
    const double speed = 1.0 + 0.08 * even(random);
    for (Segment segment : kSequence)
        p.part(segment).peak_deg_s *= speed;
    p.backswing_s *= 1.0 + 0.12 * even(random);
    p.seed = seed + 1;
    return p;
}

struct Count {
    int swings = 0;
    int listed = 0;
    int first = 0;
    int nothing = 0;
    std::map<std::string, int> instead;
};

void look(const simulate::SwingParameters& parameters, const std::string& planted, Count& count) {
    const auto analysis = analyse(simulate::make_take(parameters), {});
    if (!analysis.ok())
        return;
    const Reading reading = read_swing(analysis.value, formats::plain_rules());
    ++count.swings;
    const Fault* fault = reading.find(planted);
    count.listed += fault != nullptr && fault->evidence && *fault->evidence >= 0.5 ? 1 : 0;
    const std::string first = reading.first_fix.value_or("nothing");
    count.first += first == planted ? 1 : 0;
    count.nothing += first == "nothing" ? 1 : 0;
    if (first != (planted.empty() ? "nothing" : planted))
        ++count.instead[first];
}

/// The two that were taken for it most often.
std::string most(const Count& count) {
    std::vector<std::pair<int, std::string>> sorted;
    for (const auto& [id, n] : count.instead)
        sorted.emplace_back(n, id);
    std::sort(sorted.rbegin(), sorted.rend());
    std::string out;
    for (std::size_t i = 0; i < std::min<std::size_t>(2, sorted.size()); ++i)
        out +=
            (i == 0 ? "" : ", ") + sorted[i].second + " (" + std::to_string(sorted[i].first) + ")";
    return out.empty() ? "–" : out;
}

double share(int part, int whole) {
    return whole == 0 ? 0.0 : 100.0 * part / whole;
}

} // namespace

int main(int argc, char** argv) {
    const auto golfers = static_cast<std::uint32_t>(argc > 1 ? std::atoi(argv[1]) : 10);
    for (const double noise_mm : {0.0, 1.0}) {
        std::printf("\nMarker noise %.0f mm.\n\n| planted | strength | swings | listed | first "
                    "fix | instead, most often |\n|---|---|---|---|---|---|\n",
                    noise_mm);
        Count all;
        const auto study = [&](std::string_view id, int way) {
            for (const double strength : {0.6, 1.0, 1.5}) {
                Count count;
                for (std::uint32_t seed = 0; seed < golfers; ++seed) {
                    simulate::SwingParameters p = golfer(seed);
                    p.noise_mm = noise_mm;
                    simulate::plant(p, id, strength, way);
                    look(p, std::string(id), count);
                }
                std::printf("| %s%s | %.1f | %d | %.0f %% | %.0f %% | %s |\n",
                            std::string(id).c_str(), way == 2 ? ", second way" : "", strength,
                            count.swings, share(count.listed, count.swings),
                            share(count.first, count.swings), most(count).c_str());
                if (strength >= 1.0) {
                    all.swings += count.swings;
                    all.listed += count.listed;
                    all.first += count.first;
                }
            }
        };
        for (std::string_view id : simulate::plantable_faults())
            study(id, 1);
        for (std::string_view id : simulate::plantable_faults())
            study(id, 2);
        Count good;
        for (std::uint32_t seed = 0; seed < 10 * golfers; ++seed) {
            simulate::SwingParameters p = golfer(seed);
            p.noise_mm = noise_mm;
            look(p, "", good);
        }
        std::printf("\nStrength 1 and more: listed in %.1f %%, the first fix in %.1f %% of %d. "
                    "Good swings: nothing to mend in %.1f %% of %d (else %s).\n",
                    share(all.listed, all.swings), share(all.first, all.swings), all.swings,
                    share(good.nothing, good.swings), good.swings, most(good).c_str());
    }
    return 0;
}
