#include "app/rooms/rooms.h"

#include "app/rooms/bench/bench_room.h"
#include "app/shell/shell_window.h"

namespace kite::app {

void furnish_rooms(ShellWindow& window) {
    window.add_room(std::make_unique<BenchRoom>(window));
    window.furnish();
}

} // namespace kite::app
