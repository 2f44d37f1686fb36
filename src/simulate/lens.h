#pragma once

#include "simulate/film_marks.h"

namespace kite::simulate {

/// A camera by where it is and the point that it looks at: worked out apart from the one that reads
/// the marks.
class Lens {
public:
    explicit Lens(const FilmCamera& camera);

    Eigen::Vector2d see(const Eigen::Vector3d& p_m) const {
        const Eigen::Vector3d d = p_m - at_m_;
        const double per_m = focal_px_ / d.dot(forward_);
        return middle_px_ + per_m * Eigen::Vector2d(d.dot(right_), -d.dot(up_));
    }
    /// How many pixels a metre is at a place.
    double px_per_m(const Eigen::Vector3d& p_m) const {
        return focal_px_ / (p_m - at_m_).dot(forward_);
    }
    const Eigen::Vector3d& at_m() const { return at_m_; }

    static constexpr double kHips_m = 0.95; ///< height of what it looks at

private:
    double focal_px_;
    Eigen::Vector2d middle_px_;
    Eigen::Vector3d at_m_;
    Eigen::Vector3d right_;
    Eigen::Vector3d up_;
    Eigen::Vector3d forward_;
};

} // namespace kite::simulate
