#pragma once

namespace kite {

/// Raised whenever the same capture gives other numbers, faults or words than before. Kept results
/// name the version they were given under and are made again when it has changed.
constexpr int kResultsVersion = 5;

} // namespace kite
