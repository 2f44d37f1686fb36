#pragma once

#include "core/base/findings.h"
#include "core/reading/rules.h"

#include <string>
#include <string_view>

namespace kite::formats {

/// School files changed in one place, with everything else left as it stands. `bytes`: a school
/// that parse_school takes.

/// The file of a shipped school; empty: there is none of this id.
std::string_view shipped_school_file(const std::string& id);

/// The same school under another name, to be changed.
std::string copy_of_school(std::string_view bytes, const std::string& id, const std::string& name);
/// A limit of its own, in place of the book's.
std::string with_limit(std::string_view bytes, const std::string& limit, const Limit& own,
                       std::string_view unit);
std::string without_limit(std::string_view bytes, const std::string& limit);
/// How often a fault counts in the choice of what to mend first; 1 is taken out.
std::string with_weight(std::string_view bytes, const std::string& fault, double weight);
/// A fault that does not count, with the reason; an empty reason lets it count again.
std::string with_no_fault(std::string_view bytes, const std::string& fault, const std::string& why);

} // namespace kite::formats
