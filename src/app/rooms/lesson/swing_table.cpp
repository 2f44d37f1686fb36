#include "app/rooms/lesson/swing_table.h"

#include "app/theme/text.h"
#include "app/theme/units.h"
#include "formats/beside/launch_csv.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QLocale>

#include <algorithm>
#include <cmath>

namespace kite::app {

const std::vector<BallWord>& flight_words() {
    static const std::vector<BallWord> kWords{
        {"straight", '1', QT_TRANSLATE_NOOP("Ball", "straight")},
        {"draw", '2', QT_TRANSLATE_NOOP("Ball", "draw")},
        {"fade", '3', QT_TRANSLATE_NOOP("Ball", "fade")},
        {"hook", '4', QT_TRANSLATE_NOOP("Ball", "hook")},
        {"slice", '5', QT_TRANSLATE_NOOP("Ball", "slice")},
        {"pull", '6', QT_TRANSLATE_NOOP("Ball", "pull")},
        {"push", '7', QT_TRANSLATE_NOOP("Ball", "push")}};
    return kWords;
}

const std::vector<BallWord>& strike_words() {
    static const std::vector<BallWord> kWords{{"middle", 'M', QT_TRANSLATE_NOOP("Ball", "middle")},
                                              {"thin", 'T', QT_TRANSLATE_NOOP("Ball", "thin")},
                                              {"fat", 'F', QT_TRANSLATE_NOOP("Ball", "fat")},
                                              {"heel", 'H', QT_TRANSLATE_NOOP("Ball", "heel")},
                                              {"toe", 'O', QT_TRANSLATE_NOOP("Ball", "toe")}};
    return kWords;
}

namespace {

/// The word of a key in the user's language; what is no key is shown as it stands.
QString word_of(const std::vector<BallWord>& words, const QString& key) {
    for (const BallWord& word : words)
        if (key == QLatin1String(word.key))
            return QCoreApplication::translate("Ball", word.word);
    return key;
}

/// The key of what somebody typed: a word, its beginning, or the key to press.
Row key_of_typed(const std::vector<BallWord>& words, const QString& typed) {
    const QString text = typed.trimmed();
    if (text.isEmpty())
        return nullptr;
    for (const BallWord& word : words)
        if (QString::compare(text, QChar::fromLatin1(word.press), Qt::CaseInsensitive) == 0 ||
            QCoreApplication::translate("Ball", word.word).startsWith(text, Qt::CaseInsensitive))
            return word.key;
    return text.toStdString();
}

/// A launch number as it was typed, in the unit shown, into the swing's column. False: it is no
/// number, or none that a ball can have.
bool put_launch(const Row& swing, const LaunchField& field, const QString& typed, Row& values) {
    LaunchNumbers launch =
        formats::launch_of_json(store::text_in(swing, "launch")).value_or(LaunchNumbers());
    bool ok = true;
    double value = kMissing;
    if (!typed.isEmpty())
        value = QLocale().toDouble(QString(typed).replace(QChar(0x2212), QLatin1Char('-')), &ok) /
                Units::instance().of_flight(field.unit).factor;
    if (!ok || std::abs(value) > field.most)
        return false;
    launch.*field.member = value;
    const std::string json = formats::to_json(launch);
    values["launch"] = json.empty() ? Row() : Row(json);
    return true;
}

QString degrees_of(const Row& swing, const char* column) {
    const auto found = swing.find(column);
    return found == swing.end() || !found->is_number() ? QString()
                                                       : turn_text(found->get<double>());
}

} // namespace

SwingTable::SwingTable(RecordKeeper* keeper, QObject* parent)
    : QAbstractTableModel(parent), keeper_(keeper) {
    connect(keeper_, &RecordKeeper::changed, this, &SwingTable::take);
    connect(&Units::instance(), &Units::changed, this, [this] {
        if (!swings_.empty())
            emit dataChanged(index(0, FirstLaunch), index(rowCount() - 1, Count - 1));
        emit headerDataChanged(Qt::Horizontal, FirstLaunch, Count - 1);
    });
    take();
}

void SwingTable::take() {
    const auto& now = found_ ? *found_ : keeper_->view().swings;
    // Most changes are of a cell: whoever types in a row is not thrown out of it.
    const auto goes_on = [&] {
        if (now.size() < swings_.size())
            return false;
        for (std::size_t i = 0; i < swings_.size(); ++i)
            if (now[i].at("id") != swings_[i].at("id"))
                return false;
        return true;
    };
    // … and what arrives stands behind the others.
    if (const int before = rowCount(); goes_on()) {
        const bool more = now.size() > swings_.size();
        if (more)
            beginInsertRows({}, before, static_cast<int>(now.size()) - 1);
        swings_ = now;
        if (more)
            endInsertRows();
        if (before > 0)
            emit dataChanged(index(0, 0), index(before - 1, Count - 1));
        return;
    }
    beginResetModel();
    swings_ = now;
    endResetModel();
}

void SwingTable::show_found(const std::optional<std::vector<Row>>& found) {
    found_ = found;
    take();
}

int SwingTable::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(swings_.size());
}
int SwingTable::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : Count;
}

