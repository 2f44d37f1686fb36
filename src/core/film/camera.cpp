#include "core/film/camera.h"

namespace kite::film {

Eigen::Matrix3d nominal_axes(Side side) {
    Eigen::Matrix3d out;
    switch (side) {
    case Side::FaceOn:
        out << 1, 0, 0, 0, 0, 1, 0, 1, 0;
        break;
    case Side::DownTheLine:
        out << 0, -1, 0, 0, 0, 1, 1, 0, 0;
        break;
    case Side::Above:
        out << 1, 0, 0, 0, 1, 0, 0, 0, -1;
        break;
    }
    return out;
}

bool shows_axis(Side side, int axis) {
    return nominal_axes(side)(2, axis) == 0.0;
}

} // namespace kite::film
