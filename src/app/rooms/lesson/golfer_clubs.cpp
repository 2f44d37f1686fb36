#include "app/rooms/lesson/golfer_clubs.h"

#include "app/theme/text.h"

#include <QCoreApplication>
#include <QLocale>

namespace kite::app {

namespace {

/// From the shortest putter of a child to the longest driver that the rules of golf allow (48 in).
constexpr double kShortest_m = 0.4;
constexpr double kLongest_m = 1.3;

constexpr ClubKind kKinds[] = {ClubKind::Driver, ClubKind::Wood, ClubKind::Iron, ClubKind::Wedge};

QString tr(const char* text) {
    return QCoreApplication::translate("Clubs", text);
}

std::optional<ClubKind> kind_of(const QString& word) {
    for (const ClubKind kind : kKinds)
        if (word.compare(club_name(kind), Qt::CaseInsensitive) == 0)
            return kind;
    return find_club_kind(word.toLower().toStdString());
}

QString all_kinds() {
    QStringList out;
    for (const ClubKind kind : kKinds)
        out << club_name(kind);
    return out.join(QStringLiteral(", "));
}

} // namespace

Understood clubs_from(const QString& words) {
    Row list = Row::array();
    const QLocale locale;
    for (const QString& one : words.split(QLatin1Char(';'), Qt::SkipEmptyParts)) {
        const QStringList parts = one.simplified().split(QLatin1Char(' '), Qt::SkipEmptyParts);
        if (parts.isEmpty())
            continue;
        const auto kind = kind_of(parts.front());
        if (!kind)
            return {nullptr, tr("“%1” is no kind of club (%2). Write a semicolon between clubs.")
                                 .arg(parts.front(), all_kinds())};
        bool ok = false;
        const double length_m = locale.toDouble(parts.back(), &ok);
        if (parts.size() < 2 || !ok || length_m < kShortest_m || length_m > kLongest_m)
            return {nullptr, tr("“%1” needs its length at the end, in metres from %2 to %3.")
                                 .arg(one.simplified(), locale.toString(kShortest_m),
                                      locale.toString(kLongest_m))};
        Row club = {{"kind", std::string(key_of(*kind))}, {"length_m", length_m}};
        if (parts.size() > 2)
            club["name"] = parts.mid(1, parts.size() - 2).join(QLatin1Char(' ')).toStdString();
        list.push_back(club);
    }
    return {list.empty() ? Row() : Row(list.dump()), {}};
}

QString clubs_in_words(const Row& kept) {
    const Row list =
        kept.is_string() ? Row::parse(kept.get<std::string>(), nullptr, false) : Row::array();
    QStringList out;
    if (list.is_array())
        for (const Row& club : list) {
            if (!club.is_object())
                continue;
            QStringList parts;
            const QString key = text_in(club, "kind");
            const auto kind = find_club_kind(key.toStdString());
            parts << (kind ? club_name(*kind) : key);
            if (club.contains("name"))
                parts << text_in(club, "name");
            if (club.contains("length_m") && club["length_m"].is_number())
                parts << QLocale().toString(club["length_m"].get<double>(), 'f', 2);
            parts.removeAll(QString());
            out << parts.join(QLatin1Char(' '));
        }
    return out.join(QStringLiteral("; "));
}

} // namespace kite::app
