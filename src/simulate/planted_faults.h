#pragma once

#include "simulate/swing_model.h"

#include <string_view>
#include <vector>

namespace kite::simulate {

/// Faults that can be planted in a swing, by the ids of the diagnosis.
std::vector<std::string_view> plantable_faults();

/// Those of them that can be planted in a second way: by another of the signs that they are told
/// by.
std::vector<std::string_view> faults_with_two_ways();

/// Changes the parameters so that the fault is there; strength 1 is clear, 0 none, 2 gross. `way`
/// is 1 or 2. False: this fault cannot be planted so.
bool plant(SwingParameters& parameters, std::string_view id, double strength, int way = 1);

} // namespace kite::simulate
