#include "app/rooms/bench/difference_table.h"

#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "core/catalogue/measure.h"

#include <QCoreApplication>
#include <QHeaderView>
#include <QLabel>
#include <QLocale>
#include <QTableWidget>
#include <QVBoxLayout>

#include <cmath>

namespace kite::app {

namespace {

const std::vector<const Measure*>& rows() {
    static const std::vector<const Measure*> kRows = [] {
        std::vector<const Measure*> out;
        for (const Measure& measure : all_measures())
            if (measure.headline)
                out.push_back(&measure);
        return out;
    }();
    return kRows;
}

} // namespace

DifferenceTable::DifferenceTable(ShownSwing* state, QWidget* parent)
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
    connect(state_, &ShownSwing::swing_changed, this, &DifferenceTable::rebuild);
    connect(&Units::instance(), &Units::changed, this, &DifferenceTable::rebuild);
    connect(state_, &ShownSwing::overlay_changed, this, &DifferenceTable::rebuild);
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
    title_->setText(both ? tr("Other: %1").arg(state_->overlay().name)
                         : tr("No second swing. R lays the swing shown under the others."));
    table_->setVisible(both);
    if (!both)
        return;
    for (std::size_t i = 0; i < rows().size(); ++i) {
        const Measure& row = *rows()[i];
        // As shown, so that the change is that between the numbers seen.
        const double scale = std::pow(10.0, row.decimals);
        const Units::Shown shown = Units::instance().of(row.unit);
        const auto value_of = [&](const Analysis& analysis) {
            return std::round(row.of(analysis).value * shown.factor * scale) / scale;
        };
        const double here = value_of(state_->swing()->analysis);
        const double other = value_of(state_->overlay().swing->analysis);
        const QString& unit = shown.name;
        const QString name = QCoreApplication::translate("measure", row.short_name) +
                             (unit.isEmpty() ? QString() : QStringLiteral(", ") + unit);
        const double change = here - other;
        const QString sign = change > 0.0 ? QStringLiteral("+") : QString();
        const QStringList texts{
            name, number_text(here, row.decimals), number_text(other, row.decimals),
            std::isfinite(change) ? sign + number_text(change, row.decimals) : number_text(change)};
        for (int column = 0; column < 4; ++column) {
            auto* item = new QTableWidgetItem(texts[column]);
            item->setToolTip(QCoreApplication::translate("measure", row.name));
            item->setTextAlignment(column == 0 ? Qt::AlignLeft | Qt::AlignVCenter
                                               : Qt::AlignRight | Qt::AlignVCenter);
            table_->setItem(static_cast<int>(i), column, item);
        }
    }
}

QString DifferenceTable::csv() const {
    if (!table_->isVisibleTo(this))
        return {};
    const auto field = [](const QString& text) {
        // A name may hold a comma; numbers are written for machines.
        return text.contains(QLatin1Char(',')) ? QStringLiteral("\"%1\"").arg(text) : text;
    };
    const auto number = [](QString text) {
        bool is_number = false;
        const double value = QLocale().toDouble(
            text.replace(QChar(0x2212), QLatin1Char('-')).remove(QLatin1Char('+')), &is_number);
        return is_number ? QString::number(value, 'g', 7) : QString();
    };
    QString out = tr("measure") + QStringLiteral(",this,other,change\n");
    for (int row = 0; row < table_->rowCount(); ++row) {
        out += field(table_->item(row, 0)->text());
        for (int column = 1; column < 4; ++column)
            out += QLatin1Char(',') + number(table_->item(row, column)->text());
        out += QLatin1Char('\n');
    }
    return out;
}

} // namespace kite::app
