#include "app/rooms/bench/empty_view.h"

#include "app/theme/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace kite::app {

EmptyView::EmptyView(QWidget* parent) : QWidget(parent) {
    const Theme& theme = Theme::instance();
    auto* layout = new QVBoxLayout(this);
    layout->setSpacing(theme.scaled(10));
    layout->addStretch(2);
    auto* title = new QLabel(tr("Bring in a swing"), this);
    title->setFont(theme.font(26, Theme::Weight::Bold));
    title->setAlignment(Qt::AlignCenter);
    layout->addWidget(title);
    auto* text = new QLabel(
        tr("Drop pose CSV or C3D files, or a folder, anywhere in this window.\n"
           "Or look around in the demo lesson first: three invented golfers, ten swings."),
        this);
    text->setObjectName(QStringLiteral("soft"));
    text->setFont(theme.font(15));
    text->setAlignment(Qt::AlignCenter);
    text->setWordWrap(true);
    layout->addWidget(text);
    layout->addSpacing(theme.scaled(10));
    auto* row = new QHBoxLayout;
    row->addStretch(1);
    auto* open = new QPushButton(tr("Open files…"), this);
    open->setObjectName(QStringLiteral("primary"));
    auto* demo = new QPushButton(tr("Open the demo lesson"), this);
    demo->setObjectName(QStringLiteral("demo"));
    row->addWidget(open);
    row->addSpacing(theme.scaled(8));
    row->addWidget(demo);
    row->addStretch(1);
    layout->addLayout(row);
    layout->addStretch(3);
    connect(open, &QPushButton::clicked, this, &EmptyView::open_requested);
    connect(demo, &QPushButton::clicked, this, &EmptyView::demo_requested);
}

} // namespace kite::app
