#include "film/motion.h"

#include <opencv2/core.hpp>
#include <opencv2/imgproc.hpp>

namespace kite::film {

double difference(const GreyPicture& a, const GreyPicture& b) {
    if (a.empty() || a.width_px != b.width_px || a.height_px != b.height_px)
        return 0.0;
    constexpr int kAfar = 8;
    const cv::Size small(std::max(1, a.width_px / kAfar), std::max(1, a.height_px / kAfar));
    const auto from_afar = [&](const GreyPicture& picture) {
        const cv::Mat whole(picture.height_px, picture.width_px, CV_8UC1,
                            const_cast<std::uint8_t*>(picture.grey.data())); // only read
        cv::Mat out;
        cv::resize(whole, out, small, 0.0, 0.0, cv::INTER_AREA);
        return out;
    };
    cv::Mat apart;
    cv::absdiff(from_afar(a), from_afar(b), apart);
    return cv::mean(apart)[0];
}

} // namespace kite::film
