#pragma once

#include "report/report.h"

#include <string>

namespace kite::cli {

/// A report as PDF, by the module that paints. Error: it is not installed.
Outcome<std::string> pdf_of(const report::Report& report);

} // namespace kite::cli
