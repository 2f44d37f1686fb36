#pragma once

#include "core/base/findings.h"
#include "core/reading/rules.h"

#include <filesystem>
#include <string_view>

namespace kite::formats {

/// Rule and school files: docs/rules.md describes them. Strict: what is not known is an error that
/// says where and how to mend it, and nothing of the file is used then.
Outcome<RuleBook> parse_rule_book(std::string_view bytes);

/// `book`: what a school may name.
Outcome<School> parse_school(std::string_view bytes, const RuleBook& book);

/// The rules that ship with the program; they are part of it and always there.
const RuleBook& shipped_rule_book();
/// The shipped schools, "none" first.
const std::vector<School>& shipped_schools();

/// The shipped rules with a shipped school by its id, or with one from a file.
Outcome<Rules> rules_with_school(const std::string& id_or_path);
/// The shipped rules with no school.
const Rules& plain_rules();

} // namespace kite::formats
