#pragma once

#include <QThreadPool>

namespace kite::app {

/// The threads that read and measure. Not Qt's own pool: painting waits for that one, and would
/// stand behind every file in the queue.
QThreadPool& workers();

} // namespace kite::app
