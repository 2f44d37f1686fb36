#pragma once

#include "core/motion/uniform.h"
#include "formats/format.h"
#include "formats/text/delimited.h"
#include "formats/text/metadata.h"

#include <string>
#include <vector>

namespace kite::formats {

/// What all takes from tables share: hand, club, contact mark and rate from the comments, the
/// times, and the way of their columns to a uniform time base. Where something is wrong with these,
/// `usable()` is false and the findings say what.
class TableTake {
public:
    TableTake(const DelimitedTable& table, const ReadOptions& options);

    bool usable() const { return out_.ok(); }
    Take& take() { return out_.value; }
    const std::vector<double>& times_s() const { return times_s_; }
    const std::optional<double>& rate_hz() const { return metadata_.rate_hz; }
    void add(Finding finding) { out_.add(std::move(finding)); }
    /// Resamples, mirrors a left-hander, checks the hand. `mend` is for a table without any part.
    Outcome<Take> finish(const std::string& mend);
    /// For parts that already stand on the base.
    Outcome<Take> finish_on(Outcome<TimeBase> base);
    /// Hands out the findings; one of them is an error.
    Outcome<Take> give_up() { return std::move(out_); }

private:
    bool settle_time(Outcome<TimeBase>& base);
    Outcome<Take> oriented();

    const DelimitedTable& table_;
    Metadata metadata_;
    std::vector<double> times_s_;
    Outcome<Take> out_;
};

} // namespace kite::formats
