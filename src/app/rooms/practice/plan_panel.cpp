#include "app/rooms/practice/plan_panel.h"

#include "app/session/days.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "app/widgets/wrapped.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDateEdit>
#include <QGridLayout>
#include <QLabel>
#include <QListWidget>
#include <QLocale>
#include <QPushButton>
#include <QSignalBlocker>
#include <QSpinBox>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>

#include <algorithm>
#include <boost/date_time/gregorian/gregorian_types.hpp>

namespace kite::app {

namespace {

/// Of a number that nobody has put in.
constexpr int kNotSaid = -1;

} // namespace

PlanPanel::PlanPanel(PlanKeeper* keeper, const DrillBook* book, QWidget* parent)
    : QScrollArea(parent), keeper_(keeper), book_(book) {
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::NoFocus);
    setAccessibleName(tr("Plan"));
    auto* content = new QWidget;
    content->setObjectName(QStringLiteral("reading"));
    auto* layout = new QVBoxLayout(content);
    const Theme& theme = Theme::instance();
    layout->setContentsMargins(theme.scaled(14), 0, theme.scaled(14), theme.scaled(12));
    layout->setSpacing(theme.scaled(6));
    head_ = make_label({}, theme.font(17, Theme::Weight::Bold), "", content);
    head_->setObjectName(QStringLiteral("plan_title"));
    what_ = make_label({}, theme.font(13), "", content);
    layout->addWidget(head_);
    layout->addWidget(what_);
    make_wish(layout);
    make_days(layout);
    setWidget(content);
    viewport()->setAutoFillBackground(false);
    connect(keeper_, &PlanKeeper::changed, this, &PlanPanel::show_plan);
    connect(&Theme::instance(), &Theme::changed, this, &PlanPanel::restyle);
    PlanWish usual;
    usual.first_day = today();
    show_wish(usual);
    restyle();
    show_plan();
}

void PlanPanel::make_wish(QVBoxLayout* layout) {
    QWidget* content = head_->parentWidget();
    auto* days = new QHBoxLayout;
    days->setSpacing(3);
    for (int day = 1; day <= 7; ++day) {
        auto* button = new QToolButton(content);
        button->setCheckable(true);
        button->setText(QLocale().dayName(day, QLocale::ShortFormat));
        button->setAccessibleName(tr("Practise on %1").arg(QLocale().dayName(day)));
        button->setObjectName(QStringLiteral("weekday_%1").arg(day));
        connect(button, &QToolButton::toggled, this, &PlanPanel::wish_changed);
        weekdays_.push_back(button);
        days->addWidget(button);
    }
    days->addStretch(1);
    layout->addLayout(days);
    auto* row = new QHBoxLayout;
    minutes_ = new QSpinBox(content);
    minutes_->setObjectName(QStringLiteral("plan_minutes"));
    minutes_->setRange(5, 240);
    minutes_->setSingleStep(5);
    minutes_->setSuffix(tr(" minutes a day"));
    minutes_->setAccessibleName(tr("Minutes a day"));
    minutes_->setKeyboardTracking(false);
    minutes_->setButtonSymbols(QAbstractSpinBox::NoButtons);
    connect(minutes_, &QSpinBox::valueChanged, this, &PlanPanel::wish_changed);
    row->addWidget(minutes_);
    place_ = new QComboBox(content);
    place_->setObjectName(QStringLiteral("plan_place"));
    place_->setAccessibleName(tr("Where it is practised"));
    place_->addItem(tr("Indoors"), QStringLiteral("indoors"));
    place_->addItem(tr("On the range"), QStringLiteral("range"));
    connect(place_, &QComboBox::currentIndexChanged, this, &PlanPanel::wish_changed);
    row->addWidget(place_);
    row->addStretch(1);
    layout->addLayout(row);
    auto* lesson = new QHBoxLayout;
    has_lesson_ = new QCheckBox(tr("Next lesson on"), content);
    has_lesson_->setObjectName(QStringLiteral("has_lesson"));
    lesson_ = new QDateEdit(QDate::currentDate().addDays(14), content);
    lesson_->setObjectName(QStringLiteral("next_lesson"));
    lesson_->setAccessibleName(tr("Day of the next lesson"));
    lesson_->setKeyboardTracking(false);
    lesson_->setButtonSymbols(QAbstractSpinBox::NoButtons);
    connect(has_lesson_, &QCheckBox::toggled, this, &PlanPanel::wish_changed);
    connect(lesson_, &QDateEdit::dateChanged, this, &PlanPanel::wish_changed);
    lesson->addWidget(has_lesson_);
    lesson->addWidget(lesson_);
    lesson->addStretch(1);
    layout->addLayout(lesson);
    auto* limits = new QGridLayout;
    limits->setContentsMargins(0, 0, 0, 0);
    int at = 0;
    for (const auto& [key, name] : book_->limits) {
        auto* box = new QCheckBox(tr("Spare: %1").arg(said(name)), content);
        box->setObjectName(QString::fromStdString(key));
        connect(box, &QCheckBox::toggled, this, &PlanPanel::wish_changed);
        limits_.push_back(box);
        limits->addWidget(box, at / 2, at % 2);
        ++at;
    }
    layout->addLayout(limits);
    make_ = new QPushButton(tr("Make a plan for the first fix"), content);
    make_->setObjectName(QStringLiteral("make_plan"));
    connect(make_, &QPushButton::clicked, this, &PlanPanel::make_requested);
    layout->addWidget(make_, 0, Qt::AlignLeft);
}

