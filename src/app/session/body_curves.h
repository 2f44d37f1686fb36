#pragma once

#include "core/measures/analyse.h"

#include <vector>

namespace kite::app {

/// A curve of the body that the strip can show.
struct BodyCurve {
    const char* key;  ///< as it is remembered
    const char* name; ///< to be translated
    const char* unit; ///< the curve's own: "m", "°", "%"
    /// The curve of a swing; an empty one where the source does not give it.
    const Curve& (*of)(const Analysis& analysis);
    const char* up;   ///< what the positive direction is called
    const char* down; ///< and the negative one; empty: there is none
};
const std::vector<BodyCurve>& all_body_curves();

} // namespace kite::app
