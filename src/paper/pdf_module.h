#pragma once

#include "report/report.h"

namespace kite::paper {

/// What the module for the command line gives, by this name. Same compiler, same build: both stand
/// on the same headers. Once a process, on its main thread.
inline const char* const kPdfOfName = "kite_pdf_of";
using PdfOf = bool (*)(const report::Report& report, std::string& bytes);

} // namespace kite::paper
