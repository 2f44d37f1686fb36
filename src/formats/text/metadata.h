#pragma once

#include "core/base/findings.h"
#include "core/motion/take.h"
#include "formats/format.h"
#include "formats/text/delimited.h"

#include <optional>
#include <string>
#include <string_view>

namespace kite::formats {

/// What the comments of a table say of the whole take, the same for every kind of table.
struct Metadata {
    Handedness handed = Handedness::Right;
    bool handed_said = false; ///< by the file or by the options
    ClubKind club = ClubKind::Iron;
    bool club_said = false;
    std::optional<double> rate_hz;
    std::optional<double> contact_s; ///< on the clock of the time column
};

/// "line 4, handed".
std::string comment_place(const DelimitedTable& table, std::string_view key);

/// A word that is there but says nothing known is an error, never taken for something else.
Outcome<Metadata> read_metadata(const DelimitedTable& table, const ReadOptions& options);

/// The times of the rows in seconds: the column time_s; without it, even times from the rate that
/// the comments declare; times that were written in milliseconds are told by their size. Errors:
/// neither times nor a rate.
Outcome<std::vector<double>> read_times(const DelimitedTable& table, const Metadata& metadata);

/// The contact mark, if it lies within the times; a warning otherwise.
std::optional<double> contact_within(const DelimitedTable& table, const Metadata& metadata,
                                     const std::vector<double>& times_s,
                                     std::vector<Finding>& findings);

} // namespace kite::formats
