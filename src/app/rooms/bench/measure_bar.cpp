#include "app/rooms/bench/measure_bar.h"

#include "app/session/reference.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/labels.h"

#include <QAction>
#include <QActionGroup>
#include <QCheckBox>
#include <QDoubleSpinBox>
#include <QFontMetricsF>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>
#include <QWidgetAction>

#include <cmath>
#include <set>
#include <vector>

namespace kite::app {

MeasureBar::MeasureBar(ShownSwing* state, QWidget* parent) : QWidget(parent), state_(state) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(Theme::instance().scaled(3));
    rows_ = new QGridLayout;
    rows_->setSpacing(Theme::instance().scaled(6));
    layout->addLayout(rows_);
    add_choice("choose_rates", tr("Rates"), tr("Which rotation speed is meant"),
               &AnalysisOptions::convention, rate_choices());
    add_choice("choose_separation", tr("Separation"), tr("How separation is taken"),
               &AnalysisOptions::separation,
               {std::pair(SeparationMethod::Projected, tr("from above")),
                std::pair(SeparationMethod::Joint, tr("about the spine"))});
    add_choice("choose_top", tr("Top"), tr("Whose reversal is the top"), &AnalysisOptions::top,
               {std::pair(TopDefinition::Club, tr("club turns")),
                std::pair(TopDefinition::LeadArm, tr("lead arm turns"))});
    add_cutoffs();
    add_units();
    note_ = new ElidedLabel(this);
    note_->setObjectName(QStringLiteral("bar_note"));
    depends_ = new QPushButton(tr("The order depends on the rates chosen"), this);
    depends_->setObjectName(QStringLiteral("order_note"));
    depends_->setToolTip(tr("What each choice of rates gives"));
    depends_->setCursor(Qt::PointingHandCursor);
    connect(depends_, &QPushButton::clicked, this, &MeasureBar::show_orders);
    auto* notes = new QHBoxLayout;
    notes->setSpacing(Theme::instance().scaled(10));
    notes->addWidget(depends_);
    notes->addWidget(note_, 1);
    for (QToolButton* button : buttons_)
        button->setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Fixed);
    rows_->setColumnStretch(static_cast<int>(buttons_.size()), 1);
    layout->addLayout(notes);
    connect(state_, &ShownSwing::swing_changed, this, &MeasureBar::show_swing);
    connect(state_, &ShownSwing::overlay_changed, this, &MeasureBar::show_swing);
    connect(state_, &ShownSwing::reference_changed, this, &MeasureBar::show_swing);
    connect(&Theme::instance(), &Theme::changed, this, &MeasureBar::restyle);
    restyle();
    set_options({});
}

template <class Value>
void MeasureBar::add_choice(const char* object, const QString& caption, const QString& tip,
                            Value AnalysisOptions::*field,
                            const std::vector<std::pair<Value, QString>>& choices) {
    auto* button = new QToolButton(this);
    button->setObjectName(QString::fromLatin1(object));
    button->setToolTip(tip);
    button->setPopupMode(QToolButton::InstantPopup);
    auto* menu = new QMenu(button);
    auto* group = new QActionGroup(menu);
    for (const auto& [value, name] : choices) {
        QAction* action = menu->addAction(name);
        action->setCheckable(true);
        group->addAction(action);
        connect(action, &QAction::triggered, this, [this, field, value = value, caption] {
            AnalysisOptions options = options_;
            options.*field = value;
            emit options_chosen(options, tr("change %1").arg(caption.toLower()));
        });
        show_.push_back([this, button, action, field, caption, value = value, name = name] {
            if (options_.*field != value)
                return;
            action->setChecked(true);
            button->setAccessibleName(tr("%1: %2").arg(caption, name));
        });
    }
    button->setMenu(menu);
    buttons_.push_back(button);
}

