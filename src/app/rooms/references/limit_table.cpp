#include "app/rooms/references/limit_table.h"

#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "formats/rules/rules_json.h"
#include "formats/rules/school_edit.h"

#include <QBrush>
#include <QLocale>

#include <algorithm>
#include <cmath>

namespace kite::app {

namespace {

QString number(double value) {
    return number_text(value, std::abs(value - std::round(value)) > 1e-9 ? 1 : 0);
}

QString with_unit(double value, const Condition& leaf) {
    const std::string_view unit = unit_of(leaf.term);
    return number(value) + (unit.empty() || unit == "°" ? QString() : QStringLiteral(" ")) +
           QString::fromUtf8(unit.data(), static_cast<qsizetype>(unit.size()));
}

} // namespace

LimitTable::LimitTable(Desk* desk, SchoolShelf* shelf, QObject* parent)
    : QAbstractTableModel(parent), desk_(desk), shelf_(shelf) {
    make_rows();
    connect(shelf_, &SchoolShelf::changed, this, [this](const QString& source) {
        if (source.isEmpty()) { // schools have come or gone
            beginResetModel();
            endResetModel();
            return;
        }
        const int column = column_of(source);
        if (column >= 0)
            emit dataChanged(index(0, column), index(rowCount() - 1, column));
    });
    connect(&desk_->shown(), &ShownSwing::swing_changed, this, [this] {
        emit dataChanged(index(0, SwingColumn), index(rowCount() - 1, SwingColumn));
    });
}

void LimitTable::make_rows() {
    for (const FaultRule& fault : formats::shipped_rule_book().faults) {
        rows_.push_back({fault.id, {}, nullptr});
        for (const Condition* leaf : leaves_of(fault.when))
            if (std::none_of(rows_.begin(), rows_.end(), [&](const Row& row) {
                    return row.limit == leaf->limit && row.fault == fault.id;
                }))
                rows_.push_back({fault.id, leaf->limit, leaf});
    }
}

int LimitTable::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

int LimitTable::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(FirstSchoolColumn + shelf_->entries().size());
}

QString LimitTable::source_of(int column) const {
    const int at = column - FirstSchoolColumn;
    return at < 0 || at >= static_cast<int>(shelf_->entries().size())
               ? QString()
               : shelf_->entries()[static_cast<std::size_t>(at)].source;
}

int LimitTable::column_of(const QString& source) const {
    for (int column = FirstSchoolColumn; column < columnCount(); ++column)
        if (source_of(column) == source)
            return column;
    return -1;
}

std::string LimitTable::fault_of(int row) const {
    return rows_.at(static_cast<std::size_t>(row)).fault;
}

const School* LimitTable::school_of(int column) const {
    const auto* entry = shelf_->find(source_of(column));
    return entry == nullptr ? nullptr : &entry->school;
}

QVariant LimitTable::weight_text(const School& school, const Row& row) const {
    if (school.no_fault.count(row.fault) > 0)
        return tr("no fault");
    if (school.not_judged.count(row.fault) > 0)
        return tr("not judged");
    const auto found = school.weights.find(row.fault);
    return found == school.weights.end() ? QString() : tr("× %1").arg(number(found->second));
}

QVariant LimitTable::limit_text(const School& school, const Row& row, bool own) const {
    const auto found = school.limits.find(row.limit);
    if (found != school.limits.end())
        return with_unit(found->second.value, *row.leaf);
    if (school.own_baseline)
        return tr("own");
    if (own || school.id == "none") {
        const auto& usual = formats::shipped_rule_book().limits;
        const auto book = usual.find(row.limit);
        return book == usual.end() ? QString() : with_unit(book->second.value, *row.leaf);
    }
    return QString();
}

QVariant LimitTable::swing_text(const Row& row) const {
    if (!desk_->shown().has_swing())
        return {};
    const LoadedSwing& swing = *desk_->shown().swing();
    if (row.limit.empty()) {
        const Fault* fault = swing.reading.find(row.fault);
        return fault == nullptr || !fault->evidence ? tr("–") : number_text(*fault->evidence, 2);
    }
    const Measured value = value_of(row.leaf->term, swing.analysis);
    return std::isfinite(value.value) ? with_unit(value.value, *row.leaf) : QStringLiteral("–");
}

