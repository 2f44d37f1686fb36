#include "app/rooms/bench/bench_view.h"

#include "app/charts/body_strip.h"
#include "app/charts/figure_view.h"
#include "app/charts/kite_view.h"
#include "app/charts/separation_strip.h"
#include "app/charts/stair_chart.h"
#include "app/rooms/bench/difference_table.h"
#include "app/rooms/bench/measure_bar.h"
#include "app/rooms/bench/moment_table.h"
#include "app/rooms/bench/reading_panel.h"
#include "app/rooms/bench/transport_bar.h"
#include "app/theme/theme.h"
#include "app/widgets/labels.h"

#include <QButtonGroup>
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QSettings>
#include <QStackedWidget>
#include <QToolButton>
#include <QVBoxLayout>

#include <algorithm>

namespace kite::app {

namespace {

/// A surface with a fine edge around its contents.
QFrame* make_card(QWidget* parent, std::initializer_list<std::pair<QWidget*, int>> contents) {
    auto* card = new QFrame(parent);
    card->setObjectName(QStringLiteral("card"));
    auto* layout = new QVBoxLayout(card);
    layout->setContentsMargins(1, 1, 1, 1);
    layout->setSpacing(0);
    for (const auto& [widget, stretch] : contents)
        layout->addWidget(widget, stretch);
    return card;
}

} // namespace

BenchView::BenchView(ShownSwing* state, QWidget* parent) : QWidget(parent), state_(state) {
    const Theme& theme = Theme::instance();
    title_ = new ElidedLabel(this);
    title_->setObjectName(QStringLiteral("swing_title"));
    note_ = new ElidedLabel(this);
    note_->setObjectName(QStringLiteral("soft"));
    place_ = new PlaceLabel(state_, this);
    stair_ = new StairChart(state_, this);
    stair_->setObjectName(QStringLiteral("stair"));
    separation_ = new SeparationStrip(state_, this);
    separation_->setObjectName(QStringLiteral("separation"));
    kite_ = new KiteView(state_, this);
    kite_->setObjectName(QStringLiteral("kite"));
    reading_ = new ReadingPanel(state_, this);
    connect(reading_, &ReadingPanel::why_asked, this, &BenchView::why_asked);
    auto* transport = new TransportBar(state_, this);

    body_ = new BodyStrip(state_, this);
    body_->setObjectName(QStringLiteral("body"));
    measure_bar_ = new MeasureBar(state_, this);
    table_ = new MomentTable(state_, this);

    const auto make_rule = [this] {
        auto* rule = new QFrame(this);
        rule->setObjectName(QStringLiteral("rule"));
        return rule;
    };
    middle_ = new QStackedWidget(this);
    middle_->addWidget(make_card(
        this, {{stair_, 20}, {make_rule(), 0}, {body_, 4}, {make_rule(), 0}, {separation_, 6}}));
    middle_->addWidget(make_card(this, {{table_, 1}}));

    auto* middle = new QVBoxLayout;
    middle->setSpacing(theme.scaled(2));
    auto* head = new QHBoxLayout;
    auto* words = new QVBoxLayout;
    words->setSpacing(theme.scaled(2));
    words->addWidget(title_);
    words->addWidget(note_);
    head->addLayout(words, 1);
    head->addSpacing(theme.scaled(12));
    head->addWidget(place_);
    middle->addLayout(head);
    middle->addSpacing(theme.scaled(6));
    middle->addWidget(measure_bar_);
    middle->addSpacing(theme.scaled(6));
    middle->addWidget(middle_, 1);
    middle->addSpacing(theme.scaled(8));
    middle->addWidget(transport);

    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(theme.scaled(16), theme.scaled(14), theme.scaled(14),
                               theme.scaled(12));
    layout->setSpacing(theme.scaled(14));
    layout->addLayout(middle, 2);
    side_ = new QWidget(this);
    side_->setLayout(make_right());
    layout->addWidget(side_, 1);
    for (QWidget* chart : {static_cast<QWidget*>(stair_), static_cast<QWidget*>(body_),
                           static_cast<QWidget*>(separation_), static_cast<QWidget*>(kite_),
                           static_cast<QWidget*>(figures_[0]), static_cast<QWidget*>(figures_[1])})
        add_menu(chart);
    connect(measure_bar_, &MeasureBar::options_chosen, this, &BenchView::options_chosen);
    connect(table_, &MomentTable::explain_requested, this, &BenchView::explain_requested);

    connect(&Theme::instance(), &Theme::changed, this, &BenchView::restyle);
    restyle();
}

QLayout* BenchView::make_right() {
    const Theme& theme = Theme::instance();
    auto* right = new QVBoxLayout;
    right->setContentsMargins(0, 0, 0, 0);
    right->setSpacing(theme.scaled(10));
    right->addWidget(make_card(this, {{reading_, 1}}), 16);
    pictures_ = new QStackedWidget(this);
    pictures_->addWidget(kite_);
    for (const auto from : {FigureView::From::FaceOn, FigureView::From::DownTheLine})
        figures_.push_back(new FigureView(state_, from, this));
    for (FigureView* figure : figures_)
        pictures_->addWidget(figure);
    differences_ = new DifferenceTable(state_, this);
    pictures_->addWidget(differences_);
    auto* choice = new QWidget(this);
    auto* choice_layout = new QHBoxLayout(choice);
    choice_layout->setContentsMargins(theme.scaled(5), theme.scaled(8), theme.scaled(4), 0);
    choice_layout->setSpacing(theme.scaled(3));
    picture_choice_ = new QButtonGroup(this);
    int index = 0;
    for (const QString& name : {tr("Above"), tr("Face-on"), tr("Down the line"), tr("Change")}) {
        auto* button = new QToolButton(choice);
        button->setText(name);
        button->setCheckable(true);
        button->setToolTip(tr("%1 (F shows the next picture)").arg(name));
        picture_choice_->addButton(button, index++);
        choice_layout->addWidget(button);
    }
    choice_layout->addStretch(1);
    connect(picture_choice_, &QButtonGroup::idClicked, this, &BenchView::show_picture);
    show_picture(0);
    right->addWidget(make_card(this, {{choice, 0}, {pictures_, 1}}), 8);
    return right;
}

void BenchView::add_menu(QWidget* chart) {
    chart->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(chart, &QWidget::customContextMenuRequested, this, [this, chart](const QPoint& at) {
        auto* menu = new QMenu(chart);
        menu->setObjectName(QStringLiteral("chart_menu"));
        menu->setAttribute(Qt::WA_DeleteOnClose);
        menu->addAction(tr("What is this?"), this,
                        [this, chart] { emit explain_requested(measure_of(chart)); });
        menu->addAction(tr("Copy this picture"), this,
                        [this, chart] { emit copy_requested(chart); });
        menu->addAction(tr("Save this picture…"), this,
                        [this, chart] { emit save_requested(chart); });
        menu->popup(chart->mapToGlobal(at));
    });
}

QString BenchView::measure_of(const QWidget* chart) const {
    if (chart == body_)
        return body_->chosen();
    if (chart == separation_)
        return QStringLiteral("separation");
    if (chart == kite_)
        return QStringLiteral("hinge_path");
    return chart == stair_ ? QStringLiteral("peak") : QStringLiteral("moment");
}

QString BenchView::asked_measure() const {
    if (is_table_shown())
        return table_->asked_measure();
    for (const QWidget* chart : {static_cast<QWidget*>(stair_), static_cast<QWidget*>(body_),
                                 static_cast<QWidget*>(separation_)})
        if (chart->hasFocus())
            return measure_of(chart);
    return QStringLiteral("order");
}

void BenchView::switch_words() {
    reading_->show_plain(!reading_->is_plain());
}

void BenchView::show_traces(bool shown) {
    for (FigureView* figure : figures_)
        figure->show_traces(shown);
}

bool BenchView::are_traces_shown() const {
    return figures_.front()->are_traces_shown();
}

void BenchView::show_table(bool shown) {
    middle_->setCurrentIndex(shown ? 1 : 0);
}

bool BenchView::is_table_shown() const {
    return middle_->currentIndex() == 1;
}

void BenchView::show_picture(int index) {
    pictures_->setCurrentIndex(index);
    picture_choice_->button(index)->setChecked(true);
}

int BenchView::picture() const {
    return pictures_->currentIndex();
}

void BenchView::show_next_picture() {
    show_picture((picture() + 1) % pictures_->count());
}

QString BenchView::table_csv() const {
    return table_->csv();
}

void BenchView::copy_table() const {
    table_->copy();
}

QString BenchView::change_csv() const {
    return differences_->csv();
}

void BenchView::switch_common_scale() {
    stair_->set_common_scale(!stair_->has_common_scale());
}

void BenchView::choose_next_quantity(int direction) {
    body_->choose_next(direction);
}

void BenchView::set_options(const AnalysisOptions& options) {
    measure_bar_->set_options(options);
}

namespace {
const QString kBodyKey = QStringLiteral("bench/body");
const QString kPictureKey = QStringLiteral("bench/picture");
const QString kScaleKey = QStringLiteral("bench/common_scale");
const QString kTracesKey = QStringLiteral("bench/traces");
} // namespace

void BenchView::read_settings(const QSettings& settings) {
    body_->choose(settings.value(kBodyKey).toString());
    show_picture(std::clamp(settings.value(kPictureKey, 0).toInt(), 0, pictures_->count() - 1));
    stair_->set_common_scale(settings.value(kScaleKey, false).toBool());
    show_traces(settings.value(kTracesKey, false).toBool());
}

void BenchView::write_settings(QSettings& settings) const {
    settings.setValue(kBodyKey, body_->chosen());
    settings.setValue(kPictureKey, picture());
    settings.setValue(kScaleKey, stair_->has_common_scale());
    settings.setValue(kTracesKey, are_traces_shown());
}

QWidget* BenchView::charts() const {
    return middle_->widget(0);
}

void BenchView::restyle() {
    // All four have room beside each other in the narrowest window.
    for (QAbstractButton* button : picture_choice_->buttons()) {
        button->setFont(Theme::instance().font(12));
        button->setStyleSheet(QStringLiteral("QToolButton { padding: 4px 3px; } "
                                             "QToolButton:focus { padding: 3px 2px; }"));
    }
    const Theme& theme = Theme::instance();
    side_->setMinimumWidth(theme.scaled(272));
    side_->setMaximumWidth(theme.scaled(344));
    title_->setFont(Theme::instance().font(22, Theme::Weight::Bold));
    note_->setFont(Theme::instance().font(13));
}

void BenchView::set_title(const QString& title, const QString& note) {
    title_->setText(title);
    note_->setText(note);
}

} // namespace kite::app
