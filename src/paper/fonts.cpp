#include "paper/fonts.h"

#include <QFile>
#include <QFontDatabase>
#include <QResource>

/// Fonts as fonts.S holds them.
extern "C" const unsigned char kite_fonts[]; // NOLINT(modernize-avoid-c-arrays)

namespace kite::paper {

void load_fonts() {
    static const bool kLoaded = [] {
        QResource::registerResource(&kite_fonts[0]);
        for (const char* name :
             {":/fonts/Lato-Regular.ttf", ":/fonts/Lato-Semibold.ttf", ":/fonts/Lato-Bold.ttf"}) {
            QFile file(QString::fromLatin1(name));
            if (file.open(QIODevice::ReadOnly))
                QFontDatabase::addApplicationFontFromData(file.readAll());
        }
        // They have been copied; what stays registered counts as lost at the end.
        QResource::unregisterResource(&kite_fonts[0]);
        return true;
    }();
    static_cast<void>(kLoaded);
}

} // namespace kite::paper