void PlanPanel::make_days(QVBoxLayout* layout) {
    QWidget* content = head_->parentWidget();
    const auto link = [&](const char* object) {
        auto* button = new QPushButton(content);
        button->setObjectName(QStringLiteral("link"));
        button->setProperty("part", QString::fromLatin1(object));
        layout->addWidget(button);
        return button;
    };
    main_ = link("main");
    helper_ = link("helper");
    connect(main_, &QPushButton::clicked, this,
            [this] { emit drill_asked(QString::fromStdString(keeper_->plan()->main_drill)); });
    connect(helper_, &QPushButton::clicked, this,
            [this] { emit drill_asked(QString::fromStdString(keeper_->plan()->helper)); });
    rung_ = new QLabel(content);
    rung_->setObjectName(QStringLiteral("rung"));
    rung_->setWordWrap(true);
    layout->addWidget(rung_);
    counting_ = new QWidget(content);
    auto* row = new QHBoxLayout(counting_);
    row->setContentsMargins(0, 0, 0, 0);
    const auto spin = [&](const char* object, const QString& name) {
        auto* box = new QSpinBox(counting_);
        box->setObjectName(QString::fromLatin1(object));
        box->setAccessibleName(name);
        // Nothing stands there before somebody has counted.
        box->setRange(kNotSaid, 500);
        box->setSpecialValueText(QStringLiteral("–"));
        box->setButtonSymbols(QAbstractSpinBox::NoButtons);
        box->setValue(kNotSaid);
        row->addWidget(box);
        return box;
    };
    passed_ = spin("count_passed", tr("Swings that passed"));
    row->addWidget(new QLabel(tr("of"), counting_));
    made_ = spin("count_made", tr("Swings that were made"));
    auto* count = new QPushButton(tr("Count"), counting_);
    count->setObjectName(QStringLiteral("count"));
    connect(count, &QPushButton::clicked, this, &PlanPanel::count_by_hand);
    row->addWidget(count);
    auto* measure = new QPushButton(tr("Measure those on the list"), counting_);
    measure->setObjectName(QStringLiteral("count_measured"));
    connect(measure, &QPushButton::clicked, this, &PlanPanel::count_requested);
    row->addWidget(measure);
    row->addStretch(1);
    layout->addWidget(counting_);
    days_ = new QListWidget(content);
    days_->setObjectName(QStringLiteral("plan_days"));
    days_->setAccessibleName(tr("Days of the plan"));
    days_->setWordWrap(true);
    days_->setSpacing(2);
    days_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    connect(days_, &QListWidget::itemChanged, this, [this](const QListWidgetItem* item) {
        // The list is made anew by the change: not while it still handles the click.
        const int at = days_->row(item);
        const bool done = item->checkState() == Qt::Checked;
        QTimer::singleShot(0, this, [this, at, done] { change_day(at, done); });
    });
    layout->addWidget(days_, 1);
    cautions_ = make_label({}, Theme::instance().font(12), "soft", content);
    cautions_->setObjectName(QStringLiteral("plan_cautions"));
    layout->addWidget(cautions_);
}

