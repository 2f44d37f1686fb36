#include "formats/results/comparison_table.h"

#include "formats/text/numbers.h"

#include <array>
#include <cmath>
#include <cstdio>

namespace kite::formats {

std::string to_table(const std::vector<MeasureChange>& changes) {
    std::string out;
    const std::vector<MeasureChange> ordered = most_changed_first(changes);
    for (const Verdict verdict : {Verdict::Real, Verdict::NotShown, Verdict::TooFew}) {
        std::string rows;
        for (const MeasureChange& change : ordered) {
            if (change.verdict != verdict)
                continue;
            const int decimals = change.measure->decimals;
            const auto text = [&](double value) { return fixed(value, decimals); };
            const ShownChange shown = as_shown(change);
            std::array<char, 256> row{};
            std::snprintf(row.data(), row.size(), "  %-28s %9s → %9s   change %8s (%s to %s) %s",
                          change.measure->name, text(shown.before).c_str(),
                          text(shown.after).c_str(), text(shown.difference).c_str(),
                          text(change.change.low).c_str(), text(change.change.high).c_str(),
                          change.measure->unit);
            rows += row.data();
            if (std::isfinite(change.further_swings))
                rows += ", about " + fixed(change.further_swings, 0) + " more";
            rows += "\n";
        }
        if (!rows.empty())
            out += (out.empty() ? "" : "\n") + std::string(word_of(verdict)) + "\n" + rows;
    }
    return out + "\nIn brackets: 95 % interval. \"real\" keeps false discoveries below 5 % over "
                 "all measures; "
                 "\"more\": further swings in each set that would settle it.";
}

} // namespace kite::formats
