#pragma once

#include "simulate/swing_model.h"

#include <string_view>
#include <vector>

namespace kite::simulate {

/// Faults that can be planted in a swing, by the ids of the diagnosis; each in two ways.
std::vector<std::string_view> plantable_faults();

/// Changes the parameters so that the fault is there; strength 1 is clear, 0 none, 2 gross. `way`
/// is 1 or 2: by another sign or by another movement. False: this fault cannot be planted.
bool plant(SwingParameters& parameters, std::string_view id, double strength, int way = 1);

} // namespace kite::simulate
