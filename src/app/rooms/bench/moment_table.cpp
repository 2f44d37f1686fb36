#include "app/rooms/bench/moment_table.h"

#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "core/catalogue/quantity.h"

#include <QApplication>
#include <QClipboard>
#include <QCoreApplication>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLocale>

#include <algorithm>
#include <cmath>
#include <set>

namespace kite::app {

namespace {

/// Columns that are about the moment itself; the quantities of the catalogue follow.
enum OwnColumn { kFromImpact, kKnownTo, kOwnColumns };

const std::vector<const Quantity*>& quantities() {
    static const std::vector<const Quantity*> kShown = [] {
        std::vector<const Quantity*> out;
        for (const Quantity& quantity : all_quantities())
            if (quantity.shown != Quantity::Shown::FilesOnly)
                out.push_back(&quantity);
        return out;
    }();
    return kShown;
}

/// nullptr: one of the moment's own.
const Quantity* quantity_of(int column) {
    return column < kOwnColumns ? nullptr
                                : quantities()[static_cast<std::size_t>(column - kOwnColumns)];
}

double value_of(const Analysis& analysis, Moment moment, int column) {
    if (const Quantity* quantity = quantity_of(column))
        return analysis.at(quantity->curve(analysis), moment) *
               Units::instance().of(quantity->unit).factor;
    const auto& at = analysis.moments[moment];
    if (!at)
        return kMissing;
    return 1000.0 * (column == kFromImpact ? at->t_s - analysis.moments.reference_s() : at->u_s);
}

int decimals_of(int column) {
    const Quantity* quantity = quantity_of(column);
    return quantity != nullptr ? quantity->decimals : column == kKnownTo ? 1 : 0;
}

} // namespace

MomentTableModel::MomentTableModel(ShownSwing* state, QObject* parent)
    : QAbstractTableModel(parent), state_(state) {
    const auto reset = [this] {
        beginResetModel();
        endResetModel();
    };
    connect(state_, &ShownSwing::swing_changed, this, reset);
    connect(&Units::instance(), &Units::changed, this, reset);
}

int MomentTableModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() || !state_->has_swing() ? 0 : static_cast<int>(kAllMoments.size());
}

int MomentTableModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : kOwnColumns + static_cast<int>(quantities().size());
}

QVariant MomentTableModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || !state_->has_swing())
        return {};
    const Moment moment = kAllMoments[static_cast<std::size_t>(index.row())];
    const Analysis& analysis = state_->swing()->analysis;
    const double value = value_of(analysis, moment, index.column());
    switch (role) {
    case Qt::DisplayRole:
        return number_text(value, decimals_of(index.column()));
    case Qt::EditRole: // for copying as numbers
        return std::isfinite(value) ? QVariant(value) : QVariant();
    case Qt::TextAlignmentRole:
        return static_cast<int>(Qt::AlignRight | Qt::AlignVCenter);
    case Qt::ToolTipRole:
        return analysis.moments[moment] && analysis.moments[moment]->moved
                   ? tr("This moment was put by hand.")
                   : QVariant();
    default:
        return {};
    }
}

QVariant MomentTableModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (role == Qt::ToolTipRole && orientation == Qt::Horizontal)
        return tr("Right click or I: what is this?");
    if (role != Qt::DisplayRole)
        return {};
    if (orientation == Qt::Vertical) {
        const Moment moment = kAllMoments[static_cast<std::size_t>(section)];
        const auto& at = state_->swing()->analysis.moments[moment];
        return at && at->moved ? tr("%1 (moved)").arg(moment_name(moment)) : moment_name(moment);
    }
    const Quantity* quantity = quantity_of(section);
    if (quantity == nullptr)
        return (section == kFromImpact ? tr("From impact") : tr("Known to ±")) +
               QStringLiteral("\nms");
    return QCoreApplication::translate("measure", quantity->short_name) + QStringLiteral("\n") +
           Units::instance().of(quantity->unit).name;
}

MomentTable::MomentTable(ShownSwing* state, QWidget* parent) : QTableView(parent), state_(state) {
    setObjectName(QStringLiteral("moment_table"));
    setAccessibleName(tr("Measures at the moments"));
    setModel(new MomentTableModel(state, this));
    setShowGrid(false);
    setAlternatingRowColors(true);
    setSelectionBehavior(QAbstractItemView::SelectRows);
    setFrameShape(QFrame::NoFrame);
    setCornerButtonEnabled(false);
    setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
    horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    horizontalHeader()->setHighlightSections(false);
    verticalHeader()->setHighlightSections(false);
    connect(selectionModel(), &QItemSelectionModel::currentRowChanged, this,
            [this](const QModelIndex& current) {
                if (current.isValid())
                    state_->choose_moment(kAllMoments[static_cast<std::size_t>(current.row())]);
            });
    horizontalHeader()->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(horizontalHeader(), &QWidget::customContextMenuRequested, this,
            [this](const QPoint& at) {
                emit explain_requested(measure_of(horizontalHeader()->logicalIndexAt(at)));
            });
    connect(&Theme::instance(), &Theme::changed, this, &MomentTable::restyle);
    restyle();
}

QString MomentTable::measure_of(int column) const {
    const Quantity* quantity = quantity_of(std::max(0, column));
    return QString::fromLatin1(quantity == nullptr ? "moment" : quantity->topic);
}

QString MomentTable::asked_measure() const {
    return measure_of(currentIndex().column());
}

void MomentTable::restyle() {
    const Theme& theme = Theme::instance();
    setFont(theme.font(13));
    horizontalHeader()->setFont(theme.font(12));
    verticalHeader()->setFont(theme.font(13, Theme::Weight::Semibold));
    verticalHeader()->setDefaultSectionSize(theme.scaled(30));
}

QString MomentTable::joined(bool chosen_only, QChar separator) const {
    std::set<int> rows;
    for (const QModelIndex& index : selectionModel()->selectedIndexes())
        rows.insert(index.row());
    const bool csv = separator == QLatin1Char(',');
    const auto header = [&](int column) {
        return model()
            ->headerData(column, Qt::Horizontal, Qt::DisplayRole)
            .toString()
            .replace(QLatin1Char('\n'), QLatin1String(" "));
    };
    QString out = tr("moment");
    for (int column = 0; column < model()->columnCount(); ++column)
        out += separator + header(column);
    out += QLatin1Char('\n');
    for (int row = 0; row < model()->rowCount(); ++row) {
        if (chosen_only && rows.count(row) == 0)
            continue;
        out += model()->headerData(row, Qt::Vertical, Qt::DisplayRole).toString();
        for (int column = 0; column < model()->columnCount(); ++column) {
            const QModelIndex index = model()->index(row, column);
            const QVariant value = index.data(Qt::EditRole);
            out += separator;
            if (value.isValid())
                out += csv ? QString::number(value.toDouble(), 'g', 7)
                           : QLocale().toString(value.toDouble(), 'g', 7);
        }
        out += QLatin1Char('\n');
    }
    return out;
}

QString MomentTable::text(bool chosen_only) const {
    return joined(chosen_only, QLatin1Char('\t'));
}

QString MomentTable::csv() const {
    return joined(false, QLatin1Char(','));
}

void MomentTable::copy() const {
    QApplication::clipboard()->setText(text(selectionModel()->selectedRows().size() > 1));
}

void MomentTable::keyPressEvent(QKeyEvent* event) {
    if (event->matches(QKeySequence::Copy))
        copy();
    else
        QTableView::keyPressEvent(event);
}

} // namespace kite::app
