#include "app/views/difference_table.h"

#include "app/theme/text.h"
#include "app/theme/theme.h"

#include <QCoreApplication>
#include <QHeaderView>
#include <QLabel>
#include <QTableWidget>
#include <QVBoxLayout>

#include <cmath>

namespace kite::app {

namespace {

struct Row {
    const char* name; ///< to be translated
    const char* unit;
    int decimals;
    double (*of)(const Analysis& analysis);
};

template <Segment segment>
double peak_ms(const Analysis& a) {
    const auto* part = a.sequence.find(segment);
    return part == nullptr ? kMissing : -part->before_impact_ms;
}
template <Segment segment>
double peak_deg_s(const Analysis& a) {
    const auto* part = a.sequence.find(segment);
    return part == nullptr ? kMissing : part->peak_deg_s;
}

const std::vector<Row>& rows() {
    static const std::vector<Row> kRows{
        {QT_TRANSLATE_NOOP("difference", "Club peak"), "ms", 0, peak_ms<Segment::Club>},
        {QT_TRANSLATE_NOOP("difference", "Lead arm peak"), "ms", 0, peak_ms<Segment::LeadArm>},
        {QT_TRANSLATE_NOOP("difference", "Torso peak"), "ms", 0, peak_ms<Segment::Torso>},
        {QT_TRANSLATE_NOOP("difference", "Pelvis peak"), "ms", 0, peak_ms<Segment::Pelvis>},
        {QT_TRANSLATE_NOOP("difference", "Club speed"), "°/s", 0, peak_deg_s<Segment::Club>},
        {QT_TRANSLATE_NOOP("difference", "Torso speed"), "°/s", 0, peak_deg_s<Segment::Torso>},
        {QT_TRANSLATE_NOOP("difference", "Pelvis speed"), "°/s", 0, peak_deg_s<Segment::Pelvis>},
        {QT_TRANSLATE_NOOP("difference", "Pelvis first by"), "ms", 0,
         [](const Analysis& a) { return a.transition.pelvis_lead_ms; }},
        {QT_TRANSLATE_NOOP("difference", "Separation, top"), "°", 0,
         [](const Analysis& a) { return a.separation ? a.separation->at_top_deg : kMissing; }},
        {QT_TRANSLATE_NOOP("difference", "Stretch"), "°", 0,
         [](const Analysis& a) { return a.separation ? a.separation->stretch_deg : kMissing; }},
        {QT_TRANSLATE_NOOP("difference", "Tempo"), "", 1,
         [](const Analysis& a) { return a.tempo.ratio; }},
    };
    return kRows;
}

} // namespace

DifferenceTable::DifferenceTable(BenchState* state, QWidget* parent)
    : QWidget(parent), state_(state) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(10, 8, 6, 6);
    title_ = new QLabel(this);
    title_->setObjectName(QStringLiteral("soft"));
    title_->setWordWrap(true);
    table_ = new QTableWidget(static_cast<int>(rows().size()), 4, this);
    table_->setObjectName(QStringLiteral("differences"));
    table_->setAccessibleName(tr("Differences between the two swings"));
    table_->setHorizontalHeaderLabels({QString(), tr("this"), tr("other"), tr("change")});
    table_->verticalHeader()->hide();
    table_->setShowGrid(false);
    table_->setFrameShape(QFrame::NoFrame);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setSelectionMode(QAbstractItemView::NoSelection);
    table_->setFocusPolicy(Qt::NoFocus);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
    layout->addWidget(title_);
    layout->addWidget(table_, 1);
    connect(state_, &BenchState::swing_changed, this, &DifferenceTable::rebuild);
    connect(state_, &BenchState::overlay_changed, this, &DifferenceTable::rebuild);
    connect(&Theme::instance(), &Theme::changed, this, &DifferenceTable::restyle);
    restyle();
    rebuild();
}

void DifferenceTable::restyle() {
    const Theme& theme = Theme::instance();
    title_->setFont(theme.font(12));
    table_->setFont(theme.font(12));
    table_->horizontalHeader()->setFont(theme.font(12));
    table_->verticalHeader()->setDefaultSectionSize(theme.scaled(19));
}

void DifferenceTable::rebuild() {
    const bool both = state_->has_swing() && state_->overlay().swing;
    title_->setText(both ? tr("Other: %1. Times from impact.").arg(state_->overlay().name)
                         : tr("No second swing. R lays the swing shown under the others."));
    table_->setVisible(both);
    if (!both)
        return;
    for (std::size_t i = 0; i < rows().size(); ++i) {
        const Row& row = rows()[i];
        // As shown, so that the change is that between the numbers seen.
        const double scale = std::pow(10.0, row.decimals);
        const double here = std::round(row.of(state_->swing()->analysis) * scale) / scale;
        const double other = std::round(row.of(state_->overlay().swing->analysis) * scale) / scale;
        const QString unit = QString::fromUtf8(row.unit);
        const QString name = QCoreApplication::translate("difference", row.name) +
                             (unit.isEmpty() ? QString() : QStringLiteral(", ") + unit);
        const double change = here - other;
        const QString sign = change > 0.0 ? QStringLiteral("+") : QString();
        const QStringList texts{
            name, number_text(here, row.decimals), number_text(other, row.decimals),
            std::isfinite(change) ? sign + number_text(change, row.decimals) : number_text(change)};
        for (int column = 0; column < 4; ++column) {
            auto* item = new QTableWidgetItem(texts[column]);
            item->setTextAlignment(column == 0 ? Qt::AlignLeft | Qt::AlignVCenter
                                               : Qt::AlignRight | Qt::AlignVCenter);
            table_->setItem(static_cast<int>(i), column, item);
        }
    }
}

} // namespace kite::app
