#include "app/rooms/golfer/golfer_room.h"

#include "app/rooms/golfer/relation_table.h"
#include "app/shell/commands.h"
#include "app/theme/text.h"
#include "app/theme/units.h"
#include "app/widgets/drawing_view.h"
#include "app/widgets/wrapped.h"
#include "core/base/normal.h"
#include "formats/practice/drills_json.h"
#include "formats/rules/rules_json.h"
#include "formats/text/bytes.h"
#include "report/day_words.h"
#include "report/pictures/history_drawing.h"
#include "report/report.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QListWidget>
#include <QScrollArea>
#include <QSettings>
#include <QSignalBlocker>
#include <QTableView>

#include <algorithm>
#include <cmath>

namespace kite::app {

using report::HistoryEvent;
using report::HistoryLane;

namespace {

constexpr std::size_t kMostLanes = 6;

/// Lessons, plans and practice, by day.
std::vector<HistoryEvent> events_of(const GolferHistory& history) {
    std::vector<HistoryEvent> out;
    for (const Row& lesson : history.lessons)
        if (const auto day = find_date(store::text_in(lesson, "day")))
            out.push_back({*day, HistoryEvent::Kind::Lesson, {}});
    for (const Plan& plan : history.plans) {
        const Drill* drill = main_drill_of(plan, formats::shipped_drills());
        const std::string words =
            drill == nullptr ? plan.main_drill : language().translate(drill->title);
        out.push_back({plan.wish.first_day, HistoryEvent::Kind::PlanBegins, words});
        out.push_back({plan.days.empty() ? plan.wish.first_day : plan.days.back().date,
                       HistoryEvent::Kind::PlanEnds, words});
        for (const PlanDay& day : plan.days)
            if (day.done && day.kind == PlanDayKind::Practice)
                out.push_back({day.date, HistoryEvent::Kind::Practised, {}});
        for (const PlanCount& count : plan.counts)
            out.push_back(
                {count.date, HistoryEvent::Kind::Counted,
                 GolferRoom::tr("%1/%2").arg(count.passed).arg(count.swings).toStdString()});
    }
    return out;
}

/// A measure's unit as it is shown, and its strip.
HistoryLane lane_of(const MeasureHistory& history) {
    const auto unit = Units::instance().of(history.measure->unit);
    HistoryLane out;
    const QString name = said(history.measure->short_name);
    out.name =
        (unit.name.isEmpty() ? name : GolferRoom::tr("%1, %2").arg(name, unit.name)).toStdString();
    out.decimals = history.measure->decimals;
    out.factor = unit.factor;
    out.lessons = history.lessons;
    out.baseline = history.baseline;
    out.baseline_words = (history.from_good              ? GolferRoom::tr("good swings")
                          : history.baseline_lessons > 1 ? GolferRoom::tr("earliest lessons")
                                                         : GolferRoom::tr("first lesson"))
                             .toStdString();
    out.since_baseline = history.since_baseline;
    return out;
}

} // namespace

GolferRoom::GolferRoom(Shell& shell, std::shared_ptr<Desk> desk)
    : shell_(shell), desk_(std::move(desk)) {
    const Theme& theme = Theme::instance();
    page_ = new QWidget;
    auto* row = new QHBoxLayout(page_);
    row->setContentsMargins(theme.scaled(14), theme.scaled(14), theme.scaled(14), theme.scaled(10));
    row->setSpacing(theme.scaled(16));
    auto* left = new QVBoxLayout;
    make_left(left);
    row->addLayout(left);
    auto* scroll = new QScrollArea(page_);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* content = new QWidget;
    auto* right = new QVBoxLayout(content);
    right->setContentsMargins(0, 0, theme.scaled(10), 0);
    make_right(right);
    scroll->setWidget(content);
    scroll->viewport()->setAutoFillBackground(false);
    content->setAutoFillBackground(false);
    row->addWidget(scroll, 1);

    RecordKeeper& record = desk_->record();
    connect(&record, &RecordKeeper::opened, this, [this] {
        desk_->record().choose({});
        look_back();
    });
    connect(&record, &RecordKeeper::whose_changed, this, &GolferRoom::look_back);
    connect(&record, &RecordKeeper::written, this, &GolferRoom::look_back);
    connect(&Units::instance(), &Units::changed, this, [this] {
        show_history();
        show_relations();
    });
    connect(&Theme::instance(), &Theme::changed, this, &GolferRoom::restyle);
    restyle();
}

GolferRoom::~GolferRoom() {
    delete page_;
}

void GolferRoom::make_left(QVBoxLayout* layout) {
    const Theme& theme = Theme::instance();
    golfers_ = new QListWidget(page_);
    golfers_->setObjectName(QStringLiteral("history_golfers"));
    golfers_->setAccessibleName(tr("Golfers"));
    connect(golfers_, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
        if (item != nullptr)
            desk_->record().choose(item->data(Qt::UserRole).toString());
    });
    layout->addWidget(golfers_, 1);
    layout->addWidget(
        make_label(tr("Measures shown. None ticked: those that matter to this golfer."),
                   theme.font(12), "soft", page_));
    choice_ = new QListWidget(page_);
    choice_->setObjectName(QStringLiteral("history_measures"));
    choice_->setAccessibleName(tr("Measures shown"));
    for (const Measure& measure : all_measures()) {
        auto* item = new QListWidgetItem(said(measure.name), choice_);
        item->setData(Qt::UserRole, QString::fromLatin1(measure.key));
        item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
        item->setCheckState(Qt::Unchecked);
    }
    connect(choice_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
        if (filling_)
            return;
        const std::string key = item->data(Qt::UserRole).toString().toStdString();
        if (item->checkState() == Qt::Checked)
            ticked_.insert(key);
        else
            ticked_.erase(key);
        show_history();
    });
    layout->addWidget(choice_, 2);
}

