#pragma once

#include "core/base/findings.h"
#include "core/practice/drill.h"
#include "core/reading/rules.h"

#include <string_view>

namespace kite::formats {

/// Drill files: docs/practice.md describes them. Strict, as rule files are. `rules`: the faults
/// that a drill may name.
Outcome<DrillBook> parse_drill_book(std::string_view bytes, const RuleBook& rules);

/// The drills that ship with the program; they are part of it and always there.
const DrillBook& shipped_drills();

} // namespace kite::formats
