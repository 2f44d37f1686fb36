#include "app/rooms/why/why_room.h"

#include "app/rooms/why/cause_map.h"
#include "app/rooms/why/why_panel.h"
#include "app/shell/commands.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "app/widgets/wrapped.h"
#include "core/reading/why.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QVBoxLayout>

#include <algorithm>

namespace kite::app {

WhyRoom::WhyRoom(Shell& shell, std::shared_ptr<Desk> desk) : shell_(shell), desk_(std::move(desk)) {
    const Theme& theme = Theme::instance();
    page_ = new QWidget;
    auto* row = new QHBoxLayout(page_);
    row->setContentsMargins(theme.scaled(18), theme.scaled(14), theme.scaled(4), theme.scaled(14));
    row->setSpacing(theme.scaled(14));
    auto* left = new QVBoxLayout;
    title_ = make_label({}, theme.font(20, Theme::Weight::Bold), "", page_);
    title_->setObjectName(QStringLiteral("why_head"));
    caption_ = make_label({}, theme.font(13), "soft", page_);
    legend_ = make_label(
        tr("The bar is the evidence; the lit path is the first fix, where it may begin and what it "
           "explains; a dotted edge was not judged."),
        theme.font(12), "soft", page_);
    map_ = new CauseMap(desk_.get(), page_);
    left->addWidget(title_);
    left->addWidget(caption_);
    left->addWidget(legend_);
    left->addSpacing(theme.scaled(8));
    left->addWidget(map_, 1);
    row->addLayout(left, 5);
    panel_ = new WhyPanel(desk_.get(), page_);
    row->addWidget(panel_, 3);

    connect(map_, &CauseMap::chosen_changed, this, [this] { panel_->show_fault(map_->chosen()); });
    connect(panel_, &WhyPanel::fault_asked, this,
            [this](const QString& id) { map_->choose(id.toStdString()); });
    connect(panel_, &WhyPanel::moment_asked, this, [this](double t_s, const QString& id) {
        ShownSwing& shown = desk_->shown();
        const Fault* fault = shown.swing()->reading.find(id.toStdString());
        shown.set_playing(false);
        if (fault != nullptr && !fault->because.empty())
            shown.set_lit(fault->because.front().segments);
        shown.set_cursor_s(t_s);
        shell_.enter(QStringLiteral("bench"));
    });
    connect(desk_.get(), &Desk::why_asked, this, [this](const QString& id) {
        map_->choose(id.toStdString());
        shell_.enter(this->id());
    });
    connect(&desk_->shown(), &ShownSwing::swing_changed, this, &WhyRoom::show_swing);
    connect(desk_.get(), &Desk::caption_changed, this, &WhyRoom::show_swing);
    connect(&Theme::instance(), &Theme::changed, this, [this] {
        title_->setFont(Theme::instance().font(20, Theme::Weight::Bold));
        caption_->setFont(Theme::instance().font(13));
        legend_->setFont(Theme::instance().font(12));
    });
    show_swing();
}

WhyRoom::~WhyRoom() {
    delete page_;
}

void WhyRoom::show_swing() {
    if (!desk_->shown().has_swing()) {
        title_->setText(tr("No swing is chosen"));
        caption_->setText(tr("Open a swing on the Bench: what was found in it, and why, is shown "
                             "here."));
        map_->choose({});
        return;
    }
    const Reading& reading = desk_->shown().swing()->reading;
    title_->setText(reading.first_fix ? tr("What started it") : tr("Nothing to mend was found"));
    caption_->setText(desk_->caption());
    // Another swing: what is first in it, unless the same fault is still looked at.
    const Fault* now = reading.find(map_->chosen());
    if (now == nullptr || !now->is_present())
        map_->choose(reading.first_fix.value_or(map_->chosen()));
}

void WhyRoom::entered() {
    map_->setFocus();
}

void WhyRoom::step_listed(int direction) {
    if (!desk_->shown().has_swing())
        return;
    const auto listed = listed_faults(desk_->shown().swing()->reading);
    if (listed.empty())
        return;
    const auto at = std::find_if(listed.begin(), listed.end(),
                                 [&](const Fault* fault) { return fault->id == map_->chosen(); });
    const auto size = static_cast<int>(listed.size());
    const int next =
        at == listed.end() ? 0 : (static_cast<int>(at - listed.begin()) + direction + size) % size;
    map_->choose(listed[static_cast<std::size_t>(next)]->id);
}

void WhyRoom::add_commands(Commands& commands) {
    const QString menu = QStringLiteral("view");
    commands.add(menu, {QStringLiteral("why.next-fault"),
                        tr("Next fault that was &found"),
                        {QKeySequence(Qt::Key_N), QKeySequence(Qt::Key_PageDown)},
                        [this] { step_listed(1); }});
    commands.add(menu, {QStringLiteral("why.previous-fault"),
                        tr("&Previous fault that was found"),
                        {QKeySequence(Qt::Key_P), QKeySequence(Qt::Key_PageUp)},
                        [this] { step_listed(-1); }});
    commands.add(menu, {QStringLiteral("why.back"),
                        tr("&Back to the Bench"),
                        {QKeySequence(Qt::Key_Escape)},
                        [this] { shell_.enter(QStringLiteral("bench")); }});
}

} // namespace kite::app