void GolferRoom::make_right(QVBoxLayout* layout) {
    const Theme& theme = Theme::instance();
    title_ = make_label({}, theme.font(20, Theme::Weight::Semibold), "", page_);
    title_->setObjectName(QStringLiteral("history_title"));
    layout->addWidget(title_);
    club_ = new QComboBox(page_);
    club_->setObjectName(QStringLiteral("history_club"));
    club_->setAccessibleName(tr("Club"));
    club_->setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Preferred);
    connect(club_, &QComboBox::currentIndexChanged, this, [this] {
        if (!filling_)
            show_history();
    });
    layout->addWidget(club_);
    hint_ = make_label({}, theme.font(13), "soft", page_);
    hint_->setObjectName(QStringLiteral("history_hint"));
    layout->addWidget(hint_);
    picture_ = new DrawingView(page_);
    picture_->setObjectName(QStringLiteral("history_picture"));
    picture_->setAccessibleName(tr("Measures over the lessons"));
    layout->addWidget(picture_, 3);
    bests_ = make_label({}, theme.font(13), "", page_);
    bests_->setObjectName(QStringLiteral("bests"));
    layout->addWidget(bests_);
    auto* head = new QHBoxLayout;
    relation_title_ = make_label(tr("What goes together with"),
                                 theme.font(13, Theme::Weight::Semibold), "", page_);
    relation_title_->setWordWrap(false);
    relation_title_->setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Preferred);
    head->addWidget(relation_title_);
    against_ = new QComboBox(page_);
    against_->setObjectName(QStringLiteral("against"));
    against_->setAccessibleName(tr("Launch number"));
    for (const LaunchField& field : kLaunchFields)
        against_->addItem(said(field.name));
    connect(against_, &QComboBox::currentIndexChanged, this, &GolferRoom::show_relations);
    head->addWidget(against_);
    head->addStretch(1);
    layout->addLayout(head);
    relation_caution_ = make_label({}, theme.font(12), "soft", page_);
    relation_caution_->setObjectName(QStringLiteral("relation_caution"));
    layout->addWidget(relation_caution_);
    relation_table_ = new RelationTable(this);
    relations_ = new QTableView(page_);
    relations_->setObjectName(QStringLiteral("relations"));
    relations_->setAccessibleName(tr("Measures that go together with a launch number"));
    relations_->setModel(relation_table_);
    relations_->verticalHeader()->hide();
    relations_->setShowGrid(false);
    relations_->setSelectionBehavior(QAbstractItemView::SelectRows);
    relations_->setTabKeyNavigation(false);
    layout->addWidget(relations_, 2);
}

void GolferRoom::restyle() {
    const Theme& theme = Theme::instance();
    golfers_->setFixedWidth(theme.scaled(210));
    choice_->setFixedWidth(theme.scaled(210));
    relations_->verticalHeader()->setDefaultSectionSize(theme.scaled(26));
    relations_->setMinimumHeight(theme.scaled(180));
    relations_->horizontalHeader()->setFont(theme.font(12, Theme::Weight::Semibold));
    const int widths[] = {210, 60, 120, 250, 64, 110};
    for (int column = 0; column < RelationTable::Count; ++column)
        relations_->setColumnWidth(column, theme.scaled(widths[column]));
    relations_->horizontalHeader()->setStretchLastSection(true);
}

