#include "paper/fonts.h"

#include <QFontDatabase>
#include <QResource>

/// Fonts as fonts.S holds them.
extern "C" const unsigned char kite_fonts[]; // NOLINT(modernize-avoid-c-arrays)

namespace kite::paper {

void load_fonts() {
    static const bool kLoaded = [] {
        QResource::registerResource(&kite_fonts[0]);
        for (const char* file :
             {":/fonts/Lato-Regular.ttf", ":/fonts/Lato-Semibold.ttf", ":/fonts/Lato-Bold.ttf"})
            QFontDatabase::addApplicationFont(QString::fromLatin1(file));
        // The fonts have been copied; what stays registered counts as lost at the end.
        QResource::unregisterResource(&kite_fonts[0]);
        return true;
    }();
    static_cast<void>(kLoaded);
}

} // namespace kite::paper
