#include "core/base/findings.h"

#include <algorithm>
#include <tuple>

namespace kite {

bool Finding::operator==(const Finding& other) const {
    return std::tie(severity, code, what, where, mend) ==
           std::tie(other.severity, other.code, other.what, other.where, other.mend);
}

std::string text_of(const Finding& finding) {
    std::string text = finding.where.empty() ? finding.what : finding.where + ": " + finding.what;
    if (!finding.mend.empty())
        text += " " + finding.mend;
    return text;
}

bool has_errors(const std::vector<Finding>& findings) {
    return std::any_of(findings.begin(), findings.end(), [](const Finding& finding) {
        return finding.severity == Finding::Severity::Error;
    });
}

bool holds(const std::vector<Finding>& findings, std::string_view code) {
    return std::any_of(findings.begin(), findings.end(),
                       [&](const Finding& finding) { return finding.code == code; });
}

std::string listed(const std::vector<std::string>& words) {
    std::string out;
    for (std::size_t i = 0; i < words.size(); ++i)
        out += (i == 0 ? "" : i + 1 == words.size() ? " and " : ", ") + words[i];
    return out;
}

} // namespace kite
