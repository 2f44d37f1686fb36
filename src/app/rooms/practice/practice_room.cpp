#include "app/rooms/practice/practice_room.h"

#include "app/charts/drill_figure.h"
#include "app/rooms/practice/drill_finder.h"
#include "app/rooms/practice/drill_sheet.h"
#include "app/rooms/practice/plan_panel.h"
#include "app/session/days.h"
#include "app/session/plan_counting.h"
#include "app/shell/commands.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "formats/practice/drills_json.h"
#include "formats/practice/plan_calendar.h"
#include "formats/rules/rules_json.h"
#include "formats/text/bytes.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QListWidget>
#include <QPdfWriter>
#include <QPrintDialog>
#include <QPrinter>
#include <QTextDocument>

#include <boost/date_time/gregorian/gregorian_types.hpp>

namespace kite::app {

namespace {

const DrillBook& book() {
    return formats::shipped_drills();
}

} // namespace

PracticeRoom::PracticeRoom(Shell& shell, std::shared_ptr<Desk> desk)
    : shell_(shell), desk_(std::move(desk)), keeper_(desk_->plan()) {
    const Theme& theme = Theme::instance();
    page_ = new QWidget;
    auto* row = new QHBoxLayout(page_);
    row->setContentsMargins(theme.scaled(14), theme.scaled(14), 0, theme.scaled(10));
    row->setSpacing(theme.scaled(6));
    finder_ = new DrillFinder(&book(), &formats::shipped_rule_book(), page_);
    sheet_ = new DrillSheet(&book(), page_);
    panel_ = new PlanPanel(&keeper_, &book(), page_);
    row->addWidget(finder_);
    row->addWidget(sheet_, 1);
    row->addWidget(panel_);
    show_drill();
    connect(finder_, &DrillFinder::chosen_changed, this, &PracticeRoom::show_drill);
    connect(&keeper_, &PlanKeeper::changed, this, &PracticeRoom::show_drill);
    connect(panel_, &PlanPanel::make_requested, this, &PracticeRoom::make_plan_for_first_fix);
    connect(panel_, &PlanPanel::count_requested, this, &PracticeRoom::count_swings_on_list);
    connect(panel_, &PlanPanel::drill_asked, this, [this](const QString& id) {
        finder_->ask_for_fault({});
        finder_->choose(id.toStdString());
    });
    connect(&keeper_, &PlanKeeper::not_kept, this, [this](const QString& why) {
        shell_.show_message(tr("The plan is not kept"), why, tr("Keep it elsewhere…"),
                            [this] { keep_plan_elsewhere(); });
    });
    connect(desk_.get(), &Desk::plan_not_usable, this, [this](const QString& why) {
        shell_.show_message(tr("The plan that was worked on last cannot be used"), why);
    });
}

void PracticeRoom::show_drill() {
    // The plan's own drill is counted against what the plan is for, whatever is looked for.
    const auto& plan = keeper_.plan();
    const std::string id = finder_->chosen();
    sheet_->show_drill(id, plan && plan->main_drill == id ? plan->fault : finder_->fault());
}

PracticeRoom::~PracticeRoom() {
    delete page_;
}

void PracticeRoom::entered() {
    finder_->list()->setFocus();
    // What the swing on the Bench needs first is asked for, unless a plan is worked on.
    if (!keeper_.plan() && desk_->shown().has_swing())
        if (const auto& fix = desk_->shown().swing()->reading.first_fix)
            finder_->ask_for_fault(*fix);
}

void PracticeRoom::say(const QString& title, const std::vector<Finding>& findings) {
    if (!findings.empty())
        shell_.show_message(title, QString::fromStdString(text_of(findings.front())));
}

void PracticeRoom::make_plan_for_first_fix() {
    if (!desk_->shown().has_swing()) {
        shell_.show_message(tr("There is no swing to plan for"),
                            tr("Open one on the Bench: the plan is for what it needs first."));
        return;
    }
    const LoadedSwing& swing = *desk_->shown().swing();
    panel_->spare(desk_->limits_of_golfer());
    auto made = make_plan(swing.reading, book(), swing.rules->school.drills, panel_->wish());
    if (!made.ok()) {
        say(tr("There is no plan for this"), made.findings);
        return;
    }
    made.value.golfer = desk_->golfer_meant().toStdString();
    shell_.hide_message();
    finder_->ask_for_fault(made.value.fault);
    finder_->choose(made.value.main_drill);
    keeper_.set_plan(std::move(made.value), tr("make a plan"));
}

void PracticeRoom::count_swings_on_list() {
    const auto& plan = keeper_.plan();
    if (!plan)
        return;
    const SwingListModel& swings = *desk_->lesson().swings();
    LoadedSwings counted;
    for (int row = 0; row < swings.rowCount(); ++row) {
        auto swing = swings.swing(row);
        const std::string golfer = swings.golfer_of(row).toStdString();
        const bool is_anothers = !golfer.empty() && !plan->golfer.empty() && golfer != plan->golfer;
        if (!swing || !swing->ok || is_anothers || swings.marks_of(swings.id_of(row)).excluded)
            continue;
        counted.push_back(std::move(swing));
    }
    const CountWords words = count_against_plan(keeper_, counted);
    shell_.show_message(words.title, words.text);
}

void PracticeRoom::take_drill(bool as_helper) {
    const std::string id = finder_->chosen();
    if (id.empty() || !keeper_.plan())
        return;
    keeper_.change(as_helper ? tr("take the helper") : tr("take the drill"), [&](Plan& plan) {
        if (as_helper)
            plan.helper = plan.helper == id || plan.main_drill == id ? std::string() : id;
        else {
            plan.main_drill = id;
            if (plan.helper == id)
                plan.helper.clear();
        }
        plan_days(plan, book());
    });
}

void PracticeRoom::open_plan() {
    const QString file = QFileDialog::getOpenFileName(shell_.widget(), tr("Open a plan"), {},
                                                      tr("Practice plans (*.json)"));
    if (!file.isEmpty())
        say(tr("This plan cannot be used"), keeper_.open(file));
}

void PracticeRoom::keep_plan_elsewhere() {
    if (keeper_.plan())
        shell_.ask_and_save(tr("Keep the plan"), tr("Practice plan (*.json)"),
                            [this](const QString& file) { return keeper_.keep_in(file).empty(); });
}

void PracticeRoom::save_calendar() {
    if (keeper_.plan())
        shell_.ask_and_save(tr("Save the days for a calendar"), tr("Calendar (*.ics)"),
                            [this](const QString& file) {
                                return formats::write_bytes(
                                           file.toStdString(),
                                           formats::to_calendar(*keeper_.plan(), book(),
                                                                formats::utc_stamp(), language()))
                                    .empty();
                            });
}

std::unique_ptr<QTextDocument> PracticeRoom::document() const {
    auto out = std::make_unique<QTextDocument>();
    if (!keeper_.plan())
        return out;
    const Plan& plan = *keeper_.plan();
    const auto said = [](const std::string& words) {
        return QString::fromStdString(language().translate(words)).toHtmlEscaped();
    };
    QString html = QStringLiteral("<h1>%1</h1><p>%2</p>").arg(said(plan.title), said(plan.why));
    if (!plan.golfer.empty())
        html += QStringLiteral("<p><b>%1</b></p>")
                    .arg(QString::fromStdString(plan.golfer).toHtmlEscaped());
    for (const std::string& id : {plan.main_drill, plan.helper})
        if (const Drill* drill = book().find(id, plan.fault)) {
            out->addResource(QTextDocument::ImageResource,
                             QUrl(QStringLiteral("drill:") + QString::fromStdString(id)),
                             picture_of_drill(drill->figure, {1260, 630}));
            html += html_of(*drill, book());
        }
    html += QStringLiteral("<table cellpadding=\"4\">");
    for (const PlanDay& day : plan.days) {
        QStringList lines;
        for (const std::string& line : lines_of_day(plan, day, book(), language()))
            lines << QString::fromStdString(line).toHtmlEscaped();
        html +=
            QStringLiteral("<tr><td>%1</td><td>%2</td><td>%3</td></tr>")
                .arg(day.done ? QStringLiteral("☑") : QStringLiteral("☐"),
                     QString::fromStdString(text_of(day.date)), lines.join(QStringLiteral("<br>")));
    }
    html += QStringLiteral("</table>");
    out->setHtml(html);
    return out;
}

void PracticeRoom::save_pdf() {
    if (keeper_.plan())
        shell_.ask_and_save(tr("Save the plan for printing"), tr("PDF (*.pdf)"),
                            [this](const QString& file) {
                                QPdfWriter writer(file);
                                writer.setTitle(tr("Practice plan"));
                                writer.setResolution(150);
                                document()->print(&writer);
                                return QFileInfo(file).size() > 0;
                            });
}

void PracticeRoom::print() {
    if (!keeper_.plan())
        return;
    QPrinter printer;
    QPrintDialog dialog(&printer, shell_.widget());
    if (dialog.exec() == QDialog::Accepted)
        document()->print(&printer);
}

void PracticeRoom::add_commands(Commands& commands) {
    commands.add_menu(QStringLiteral("plan"), tr("&Plan"), QStringLiteral("view"));
    const auto add = [&](const char* menu, const char* id, const QString& words,
                         const QList<QKeySequence>& keys, const std::function<void()>& run) {
        commands.add(QString::fromLatin1(menu),
                     {QStringLiteral("practice.") + QLatin1String(id), words, keys, run});
    };
    add("plan", "make", tr("&Make a plan for the first fix"), {QKeySequence(Qt::CTRL | Qt::Key_M)},
        [this] { make_plan_for_first_fix(); });
    add("plan", "take-drill", tr("Take this &drill"), {QKeySequence(Qt::CTRL | Qt::Key_D)},
        [this] { take_drill(false); });
    add("plan", "take-helper", tr("Take this drill as &helper, or not"),
        {QKeySequence(Qt::CTRL | Qt::Key_H)}, [this] { take_drill(true); });
    add("plan", "tick-today", tr("&Tick today off"), {QKeySequence(Qt::CTRL | Qt::Key_Return)},
        [this] { panel_->tick(today()); });
    add("plan", "count", tr("&Count this golfer's swings on the list"),
        {QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_M)}, [this] { count_swings_on_list(); });
    add("file", "open", tr("&Open a plan…"), {QKeySequence::Open}, [this] { open_plan(); });
    add("file", "keep", tr("&Keep the plan elsewhere…"), {QKeySequence::Save},
        [this] { keep_plan_elsewhere(); });
    add("file", "calendar", tr("Save the days for a &calendar…"), {}, [this] { save_calendar(); });
    add("file", "pdf", tr("Save the plan as P&DF…"), {}, [this] { save_pdf(); });
    add("file", "print", tr("&Print the plan…"), {QKeySequence::Print}, [this] { print(); });
    add("view", "find", tr("Find drills by &words"), {QKeySequence::Find},
        [this] { finder_->focus_words(); });
    add("view", "next-drill", tr("&Next drill"), {QKeySequence(Qt::Key_PageDown)},
        [this] { finder_->choose_next(1); });
    add("view", "previous-drill", tr("&Previous drill"), {QKeySequence(Qt::Key_PageUp)},
        [this] { finder_->choose_next(-1); });
    add("view", "back", tr("&Back to the Bench"), {QKeySequence(Qt::Key_Escape)},
        [this] { shell_.enter(QStringLiteral("bench")); });
}

} // namespace kite::app