void MeasureBar::add_cutoffs() {
    cutoffs_ = new QToolButton(this);
    cutoffs_->setObjectName(QStringLiteral("choose_cutoffs"));
    cutoffs_->setToolTip(tr("Low-pass cut-offs of pelvis, torso, lead arm and club. Left to "
                            "itself, each is chosen from the swing's own noise."));
    cutoffs_->setPopupMode(QToolButton::InstantPopup);
    auto* menu = new QMenu(cutoffs_);
    auto* panel = new QWidget(menu);
    auto* grid = new QGridLayout(panel);
    int row = 0;
    for (Segment segment : kSequence) {
        auto* fixed = new QCheckBox(tr("Fix %1 at").arg(segment_name(segment)), panel);
        auto* value = new QDoubleSpinBox(panel);
        value->setObjectName(QStringLiteral("cutoff_%1").arg(row));
        value->setAccessibleName(tr("Cut-off of %1").arg(segment_name(segment)));
        value->setSuffix(tr(" Hz"));
        value->setDecimals(1);
        value->setRange(2.0, 100.0);
        value->setKeyboardTracking(false);
        fixed->setObjectName(QStringLiteral("fix_%1").arg(row));
        grid->addWidget(fixed, row, 0);
        grid->addWidget(value, row, 1);
        ++row;
        const auto choose = [this, segment, fixed, value] {
            AnalysisOptions options = options_;
            if (fixed->isChecked())
                options.cutoff_hz[segment] = value->value();
            else
                options.cutoff_hz.erase(segment);
            emit options_chosen(options, tr("change cut-offs"));
        };
        connect(fixed, &QCheckBox::clicked, this, choose);
        connect(value, &QDoubleSpinBox::valueChanged, this, choose);
        show_.push_back([this, segment, fixed, value] {
            const auto chosen = options_.cutoff_hz.find(segment);
            const bool is_fixed = chosen != options_.cutoff_hz.end();
            double hz = is_fixed ? chosen->second : cutoff_bounds(segment).high_hz;
            if (!is_fixed && state_->has_swing())
                if (const auto* motion = state_->swing()->analysis.find_motion(segment))
                    hz = motion->cutoff_hz;
            const QSignalBlocker quiet(value);
            fixed->setChecked(is_fixed);
            value->setEnabled(is_fixed);
            value->setValue(hz);
        });
    }
    auto* action = new QWidgetAction(menu);
    action->setDefaultWidget(panel);
    menu->addAction(action);
    cutoffs_->setMenu(menu);
    buttons_.push_back(cutoffs_);
}

void MeasureBar::add_units() {
    units_ = new QToolButton(this);
    units_->setObjectName(QStringLiteral("choose_units"));
    units_->setToolTip(tr("Units of lengths and speeds (U)"));
    units_->setPopupMode(QToolButton::InstantPopup);
    auto* menu = new QMenu(units_);
    auto* group = new QActionGroup(menu);
    for (const auto& [length, speed] : Units::pairs()) {
        QAction* action = menu->addAction(Units::name_of(length, speed));
        action->setCheckable(true);
        group->addAction(action);
        connect(action, &QAction::triggered, this,
                [l = length, s = speed] { Units::instance().set(l, s); });
        show_.push_back([action, l = length, s = speed] {
            action->setChecked(Units::instance().length() == l && Units::instance().speed() == s);
        });
    }
    units_->setMenu(menu);
    buttons_.push_back(units_);
    connect(&Units::instance(), &Units::changed, this, &MeasureBar::show_swing);
}

void MeasureBar::set_options(const AnalysisOptions& options) {
    options_ = options;
    show_swing();
}

void MeasureBar::show_swing() {
    for (const auto& show : show_)
        show();
    QStringList hz;
    if (state_->has_swing())
        for (Segment segment : kSequence) {
            const auto* motion = state_->swing()->analysis.find_motion(segment);
            hz << (motion == nullptr ? QStringLiteral("–") : number_text(motion->cutoff_hz));
        }
    const QString values = hz.join(QStringLiteral(" · "));
    cutoffs_->setAccessibleName(options_.cutoff_hz.empty()
                                    ? tr("Filter: %1 Hz").arg(values)
                                    : tr("Filter: %1 Hz, fixed").arg(values));
    units_->setAccessibleName(
        tr("Units: %1").arg(Units::name_of(Units::instance().length(), Units::instance().speed())));
    fit();
    const bool depends =
        state_->has_swing() && state_->swing()->analysis.order_depends_on_convention();
    depends_->setVisible(depends);
    QStringList notes;
    if (state_->has_overlay()) {
        const QString where = state_->overlay().alignment == Alignment::Impact ? tr("at impact")
                              : state_->overlay().alignment == Alignment::Top  ? tr("at the top")
                                                                               : tr("stretched");
        notes << tr("With %1, %2").arg(state_->overlay().name, where);
    }
    if (const auto& reference = state_->reference(); reference && !reference->empty())
        notes << tr("Behind: %1, mean ± SD").arg(reference->name);
    note_->setText(notes.join(QStringLiteral("  ·  ")));
    note_->setVisible(!notes.isEmpty());
    note_->setStyleSheet(QStringLiteral("color: %1").arg(colours().soft.name()));
    // Look here: only where a choice changes the order.
    depends_->setStyleSheet(
        QStringLiteral("QPushButton { border: none; padding: 0; background: transparent; "
                       "text-align: left; text-decoration: underline; color: %1; }"
                       "QPushButton:hover, QPushButton:focus { color: %2; }")
            .arg(colours().accent.name(), colours().ink.name()));
}

