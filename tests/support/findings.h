#pragma once

#include "core/base/findings.h"

#include <algorithm>
#include <string>
#include <vector>

namespace kite::test {

/// The first finding of a code; nullptr if there is none.
inline const Finding* find_code(const std::vector<Finding>& findings, const std::string& code) {
    const auto found = std::find_if(findings.begin(), findings.end(),
                                    [&](const Finding& f) { return f.code == code; });
    return found == findings.end() ? nullptr : &*found;
}

inline bool has_code(const std::vector<Finding>& findings, const std::string& code) {
    return find_code(findings, code) != nullptr;
}

/// Every code, for the message of a check that failed.
inline std::string codes_of(const std::vector<Finding>& findings) {
    std::string out;
    for (const Finding& finding : findings)
        out += finding.code + " ";
    return out;
}

} // namespace kite::test
