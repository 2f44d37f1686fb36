#pragma once

#include <QString>

#include <vector>

namespace kite::app {

/// The little pictures that show where a measure is taken.
enum class Sketch { FromAbove, FaceOn, DownTheLine, Peaks, Moments, Wrist };

/// "What is this?" for one measure. Texts are to be translated in the context "measure".
struct MeasureText {
    const char* key; ///< as other parts of the application ask for it
    const char* name;
    const char* definition;
    const char* sign; ///< what positive means, and the unit
    const char* source;
    Sketch sketch;
};
const std::vector<MeasureText>& all_measure_texts();

/// By its key, or by that of a measure of a set ("sequence.pelvis.slowdown_pct", core/sets);
/// nullptr: nobody wrote about it.
const MeasureText* find_measure_text(const QString& key);

} // namespace kite::app