std::vector<std::pair<RateConvention, QString>> MeasureBar::rate_choices() {
    return {{RateConvention::Axis, tr("own axis")},
            {RateConvention::Resultant, tr("as a whole")},
            {RateConvention::Plane, tr("swing plane")}};
}

void MeasureBar::show_orders() {
    if (!state_->has_swing())
        return;
    auto* menu = new QMenu(depends_);
    menu->setObjectName(QStringLiteral("orders"));
    menu->setAttribute(Qt::WA_DeleteOnClose);
    for (const auto& [convention, name] : rate_choices()) {
        QStringList parts;
        for (Segment segment :
             state_->swing()->analysis.order_by_convention[static_cast<std::size_t>(convention)])
            parts << segment_name(segment);
        QAction* action =
            menu->addAction(tr("%1: %2").arg(name, parts.join(QStringLiteral(" → "))));
        action->setCheckable(true);
        action->setChecked(convention == options_.convention);
        connect(action, &QAction::triggered, this, [this, chosen = convention] {
            AnalysisOptions options = options_;
            options.convention = chosen;
            emit options_chosen(options, tr("choose the rates"));
        });
    }
    menu->popup(depends_->mapToGlobal(depends_->rect().bottomLeft()));
}

void MeasureBar::fit() {
    const QString between = QStringLiteral(": ");
    const auto without_caption = [&](const QString& text) {
        const auto at = text.indexOf(between);
        return at < 0 ? text : text.mid(at + between.size());
    };
    constexpr double kFrame = 30.0; // edge, padding and the arrow
    const auto needed = [&](const QToolButton* button, bool has_caption) {
        const QString& text = button->accessibleName();
        return QFontMetricsF(button->font())
                   .horizontalAdvance(has_caption ? text : without_caption(text)) +
               kFrame + rows_->spacing();
    };
    double across = 0.0;
    for (const QToolButton* button : buttons_)
        across += needed(button, true);
    // Units and the filter's Hz are known without a caption; the others give way after them.
    std::vector<QToolButton*> giving_way{units_, cutoffs_};
    for (QToolButton* button : buttons_)
        if (button != cutoffs_ && button != units_)
            giving_way.push_back(button);
    std::set<const QToolButton*> without;
    for (const QToolButton* button : giving_way) {
        if (across <= width())
            break;
        across += needed(button, false) - needed(button, true);
        without.insert(button);
    }
    const int in_a_row = across <= width() ? static_cast<int>(buttons_.size()) : 2;
    for (std::size_t i = 0; i < buttons_.size(); ++i) {
        QToolButton* button = buttons_[i];
        button->setText(without.count(button) > 0 ? without_caption(button->accessibleName())
                                                  : button->accessibleName());
        const int at = static_cast<int>(i);
        rows_->addWidget(button, at / in_a_row, at % in_a_row, Qt::AlignLeft);
    }
}

void MeasureBar::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    fit();
}

void MeasureBar::restyle() {
    const Theme& theme = Theme::instance();
    for (QToolButton* button : buttons_)
        button->setFont(theme.font(12));
    note_->setFont(theme.font(12, Theme::Weight::Semibold));
    depends_->setFont(theme.font(12, Theme::Weight::Semibold));
    show_swing();
}

} // namespace kite::app
