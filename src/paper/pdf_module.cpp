#include "paper/pdf_module.h"

#include "paper/pages.h"

#include <QGuiApplication>
#include <QLoggingCategory>

extern "C" __attribute__((visibility("default"))) bool
kite_pdf_of(const kite::report::Report& report, std::string& bytes) {
    // Painting needs fonts, not a screen.
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QLoggingCategory::setFilterRules(QStringLiteral("*=false")); // its words are not for users
    int argc = 1;
    char name[] = "kite-hinge-cli"; // NOLINT(modernize-avoid-c-arrays)
    char* argv[] = {name, nullptr}; // NOLINT(modernize-avoid-c-arrays)
    const QGuiApplication application(argc, argv);
    bytes = kite::paper::pdf_of(report);
    return !bytes.empty();
}