const LaunchField* SwingTable::launch_field(int column) {
    return column >= FirstLaunch && column < Count
               ? &kLaunchFields.at(static_cast<std::size_t>(column - FirstLaunch))
               : nullptr;
}

bool SwingTable::is_overruled(const Row& swing) const {
    const auto& verdicts = keeper_->view().verdicts;
    return std::any_of(verdicts.begin(), verdicts.end(), [&](const Row& verdict) {
        return verdict.at("swing_id") == swing.at("id") && verdict.value("overruled", 0) != 0;
    });
}

QString SwingTable::text_at(const Row& swing, int row, int column) const {
    if (const LaunchField* field = launch_field(column)) {
        const auto launch = formats::launch_of_json(store::text_in(swing, "launch"));
        const double value = launch ? (*launch).*field->member : kMissing;
        return std::isfinite(value)
                   ? number_text(value * Units::instance().of_flight(field->unit).factor,
                                 field->decimals)
                   : QString();
    }
    switch (column) {
    case Number:
        return QString::number(row + 1);
    case Time:
        return QDateTime::fromString(text_in(swing, "created").left(19) + QLatin1Char('Z'),
                                     Qt::ISODate)
            .toLocalTime()
            .toString(QStringLiteral("HH:mm"));
    case File:
        return text_in(swing, "file");
    case Club:
        if (const auto club = find_club_kind(text_in(swing, "club").toStdString()))
            return club_name(*club);
        return tr("not said");
    case FirstFix: {
        const QString words = text_in(swing, "first_fix").isEmpty()
                                  ? tr("nothing to mend")
                                  : said(text_in(swing, "first_fix_words").toStdString());
        // What was overruled is no longer among the candidates; this is what is left.
        return is_overruled(swing) ? tr("%1 (one overruled)").arg(words) : words;
    }
    case Flight:
        return word_of(flight_words(), text_in(swing, "flight"));
    case Strike:
        return word_of(strike_words(), text_in(swing, "strike"));
    case Guess:
        return degrees_of(swing, "guess_open_deg");
    case Measured:
        if (guess_first_ && !swing.at("guess_open_deg").is_number())
            return tr("after the guess");
        return swing.at("open_at_impact_deg").is_number() ? degrees_of(swing, "open_at_impact_deg")
                                                          : tr("not seen");
    case Note:
        return text_in(swing, "note");
    case Tags:
        return text_in(swing, "tags");
    default:
        return {};
    }
}

