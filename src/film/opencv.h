#pragma once

// For the sources of this folder alone.
#include "film/picture.h"

#include <opencv2/core.hpp>

namespace kite::film {

/// A picture as OpenCV reads it, without a copy: not to be written to.
inline cv::Mat seen(const GreyPicture& picture) {
    return {picture.height_px, picture.width_px, CV_8UC1,
            const_cast<std::uint8_t*>(picture.grey.data())};
}

} // namespace kite::film
