#pragma once

namespace kite::app {

class ShellWindow;

/// All rooms of the program, in the order of the strip, and the window ready to be shown.
void furnish_rooms(ShellWindow& window);

} // namespace kite::app
