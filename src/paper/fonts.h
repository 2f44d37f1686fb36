#pragma once

#include <QFont>

namespace kite::paper {

inline const char* const kFamily = "Lato";

/// Makes the shipped fonts known; needs a QGuiApplication. More than once does nothing more.
void load_fonts();

} // namespace kite::paper
