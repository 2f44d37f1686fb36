#pragma once

#include <QString>

namespace kite::app {

class ShellWindow;

/// All rooms of the program, in the order of the strip, and the window ready to be shown. `record`:
/// the file of the user's record; empty: the usual place.
void furnish_rooms(ShellWindow& window, const QString& record = {});

} // namespace kite::app
