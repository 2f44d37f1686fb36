#include "app/views/moment_table.h"

#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"

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

struct Column {
    const char* key;  ///< of its explanation (measure_texts.h)
    const char* name; ///< to be translated
    const char* unit; ///< SI; shown as the user wants it
    int decimals;
    double (*of)(const Analysis& analysis, Moment moment);
};

const std::vector<Column>& columns() {
    static const std::vector<Column> kColumns{
        {"moment", QT_TRANSLATE_NOOP("table", "From impact"), "ms", 0,
         [](const Analysis& a, Moment m) {
             return 1000.0 * (a.moments.time_s(m) - a.moments.reference_s());
         }},
        {"moment", QT_TRANSLATE_NOOP("table", "Known to ±"), "ms", 1,
         [](const Analysis& a, Moment m) {
             return a.moments[m] ? 1000.0 * a.moments[m]->u_s : kMissing;
         }},
        {"pelvis_turn", QT_TRANSLATE_NOOP("table", "Pelvis turn"), "°", 0,
         [](const Analysis& a, Moment m) { return a.position(Segment::Pelvis, m).turn_deg; }},
        {"torso_turn", QT_TRANSLATE_NOOP("table", "Torso turn"), "°", 0,
         [](const Analysis& a, Moment m) { return a.position(Segment::Torso, m).turn_deg; }},
        {"separation", QT_TRANSLATE_NOOP("table", "Separation"), "°", 0,
         [](const Analysis& a, Moment m) { return a.at(a.separation_deg, m); }},
        {"pelvis_tilt", QT_TRANSLATE_NOOP("table", "Pelvis tilt"), "°", 0,
         [](const Analysis& a, Moment m) { return a.position(Segment::Pelvis, m).side_tilt_deg; }},
        {"pelvis_bend", QT_TRANSLATE_NOOP("table", "Pelvis bend"), "°", 0,
         [](const Analysis& a, Moment m) {
             return a.position(Segment::Pelvis, m).forward_bend_deg;
         }},
        {"torso_tilt", QT_TRANSLATE_NOOP("table", "Torso tilt"), "°", 0,
         [](const Analysis& a, Moment m) { return a.position(Segment::Torso, m).side_tilt_deg; }},
        {"torso_bend", QT_TRANSLATE_NOOP("table", "Torso bend"), "°", 0,
         [](const Analysis& a, Moment m) {
             return a.position(Segment::Torso, m).forward_bend_deg;
         }},
        {"pelvis_sway", QT_TRANSLATE_NOOP("table", "Sway"), "m", 1,
         [](const Analysis& a, Moment m) { return a.position(Segment::Pelvis, m).sway_m; }},
        {"pelvis_depth", QT_TRANSLATE_NOOP("table", "Depth"), "m", 1,
         [](const Analysis& a, Moment m) { return a.position(Segment::Pelvis, m).depth_m; }},
        {"pelvis_lift", QT_TRANSLATE_NOOP("table", "Lift"), "m", 1,
         [](const Analysis& a, Moment m) { return a.position(Segment::Pelvis, m).lift_m; }},
        {"wrist_hinge", QT_TRANSLATE_NOOP("table", "Wrist hinge"), "°", 0,
         [](const Analysis& a, Moment m) { return a.at(a.wrist_hinge_deg, m); }},
        {"lead_knee", QT_TRANSLATE_NOOP("table", "Lead knee"), "°", 0,
         [](const Analysis& a, Moment m) { return a.at(a.legs.lead_knee_flex_deg, m); }},
        {"pressure", QT_TRANSLATE_NOOP("table", "Lead pressure"), "%", 0,
         [](const Analysis& a, Moment m) { return a.at(a.pressure.lead_pct, m); }},
    };
    return kColumns;
}

} // namespace

MomentTableModel::MomentTableModel(BenchState* state, QObject* parent)
    : QAbstractTableModel(parent), state_(state) {
    const auto reset = [this] {
        beginResetModel();
        endResetModel();
    };
    connect(state_, &BenchState::swing_changed, this, reset);
    connect(&Units::instance(), &Units::changed, this, reset);
}

int MomentTableModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() || !state_->has_swing() ? 0 : static_cast<int>(kAllMoments.size());
}

int MomentTableModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(columns().size());
}

QVariant MomentTableModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || !state_->has_swing())
        return {};
    const auto column = static_cast<std::size_t>(index.column());
    const Moment moment = kAllMoments[static_cast<std::size_t>(index.row())];
    const Analysis& analysis = state_->swing()->analysis;
    const double value = columns()[column].of(analysis, moment) *
                         Units::instance().of(columns()[column].unit).factor;
    switch (role) {
    case Qt::DisplayRole:
        return number_text(value, columns()[column].decimals);
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
    const Column& column = columns()[static_cast<std::size_t>(section)];
    return QCoreApplication::translate("table", column.name) + QStringLiteral("\n") +
           Units::instance().of(column.unit).name;
}

MomentTable::MomentTable(BenchState* state, QWidget* parent) : QTableView(parent), state_(state) {
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
    return QString::fromLatin1(columns()[static_cast<std::size_t>(std::max(0, column))].key);
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
