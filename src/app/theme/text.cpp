#include "app/theme/text.h"

#include <QCoreApplication>
#include <QLocale>

#include <cmath>

namespace kite::app {

namespace {

QString tr(const char* text) {
    return QCoreApplication::translate("text", text);
}

/// The core's own texts are translated in the context "reading".
QString reading_text(const std::string& text) {
    return QCoreApplication::translate("reading", text.c_str());
}

} // namespace

QString number_text(double value, int decimals) {
    if (!std::isfinite(value))
        return QStringLiteral("–");
    const double scale = std::pow(10.0, decimals);
    const double rounded = std::round(value * scale) / scale;
    const QString digits = QLocale().toString(std::abs(rounded), 'f', decimals);
    return rounded < 0.0 ? QChar(0x2212) + digits : digits;
}

QString turn_text(double turn_deg) {
    if (!std::isfinite(turn_deg))
        return QStringLiteral("–");
    const double size = std::round(std::abs(turn_deg));
    if (size == 0.0)
        return tr("square");
    return (turn_deg > 0.0 ? tr("%1° open") : tr("%1° closed")).arg(number_text(size));
}

QString before_impact_text(double ms_from_impact) {
    if (!std::isfinite(ms_from_impact))
        return QStringLiteral("–");
    const double size = std::round(std::abs(ms_from_impact));
    if (size == 0.0)
        return tr("at impact");
    return (ms_from_impact < 0.0 ? tr("%1 ms before impact") : tr("%1 ms after impact"))
        .arg(number_text(size));
}

QString segment_name(Segment segment) {
    return reading_text(std::string(name_of(segment)));
}
QString moment_name(Moment moment) {
    return reading_text(std::string(name_of(moment)));
}

QString club_name(ClubKind club) {
    switch (club) {
    case ClubKind::Driver:
        return tr("driver");
    case ClubKind::Wood:
        return tr("wood");
    case ClubKind::Iron:
        return tr("iron");
    case ClubKind::Wedge:
        return tr("wedge");
    }
    return {};
}

QString handed_name(Handedness handed) {
    return handed == Handedness::Left ? tr("left-handed") : tr("right-handed");
}

QString golfer_text(const Analysis& analysis) {
    const QString club = analysis.club_said ? club_name(analysis.club)
                                            : QCoreApplication::translate("text", "club not said");
    const QString hand = analysis.handed_said
                             ? handed_name(analysis.handed)
                             : QCoreApplication::translate("text", "%1 (from the motion)")
                                   .arg(handed_name(analysis.handed));
    return QCoreApplication::translate("text", "%1, %2").arg(club, hand);
}

Language language() {
    Language out;
    out.translate = [](const std::string& text) { return reading_text(text).toStdString(); };
    out.number = [](double value, int decimals) {
        return number_text(value, decimals).toStdString();
    };
    return out;
}

std::filesystem::path path_of(const QString& file) {
    return file.toStdU16String();
}

QString said(const std::string& words) {
    return QString::fromStdString(language().translate(words));
}

} // namespace kite::app
