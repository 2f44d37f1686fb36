#include "cli/paper_module.h"

#include "paper/pdf_module.h"

#include <dlfcn.h>
#include <filesystem>

namespace kite::cli {

namespace {

/// The module where the program is installed, or in the tree where it was built.
void* open_module() {
    std::error_code error;
    const auto folder = std::filesystem::read_symlink("/proc/self/exe", error).parent_path();
    for (const char* place : {KITE_MODULES_FROM_BIN, "../paper"}) {
        const auto file = folder / place / "kite-hinge-paper.so";
        if (void* module = dlopen(file.c_str(), RTLD_NOW | RTLD_LOCAL))
            return module;
    }
    return nullptr;
}

} // namespace

Outcome<std::string> pdf_of(const report::Report& report) {
    Outcome<std::string> out;
    void* module = open_module();
    // Never closed: Qt's threads may outlive what used them.
    void* found = module == nullptr ? nullptr : dlsym(module, paper::kPdfOfName);
    if (found == nullptr) {
        const char* why = dlerror();
        out.add({Finding::Severity::Error, "no-paper",
                 std::string("The part of the program that makes PDF cannot be loaded") +
                     (why == nullptr ? "" : std::string(": ") + why) + ".",
                 "", "Install the program again, or ask for HTML."});
        return out;
    }
    const auto make = reinterpret_cast<paper::PdfOf>(found); // NOLINT: how dlsym gives it
    if (!make(report, out.value))
        out.add({Finding::Severity::Error, "no-pdf", "The report could not be painted.", "",
                 "Ask for HTML."});
    return out;
}

} // namespace kite::cli
