#include "core/measures/marker_take.h"

#include "core/measures/events.h"
#include "core/motion/marker_mend.h"
#include "core/motion/orientation.h"
#include "core/motion/stillness.h"

#include <cmath>

namespace kite {

Outcome<Take> take_from_file_markers(MarkerTake markers, const AxisHints& hints) {
    Outcome<Take> out;
    check_unit(markers, out.findings);
    if (has_errors(out.findings))
        return out;
    const std::optional<FrameRange> calm = mend_markers(markers, out.findings);
    const Outcome<Setting> setting = find_setting(markers, hints, calm);
    out.findings.insert(out.findings.end(), setting.findings.begin(), setting.findings.end());
    if (!setting.ok())
        return out;
    markers.handed = setting.value.handed;
    rotate_to_lab(markers, setting.value.axes);
    Outcome<Take> take = take_from_markers(std::move(markers));
    out.value = std::move(take.value);
    out.value.file_axes = setting.value.axes;
    out.findings.insert(out.findings.end(), take.findings.begin(), take.findings.end());
    return out;
}

Outcome<Take> take_from_markers(MarkerTake markers) {
    mirror_markers(markers);
    Outcome<Take> arms = arms_from_markers(markers);
    const auto frame_at = [&](double t_s) {
        return static_cast<std::size_t>(std::lround(t_s * markers.rate_hz));
    };
    const auto window = find_address(arms.value);
    const FrameRange address =
        window ? FrameRange{frame_at(window->begin_s), frame_at(window->end_s) + 1}
               : find_calm_before_swing(markers);
    return add_trunk_from_markers(markers, address, std::move(arms));
}

} // namespace kite
