#pragma once

#include "core/live/bay.h"

#include <string>
#include <string_view>

/// A swing of the bay in a file: the raw packets, under a head that says where among them it is,
/// how the clocks stood and how the sensors sat (docs/live.md, "The file").
namespace kite::live {

/// A capture's packets begin so long before its swing: they lie in time a little beside what they
/// tell.
inline constexpr double kCaptureBefore_s = 0.5;

/// The head's JSON, on one line.
std::string capture_head(const Bay& bay, const BaySwing& swing);

/// The same capture with its launch numbers, which come some seconds later.
std::string with_launch(std::string_view capture, const LaunchNumbers& launch);

bool is_raw(std::string_view bytes);
/// The swing of a capture. Errors: a damaged file, a recording of more than a swing.
Outcome<Heard> read_capture(std::string_view bytes);

} // namespace kite::live
