#include "app/rooms/compare/compare_room.h"

#include "app/rooms/compare/change_table.h"
#include "app/rooms/compare/set_picker.h"
#include "app/session/workers.h"
#include "app/shell/commands.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/widgets/drawing_view.h"
#include "app/widgets/wrapped.h"
#include "core/reading/set_reading.h"
#include "core/sets/comparison_words.h"
#include "formats/practice/drills_json.h"
#include "report/pictures/sets_drawing.h"

#include <QClipboard>
#include <QComboBox>
#include <QFile>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QListView>
#include <QSet>
#include <QTableView>
#include <QVBoxLayout>
#include <QtConcurrent>

namespace kite::app {

using Set = SetPicker::Set;

CompareRoom::CompareRoom(Shell& shell, std::shared_ptr<Desk> desk)
    : shell_(shell), desk_(std::move(desk)) {
    const Theme& theme = Theme::instance();
    page_ = new QWidget;
    auto* row = new QHBoxLayout(page_);
    row->setContentsMargins(theme.scaled(14), theme.scaled(14), theme.scaled(14), theme.scaled(10));
    row->setSpacing(theme.scaled(16));
    auto* left = new QVBoxLayout;
    picker_ = new SetPicker(desk_->lesson().swings(), this);
    list_ = new QListView(page_);
    list_->setObjectName(QStringLiteral("set_list"));
    list_->setAccessibleName(tr("Swings and the set each is in"));
    list_->setModel(picker_);
    list_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    list_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->installEventFilter(this);
    left->addWidget(list_, 1);
    auto* keys = make_label(tr("On the chosen swings: 1 first set, 2 second set, 0 neither. "
                               "Ctrl+M: the golfer's earlier half against the later."),
                            theme.font(12), "soft", page_);
    left->addWidget(keys);
    row->addLayout(left);
    auto* right = new QVBoxLayout;
    title_ = make_label({}, theme.font(20, Theme::Weight::Semibold), "", page_);
    title_->setObjectName(QStringLiteral("compare_title"));
    right->addWidget(title_);
    auto* asked = new QHBoxLayout;
    question_ = new QComboBox(page_);
    question_->setObjectName(QStringLiteral("question"));
    question_->setAccessibleName(tr("The question"));
    question_->addItem(tr("Question: what the lesson works on"));
    for (const Measure& measure : all_measures())
        question_->addItem(said(measure.name), QString::fromLatin1(measure.key));
    sessions_ = new QComboBox(page_);
    sessions_->setObjectName(QStringLiteral("sessions"));
    sessions_->setAccessibleName(tr("Sessions"));
    sessions_->setToolTip(tr("Were markers, sensors or cameras put on anew between the sets?"));
    sessions_->addItem(tr("Sessions as the record says"));
    sessions_->addItem(tr("Made in one session"));
    sessions_->addItem(tr("Made in two sessions"));
    for (QComboBox* box : {question_, sessions_}) {
        asked->addWidget(box);
        connect(box, &QComboBox::currentIndexChanged, this, &CompareRoom::compare);
    }
    asked->addStretch(1);
    right->addLayout(asked);
    caution_ = make_label({}, theme.font(13), "soft", page_);
    caution_->setObjectName(QStringLiteral("compare_caution"));
    right->addWidget(caution_);
    picture_ = new DrawingView(page_);
    picture_->setObjectName(QStringLiteral("sets_picture"));
    picture_->setAccessibleName(tr("Speeds of both sets: the first dotted, the second filled"));
    right->addWidget(picture_);
    changes_ = new ChangeTable(this);
    table_ = new QTableView(page_);
    table_->setObjectName(QStringLiteral("changes"));
    table_->setAccessibleName(tr("Changes from the first set to the second"));
    table_->setModel(changes_);
    table_->setItemDelegateForColumn(ChangeTable::Picture, new ChangePicture(changes_, table_));
    table_->verticalHeader()->hide();
    table_->setShowGrid(false);
    table_->setWordWrap(false);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setTabKeyNavigation(false);
    right->addWidget(table_, 1);
    row->addLayout(right, 1);

    connect(picker_, &SetPicker::sets_changed, this, &CompareRoom::compare);
    connect(desk_.get(), &Desk::compare_asked, this,
            [this](const std::vector<int>& first, const std::vector<int>& second) {
                picker_->clear();
                picker_->put(first, Set::First);
                picker_->put(second, Set::Second);
                shell_.enter(id());
            });
    connect(&desk_->record(), &RecordKeeper::written, this, [this] {
        past_of_.clear();
        compare();
    });
    connect(&Units::instance(), &Units::changed, changes_, &ChangeTable::unit_changed);
    connect(&Theme::instance(), &Theme::changed, this, &CompareRoom::restyle);
    restyle();
    compare();
}

CompareRoom::~CompareRoom() {
    delete page_;
}

void CompareRoom::restyle() {
    const Theme& theme = Theme::instance();
    list_->setFixedWidth(theme.scaled(190));
    picture_->setFixedHeight(theme.scaled(200));
    table_->verticalHeader()->setDefaultSectionSize(theme.scaled(30));
    table_->horizontalHeader()->setFont(theme.font(12, Theme::Weight::Semibold));
    table_->horizontalHeader()->setDefaultAlignment(Qt::AlignRight | Qt::AlignVCenter);
    const int widths[] = {190, 98, 98, 66, 114, 60, 150};
    for (int column = 0; column < ChangeTable::Count; ++column)
        table_->setColumnWidth(column, theme.scaled(widths[column]));
    // The picture takes what is left: verdicts are seen in a small window too.
    table_->horizontalHeader()->setSectionResizeMode(ChangeTable::Picture, QHeaderView::Stretch);
}

/// What a worker makes of two sets.
struct CompareRoom::Result {
    std::vector<std::shared_ptr<const LoadedSwing>> first;
    std::vector<std::shared_ptr<const LoadedSwing>> second;
    Comparison comparison;
    report::SetStair first_stair;
    report::SetStair second_stair;
};

std::optional<Sessions> CompareRoom::sessions() const {
    if (sessions_->currentIndex() > 0)
        return sessions_->currentIndex() == 1 ? Sessions::One : Sessions::Two;
    const SwingListModel& swings = *desk_->lesson().swings();
    QSet<QString> lessons;
    for (int row = 0; row < picker_->rowCount(); ++row) {
        if (picker_->set_of(row) == Set::Neither)
            continue;
        QString lesson = swings.request(row).lesson_id;
        for (const Row& kept : desk_->record().view().swings)
            if (lesson.isEmpty() && !swings.record_id_of(swings.id_of(row)).isEmpty() &&
                text_in(kept, "id") == swings.record_id_of(swings.id_of(row)))
                lesson = text_in(kept, "lesson_id");
        lessons.insert(lesson);
    }
    if (lessons.contains(QString()))
        return {};
    return lessons.size() == 1 ? Sessions::One : Sessions::Two;
}

void CompareRoom::look_back() {
    QStringList of_that_name;
    for (const Row& golfer : desk_->record().view().golfers)
        if (text_in(golfer, "name") == desk_->golfer_meant())
            of_that_name << text_in(golfer, "id");
    // Of two golfers of one name nobody is taken for the other.
    const QString whose = of_that_name.size() == 1 ? of_that_name.front() : QString();
    if (whose == past_of_)
        return;
    past_of_ = whose;
    past_.clear();
    if (!whose.isEmpty())
        desk_->record().look_back(whose, [this, whose](const GolferHistory& history) {
            if (whose != past_of_)
                return;
            past_ = history.measures;
            compare();
        });
}

CompareOptions CompareRoom::options(const Result& sets) const {
    CompareOptions out;
    out.sessions = sessions();
    out.own = session_scatter(of_club(past_, sets.first.front()->analysis.club));
    out.question = question_->currentData().toString().toStdString();
    if (!out.question.empty())
        return out;
    std::vector<Reading> readings;
    for (const auto& swing : sets.first)
        readings.push_back(swing->reading);
    const auto& plan = desk_->plan().plan();
    const bool is_theirs = plan && QString::fromStdString(plan->golfer) == desk_->golfer_meant();
    out.question = usual_question(read_set(readings).reading.first_fix.value_or(""),
                                  is_theirs ? &*plan : nullptr, formats::shipped_drills(),
                                  desk_->rules()->book);
    return out;
}

void CompareRoom::compare() {
    // Only what is on screen is worth its time.
    if (!page_->isVisible())
        return;
    const int asked = ++asked_;
    Result sets{picker_->swings_of(Set::First), picker_->swings_of(Set::Second), {}, {}, {}};
    for (QComboBox* box : {question_, sessions_})
        box->setVisible(!sets.first.empty() && !sets.second.empty());
    if (sets.first.empty() || sets.second.empty()) {
        changes_->show_changes({});
        picture_->hide();
        title_->setText(tr("Two sets of swings"));
        caution_->setText(
            desk_->lesson().swings()->rowCount() == 0
                ? tr("Open swings on the Bench, or look at those of a lesson; then say here which "
                     "belong to which set.")
                : tr("Choose swings at the left and press 1 or 2. Both sets need at least one; a "
                     "verdict needs three or more in each."));
        emit compared();
        return;
    }
    look_back();
    QtConcurrent::run(
        &workers(),
        [options = options(sets)](Result from) {
            const auto pointers =
                [](const std::vector<std::shared_ptr<const LoadedSwing>>& swings) {
                    std::vector<const Analysis*> out;
                    out.reserve(swings.size());
                    for (const auto& swing : swings)
                        out.push_back(&swing->analysis);
                    return out;
                };
            const auto first = pointers(from.first);
            const auto second = pointers(from.second);
            from.comparison = compare_sets(first, second, options);
            from.first_stair = report::stair_of_set(first);
            from.second_stair = report::stair_of_set(second);
            return from;
        },
        std::move(sets))
        .then(this, [this, asked](const Result& result) {
            if (asked == asked_)
                show(result);
        });
}

void CompareRoom::show(const Result& result) {
    changes_->show_changes(result.comparison.measures);
    picture_->show();
    picture_->show_drawing([first = result.first_stair, second = result.second_stair](
                               double width_mm, double height_mm, double letters) {
        return report::sets_drawing(first, second, width_mm, height_mm, letters, language());
    });
    title_->setText(tr("%1 swings against %2").arg(result.first.size()).arg(result.second.size()));
    const ComparisonWords words = write_words(result.comparison, language(), [](const char* unit) {
        const auto shown = Units::instance().of(unit);
        return std::pair(shown.factor, shown.name.toStdString());
    });
    QStringList parts;
    for (const std::string& part : {words.answer, words.others})
        if (!part.empty())
            parts << QString::fromStdString(part);
    for (const std::string& part : words.cautions)
        parts << QString::fromStdString(part);
    QString caution = parts.join(QLatin1Char(' '));
    bool clubs_differ = false;
    for (const auto& swing : result.second)
        clubs_differ = clubs_differ || swing->analysis.club != result.first.front()->analysis.club;
    if (clubs_differ)
        caution += tr(" The clubs differ: part of every change is the club's.");
    caution_->setText(caution);
    emit compared();
}

void CompareRoom::put_chosen(int set) {
    std::vector<int> rows;
    for (const QModelIndex& at : list_->selectionModel()->selectedRows())
        rows.push_back(at.row());
    picker_->put(rows, static_cast<Set>(set));
}

bool CompareRoom::eventFilter(QObject* object, QEvent* event) {
    if (object == list_ && event->type() == QEvent::KeyPress) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (key->modifiers() == Qt::NoModifier && key->key() >= Qt::Key_0 &&
            key->key() <= Qt::Key_2) {
            put_chosen(key->key() - Qt::Key_0);
            return true;
        }
    }
    return Room::eventFilter(object, event);
}

