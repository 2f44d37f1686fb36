#include "app/session/swing_words.h"

#include "app/theme/text.h"

#include <QCoreApplication>

namespace kite::app {

namespace {
QString tr(const char* text) {
    return QCoreApplication::translate("swing_words", text);
}
} // namespace

QString spoken_row(int number, const QString& golfer, const LoadedSwing* swing,
                   const SwingMarks& marks) {
    QStringList parts{tr("Swing %1").arg(number), golfer};
    if (swing == nullptr) {
        parts << tr("loading");
    } else if (!swing->ok) {
        parts << tr("could not be read");
    } else {
        parts << QString::fromStdString(
            write_words(swing->analysis, swing->reading, language()).order);
        if (marks.good)
            parts << tr("marked as good");
        if (marks.excluded)
            parts << tr("left out of averages");
    }
    return parts.join(QStringLiteral(", "));
}

} // namespace kite::app
