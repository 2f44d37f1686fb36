#include "core/motion/take.h"

namespace kite {

const PoseSeries* Take::find(Segment segment) const {
    const auto found = segments.find(segment);
    return found == segments.end() ? nullptr : &found->second;
}

Eigen::Vector3d mirrored(const Eigen::Vector3d& p_lab) {
    return {p_lab.x(), -p_lab.y(), p_lab.z()};
}

Eigen::Quaterniond mirrored(const Eigen::Quaterniond& q_lab_body) {
    return {q_lab_body.w(), -q_lab_body.x(), q_lab_body.y(), -q_lab_body.z()};
}

void mirror_in_place(Take& take) {
    for (auto& [segment, series] : take.segments) {
        for (auto& q : series.q_lab_segment)
            q = mirrored(q);
        for (auto& p : series.p_lab_m)
            p = mirrored(p);
    }
    for (auto& [point, track] : take.points_lab_m)
        for (auto& p : track)
            p = mirrored(p);
}

} // namespace kite