void GolferRoom::show_golfers() {
    const RecordKeeper& record = desk_->record();
    const QSignalBlocker quiet(golfers_);
    golfers_->clear();
    for (const Row& golfer : record.view().golfers) {
        auto* item = new QListWidgetItem(text_in(golfer, "name"), golfers_);
        item->setData(Qt::UserRole, text_in(golfer, "id"));
        if (text_in(golfer, "id") == record.whose())
            golfers_->setCurrentItem(item);
    }
}

void GolferRoom::look_back() {
    // Only what is on screen is worth its time.
    if (!page_->isVisible())
        return;
    show_golfers();
    const int asked = ++asked_;
    const QString whose = desk_->record().whose();
    if (whose.isEmpty()) {
        history_ = {};
        show_clubs();
        show_history();
        show_relations();
        return;
    }
    desk_->record().look_back(whose, [this, asked](const GolferHistory& history) {
        if (asked != asked_)
            return;
        history_ = history;
        show_clubs();
        show_history();
        show_relations();
    });
}

std::vector<const Measure*> GolferRoom::measures() const {
    if (ticked_.empty()) {
        std::vector<std::string> fixes;
        for (const Row& swing : history_.swings)
            if (const std::string fix = store::text_in(swing, "first_fix"); !fix.empty())
                fixes.push_back(fix);
        return measures_that_matter(fixes, history_.plans, formats::shipped_drills(),
                                    formats::shipped_rule_book(), kMostLanes - 1);
    }
    std::vector<const Measure*> out;
    for (const Measure& measure : all_measures())
        if (ticked_.count(measure.key) > 0)
            out.push_back(&measure);
    return out;
}

void GolferRoom::show_clubs() {
    std::map<ClubKind, int> counts;
    for (const KeptMeasures& swing : history_.measures)
        ++counts[swing.club];
    const int before = club_->currentData().isValid() ? club_->currentData().toInt() : -1;
    filling_ = true;
    club_->clear();
    int most = 0;
    for (const auto& [club, count] : counts) {
        club_->addItem(tr("%1: %n swings", nullptr, count).arg(club_name(club)),
                       static_cast<int>(club));
        if (count > most) {
            most = count;
            club_->setCurrentIndex(club_->count() - 1);
        }
    }
    if (const int same = club_->findData(before); same >= 0)
        club_->setCurrentIndex(same);
    club_->setVisible(counts.size() > 1);
    filling_ = false;
}

std::vector<KeptMeasures> GolferRoom::with_club() const {
    return club_->count() == 0
               ? history_.measures
               : of_club(history_.measures, static_cast<ClubKind>(club_->currentData().toInt()));
}

void GolferRoom::show_history() {
    const std::vector<KeptMeasures> swings = with_club();
    const RecordKeeper& record = desk_->record();
    const Row* golfer = record.golfer(record.whose());
    picture_->setVisible(!history_.swings.empty());
    if (golfer == nullptr) {
        title_->setText(tr("Nobody is chosen"));
        hint_->setText(record.view().golfers.empty() ? tr("The record holds no golfer yet. Add one "
                                                          "in the Lesson room, or open the demo.")
                                                     : tr("Choose a golfer at the left."));
    } else {
        title_->setText(text_in(*golfer, "name"));
        hint_->setText(history_.swings.empty() ? tr("No swing is kept of this golfer yet.")
                                               : tr("Dots are swings, rings the mean of a lesson "
                                                    "with its 95 % interval. The band is "
                                                    "the scatter of good swings; until five are "
                                                    "marked as good, of the earliest lessons: no "
                                                    "fair measure, since golfers come when it is "
                                                    "worst."));
    }
    std::vector<HistoryLane> lanes;
    for (const MeasureHistory& history : histories(swings, measures()))
        lanes.push_back(lane_of(history));
    if (auto guesses = guess_history(swings); !guesses.empty()) {
        HistoryLane lane;
        lane.name = tr("Felt less measured, °").toStdString();
        lane.lessons = std::move(guesses);
        lanes.push_back(std::move(lane));
    }
    if (lanes.size() > kMostLanes && ticked_.empty())
        lanes.erase(lanes.begin() + static_cast<std::ptrdiff_t>(kMostLanes) - 1, lanes.end() - 1);
    picture_->setMinimumHeight(
        Theme::instance().scaled(58.0 * static_cast<double>(lanes.size()) + 76.0));
    const auto events = events_of(history_);
    picture_->show_drawing([lanes, events](double width_mm, double height_mm, double letters) {
        return report::history_drawing(lanes, events, width_mm, height_mm, letters, language());
    });
    show_bests();
}

