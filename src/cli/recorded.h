#pragma once

#include "cli/analysis_arguments.h"
#include "store/record.h"
#include "store/told.h"

#include <filesystem>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace kite::cli {

/// Where the record is, and how its commands print.
struct Place {
    std::string store;
    bool json = false;
    std::filesystem::path path() const {
        return store.empty() ? store::Record::usual_place() : std::filesystem::path(store);
    }
};

/// To standard error, a line each. True: there was an error among them.
bool say(const std::vector<Finding>& findings);

/// The record for reading; null: there is none yet, or it cannot be used (then `status` says so).
std::unique_ptr<store::Record> open_for_reading(const Place& place, int& status);

/// What was said of files, as far as it is not the usual, as the record keeps it: JSON, or empty.
std::string told_of(const AnalysisArguments& arguments);

/// A swing of the record as it is measured now, from its capture, with what was said of it and the
/// moments that were moved by hand; `how` may have been changed before (the report measures all
/// alike).
struct Again {
    AnalysedFile measured;
    store::HowMeasured how; ///< the reading points into its rules
    std::string title;      ///< of the first fix
    std::string bytes;      ///< of the capture
};
/// Null: it cannot be measured; why was said.
std::unique_ptr<const Again> measure_again(store::Record& record, const store::Row& swing,
                                           store::HowMeasured how);
std::unique_ptr<const Again> measure_again(store::Record& record, const store::Row& swing);

/// How swings of a record are measured to stand beside each other: as they were kept where that is
/// one way, else in the usual way, which is said. What the command line says holds for all.
std::vector<store::HowMeasured> measured_as_one(const std::vector<store::Row>& swings,
                                                const AnalysisArguments& arguments);

} // namespace kite::cli
