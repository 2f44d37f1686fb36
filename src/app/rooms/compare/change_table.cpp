#include "app/rooms/compare/change_table.h"

#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "core/sets/comparison_words.h"
#include "formats/text/csv_field.h"

#include <QCoreApplication>
#include <QPainter>

#include <cmath>

namespace kite::app {

namespace {

QString signed_text(double value, int decimals) {
    // What is written as nought has no sign.
    return (value >= 0.5 * std::pow(10.0, -decimals) ? QStringLiteral("+") : QString()) +
           number_text(value, decimals);
}

} // namespace

void ChangeTable::show_changes(std::vector<MeasureChange> changes) {
    beginResetModel();
    changes_ = most_changed_first(std::move(changes));
    endResetModel();
}

void ChangeTable::unit_changed() {
    if (!changes_.empty())
        emit dataChanged(index(0, 0), index(rowCount() - 1, Count - 1));
}

int ChangeTable::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(changes_.size());
}
int ChangeTable::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : Count;
}

QString ChangeTable::text_at(const MeasureChange& change, int column) const {
    const Measure& measure = *change.measure;
    const Units::Shown unit = Units::instance().of(measure.unit);
    const ShownChange shown = as_shown(change, unit.factor);
    const auto with_scatter = [&](double mean, const Summary& summary) {
        return std::isfinite(summary.sd)
                   ? tr("%1 ± %2").arg(number_text(mean, shown.decimals),
                                       number_text(summary.sd * unit.factor, shown.decimals))
                   : number_text(mean, shown.decimals);
    };
    switch (column) {
    case Name:
        return QCoreApplication::translate("measure", measure.name) +
               (unit.name.isEmpty() ? QString() : QStringLiteral(", ") + unit.name);
    case Before:
        return with_scatter(shown.before, change.before);
    case After:
        return with_scatter(shown.after, change.after);
    case Difference:
        return signed_text(shown.difference, shown.decimals);
    case Interval:
        return std::isfinite(shown.low) ? tr("%1 to %2")
                                              .arg(signed_text(shown.low, shown.decimals),
                                                   signed_text(shown.high, shown.decimals))
                                        : tr("not known");
    case Verdict:
        return QString::fromStdString(verdict_words(change, language()));
    default:
        return {};
    }
}

QVariant ChangeTable::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= rowCount())
        return {};
    const MeasureChange& change = changes_[static_cast<std::size_t>(index.row())];
    if (role == Qt::DisplayRole)
        return text_at(change, index.column());
    if (role == Qt::TextAlignmentRole && index.column() >= Before && index.column() <= Interval)
        return QVariant::fromValue(Qt::Alignment(Qt::AlignRight | Qt::AlignVCenter));
    if (role == Qt::FontRole && (change.verdict == kite::Verdict::Changed || change.is_question))
        return Theme::instance().font(13, Theme::Weight::Semibold);
    if (role == Qt::ForegroundRole && change.verdict == kite::Verdict::Unchanged)
        return colours().soft;
    if (role == Qt::ToolTipRole && (index.column() == Before || index.column() == After)) {
        const Summary& summary = index.column() == Before ? change.before : change.after;
        return tr("Mean and standard deviation of %n swings", nullptr,
                  static_cast<int>(summary.count));
    }
    if (role == Qt::ToolTipRole && index.column() == Name)
        return text_at(change, Name);
    if (role == Qt::ToolTipRole && index.column() == Verdict)
        return QString::fromStdString(further_words(change, language())) +
               tr(" The first row is the question, tested by itself at 5 %. All others are a "
                  "search, in which 5 % of what is found is false on average.");
    return {};
}

QVariant ChangeTable::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation == Qt::Horizontal && role == Qt::TextAlignmentRole && section == Verdict)
        return QVariant::fromValue(Qt::Alignment(Qt::AlignLeft | Qt::AlignVCenter));
    if (orientation != Qt::Horizontal || role != Qt::DisplayRole)
        return {};
    const QString names[] = {QString(),      tr("First"),  tr("Second"), tr("Change"),
                             tr("Interval"), tr("Swings"), tr("Verdict")};
    return section >= 0 && section < Count ? names[section] : QString();
}

QString ChangeTable::csv() const {
    QString out = QStringLiteral(
        "measure,unit,first,first_sd,first_n,second,second_sd,second_n,change,low,high,verdict\n");
    for (const MeasureChange& change : changes_) {
        const Measure& measure = *change.measure;
        const Units::Shown unit = Units::instance().of(measure.unit);
        const ShownChange shown = as_shown(change, unit.factor);
        const auto number = [&](double value) {
            return std::isfinite(value) ? QString::number(value, 'f', measure.decimals) : QString();
        };
        const QStringList fields{
            QString::fromStdString(formats::csv_text_field(
                QCoreApplication::translate("measure", measure.name).toStdString())),
            unit.name,
            number(shown.before),
            number(change.before.sd * unit.factor),
            QString::number(change.before.count),
            number(shown.after),
            number(change.after.sd * unit.factor),
            QString::number(change.after.count),
            number(shown.difference),
            number(change.change.low * unit.factor),
            number(change.change.high * unit.factor),
            QString::fromLatin1(word_of(change.verdict))};
        out += fields.join(QLatin1Char(',')) + QLatin1Char('\n');
    }
    return out;
}

void ChangePicture::paint(QPainter* painter, const QStyleOptionViewItem& option,
                          const QModelIndex& index) const {
    QStyledItemDelegate::paint(painter, option, index);
    const MeasureChange& change = table_->change(index.row());
    double low = std::numeric_limits<double>::infinity();
    double high = -low;
    const auto take = [&](double value) {
        if (!std::isfinite(value))
            return;
        low = std::min(low, value);
        high = std::max(high, value);
    };
    for (const auto* values : {&change.before_values, &change.after_values})
        for (const Measured& value : *values)
            take(value.value);
    const ShownChange shown = as_shown(change);
    take(change.before.mean + shown.low);
    take(change.before.mean + shown.high);
    if (!(low <= high))
        return;
    const double span = std::max(high - low, 1e-9);
    const QRectF area = QRectF(option.rect).adjusted(8, 4, -8, -4);
    const auto x_of = [&](double value) {
        return area.left() + (value - low) / span * area.width();
    };
    painter->save();
    painter->setRenderHint(QPainter::Antialiasing);
    const Colours& look = colours();
    const auto marks = [&](const std::vector<Measured>& values, double mean, double y,
                           bool filled) {
        painter->setPen(QPen(look.soft, 1.2));
        painter->setBrush(filled ? QBrush(look.soft) : QBrush(Qt::NoBrush));
        for (const Measured& value : values)
            if (std::isfinite(value.value))
                painter->drawEllipse(QPointF(x_of(value.value), y), 2.4, 2.4);
        if (std::isfinite(mean)) {
            painter->setPen(QPen(look.ink, 1.4));
            painter->drawLine(QPointF(x_of(mean), y - 4.5), QPointF(x_of(mean), y + 4.5));
        }
    };
    // The first set hollow above, the second filled below; told apart without colour.
    marks(change.before_values, change.before.mean, area.top() + 3, false);
    marks(change.after_values, change.after.mean, area.bottom() - 3, true);
    if (std::isfinite(shown.low)) {
        const bool real = change.verdict == Verdict::Changed;
        painter->setPen(QPen(real ? look.ink : look.line, real ? 2.0 : 1.5));
        const double y = area.center().y();
        painter->drawLine(QPointF(x_of(change.before.mean + shown.low), y),
                          QPointF(x_of(change.before.mean + shown.high), y));
    }
    painter->restore();
}

} // namespace kite::app
