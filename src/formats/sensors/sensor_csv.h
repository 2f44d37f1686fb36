#pragma once

#include "formats/format.h"

#include <filesystem>
#include <string_view>

namespace kite::formats {

/// Sensor CSV (inertial): time_s; <segment>_gx_dps, _gy_dps, _gz_dps; <segment>_ax_g, _ay_g, _az_g;
/// optionally <segment>_qw, _qx, _qy, _qz. Axes are the segment's unless a comment
/// "# mount_<segment>: w x y z" (sensor → segment) says otherwise.
int sensor_csv_sureness(std::string_view bytes, const std::filesystem::path& path);
Outcome<Take> read_sensor_csv(std::string_view bytes, const ReadOptions& options);

} // namespace kite::formats
