#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace kite {

/// What a reader or the analysis noticed about its input: a sentence, its place, and the mend.
struct Finding {
    enum class Severity { Note, Warning, Error };

    Severity severity = Severity::Error;
    std::string code;  ///< stable, for tests and filters, e.g. "time-backwards"
    std::string what;  ///< one sentence in plain words, without the file's name
    std::string where; ///< "line 12, column pelvis_qw", "byte 512"; empty for the whole file
    std::string mend;  ///< what the user can do; may be empty for a note

    bool operator==(const Finding& other) const;
};

/// "line 12: The time goes backwards. Put the rows in order of time."
std::string text_of(const Finding& finding);

bool has_errors(const std::vector<Finding>& findings);
/// Whether there is a finding of this code.
bool holds(const std::vector<Finding>& findings, std::string_view code);

/// "a, b and c", for a sentence.
std::string listed(const std::vector<std::string>& words);

/// Data that may be missing, with what was noticed on the way.
template <class T>
struct Outcome {
    T value{};
    std::vector<Finding> findings;

    bool ok() const { return !has_errors(findings); }
    void add(Finding finding) { findings.push_back(std::move(finding)); }
};

} // namespace kite
