#include "app/session/workers.h"

namespace kite::app {

QThreadPool& workers() {
    static QThreadPool pool;
    return pool;
}

} // namespace kite::app
