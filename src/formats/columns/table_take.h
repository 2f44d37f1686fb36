#pragma once

#include "core/motion/uniform.h"
#include "formats/reader.h"
#include "formats/text/delimited.h"

#include <string>

namespace kite::formats {

/// What all takes from tables share: handedness, club, contact mark and rate from the comments, and
/// the way of their columns to a uniform time base.
class TableTake {
public:
    TableTake(const DelimitedTable& table, const ReadOptions& options);

    Take& take() { return out_.value; }
    void add(Finding finding) { out_.add(std::move(finding)); }
    /// Checks time_s, resamples, mirrors a left-hander. `mend` is for a table without any part.
    Outcome<Take> finish(const std::string& mend);
    /// For parts that already stand on the base.
    Outcome<Take> finish_on(Outcome<TimeBase> base);
    /// Hands out the findings; one of them is an error.
    Outcome<Take> give_up() { return std::move(out_); }

private:
    bool settle_time(Outcome<TimeBase>& base);
    Outcome<Take> mirrored();

    const DelimitedTable& table_;
    std::optional<double> rate_hz_;
    Outcome<Take> out_;
};

} // namespace kite::formats
