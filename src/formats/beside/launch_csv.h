#pragma once

#include "core/base/findings.h"
#include "core/motion/beside.h"

#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace kite::formats {

class NameTable;

/// Launch numbers, a row a shot, in the order of the shots. Columns, each optional, by our name or
/// by one of the table of names ("columns"):
/// club_speed_m_s | _km_h | _mph, ball_speed_…, carry_m | _yd, start_direction_deg, curve_m | _yd,
/// and when it was: time (a clock, a date with one, or seconds) | time_s.
/// Other columns may hold anything. Errors: no such column, no row.
Outcome<std::vector<LaunchNumbers>> read_launch_csv(std::string_view bytes, const NameTable& names);
Outcome<std::vector<LaunchNumbers>> read_launch_csv(const std::filesystem::path& path,
                                                    const NameTable& names);

/// As the record keeps them: an object with those of the fields that are known; "" for none.
std::string to_json(const LaunchNumbers& launch);
/// Empty: there are none.
std::optional<LaunchNumbers> launch_of_json(const std::string& text);

} // namespace kite::formats
