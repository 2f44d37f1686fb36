#include "core/motion/beside.h"

#include "core/motion/gaps.h"
#include "core/motion/take.h"

#include <algorithm>
#include <cmath>

namespace kite {

using Severity = Finding::Severity;

void attach_forces(Take& take, const ForceRecord& record, std::vector<Finding>& findings) {
    if (!take.lead_force_n.empty())
        findings.push_back({Severity::Note, "force-replaced",
                            "The motion file has forces of its own; those beside it are used.", "",
                            ""});
    double shift_s = 0.0;
    if (take.contact_s && record.contact_s)
        shift_s = *take.contact_s - *record.contact_s;
    else
        findings.push_back({Severity::Note, "force-clock",
                            "The forces' times were counted from the motion's first frame.", "",
                            "Put a contact mark in both files to lay them on each other."});
    std::vector<double> times_s(record.times_s);
    for (double& t_s : times_s)
        t_s += shift_s;
    std::vector<double> frames_s(take.frames);
    for (std::size_t i = 0; i < frames_s.size(); ++i)
        frames_s[i] = take.time_of(i);
    Eigen::MatrixXd samples(static_cast<Eigen::Index>(times_s.size()), 2);
    for (std::size_t i = 0; i < times_s.size(); ++i)
        samples.row(static_cast<Eigen::Index>(i)) << record.lead_n[i], record.trail_n[i];
    GapReport report;
    const Eigen::MatrixXd filled = fill_to_times(times_s, samples, frames_s, report);
    take.lead_force_n.assign(take.frames, 0.0);
    take.trail_force_n.assign(take.frames, 0.0);
    bool any = false;
    for (std::size_t i = 0; i < take.frames; ++i) {
        take.lead_force_n[i] = filled(static_cast<Eigen::Index>(i), 0);
        take.trail_force_n[i] = filled(static_cast<Eigen::Index>(i), 1);
        any = any || std::isfinite(take.lead_force_n[i] + take.trail_force_n[i]);
    }
    take.force_is_share = record.is_share;
    if (any)
        return;
    take.lead_force_n.clear();
    take.trail_force_n.clear();
    findings.push_back({Severity::Warning, "force-outside",
                        "The forces were not recorded during the motion and were not used.",
                        "time_s", "Check the clocks, or put a contact mark in both files."});
}

} // namespace kite