void CompareRoom::entered() {
    list_->setFocus();
    if (!list_->currentIndex().isValid() && picker_->rowCount() > 0)
        list_->setCurrentIndex(picker_->index(0));
    compare();
}

void CompareRoom::copy_table() {
    QGuiApplication::clipboard()->setText(changes_->csv());
}

void CompareRoom::add_commands(Commands& commands) {
    commands.add_menu(QStringLiteral("sets"), tr("&Sets"), QStringLiteral("view"));
    const auto add = [&](const char* menu, const char* id, const QString& words,
                         const QList<QKeySequence>& keys, const std::function<void()>& run) {
        commands.add(QString::fromLatin1(menu),
                     {QStringLiteral("compare.") + QLatin1String(id), words, keys, run});
    };
    add("sets", "first", tr("Chosen swings into the &first set"), {}, [this] { put_chosen(1); });
    add("sets", "second", tr("Chosen swings into the &second set"), {}, [this] { put_chosen(2); });
    add("sets", "neither", tr("Chosen swings into &neither"), {}, [this] { put_chosen(0); });
    add("sets", "split", tr("The golfer's earlier &half against the later"),
        {QKeySequence(Qt::CTRL | Qt::Key_M)}, [this] { picker_->split(desk_->golfer()); });
    add("sets", "clubs", tr("The golfer's first &club against the others"), {},
        [this] { picker_->split_by_club(desk_->golfer()); });
    add("edit", "copy", tr("&Copy the table"), {QKeySequence::Copy}, [this] { copy_table(); });
    add("file", "save", tr("&Save the table as CSV…"), {QKeySequence::Save}, [this] {
        shell_.ask_and_save(tr("Save the table"), tr("Table (*.csv)"), [this](const QString& file) {
            QFile out(file);
            return out.open(QIODevice::WriteOnly) && out.write(changes_->csv().toUtf8()) > 0;
        });
    });
    add("view", "back", tr("&Back to the Bench"), {QKeySequence(Qt::Key_Escape)},
        [this] { shell_.enter(QStringLiteral("bench")); });
}

} // namespace kite::app
