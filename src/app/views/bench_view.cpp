#include "app/views/bench_view.h"

#include "app/charts/kite_view.h"
#include "app/charts/separation_strip.h"
#include "app/charts/stair_chart.h"
#include "app/theme/theme.h"
#include "app/views/labels.h"
#include "app/views/reading_panel.h"
#include "app/views/transport_bar.h"

#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QVBoxLayout>

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

BenchView::BenchView(BenchState* state, QWidget* parent) : QWidget(parent), state_(state) {
    const Theme& theme = Theme::instance();
    title_ = new QLabel(this);
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
    auto* reading = new ReadingPanel(state_, this);
    auto* transport = new TransportBar(state_, this);

    auto* rule = new QFrame(this);
    rule->setObjectName(QStringLiteral("rule"));
    auto* charts = make_card(this, {{stair_, 10}, {rule, 0}, {separation_, 3}});

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
    middle->addSpacing(theme.scaled(8));
    middle->addWidget(charts, 1);
    middle->addSpacing(theme.scaled(8));
    middle->addWidget(transport);

    auto* right = new QVBoxLayout;
    right->setSpacing(theme.scaled(10));
    right->addWidget(make_card(this, {{reading, 1}}), 13);
    right->addWidget(make_card(this, {{kite_, 1}}), 8);

    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(theme.scaled(16), theme.scaled(14), theme.scaled(14),
                               theme.scaled(12));
    layout->setSpacing(theme.scaled(14));
    layout->addLayout(middle, 2);
    auto* side = new QWidget(this);
    side->setMinimumWidth(theme.scaled(280));
    side->setMaximumWidth(theme.scaled(344));
    right->setContentsMargins(0, 0, 0, 0);
    side->setLayout(right);
    layout->addWidget(side, 1);

    connect(&Theme::instance(), &Theme::changed, this, &BenchView::restyle);
    restyle();
}

void BenchView::restyle() {
    title_->setFont(Theme::instance().font(22, Theme::Weight::Bold));
    note_->setFont(Theme::instance().font(13));
}

void BenchView::set_title(const QString& title, const QString& note) {
    title_->setText(title);
    note_->setText(note);
}

} // namespace kite::app
