#pragma once

#include "formats/format.h"

#include <string>
#include <string_view>

/// Pose CSV, version 1: Kite Hinge's own open format. Quaternions scalar first, unit, body → lab,
/// positions in metres, in the lab frame as measured (left-handed swings are not yet mirrored).
/// The columns are described in docs/pose-csv.md.
namespace kite::formats {

int pose_csv_sureness(std::string_view bytes, const std::filesystem::path& path);
Outcome<Take> read_pose_csv(std::string_view bytes, const ReadOptions& options);

/// The take as pose CSV. A left-handed take is mirrored back, so that the file holds the lab frame
/// as measured. Missing values are left empty.
std::string write_pose_csv(const Take& take);

} // namespace kite::formats
