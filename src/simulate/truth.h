#pragma once

#include "core/base/names.h"
#include "simulate/swing_model.h"

#include <array>
#include <map>

namespace kite::simulate {

/// What a perfect measurement would find in the model: the definitions of docs/measures.md applied
/// to the exact poses by plain dense sampling, without filter, frames or noise. Times in s from the
/// first frame. Inside evidence only: it checks accuracy, not the definitions themselves.
struct Truth {
    struct Part {
        double reversal_t_s = 0.0;
        double peak_t_s = 0.0;
        double peak_deg_s = 0.0;
        double at_impact_deg_s = 0.0;
    };
    struct Trunk {
        double turn_deg = 0.0;
        double side_tilt_deg = 0.0;
        double forward_bend_deg = 0.0;
        double sway_m = 0.0;
        double depth_m = 0.0;
        double lift_m = 0.0;
    };
    std::map<Moment, double> moments_s; ///< from takeaway to shaft level through
    std::array<Part, 4> parts;
    std::map<Moment, Trunk> pelvis;
    std::map<Moment, Trunk> torso;
    std::map<Moment, double> hinge_deg;     ///< angle between lead arm and shaft
    std::map<Moment, double> knee_flex_deg; ///< lead knee
    std::map<Moment, double> lead_force_pct;
    double hands_m_s = 0.0; ///< just before impact
    double club_head_m_s = 0.0;
    double separation_at_top_deg = 0.0;
    double separation_max_deg = 0.0;
    double separation_at_impact_deg = 0.0;
};

Truth calc_truth(const SwingModel& model);

} // namespace kite::simulate