void GolferRoom::show_bests() {
    QStringList lines;
    for (const Best& best : bests(with_club())) {
        const auto unit = Units::instance().of(best.measure->unit);
        const QString value = number_text(unit.factor * best.value.value, best.measure->decimals);
        const QString u =
            std::isfinite(best.value.u)
                ? tr(" ± %1").arg(number_text(kCover95 * unit.factor * best.value.u, 1))
                : QString();
        lines << tr("%1: %2%3 %4 on %5%6")
                     .arg(said(best.measure->name), value, u, unit.name,
                          QString::fromStdString(report::day_words(best.day, language())),
                          best.shared > 2
                              ? tr(", not told apart from %1 other swings").arg(best.shared - 1)
                          : best.shared == 2 ? tr(", not told apart from one other swing")
                                             : QString());
    }
    bests_->setVisible(!lines.isEmpty());
    bests_->setText(tr("Bests.  %1").arg(lines.join(QStringLiteral("    "))));
}

void GolferRoom::show_relations() {
    relation_table_->show_relations(history_, kLaunchFields.at(static_cast<std::size_t>(
                                                  std::max(0, against_->currentIndex()))));
    const bool any = relation_table_->any();
    relations_->setVisible(any);
    for (QWidget* part : {static_cast<QWidget*>(against_), static_cast<QWidget*>(relation_title_),
                          static_cast<QWidget*>(relation_caution_)})
        part->setVisible(!history_.swings.empty());
    relation_caution_->setText(
        any ? tr("Swing against swing within this golfer's lessons and clubs, so that a better day "
                 "or a "
                 "longer club makes no relation. What goes together is still no cause.")
            : tr("Some six swings with launch numbers in one or two lessons are needed at least. "
                 "Add the numbers in the Lesson room."));
}

void GolferRoom::entered() {
    // Whose swing is on the Bench is the first guess of who is meant.
    if (desk_->record().whose().isEmpty())
        for (const Row& golfer : desk_->record().view().golfers)
            if (!desk_->golfer().isEmpty() && text_in(golfer, "name") == desk_->golfer())
                desk_->record().choose(text_in(golfer, "id"));
    look_back();
    golfers_->setFocus();
}

void GolferRoom::read_settings(const QSettings& settings) {
    filling_ = true;
    const QStringList ticked = settings.value(QStringLiteral("golfer/measures")).toStringList();
    for (int i = 0; i < choice_->count(); ++i)
        if (const QString key = choice_->item(i)->data(Qt::UserRole).toString();
            ticked.contains(key)) {
            choice_->item(i)->setCheckState(Qt::Checked);
            ticked_.insert(key.toStdString());
        }
    filling_ = false;
}

void GolferRoom::write_settings(QSettings& settings) const {
    QStringList ticked;
    for (const std::string& key : ticked_)
        ticked << QString::fromStdString(key);
    settings.setValue(QStringLiteral("golfer/measures"), ticked);
}

void GolferRoom::add_commands(Commands& commands) {
    const auto add = [&](const char* menu, const char* id, const QString& words,
                         const QList<QKeySequence>& keys, const std::function<void()>& run) {
        commands.add(QString::fromLatin1(menu),
                     {QStringLiteral("golfer.") + QLatin1String(id), words, keys, run});
    };
    add("file", "save", tr("&Save the history as a picture…"), {QKeySequence::Save}, [this] {
        shell_.ask_and_save(
            tr("Save the history"), tr("Drawing (*.svg)"), [this](const QString& file) {
                return formats::write_bytes(
                           file.toStdString(),
                           report::to_svg(picture_->drawing(190.0, 160.0), report::kUsualAccent))
                    .empty();
            });
    });
    add("view", "lesson", tr("To this golfer's &lessons"),
        {QKeySequence(Qt::CTRL | Qt::Key_Return)},
        [this] { shell_.enter(QStringLiteral("lesson")); });
    add("view", "back", tr("&Back to the Bench"), {QKeySequence(Qt::Key_Escape)},
        [this] { shell_.enter(QStringLiteral("bench")); });
}

} // namespace kite::app
