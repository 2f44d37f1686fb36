#pragma once

#include "core/motion/skeleton.h"
#include "formats/format.h"

#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

namespace kite::formats {

/// BVH: a hierarchy of joints with offsets and channels, then a row of channel values a frame.
/// Rotations are applied in the order in which the channels stand, whatever it is.
struct BvhSkeleton {
    struct Joint {
        std::string name; ///< "… end" for an end site
        int parent = -1;
        Eigen::Vector3d offset = Eigen::Vector3d::Zero();
        std::string channels; ///< a letter a channel: X Y Z position, x y z rotation
        std::size_t first_channel = 0;
    };
    std::vector<Joint> joints; ///< parents before children
    std::size_t channels = 0;
    double frame_time_s = 0.0;
    std::vector<float> values; ///< frames × channels

    std::size_t frames() const { return channels == 0 ? 0 : values.size() / channels; }
    /// Positions of all joints in a frame, in the file's axes and unit.
    std::vector<Eigen::Vector3d> positions(std::size_t frame) const;
};

int bvh_sureness(std::string_view bytes, const std::filesystem::path& path);
Outcome<BvhSkeleton> parse_bvh(std::string_view bytes);
Outcome<Take> read_bvh(std::string_view bytes, const ReadOptions& options);

} // namespace kite::formats
