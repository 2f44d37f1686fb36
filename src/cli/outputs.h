#pragma once

#include "core/base/findings.h"
#include "formats/text/bytes.h"

#include <CLI/CLI.hpp>

#include <string>
#include <vector>

namespace kite::cli {

/// What a command writes. It writes over nothing that it reads and over no record, and over another
/// file that is there only if that was said.
struct Outputs {
    bool replace = false;

    /// Adds --overwrite; --force too, where that means nothing else.
    void add_to(CLI::App& command);
    formats::Old old() const { return replace ? formats::Old::Replaced : formats::Old::Stays; }
    /// True, and why was said: `to` may not be written. Asked before any work is done; empty:
    /// nothing is to be written.
    bool refuse(const std::string& to, const std::vector<std::string>& reads) const;
};

/// True, and it was said: not all that was printed was taken by standard output.
bool lost_standard_output();

} // namespace kite::cli
