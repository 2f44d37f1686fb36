#include "film/motion.h"

#include "film/opencv.h"

#include <opencv2/imgproc.hpp>

namespace kite::film {

double difference(const GreyPicture& a, const GreyPicture& b) {
    if (a.empty() || a.width_px != b.width_px || a.height_px != b.height_px)
        return 0.0;
    constexpr int kAfar = 8;
    const cv::Size small(std::max(1, a.width_px / kAfar), std::max(1, a.height_px / kAfar));
    const auto from_afar = [&](const GreyPicture& picture) {
        cv::Mat out;
        cv::resize(seen(picture), out, small, 0.0, 0.0, cv::INTER_AREA);
        return out;
    };
    cv::Mat apart;
    cv::absdiff(from_afar(a), from_afar(b), apart);
    return cv::mean(apart)[0];
}

} // namespace kite::film
