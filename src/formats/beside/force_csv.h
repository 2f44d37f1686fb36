#pragma once

#include "core/base/findings.h"
#include "core/base/names.h"
#include "core/motion/beside.h"

#include <filesystem>
#include <string_view>

namespace kite::formats {

class NameTable;

/// Forces under the feet over time. Columns: time_s and lead_force_n, trail_force_n (or left_ and
/// right_force_n), or the share alone: lead_pct (or left_pct, right_pct). A comment
/// "# contact_s: …" on its own clock lets it be laid on the motion. Other names by the table of
/// names ("columns"). Errors: no time, no force, times that go backwards.
Outcome<ForceRecord> read_force_csv(std::string_view bytes, Handedness handed,
                                    const NameTable& names);
Outcome<ForceRecord> read_force_csv(const std::filesystem::path& path, Handedness handed,
                                    const NameTable& names);

} // namespace kite::formats
