#include "core/reading/set_reading.h"

#include "core/base/normal.h"

#include <algorithm>
#include <cmath>
#include <tuple>

namespace kite {

namespace {

/// How often a fault is there, and how strongly.
SetReading::Share judge_on_all(Fault& fault, const std::vector<Reading>& readings) {
    SetReading::Share share;
    share.id = fault.id;
    double sum = 0.0;
    double sum_present = 0.0;
    int overruled = 0;
    const Fault* counted = nullptr;
    for (const Reading& reading : readings) {
        const Fault* here = reading.find(fault.id);
        if (here == nullptr || !here->evidence)
            continue;
        ++share.judged;
        // What was overruled in a swing is not there in it.
        if (here->is_overruled) {
            ++overruled;
            continue;
        }
        counted = here;
        sum += *here->evidence;
        if (here->is_present()) {
            ++share.present;
            sum_present += *here->evidence;
        }
    }
    if (counted != nullptr && fault.is_overruled) {
        fault.is_overruled = false;
        fault.does_not_count = counted->does_not_count;
    }
    if (share.judged == 0) {
        fault.evidence = Evidence();
        return share;
    }
    share.mean_evidence = sum / share.judged;
    std::tie(share.low, share.high) = wilson_interval(share.present, share.judged);
    const bool often = share.present >= 2 && 3 * share.present >= share.judged;
    fault.evidence = overruled == share.judged ? fault.evidence
                     : often                   ? Evidence(sum_present / share.present)
                                               : Evidence(share.mean_evidence);
    return share;
}

} // namespace

SetReading read_set(const std::vector<Reading>& readings) {
    SetReading out;
    out.reading = readings.front();
    for (Fault& fault : out.reading.faults)
        out.shares.push_back(judge_on_all(fault, readings));
    for (Fault& note : out.reading.set_up)
        judge_on_all(note, readings);
    choose(out.reading);

    // The example: of the swings that show the first fix, the one nearest to the set's evidence;
    // without one, the swing with the least evidence of anything.
    const auto off = [&](const Reading& reading) {
        double sum = 0.0;
        for (const Fault& fault : out.reading.faults) {
            const Fault* here = reading.find(fault.id);
            if (here != nullptr && here->evidence && fault.evidence)
                sum += std::abs(*here->evidence - *fault.evidence);
        }
        const Fault* fix = out.reading.first_fix ? reading.find(*out.reading.first_fix) : nullptr;
        return sum +
               (out.reading.first_fix && (fix == nullptr || !fix->is_present()) ? 100.0 : 0.0);
    };
    const auto best =
        std::min_element(readings.begin(), readings.end(),
                         [&](const Reading& a, const Reading& b) { return off(a) < off(b); });
    out.example = static_cast<std::size_t>(best - readings.begin());
    out.reading.good = best->good;
    for (auto* list : {&out.reading.faults, &out.reading.set_up})
        for (Fault& fault : *list)
            if (const Fault* here = best->find(fault.id))
                fault.because = here->because;
    return out;
}

} // namespace kite