QVariant SwingTable::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= rowCount())
        return {};
    const Row& swing = swings_[static_cast<std::size_t>(index.row())];
    if (role == Qt::DisplayRole)
        return text_at(swing, index.row(), index.column());
    if (role == Qt::EditRole) {
        if (index.column() == Guess)
            return swing.at("guess_open_deg").is_number()
                       ? QLocale().toString(swing.at("guess_open_deg").get<double>())
                       : QString();
        return text_at(swing, index.row(), index.column());
    }
    if (role == Qt::ToolTipRole && index.column() == Measured &&
        swing.at("open_at_impact_u_deg").is_number())
        return tr("± %1° (standard uncertainty)")
            .arg(number_text(swing.at("open_at_impact_u_deg").get<double>(), 1));
    if (role == Qt::ToolTipRole && index.column() == File)
        return text_in(swing, "origin");
    if (role == Qt::TextAlignmentRole &&
        (launch_field(index.column()) != nullptr || index.column() == Guess ||
         index.column() == Measured || index.column() == Number))
        return QVariant::fromValue(Qt::Alignment(Qt::AlignRight | Qt::AlignVCenter));
    return {};
}

bool SwingTable::setData(const QModelIndex& index, const QVariant& value, int role) {
    if (!index.isValid() || index.row() >= rowCount() || role != Qt::EditRole)
        return false;
    const QString text = value.toString().trimmed();
    Row values;
    if (const LaunchField* field = launch_field(index.column())) {
        if (!put_launch(keeper_->as_asked(swings_[static_cast<std::size_t>(index.row())]), *field,
                        text, values))
            return false;
    }
    switch (index.column()) {
    case Flight:
        values["flight"] = key_of_typed(flight_words(), text);
        break;
    case Strike:
        values["strike"] = key_of_typed(strike_words(), text);
        break;
    case Guess: {
        bool ok = false;
        const double open_deg = QLocale().toDouble(QString(text).remove(QChar(0x00b0)), &ok);
        if (!text.isEmpty() && (!ok || std::abs(open_deg) > 180.0))
            return false;
        values["guess_open_deg"] = text.isEmpty() ? Row() : Row(open_deg);
        break;
    }
    case Note:
    case Tags:
        values[index.column() == Note ? "note" : "tags"] =
            text.isEmpty() ? Row() : Row(text.toStdString());
        break;
    default:
        if (values.empty())
            return false;
    }
    const Row swing = keeper_->as_asked(swings_[static_cast<std::size_t>(index.row())]);
    if (swing.at(values.begin().key()) == values.begin().value())
        return true;
    emit edit_wanted(text_in(swing, "id"), values,
                     headerData(index.column(), Qt::Horizontal, Qt::DisplayRole).toString());
    return true;
}

QVariant SwingTable::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation == Qt::Horizontal && role == Qt::ToolTipRole && section == Guess)
        return tr("How open the pelvis felt at impact, in degrees: the golfer's own guess");
    if (orientation == Qt::Horizontal && role == Qt::ToolTipRole && section == Measured)
        return tr("How open the pelvis was at impact");
    if (orientation != Qt::Horizontal || role != Qt::DisplayRole)
        return {};
    const QString names[] = {QString(),       tr("Time"),   tr("File"),   tr("Club"),
                             tr("First fix"), tr("Flight"), tr("Strike"), tr("Felt"),
                             tr("Measured"),  tr("Note"),   tr("Tags")};
    if (const LaunchField* field = launch_field(section))
        return tr("%1, %2").arg(said(field->name), Units::instance().of_flight(field->unit).name);
    return section >= 0 && section < FirstLaunch ? names[section] : QString();
}

Qt::ItemFlags SwingTable::flags(const QModelIndex& index) const {
    Qt::ItemFlags out = QAbstractTableModel::flags(index);
    if (index.column() == Flight || index.column() == Strike || index.column() == Guess ||
        index.column() == Note || index.column() == Tags || launch_field(index.column()) != nullptr)
        out |= Qt::ItemIsEditable;
    return out;
}

bool SwingTable::takes_typing(int column) {
    return column == Guess || column == Note || column == Tags || launch_field(column) != nullptr;
}

void SwingTable::set_guess_first(bool guess_first) {
    guess_first_ = guess_first;
    if (!swings_.empty())
        emit dataChanged(index(0, Measured), index(rowCount() - 1, Measured));
}

} // namespace kite::app
