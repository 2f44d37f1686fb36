#pragma once

#include "core/base/range.h"
#include "core/motion/take.h"

#include <Eigen/Geometry>

#include <cstddef>
#include <vector>

namespace kite {

/// A pose take from some way off: the calm before the swing and its fastest moment.
struct Outline {
    FrameRange calm;
    std::size_t fastest = 0;
    bool swings = false; ///< fast enough for one
};
Outline outline_of(const Take& take);

/// Mean of a few rotations that lie close together; missing where none was seen.
Eigen::Quaterniond mean_rotation(const std::vector<Eigen::Quaterniond>& q, FrameRange frames);

} // namespace kite
