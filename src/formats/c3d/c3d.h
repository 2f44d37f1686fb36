#pragma once

#include "core/motion/markers.h"
#include "formats/c3d/c3d_file.h"
#include "formats/format.h"

#include <filesystem>
#include <string>
#include <string_view>

namespace kite::formats {

int c3d_sureness(std::string_view bytes, const std::filesystem::path& path);

/// Segment poses from the markers named in docs/markers.md. Handedness and club: the options, else
/// the file's KITE_HINGE group, else right and iron. Up: the options, else POINT:Y_SCREEN, else the
/// golfer; target: the options, else the golfer (POINT:X_SCREEN is only a hint and not used).
Outcome<Take> read_c3d(std::string_view bytes, const ReadOptions& options);

/// The markers alone, in metres and in the file's own axes.
Outcome<MarkerTake> markers_from_c3d(C3dFile file, const ReadOptions& options);
Outcome<MarkerTake> read_c3d_markers(std::string_view bytes, const ReadOptions& options);

/// Marker tracks as an Intel C3D with real numbers in millimetres, in the take's own axes; its up
/// axis (+z if it has none) goes into POINT:Y_SCREEN. Gaps are
/// points with negative residual; handedness and club go into the group KITE_HINGE.
Outcome<std::string> write_c3d(const MarkerTake& markers);

} // namespace kite::formats
