#pragma once

#include "core/practice/drill.h"
#include "report/pictures/body_figure.h"

namespace kite::report {

/// A body of usual size in a pose: lab frame as in Figure. For drawing only.
Figure figure_of(const DrillPose& pose);

} // namespace kite::report
