#include "cli/paper_module.h"

#include "paper/pdf_module.h"
#include "parts/load.h"

namespace kite::cli {

Outcome<std::string> pdf_of(const report::Report& report) {
    Outcome<std::string> out;
    std::string why;
    void* found = find_in_part("kite-hinge-paper", paper::kPdfOfName, why);
    if (found == nullptr) {
        out.add({Finding::Severity::Error, "no-paper",
                 "The part of the program that makes PDF cannot be loaded: " + why + ".", "",
                 "Install the program again, or ask for HTML."});
        return out;
    }
    const auto make = reinterpret_cast<paper::PdfOf>(found); // NOLINT: how dlsym gives it
    if (!make(report, out.value))
        out.add({Finding::Severity::Error, "no-pdf", "The report could not be painted.", "",
                 "Ask for HTML."});
    return out;
}

} // namespace kite::cli