QVariant LimitTable::data(const QModelIndex& index, int role) const {
    const Row& row = rows_.at(static_cast<std::size_t>(index.row()));
    const bool fault = row.limit.empty();
    const Colours& c = colours();
    const FaultRule& rule = *formats::shipped_rule_book().find(row.fault);
    switch (role) {
    case Qt::DisplayRole:
    case Qt::EditRole:
        if (index.column() == NameColumn) {
            if (fault)
                return said(rule.title);
            QString name = QString::fromStdString(name_of(row.leaf->term, language()));
            return (row.leaf->kind == Condition::Kind::Above ? tr("   above: %1")
                                                             : tr("   below: %1"))
                .arg(name);
        }
        if (index.column() == SwingColumn)
            return swing_text(row);
        if (const School* school = school_of(index.column())) {
            const bool own = shelf_->find(source_of(index.column()))->own;
            return fault ? weight_text(*school, row) : limit_text(*school, row, own);
        }
        return {};
    case Qt::FontRole: {
        const School* school = school_of(index.column());
        const bool changed = school != nullptr && !fault && school->limits.count(row.limit) > 0;
        return Theme::instance().font(13, fault     ? Theme::Weight::Bold
                                          : changed ? Theme::Weight::Semibold
                                                    : Theme::Weight::Regular);
    }
    case Qt::ForegroundRole: {
        const School* school = school_of(index.column());
        const bool changed = index.column() < FirstSchoolColumn || fault ||
                             (school != nullptr && school->limits.count(row.limit) > 0);
        return QBrush(changed ? c.ink : c.soft);
    }
    case Qt::TextAlignmentRole:
        return QVariant::fromValue(index.column() == NameColumn
                                       ? Qt::Alignment(Qt::AlignLeft | Qt::AlignVCenter)
                                       : Qt::Alignment(Qt::AlignRight | Qt::AlignVCenter));
    case Qt::ToolTipRole: {
        if (fault)
            return said(rule.why);
        const School* school = school_of(index.column());
        const auto& usual = formats::shipped_rule_book().limits;
        const auto own = school == nullptr ? usual.end() : school->limits.find(row.limit);
        const bool has_own = school != nullptr && own != school->limits.end();
        const auto found = has_own ? own : usual.find(row.limit);
        if (!has_own && found == usual.end())
            return {};
        return tr("Soft by %1. %2.")
            .arg(number(found->second.width), QString::fromStdString(found->second.source));
    }
    default:
        return {};
    }
}

QVariant LimitTable::headerData(int section, Qt::Orientation orientation, int role) const {
    // The names stand beside the table, so that they stay when it is scrolled.
    if (orientation == Qt::Vertical)
        return role == Qt::TextAlignmentRole
                   ? QVariant::fromValue(Qt::Alignment(Qt::AlignLeft | Qt::AlignVCenter))
                   : data(index(section, NameColumn), role);
    if (role != Qt::DisplayRole)
        return {};
    if (section == NameColumn)
        return tr("Fault, and what it rests on");
    if (section == SwingColumn)
        return tr("This swing");
    const auto* entry = shelf_->find(source_of(section));
    return entry == nullptr ? QString() : entry->name;
}

Qt::ItemFlags LimitTable::flags(const QModelIndex& index) const {
    Qt::ItemFlags out = QAbstractTableModel::flags(index);
    const auto* entry = shelf_->find(source_of(index.column()));
    if (entry != nullptr && entry->own && !has_errors(entry->findings))
        out |= Qt::ItemIsEditable;
    return out;
}

bool LimitTable::setData(const QModelIndex& index, const QVariant& value, int role) {
    if (role != Qt::EditRole || !(flags(index) & Qt::ItemIsEditable))
        return false;
    const Row& row = rows_.at(static_cast<std::size_t>(index.row()));
    // The number at the beginning, in the user's way of writing or in the file's.
    QString words = value.toString().trimmed();
    words.replace(QChar(0x2212), QLatin1Char('-')).remove(QLatin1Char('*'));
    words.remove(QChar(0x00D7));
    words = words.trimmed();
    qsizetype end = 0;
    while (end < words.size() &&
           (words[end].isDigit() || QStringLiteral("-+.,").contains(words[end])))
        ++end;
    bool ok = false;
    double number = QLocale().toDouble(words.left(end), &ok);
    if (!ok)
        number = words.left(end).toDouble(&ok);
    if (!ok || !std::isfinite(number)) {
        emit refused(tr("\u201c%1\u201d is no number; nothing was changed.").arg(words));
        return false;
    }
    const QString source = source_of(index.column());
    const School& school = *school_of(index.column());
    std::vector<Finding> findings;
    if (row.limit.empty()) {
        findings = shelf_->change(source, tr("change a weight"), [&](const std::string& bytes) {
            return formats::with_weight(formats::with_no_fault(bytes, row.fault, {}), row.fault,
                                        number);
        });
    } else {
        const auto own = school.limits.find(row.limit);
        Limit limit = own != school.limits.end()
                          ? own->second
                          : formats::shipped_rule_book().limits.at(row.limit);
        limit.value = number;
        limit.source = tr("this school's own word").toStdString();
        findings = shelf_->change(source, tr("change a limit"), [&](const std::string& bytes) {
            return formats::with_limit(bytes, row.limit, limit, unit_of(row.leaf->term));
        });
    }
    if (!findings.empty())
        emit refused(QString::fromStdString(text_of(findings.front())));
    return findings.empty();
}

std::vector<Finding> LimitTable::clear(const QModelIndex& index) {
    const auto* entry = shelf_->find(source_of(index.column()));
    if (entry == nullptr || !entry->own)
        return {};
    const Row& row = rows_.at(static_cast<std::size_t>(index.row()));
    return shelf_->change(entry->source, tr("back to what is usual"),
                          [&](const std::string& bytes) {
                              return row.limit.empty() ? formats::with_weight(bytes, row.fault, 1.0)
                                                       : formats::without_limit(bytes, row.limit);
                          });
}

} // namespace kite::app
