#pragma once

#include <string>

namespace kite {

/// A function of a part of the program that is loaded only when it is needed, because the libraries
/// under it would cost every start. Looked for beside the program as it is installed, then in the
/// tree where it was built. Never unloaded: threads of its libraries may outlive what used them.
/// Null: `why` says what was wrong.
void* find_in_part(const std::string& part, const char* function, std::string& why);

} // namespace kite
