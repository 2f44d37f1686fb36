#pragma once

#include "core/film/bundle.h"

namespace kite::film {

/// Where the search begins: cameras that stand as their sides say, scales from the lengths, clocks
/// from moments marked in several views or from what both views see move; fills the frames of the
/// bundle. Empty: too little was marked. A single view leaves a side open; it is chosen as a golf
/// swing goes (closed before the line is widest, open after).
std::optional<Eigen::VectorXd> guess(Bundle& bundle);

} // namespace kite::film
