#include "formats/results/comparison_table.h"

#include "core/sets/comparison_words.h"
#include "formats/text/numbers.h"

#include <algorithm>

namespace kite::formats {

namespace {

/// To so many letters; bytes are more than letters.
std::string padded(const std::string& text, std::size_t letters, bool right) {
    const auto have = static_cast<std::size_t>(std::count_if(text.begin(), text.end(), [](char c) {
        return (static_cast<unsigned char>(c) & 0xC0U) != 0x80U;
    }));
    const std::string space(have < letters ? letters - have : 0, ' ');
    return right ? space + text : text + space;
}

} // namespace

std::string to_table(const Comparison& comparison) {
    const ComparisonWords words = write_words(comparison);
    std::string out;
    if (!words.answer.empty())
        out += words.answer + "\n";
    out += words.others + "\n";
    for (const std::string& caution : words.cautions)
        out += caution + "\n";
    const std::vector<MeasureChange> ordered = most_changed_first(comparison.measures);
    for (const Verdict verdict : {Verdict::Changed, Verdict::CannotTell, Verdict::Unchanged}) {
        std::string rows;
        for (const MeasureChange& change : ordered) {
            if (change.verdict != verdict)
                continue;
            const ShownChange shown = as_shown(change);
            const auto text = [&](double value) { return fixed(value, shown.decimals); };
            rows += "  " + padded(change.measure->name, 28, false) + " " +
                    padded(text(shown.before), 9, true) + " → " +
                    padded(text(shown.after), 9, true) + "   " +
                    padded(change_words(shown), 24, false) + " " + change.measure->unit;
            if (change.size)
                rows += std::string("  ") + word_of(*change.size);
            if (const std::string further = further_words(change); !further.empty())
                rows += "  " + further;
            rows += "\n";
        }
        if (!rows.empty())
            out += "\n" + std::string(said_word(verdict)) + "\n" + rows;
    }
    return out +
           "\nIn brackets: the interval that the verdict rests on (95 % for the question, wider in "
           "the search over all others, 90 % for what is as before).\nOf the changes found in the "
           "search, 5 % are false on average.";
}

} // namespace kite::formats
