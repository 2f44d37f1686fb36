#include "simulate/lens.h"

#include "core/base/units.h"

#include <cmath>

namespace kite::simulate {

using Eigen::Vector3d;

Lens::Lens(const FilmCamera& c) : focal_px_(c.focal_px), middle_px_(0.5 * c.size_px) {
    const Vector3d hips(0.0, 0.0, kHips_m);
    const double beside = rad_from_deg(c.beside_deg);
    Vector3d top(0.0, 0.0, 1.0);
    if (c.side == film::Side::Above) {
        at_m_ = hips + c.distance_m * Vector3d(0.0, std::sin(beside), std::cos(beside));
        top = Vector3d(0.0, 1.0, 0.0);
    } else {
        // Measured from where the golfer looks, or from where the ball goes.
        const double from = c.side == film::Side::FaceOn ? -90.0 : 180.0;
        const double angle = rad_from_deg(from) + beside;
        at_m_ =
            Vector3d(c.distance_m * std::cos(angle), c.distance_m * std::sin(angle), c.height_m);
    }
    Vector3d forward = hips - at_m_;
    // Held level: a phone on a stand looks along the floor unless it nods.
    if (c.side != film::Side::Above)
        forward.z() = 0.0;
    forward.normalize();
    Vector3d right = forward.cross(top).normalized();
    Vector3d up = right.cross(forward);
    const auto turn = [](Vector3d& a, Vector3d& b, double by_deg) {
        const double by = rad_from_deg(by_deg);
        const Vector3d kept = a;
        a = std::cos(by) * a + std::sin(by) * b;
        b = std::cos(by) * b - std::sin(by) * kept;
    };
    turn(forward, right, c.pan_deg);
    turn(forward, up, c.nod_deg);
    turn(right, up, c.lean_deg);
    right_ = right;
    up_ = up;
    forward_ = forward;
}

} // namespace kite::simulate
