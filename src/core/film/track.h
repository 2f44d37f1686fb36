#pragma once

#include "core/film/marks.h"

#include <optional>
#include <vector>

namespace kite::film {

/// Where a point was marked over time in one view, and what lies between the marks.
class Track {
public:
    void add(double t_s, const Pixel& at) {
        t_s_.push_back(t_s);
        at_.push_back(at);
    }

    struct Place {
        Pixel at;
        double noise = 1.0;   ///< SD of the mark's share, times that of a mark
        double bend_px = 0.0; ///< SD of what lies between the marks
    };
    /// Empty where the marks about that time lie too far apart.
    std::optional<Place> at(double t_s) const;

private:
    std::vector<double> t_s_;
    std::vector<Pixel> at_;
};

} // namespace kite::film