void PlanPanel::restyle() {
    const Theme& theme = Theme::instance();
    head_->setFont(theme.font(17, Theme::Weight::Bold));
    cautions_->setFont(theme.font(12));
    days_->setMinimumHeight(theme.scaled(210));
    setFixedWidth(theme.scaled(405));
}

void PlanPanel::spare(const std::vector<std::string>& limits) {
    for (QCheckBox* box : limits_)
        if (std::find(limits.begin(), limits.end(), box->objectName().toStdString()) !=
            limits.end())
            box->setChecked(true);
}

PlanWish PlanPanel::wish() const {
    PlanWish out;
    out.first_day = today();
    for (std::size_t i = 0; i < weekdays_.size(); ++i)
        out.practises.at(i) = weekdays_[i]->isChecked();
    out.minutes = minutes_->value();
    out.place = find_practice_place(place_->currentData().toString().toStdString())
                    .value_or(PracticePlace::Indoors);
    if (has_lesson_->isChecked())
        out.next_lesson = date_of(lesson_->date());
    for (const QCheckBox* box : limits_)
        if (box->isChecked())
            out.limits.push_back(box->objectName().toStdString());
    return out;
}

void PlanPanel::show_wish(const PlanWish& wish) {
    showing_ = true;
    for (std::size_t i = 0; i < weekdays_.size(); ++i)
        weekdays_[i]->setChecked(wish.practises.at(i));
    minutes_->setValue(wish.minutes);
    const std::string_view place = key_of(wish.place);
    place_->setCurrentIndex(
        place_->findData(QString::fromUtf8(place.data(), static_cast<qsizetype>(place.size()))));
    has_lesson_->setChecked(wish.next_lesson.has_value());
    lesson_->setEnabled(wish.next_lesson.has_value());
    if (wish.next_lesson)
        lesson_->setDate(qdate_of(*wish.next_lesson));
    for (QCheckBox* box : limits_)
        box->setChecked(std::find(wish.limits.begin(), wish.limits.end(),
                                  box->objectName().toStdString()) != wish.limits.end());
    showing_ = false;
}

void PlanPanel::wish_changed() {
    lesson_->setEnabled(has_lesson_->isChecked());
    if (showing_ || !keeper_->plan())
        return;
    PlanWish asked = wish();
    keeper_->change(tr("change the days of the plan"), [&](Plan& plan) {
        asked.first_day = plan.wish.first_day;
        if (asked.next_lesson && *asked.next_lesson < asked.first_day)
            asked.next_lesson = asked.first_day;
        plan.wish = asked;
        plan_days(plan, *book_);
    });
}

