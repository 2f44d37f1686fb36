#pragma once

#include <QString>

namespace kite::app {

/// What the instructor said of a swing.
struct SwingMarks {
    bool good = false;
    bool excluded = false; ///< left out of averages
    QString note;

    bool operator==(const SwingMarks& other) const {
        return good == other.good && excluded == other.excluded && note == other.note;
    }
};

} // namespace kite::app
