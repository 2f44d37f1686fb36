#pragma once

#include "simulate/swing_model.h"

#include <string_view>
#include <vector>

namespace kite::simulate {

/// Faults that can be planted in a swing, by the ids of the diagnosis.
std::vector<std::string_view> plantable_faults();

/// Changes the parameters so that the fault is there; strength 1 is clear, 0 none, 2 gross.
/// False: this fault cannot be planted.
bool plant(SwingParameters& parameters, std::string_view id, double strength);

} // namespace kite::simulate