void PlanPanel::show_plan() {
    const auto& plan = keeper_->plan();
    for (QWidget* widget : {static_cast<QWidget*>(main_), static_cast<QWidget*>(helper_),
                            static_cast<QWidget*>(rung_), counting_, static_cast<QWidget*>(days_)})
        widget->setVisible(plan.has_value());
    make_->setText(plan ? tr("Make a new plan for the first fix")
                        : tr("Make a plan for the first fix"));
    if (!plan) {
        head_->setText(tr("No plan yet"));
        what_->setText(tr("Say what the golfer has, then make a plan for what the swing on the "
                          "Bench needs first."));
        const auto& always = book_->cautions.find("always");
        cautions_->setText(always == book_->cautions.end() ? QString() : said(always->second));
        return;
    }
    show_wish(plan->wish);
    head_->setText(said(plan->title));
    what_->setText(plan->golfer.empty() ? said(plan->why)
                                        : QString::fromStdString(plan->golfer) +
                                              QStringLiteral(": ") + said(plan->why));
    const Drill* main = main_drill_of(*plan, *book_);
    const Drill* helper = book_->find(plan->helper);
    main_->setText(
        tr("Drill: %1")
            .arg(main == nullptr ? QString::fromStdString(plan->main_drill) : said(main->title)));
    helper_->setVisible(helper != nullptr);
    if (helper != nullptr)
        helper_->setText(tr("Helper: %1").arg(said(helper->title)));
    if (main != nullptr) {
        const RungState state = rung_on(*plan, *main, today());
        rung_->setText(
            state.learned
                ? tr("Learned: keep it with a few repetitions, then let it go.")
                : tr("Now on rung %1, %2. It is passed with %3 % of %4 counted swings or more.")
                      .arg(state.rung)
                      .arg(said(name_of_rung(state.rung)))
                      .arg(plan->pass_share_pct)
                      .arg(plan->pass_swings));
    }
    const QSignalBlocker quiet(days_);
    const int row = days_->currentRow();
    days_->clear();
    for (const PlanDay& day : plan->days) {
        QStringList lines{QLocale().toString(qdate_of(day.date), QStringLiteral("ddd d MMM"))};
        for (const std::string& line : lines_of_day(*plan, day, *book_, language()))
            lines << QString::fromStdString(line);
        for (const PlanCount& count : plan->counts)
            if (count.date == day.date)
                lines << tr("Rung %1: %2 of %3 passed")
                             .arg(count.rung)
                             .arg(count.passed)
                             .arg(count.swings);
        if (!day.note.empty())
            lines << QString::fromStdString(day.note);
        const bool work = day.kind == PlanDayKind::Practice || day.kind == PlanDayKind::Measure;
        auto* item = new QListWidgetItem(
            work ? lines.join(QLatin1Char('\n')) : lines.join(QStringLiteral("  ")), days_);
        if (work) {
            item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
            item->setCheckState(day.done ? Qt::Checked : Qt::Unchecked);
        }
    }
    days_->setCurrentRow(row);
    std::vector<std::string> all;
    for (const Drill* drill : {main, helper})
        if (drill != nullptr)
            for (const std::string& one : cautions_of(*book_, *drill))
                if (std::find(all.begin(), all.end(), one) == all.end())
                    all.push_back(one);
    QStringList words;
    for (const std::string& one : all)
        words << said(one);
    cautions_->setText(words.join(QLatin1Char(' ')));
}

void PlanPanel::count_by_hand() {
    if (passed_->value() < 0 || made_->value() <= 0) {
        (passed_->value() < 0 ? passed_ : made_)->setFocus();
        return; // nothing was counted yet
    }
    const auto& plan = keeper_->plan();
    const Drill* drill = plan ? main_drill_of(*plan, *book_) : nullptr;
    if (drill == nullptr)
        return;
    PlanCount count;
    count.date = today();
    count.drill = drill->id;
    count.rung = rung_on(*plan, *drill, today()).rung;
    count.swings = made_->value();
    count.passed = std::min(passed_->value(), made_->value());
    keeper_->change(tr("count swings"), [&](Plan& changed) { changed.counts.push_back(count); });
    passed_->setValue(kNotSaid);
    made_->setValue(kNotSaid);
}

void PlanPanel::change_day(int row, bool done) {
    if (!keeper_->plan() || row < 0 || row >= static_cast<int>(keeper_->plan()->days.size()))
        return;
    keeper_->change(done ? tr("tick a day off") : tr("take a tick away"),
                    [&](Plan& plan) { plan.days[static_cast<std::size_t>(row)].done = done; });
}

void PlanPanel::tick(const Date& day) {
    keeper_->change(tr("tick a day off"), [&](Plan& plan) {
        for (PlanDay& one : plan.days)
            if (one.date == day)
                one.done = true;
    });
}

} // namespace kite::app
