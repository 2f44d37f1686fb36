#include "app/charts/kite_view.h"
#include "app/charts/stair_chart.h"
#include "app/rooms/film/film_room.h"
#include "app/rooms/film/film_view.h"
#include "app/theme/theme.h"
#include "app/widgets/labels.h"
#include "app/widgets/wrapped.h"

#include <QFrame>
#include <QHBoxLayout>
#include <QStackedWidget>
#include <QToolButton>
#include <QVBoxLayout>

// How the room is laid out: without film, and with it.

namespace kite::app {

void FilmRoom::make_page() {
    const Theme& theme = Theme::instance();
    page_ = new QWidget;
    auto* outer = new QVBoxLayout(page_);
    outer->setContentsMargins(0, 0, 0, 0);
    pages_ = new QStackedWidget(page_);
    outer->addWidget(pages_);

    make_empty_page();
    auto* work = new QWidget(pages_);
    auto* row = new QHBoxLayout(work);
    row->setContentsMargins(theme.scaled(14), theme.scaled(10), theme.scaled(12), theme.scaled(10));
    row->setSpacing(theme.scaled(12));
    auto* left = new QVBoxLayout;
    left->setSpacing(theme.scaled(4));
    title_ = new ElidedLabel(work);
    next_ = make_label({}, theme.font(15, Theme::Weight::Semibold), "accent", work);
    next_->setObjectName(QStringLiteral("film_next"));
    next_->setWordWrap(true);
    left->addWidget(title_);
    left->addWidget(next_);
    films_ = new QHBoxLayout;
    films_->setSpacing(theme.scaled(8));
    left->addLayout(films_, 1);
    auto* buttons = new QHBoxLayout;
    const auto button = [&](const char* name, const QString& words, const QString& tip,
                            auto&& run) {
        auto* out = new QToolButton(work);
        out->setObjectName(QString::fromLatin1(name));
        out->setText(words);
        out->setToolTip(tip);
        connect(out, &QToolButton::clicked, this, run);
        buttons->addWidget(out);
    };
    button("film_propose", tr("Find the moments"), tr("From the sound and the motion (P)"),
           [this] { propose(); });
    button("film_follow", tr("Follow"), tr("The points of this picture through the film (F)"),
           [this] { follow(true); });
    button("film_accept", tr("Accept"), tr("What was followed, all of it (Shift+Enter)"),
           [this] { accept(true); });
    button("film_bench", tr("To the Bench"), tr("With the whole reading (Ctrl+Enter)"),
           [this] { to_bench(); });
    buttons->addStretch(1);
    left->addLayout(buttons);
    row->addLayout(left, 5);

    row->addLayout(make_right(work), 4);
    pages_->addWidget(work);
    connect(facts_, &FactsPanel::line_asked, this, [this](FactsPanel::LineKind kind) {
        line_ = kind;
        for (std::size_t i = 0; i < panes_.size(); ++i)
            panes_[i].view->ask_for_line(i == active_);
        show_next();
    });
}

void FilmRoom::make_empty_page() {
    const Theme& theme = Theme::instance();
    empty_ = new QWidget(pages_);
    auto* nothing = new QVBoxLayout(empty_);
    nothing->setContentsMargins(theme.scaled(40), theme.scaled(40), theme.scaled(40), 0);
    nothing->addWidget(
        make_label(tr("No film is open"), theme.font(20, Theme::Weight::Bold), "", empty_));
    nothing->addWidget(new WrappedText(
        tr("Open the film of one swing: from the front, and if there is a second phone also from "
           "behind, along the target line. Slow motion, phone upright, the golfer as large as "
           "hands and club allow, a stick in the belt. Film stays on this machine."),
        theme.font(14), empty_));
    auto* open = new QToolButton(empty_);
    open->setObjectName(QStringLiteral("film_open"));
    open->setText(tr("Open film…"));
    connect(open, &QToolButton::clicked, this, &FilmRoom::choose_files);
    auto* demo = new QToolButton(empty_);
    demo->setObjectName(QStringLiteral("film_demo"));
    demo->setText(tr("Look at the demo film"));
    connect(demo, &QToolButton::clicked, this, &FilmRoom::open_demo);
    auto* both_ways = new QHBoxLayout;
    both_ways->addWidget(open);
    both_ways->addWidget(demo);
    both_ways->addStretch(1);
    nothing->addLayout(both_ways);
    nothing->addStretch(1);
    pages_->addWidget(empty_);
}

QLayout* FilmRoom::make_right(QWidget* work) {
    const Theme& theme = Theme::instance();
    auto* right = new QVBoxLayout;
    right->setSpacing(theme.scaled(8));
    const auto card = [&](QWidget* inside, int stretch) {
        auto* frame = new QFrame(work);
        frame->setObjectName(QStringLiteral("card"));
        auto* layout = new QVBoxLayout(frame);
        layout->setContentsMargins(1, 1, 1, 1);
        layout->addWidget(inside);
        right->addWidget(frame, stretch);
        return frame;
    };
    facts_ = new FactsPanel(&marking_, work);
    facts_->setMinimumHeight(theme.scaled(200));
    card(facts_, 7);
    auto* both = new QWidget(work);
    auto* charts = new QVBoxLayout(both);
    charts->setContentsMargins(0, 0, 0, 0);
    reading_ = new WrappedText({}, theme.font(13, Theme::Weight::Semibold), both);
    reading_->setObjectName(QStringLiteral("film_reading"));
    reading_->setContentsMargins(theme.scaled(12), theme.scaled(8), theme.scaled(8), 0);
    charts->addWidget(reading_);
    stair_ = new StairChart(&shown_, both);
    stair_->setObjectName(QStringLiteral("film_stair"));
    charts->addWidget(stair_, 9);
    kite_ = new KiteView(&shown_, both);
    kite_->setObjectName(QStringLiteral("film_kite"));
    charts->addWidget(kite_, 4);
    charts_ = card(both, 10);
    charts_->hide();
    return right;
}

} // namespace kite::app
