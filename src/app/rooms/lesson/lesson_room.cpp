#include "app/rooms/lesson/lesson_room.h"

#include "app/rooms/lesson/arrivals.h"
#include "app/rooms/lesson/golfer_panel.h"
#include "app/rooms/lesson/launch_joiner.h"
#include "app/rooms/lesson/record_steps.h"
#include "app/rooms/lesson/swing_table.h"
#include "app/rooms/lesson/whole_record.h"
#include "app/session/plan_counting.h"
#include "app/session/workers.h"
#include "app/shell/commands.h"
#include "app/shell/jobs.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "app/widgets/wrapped.h"
#include "formats/beside/launch_csv.h"
#include "formats/mapping/user_tables.h"
#include "formats/names/name_table.h"

#include <QCoreApplication>
#include <QDate>
#include <QDateTime>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QScrollArea>
#include <QSettings>
#include <QSignalBlocker>
#include <QTableView>
#include <QVBoxLayout>
#include <QtConcurrent>

#include <algorithm>
#include <set>

namespace kite::app {

namespace {

QString day_text(const Row& lesson) {
    const QDate day = QDate::fromString(text_in(lesson, "day"), Qt::ISODate);
    const QString date =
        day.isValid() ? QLocale().toString(day, QLocale::ShortFormat) : text_in(lesson, "day");
    const QString name = text_in(lesson, "name");
    return name == text_in(lesson, "day") ? date : LessonRoom::tr("%1, %2").arg(date, name);
}

/// Beside a field, no wider than it must be.
QLabel* field_name(const QString& words, QWidget* parent) {
    auto* out = make_label(words, Theme::instance().font(12), "soft", parent);
    out->setWordWrap(false);
    out->setFixedWidth(out->fontMetrics().horizontalAdvance(words) + 4);
    return out;
}

/// The golfer's name, and where another has the same what tells them apart.
QString told_apart(const Row& golfer, const std::vector<Row>& all) {
    const QString name = text_in(golfer, "name");
    const auto same = std::count_if(all.begin(), all.end(), [&](const Row& other) {
        return text_in(other, "name").compare(name, Qt::CaseInsensitive) == 0;
    });
    if (same < 2)
        return name;
    const QString handed = text_in(golfer, "handed");
    const QDateTime since =
        QDateTime::fromString(text_in(golfer, "created"), Qt::ISODateWithMs).toLocalTime();
    const QString when = QLocale().toString(since, QLocale::ShortFormat);
    return handed == QLatin1String("left")
               ? LessonRoom::tr("%1 (left-handed, since %2)").arg(name, when)
           : handed == QLatin1String("right")
               ? LessonRoom::tr("%1 (right-handed, since %2)").arg(name, when)
               : LessonRoom::tr("%1 (since %2)").arg(name, when);
}

formats::NameTable names() {
    const auto options = formats::read_options_of_user().value;
    return options.names ? *options.names : formats::NameTable::shipped();
}

/// By its head alone: it may be long.
bool is_launch_file(const QString& path) {
    constexpr qint64 kHead = 4096;
    QFile file(path);
    if (!path.endsWith(QLatin1String(".csv"), Qt::CaseInsensitive) ||
        !file.open(QIODevice::ReadOnly))
        return false;
    QByteArray head = file.read(kHead);
    if (head.size() == kHead)
        head.truncate(head.lastIndexOf('\n') + 1);
    return formats::read_launch_csv(
               std::string_view(head.constData(), static_cast<std::size_t>(head.size())), names())
        .ok();
}

QString keys_of(const std::vector<BallWord>& words) {
    QStringList out;
    for (const BallWord& word : words)
        out << LessonRoom::tr("%1 %2").arg(QChar::fromLatin1(word.press),
                                           QCoreApplication::translate("Ball", word.word));
    return out.join(QStringLiteral("  "));
}

} // namespace

LessonRoom::LessonRoom(Shell& shell, std::shared_ptr<Desk> desk)
    : shell_(shell), desk_(std::move(desk)) {
    const Theme& theme = Theme::instance();
    page_ = new QWidget;
    auto* row = new QHBoxLayout(page_);
    row->setContentsMargins(theme.scaled(14), theme.scaled(14), theme.scaled(14), theme.scaled(10));
    row->setSpacing(theme.scaled(16));
    auto* left = new QVBoxLayout;
    make_left(left);
    row->addLayout(left);
    auto* middle = new QVBoxLayout;
    make_middle(middle);
    row->addLayout(middle, 1);
    auto* scroll = new QScrollArea(page_);
    scroll->setWidgetResizable(true);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFixedWidth(theme.scaled(270));
    panel_ = new GolferPanel;
    scroll->setWidget(panel_);
    scroll->viewport()->setAutoFillBackground(false);
    panel_->setAutoFillBackground(false);
    row->addWidget(scroll);

    arrivals_ = new Arrivals(shell_, *desk_, this);
    connect(arrivals_, &Arrivals::lesson_begun, this, [this](const QString& lesson) {
        history_.push(
            new BinStep(&desk_->record(), {lesson}, BinStep::Done::Made, tr("begin a lesson")));
    });
    whole_ = new WholeRecord(shell_, *desk_, this);
    connect(whole_, &WholeRecord::emptied, &history_, &QUndoStack::clear);
    RecordKeeper& record = desk_->record();
    connect(&record, &RecordKeeper::changed, this, &LessonRoom::show_record);
    connect(&record, &RecordKeeper::progress_changed, this, [this](int done, int wanted) {
        if (done < wanted)
            shell_.jobs().report(id(), tr("keeping"), done, wanted);
        else
            shell_.jobs().end(id());
    });
    connect(&record, &RecordKeeper::opened, this, [this] {
        history_.clear();
        golfer_.clear();
        whole_->set_golfer({});
        show_record();
    });
    connect(&record, &RecordKeeper::refused, this, [this](const QString& what) {
        shell_.show_message(tr("The record could not do that"), what);
    });
    connect(&record, &RecordKeeper::whose_changed, this,
            [this] { choose_golfer(desk_->record().whose()); });
    connect(panel_, &GolferPanel::edit_wanted, this,
            [this](const Row& values, const QString& what) {
                edit(QStringLiteral("golfer"), golfer_, values, what);
                if (const Row* golfer = desk_->record().golfer(golfer_)) {
                    Row known = *golfer;
                    known.update(values);
                    desk_->know_golfer(known);
                }
            });
    connect(panel_, &GolferPanel::not_understood, this, [this](const QString& why) {
        shell_.show_message(tr("That was not understood"), why);
    });
    connect(swings_, &SwingTable::edit_wanted, this,
            [this](const QString& swing, const Row& values, const QString& what) {
                edit(QStringLiteral("swing"), swing, values, what);
            });
    connect(&Theme::instance(), &Theme::changed, this, &LessonRoom::restyle);
    restyle();
    show_record();
}

LessonRoom::~LessonRoom() {
    delete page_;
}

void LessonRoom::make_left(QVBoxLayout* layout) {
    name_ = new QLineEdit(page_);
    name_->setObjectName(QStringLiteral("new_golfer"));
    name_->setAccessibleName(tr("Name of a golfer"));
    name_->setPlaceholderText(tr("Find or add a golfer"));
    connect(name_, &QLineEdit::textChanged, this, &LessonRoom::show_record);
    connect(name_, &QLineEdit::returnPressed, this, [this] {
        new_golfer(QGuiApplication::keyboardModifiers().testFlag(Qt::ShiftModifier));
    });
    layout->addWidget(name_);
    golfers_ = new QListWidget(page_);
    golfers_->setObjectName(QStringLiteral("golfers"));
    golfers_->setAccessibleName(tr("Golfers"));
    connect(golfers_, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
        if (item != nullptr)
            choose_golfer(item->data(Qt::UserRole).toString());
    });
    layout->addWidget(golfers_, 3);
    begin_ = new QPushButton(tr("Begin a lesson today"), page_);
    begin_->setObjectName(QStringLiteral("begin"));
    connect(begin_, &QPushButton::clicked, this, &LessonRoom::begin_lesson);
    layout->addWidget(begin_);
    lessons_ = new QListWidget(page_);
    lessons_->setObjectName(QStringLiteral("lessons"));
    lessons_->setAccessibleName(tr("Lessons of this golfer"));
    connect(lessons_, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
        if (item != nullptr && item->data(Qt::UserRole).toString() != desk_->record().lesson())
            desk_->record().go_on_with(item->data(Qt::UserRole).toString());
    });
    layout->addWidget(lessons_, 2);
    find_ = new QLineEdit(page_);
    find_->setObjectName(QStringLiteral("find_swings"));
    find_->setAccessibleName(tr("Words of swings in the whole record"));
    find_->setPlaceholderText(tr("Find swings by words"));
    find_->setClearButtonEnabled(true);
    connect(find_, &QLineEdit::returnPressed, this, &LessonRoom::find_swings);
    connect(find_, &QLineEdit::textChanged, this, [this](const QString& text) {
        if (text.isEmpty() && swings_->shows_found())
            find_swings();
    });
    layout->addWidget(find_);
}

void LessonRoom::make_middle(QVBoxLayout* outer) {
    whose_ = make_label({}, Theme::instance().font(20, Theme::Weight::Semibold), "", page_);
    whose_->setObjectName(QStringLiteral("whose"));
    outer->addWidget(whose_);
    hint_ = make_label({}, Theme::instance().font(13), "soft", page_);
    hint_->setObjectName(QStringLiteral("hint"));
    hint_->setWordWrap(true);
    outer->addWidget(hint_);
    body_ = new QWidget(page_);
    outer->addWidget(body_, 1);
    outer->addStretch(0);
    auto* layout = new QVBoxLayout(body_);
    layout->setContentsMargins(0, 0, 0, 0);
    swings_ = new SwingTable(&desk_->record(), this);
    table_ = new QTableView(page_);
    table_->setObjectName(QStringLiteral("lesson_swings"));
    table_->setAccessibleName(tr("Swings of the lesson"));
    table_->setModel(swings_);
    table_->verticalHeader()->hide();
    table_->setShowGrid(false);
    table_->setWordWrap(false);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setTabKeyNavigation(false);
    table_->setEditTriggers(QAbstractItemView::EditKeyPressed | QAbstractItemView::AnyKeyPressed |
                            QAbstractItemView::SelectedClicked);
    table_->installEventFilter(this);
    for (QListWidget* list : {golfers_, lessons_})
        list->installEventFilter(this);
    keep_choice();
    connect(table_, &QTableView::doubleClicked, this, [this](const QModelIndex& at) {
        if (swings_->flags(at).testFlag(Qt::ItemIsEditable))
            table_->edit(at);
        else
            look_at_chosen();
    });
    show_columns(false);
    layout->addWidget(table_, 1);
    keys_ = make_label(
        tr("Flight: %1      Strike: %2").arg(keys_of(flight_words()), keys_of(strike_words())),
        Theme::instance().font(12), "soft", page_);
    keys_->setObjectName(QStringLiteral("ball_keys"));
    keys_->setWordWrap(true);
    layout->addWidget(keys_);
    auto* grid = new QGridLayout;
    const std::pair<const char*, QString> names[] = {{"one_thing", tr("The one thing")},
                                                     {"homework", tr("Homework")},
                                                     {"set_up", tr("Set-up")},
                                                     {"place", tr("Place")},
                                                     {"note", tr("Note")}};
    int at = 0;
    for (const auto& [column, words] : names) {
        auto* line = new QLineEdit(page_);
        line->setObjectName(QStringLiteral("lesson_") + QLatin1String(column));
        line->setAccessibleName(words);
        connect(line, &QLineEdit::editingFinished, this,
                [this, line, column = column, words = words] {
                    if (!line->isModified())
                        return;
                    line->setModified(false);
                    const QString text = line->text().simplified();
                    edit(QStringLiteral("lesson"), desk_->record().lesson(),
                         {{column, text.isEmpty() ? Row() : Row(text.toStdString())}}, words);
                });
        fields_.emplace_back(line, column);
        // The note over the whole width, the others two beside each other.
        grid->addWidget(field_name(words, page_), at / 2, at % 2 * 2);
        grid->addWidget(line, at / 2, at % 2 * 2 + 1, 1, at == 4 ? 3 : 1);
        ++at;
    }
    grid->setColumnStretch(1, 1);
    grid->setColumnStretch(3, 1);
    layout->addLayout(grid);
}

void LessonRoom::restyle() {
    const Theme& theme = Theme::instance();
    for (QWidget* part : {static_cast<QWidget*>(find_), static_cast<QWidget*>(name_),
                          static_cast<QWidget*>(golfers_), static_cast<QWidget*>(begin_),
                          static_cast<QWidget*>(lessons_)})
        part->setFixedWidth(theme.scaled(210));
    table_->verticalHeader()->setDefaultSectionSize(theme.scaled(30));
    table_->horizontalHeader()->setFont(theme.font(12, Theme::Weight::Semibold));
    table_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    const int widths[] = {26, 48, 124, 60, 172, 62, 58, 70, 76, 120, 40};
    const QFontMetrics letters(table_->horizontalHeader()->font());
    for (int column = 0; column < SwingTable::Count; ++column) {
        // Launch numbers are short, what they are called is not.
        const QString name =
            swings_->headerData(column, Qt::Horizontal, Qt::DisplayRole).toString();
        table_->setColumnWidth(column, column < SwingTable::FirstLaunch
                                           ? theme.scaled(widths[column])
                                           : letters.horizontalAdvance(name) + theme.scaled(18));
    }
    table_->horizontalHeader()->setStretchLastSection(true);
}

void LessonRoom::show_record() {
    const RecordKeeper& record = desk_->record();
    const QSignalBlocker quiet_golfers(golfers_);
    golfers_->clear();
    for (const Row& golfer : record.view().golfers) {
        const QString name = text_in(golfer, "name");
        if (!name.contains(name_->text().simplified(), Qt::CaseInsensitive))
            continue;
        auto* item = new QListWidgetItem(told_apart(golfer, record.view().golfers), golfers_);
        item->setData(Qt::UserRole, text_in(golfer, "id"));
        if (text_in(golfer, "id") == golfer_)
            golfers_->setCurrentItem(item);
    }
    const QSignalBlocker quiet_lessons(lessons_);
    lessons_->clear();
    for (const Row* lesson : record.lessons_of(golfer_)) {
        auto* item = new QListWidgetItem(day_text(*lesson), lessons_);
        item->setData(Qt::UserRole, text_in(*lesson, "id"));
        if (text_in(*lesson, "id") == record.lesson())
            lessons_->setCurrentItem(item);
    }
    panel_->show_golfer(record.golfer(golfer_));
    begin_->setEnabled(record.golfer(golfer_) != nullptr);
    show_lesson();
}

void LessonRoom::show_lesson() {
    const RecordKeeper& record = desk_->record();
    const Row* lesson = record.lesson_row();
    const Row* golfer = record.golfer(golfer_);
    const QString name = golfer == nullptr ? QString() : told_apart(*golfer, record.view().golfers);
    if (!record.trouble().isEmpty()) {
        whose_->setText(tr("The record cannot be used"));
        hint_->setText(record.trouble());
    } else if (swings_->shows_found()) {
        const int found = swings_->rowCount();
        whose_->setText(found == 1 ? tr("One swing with these words")
                                   : tr("%1 swings with these words").arg(found));
        hint_->setText(tr("Of the whole record. Return looks at the chosen ones on the Bench; "
                          "clear the words to go back to the lesson."));
    } else if (lesson != nullptr) {
        whose_->setText(tr("%1, %2").arg(name, day_text(*lesson)));
        hint_->setText(
            record.view().swings.empty()
                ? tr("Swings that are opened now, here or on the Bench, are kept in this "
                     "lesson.")
                : tr("Swings that are opened now are kept here. Return looks at the "
                     "chosen ones on the Bench."));
    } else if (golfer != nullptr) {
        whose_->setText(name);
        hint_->setText(
            record.lessons_of(golfer_).empty()
                ? tr("There is no lesson yet. Begin one; what is opened then is kept in it.")
                : tr("Choose a lesson, or begin one."));
    } else if (record.view().golfers.empty()) {
        whose_->setText(tr("The record is empty"));
        hint_->setText(
            tr("Write a golfer's name at the left and press Return. Then begin a lesson: "
               "swings that are opened during it are kept with all that is said of them."));
    } else {
        whose_->setText(tr("No golfer is chosen"));
        hint_->setText(tr("Choose one at the left, or add one by name."));
    }
    if (desk_->whose_record() == Desk::Whose::Demo)
        hint_->setText(
            tr("This is the demo's record; your own is untouched. %1").arg(hint_->text()));
    else if (desk_->whose_record() == Desk::Whose::Copy)
        hint_->setText(tr("This is a copy of a backup; your own record is untouched, and nothing "
                          "that is done here stays. %1")
                           .arg(hint_->text()));
    body_->setVisible(lesson != nullptr || swings_->shows_found());
    panel_->setVisible(golfer != nullptr);
    for (const auto& [line, column] : fields_) {
        if (line->hasFocus() && line->isModified())
            continue; // somebody is typing
        line->setText(lesson == nullptr ? QString() : text_in(*lesson, column));
    }
}

void LessonRoom::choose_golfer(const QString& id) {
    if (id == golfer_)
        return;
    golfer_ = id;
    whole_->set_golfer(id);
    desk_->record().choose(id);
    desk_->forget_stills(); // of another golfer
    if (const Row* golfer = desk_->record().golfer(id))
        desk_->know_golfer(*golfer);
    const auto lessons = desk_->record().lessons_of(id);
    // The newest one is gone on with only if it is of today.
    const QString today = QDate::currentDate().toString(Qt::ISODate);
    desk_->record().go_on_with(!lessons.empty() && text_in(*lessons.front(), "day") == today
                                   ? text_in(*lessons.front(), "id")
                                   : QString());
    show_record();
}

/// Return in the line: the one that is meant, if it is plain who; with `always_new` a golfer of
/// this name in any case.
void LessonRoom::new_golfer(bool always_new) {
    const QString name = name_->text().simplified();
    if (name.isEmpty())
        return;
    QStringList alike;
    QStringList exact;
    for (const Row& golfer : desk_->record().view().golfers) {
        const QString other = text_in(golfer, "name");
        if (other.contains(name, Qt::CaseInsensitive))
            alike << text_in(golfer, "id");
        if (other.compare(name, Qt::CaseInsensitive) == 0)
            exact << text_in(golfer, "id");
    }
    const QStringList& meant = exact.isEmpty() ? alike : exact;
    if (!always_new && meant.size() == 1) {
        const QString only = meant.front();
        name_->clear();
        choose_golfer(only);
        return;
    }
    if (!always_new && !meant.isEmpty()) {
        golfers_->setFocus();
        golfers_->setCurrentRow(0, QItemSelectionModel::NoUpdate);
        shell_.show_message(tr("Several are called so"),
                            tr("Choose one at the left. Shift+Return in the line adds another."),
                            tr("Add another %1").arg(name), [this] { new_golfer(true); });
        return;
    }
    desk_->record().make(QStringLiteral("golfer"), {{"name", name.toStdString()}},
                         [this, name](const QString& id) {
                             history_.push(new BinStep(&desk_->record(), {id}, BinStep::Done::Made,
                                                       tr("add %1").arg(name)));
                             name_->clear();
                             choose_golfer(id);
                         });
}

void LessonRoom::begin_lesson() {
    if (golfer_.isEmpty())
        return;
    const std::string day = QDate::currentDate().toString(Qt::ISODate).toStdString();
    desk_->record().make(QStringLiteral("lesson"),
                         {{"golfer_id", golfer_.toStdString()}, {"name", day}, {"day", day}},
                         [this](const QString& id) {
                             history_.push(new BinStep(&desk_->record(), {id}, BinStep::Done::Made,
                                                       tr("begin a lesson")));
                             desk_->record().go_on_with(id);
                             arrivals_->offer_nobodys();
                         });
}

void LessonRoom::bin_golfer() {
    if (const Row* golfer = desk_->record().golfer(golfer_)) {
        const QString name = text_in(*golfer, "name");
        history_.push(new BinStep(&desk_->record(), {golfer_}, BinStep::Done::Binned,
                                  tr("put %1 into the bin").arg(name)));
        shell_.show_message(
            tr("%1 is in the bin").arg(name),
            tr("With all lessons, swings and plans. Undo takes it back, and so does "
               "File, Look into the bin."));
    }
}

void LessonRoom::bin_lesson() {
    if (const Row* lesson = desk_->record().lesson_row()) {
        const QString day = day_text(*lesson);
        history_.push(new BinStep(&desk_->record(), {text_in(*lesson, "id")}, BinStep::Done::Binned,
                                  tr("put the lesson into the bin")));
        shell_.show_message(tr("The lesson of %1 is in the bin").arg(day),
                            tr("With its swings. Undo takes it back, and so does File, Look into "
                               "the bin."));
    }
}

void LessonRoom::edit(const QString& kind, const QString& id, const Row& values,
                      const QString& what) {
    const RecordView& view = desk_->record().view();
    const auto& rows = kind == QLatin1String("golfer")   ? view.golfers
                       : kind == QLatin1String("lesson") ? view.lessons
                                                         : swings_->rows();
    for (const Row& row : rows) {
        if (text_in(row, "id") != id)
            continue;
        const Row now = desk_->record().as_asked(row);
        Row before = Row::object();
        for (const auto& value : values.items())
            before[value.key()] = now.at(value.key());
        if (before != values)
            history_.push(new EditStep(&desk_->record(), kind, id, before, values, what));
        return;
    }
}

QStringList LessonRoom::chosen_swings() const {
    QStringList out;
    for (const QModelIndex& at : table_->selectionModel()->selectedRows())
        out << text_in(swings_->swing(at.row()), "id");
    return out;
}

void LessonRoom::look_at_chosen() {
    std::vector<Row> chosen;
    for (const QModelIndex& at : table_->selectionModel()->selectedRows())
        chosen.push_back(swings_->swing(at.row()));
    desk_->record().fetch(chosen, [this](const std::vector<SwingRequest>& requests) {
        if (requests.empty())
            return;
        desk_->look_at(requests);
        shell_.enter(QStringLiteral("bench"));
    });
}

/// After against before: the chosen swings against the others of the lesson, or, where nothing is
/// chosen that leaves both sets, the later half against the earlier.
void LessonRoom::compare_chosen() {
    std::vector<Row> first;
    std::vector<Row> second;
    const auto is_chosen = [&](int row) {
        return table_->selectionModel()->isRowSelected(row, QModelIndex());
    };
    const int rows = swings_->rowCount();
    int chosen = 0;
    for (int row = 0; row < rows; ++row)
        chosen += is_chosen(row) ? 1 : 0;
    const bool by_half = chosen < 2 || chosen == rows;
    for (int row = 0; row < rows; ++row)
        (by_half ? 2 * row < rows : !is_chosen(row)) ? first.push_back(swings_->swing(row))
                                                     : second.push_back(swings_->swing(row));
    if (first.empty() || second.empty()) {
        shell_.show_message(tr("There is nothing to compare"),
                            tr("It takes two swings at least. Choose those after the change."));
        return;
    }
    desk_->record().fetch(first, [this, second](const std::vector<SwingRequest>& before) {
        desk_->record().fetch(second, [this, before](const std::vector<SwingRequest>& after) {
            desk_->compare(before, after);
        });
    });
}

void LessonRoom::compare_with_last_lesson() {
    const RecordKeeper& record = desk_->record();
    const auto lessons = record.lessons_of(golfer_);
    QString before;
    for (std::size_t i = 0; i + 1 < lessons.size(); ++i)
        if (text_in(*lessons[i], "id") == record.lesson())
            before = text_in(*lessons[i + 1], "id");
    if (before.isEmpty()) {
        shell_.show_message(tr("There is no earlier lesson"),
                            tr("Choose a lesson that has one before it."));
        return;
    }
    desk_->record().fetch_lesson(before, [this, now = record.lesson()](
                                             const std::vector<SwingRequest>& first) {
        desk_->record().fetch_lesson(now, [this, first](const std::vector<SwingRequest>& second) {
            desk_->compare(first, second);
        });
    });
}

/// The chosen swings, or all that are shown, against the drill of the plan.
void LessonRoom::count_chosen() {
    std::vector<Row> chosen;
    for (const QModelIndex& at : table_->selectionModel()->selectedRows())
        chosen.push_back(swings_->swing(at.row()));
    if (chosen.empty())
        chosen = swings_->rows();
    desk_->record().measure(chosen, [this](const LoadedSwings& measured) {
        const CountWords words = count_against_plan(desk_->plan(), measured);
        shell_.show_message(words.title, words.text);
    });
}

void LessonRoom::find_swings() {
    const QString words = find_->text().simplified();
    if (words.isEmpty()) {
        swings_->show_found({});
        show_record();
        return;
    }
    desk_->record().find(words, [this](const std::vector<Row>& found) {
        swings_->show_found(found);
        show_record();
    });
}

void LessonRoom::bin_chosen() {
    const QStringList ids = chosen_swings();
    if (!ids.isEmpty())
        history_.push(
            new BinStep(&desk_->record(), ids, BinStep::Done::Binned, tr("put into the bin")));
}

void LessonRoom::add_files() {
    if (!desk_->record().place_for_arrivals()) {
        shell_.show_message(tr("Nobody is chosen"),
                            tr("Choose a golfer first: the swings are kept in today's lesson."));
        return;
    }
    open(QFileDialog::getOpenFileNames(
        shell_.widget(), tr("Add swings to the lesson"), {},
        tr("Swings (%1);;All files (*)").arg(capture_patterns().join(QLatin1Char(' ')))));
}

/// Flight, feel and note, or the launch numbers: side by side they have no room.
void LessonRoom::show_columns(bool launch) {
    for (int column = SwingTable::FirstFix; column < SwingTable::Count; ++column) {
        const bool is_launch = SwingTable::launch_field(column) != nullptr;
        table_->setColumnHidden(column, is_launch != launch);
    }
    table_->setColumnHidden(SwingTable::Flight, false);
}

void LessonRoom::put_launch(
    const std::vector<std::pair<QString, std::optional<LaunchNumbers>>>& shots,
    const QString& what) {
    history_.beginMacro(what);
    for (const auto& [swing, launch] : shots) {
        const std::string json = launch ? formats::to_json(*launch) : std::string();
        edit(QStringLiteral("swing"), swing, {{"launch", json.empty() ? Row() : Row(json)}}, what);
    }
    history_.endMacro();
}

void LessonRoom::join_launch(const QString& file) {
    if (file.isEmpty())
        return;
    using Read = Outcome<std::vector<LaunchNumbers>>;
    QtConcurrent::run(&workers(), [file]() -> Read {
        return formats::read_launch_csv(path_of(file), names());
    }).then(this, [this, file](const Read& read) {
        if (!read.ok()) {
            shell_.show_message(
                tr("There are no launch numbers in %1").arg(QFileInfo(file).fileName()),
                QString::fromStdString(text_of(read.findings.front())));
            return;
        }
        const JoinedShots joined = join_shots(read.value, swings_->rows());
        std::vector<std::pair<QString, std::optional<LaunchNumbers>>> shots(joined.by_swing.begin(),
                                                                            joined.by_swing.end());
        put_launch(shots, tr("add launch numbers"));
        launch_->setChecked(true);
        shell_.show_message(tr("Launch numbers"), joined.words);
    });
}

void LessonRoom::move_launch(int by) {
    const QModelIndex at = table_->currentIndex();
    const auto shots = moved_shots(swings_->rows(), at.isValid() ? at.row() : -1, by);
    if (shots.empty())
        shell_.show_message(tr("The launch numbers stay"),
                            tr("There is no free swing to move them to. Clear one first."));
    else
        put_launch(shots, tr("move launch numbers"));
}

bool LessonRoom::open(const QStringList& paths) {
    if (!desk_->record().place_for_arrivals())
        return false;
    if (paths.size() == 1 && !desk_->record().lesson().isEmpty() && is_launch_file(paths.front()))
        join_launch(paths.front());
    else if (!paths.isEmpty())
        desk_->lesson().open(paths);
    return true;
}

void LessonRoom::entered() {
    // Whose swing is on the Bench is the first guess of who is meant.
    if (golfer_.isEmpty())
        for (const Row& golfer : desk_->record().view().golfers)
            if (!desk_->golfer().isEmpty() && text_in(golfer, "name") == desk_->golfer())
                choose_golfer(text_in(golfer, "id"));
    if (desk_->record().view().golfers.empty())
        name_->setFocus();
    else if (!desk_->record().lesson().isEmpty())
        table_->setFocus();
    else
        golfers_->setFocus();
}

void LessonRoom::read_settings(const QSettings& /*settings*/) {
    desk_->use_own_record();
}

/// What is chosen stays chosen, whatever arrives: the next key means the same swings.
void LessonRoom::keep_choice() {
    const auto chosen = std::make_shared<QStringList>();
    const auto current = std::make_shared<std::pair<QString, int>>();
    connect(swings_, &QAbstractItemModel::modelAboutToBeReset, this, [this, chosen, current] {
        *chosen = chosen_swings();
        const QModelIndex at = table_->currentIndex();
        *current = {at.isValid() ? text_in(swings_->swing(at.row()), "id") : QString(),
                    at.column()};
    });
    connect(swings_, &QAbstractItemModel::modelReset, this, [this, chosen, current] {
        for (int row = 0; row < swings_->rowCount(); ++row) {
            const QString id = text_in(swings_->swing(row), "id");
            const QModelIndex at = swings_->index(row, std::max(0, current->second));
            if (id == current->first)
                table_->selectionModel()->setCurrentIndex(at, QItemSelectionModel::NoUpdate);
            if (chosen->contains(id))
                table_->selectionModel()->select(at, QItemSelectionModel::Select |
                                                         QItemSelectionModel::Rows);
        }
    });
}

bool LessonRoom::key_in_list(QListWidget* list, const QKeyEvent& key) {
    if (key.key() != Qt::Key_Delete)
        return false;
    if (list == golfers_)
        bin_golfer();
    else
        bin_lesson();
    return true;
}

bool LessonRoom::eventFilter(QObject* object, QEvent* event) {
    const bool is_list = object == golfers_ || object == lessons_;
    if ((object != table_ && !is_list) || event->type() != QEvent::KeyPress)
        return Room::eventFilter(object, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    if (key->modifiers() != Qt::NoModifier)
        return false;
    if (is_list)
        return key_in_list(static_cast<QListWidget*>(object), *key);
    if (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter) {
        look_at_chosen();
        return true;
    }
    if (key->key() == Qt::Key_Delete) {
        bin_chosen();
        return true;
    }
    // Where words or numbers are typed, letters and digits are those.
    if (SwingTable::takes_typing(table_->currentIndex().column()))
        return false;
    // One key says how the ball flew, one where it was struck; the same once more takes it back.
    const std::pair<const std::vector<BallWord>*, const char*> kinds[] = {
        {&flight_words(), "flight"}, {&strike_words(), "strike"}};
    for (const auto& [words, column] : kinds)
        for (const BallWord& word : *words)
            if (key->text().compare(QChar::fromLatin1(word.press), Qt::CaseInsensitive) == 0) {
                for (const QModelIndex& at : table_->selectionModel()->selectedRows()) {
                    const Row swing = desk_->record().as_asked(swings_->swing(at.row()));
                    const bool same = text_in(swing, column) == QLatin1String(word.key);
                    edit(QStringLiteral("swing"), text_in(swing, "id"),
                         {{column, same ? Row() : Row(word.key)}},
                         QCoreApplication::translate("Ball", word.word));
                }
                return true;
            }
    return false;
}

void LessonRoom::add_commands(Commands& commands) {
    commands.add_menu(QStringLiteral("lesson"), tr("&Lesson"), QStringLiteral("view"));
    const auto add = [&](const char* menu, const char* id, const QString& words,
                         const QList<QKeySequence>& keys, const std::function<void()>& run) {
        commands.add(QString::fromLatin1(menu),
                     {QStringLiteral("lesson.") + QLatin1String(id), words, keys, run});
    };
    add("file", "add", tr("&Add swings to the lesson…"), {QKeySequence::Open},
        [this] { add_files(); });
    add("file", "own-record", tr("Back to your own &record"), {},
        [this] { desk_->use_own_record(); });
    add("lesson", "add-golfer", tr("Add &another golfer of this name"), {},
        [this] { new_golfer(true); });
    add("lesson", "find", tr("&Find or add a golfer"), {QKeySequence::Find},
        [this] { name_->setFocus(); });
    add("lesson", "begin", tr("&Begin a lesson today"), {QKeySequence::New},
        [this] { begin_lesson(); });
    add("lesson", "look", tr("&Look at the chosen swings on the Bench"),
        {QKeySequence(Qt::CTRL | Qt::Key_Return)}, [this] { look_at_chosen(); });
    add("lesson", "bin", tr("Put the chosen swings into the b&in"),
        {QKeySequence(Qt::CTRL | Qt::Key_Delete)}, [this] { bin_chosen(); });
    add("lesson", "bin-golfer", tr("Put this &golfer into the bin, with all that is theirs"), {},
        [this] { bin_golfer(); });
    add("lesson", "bin-lesson", tr("Put this lesson into the bin, with its swin&gs"), {},
        [this] { bin_lesson(); });
    add("lesson", "keep-open", tr("&Keep the swings on the Bench that are not kept"), {}, [this] {
        if (desk_->link().nobodys() == 0)
            shell_.show_message(tr("There is nothing to keep"),
                                tr("All swings on the Bench are kept, or are not yours to keep."));
        else
            arrivals_->offer_nobodys();
    });
    add("lesson", "launch-file", tr("Launch numbers from a &file…"), {}, [this] {
        join_launch(QFileDialog::getOpenFileName(shell_.widget(), tr("Launch numbers"), {},
                                                 tr("Launch numbers (*.csv *.txt)")));
    });
    add("lesson", "compare", tr("Co&mpare the chosen swings with the others"),
        {QKeySequence(Qt::CTRL | Qt::Key_M)}, [this] { compare_chosen(); });
    add("lesson", "compare-lessons", tr("Compare with the lesson before"), {},
        [this] { compare_with_last_lesson(); });
    add("lesson", "count", tr("Count the chosen swings against the &drill"),
        {QKeySequence(Qt::CTRL | Qt::Key_D)}, [this] { count_chosen(); });
    add("lesson", "find-swings", tr("Find &swings in the whole record"),
        {QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_F)}, [this] { find_->setFocus(); });
    launch_ = new QAction(tr("Show la&unch numbers"), this);
    launch_->setCheckable(true);
    connect(launch_, &QAction::toggled, this, &LessonRoom::show_columns);
    commands.add(QStringLiteral("lesson"), QStringLiteral("lesson.launch"), launch_,
                 {QKeySequence(Qt::CTRL | Qt::Key_L)});
    add("lesson", "launch-down", tr("Launch numbers from here on one swing &down"),
        {QKeySequence(Qt::ALT | Qt::Key_Down)}, [this] { move_launch(1); });
    add("lesson", "launch-up", tr("Launch numbers from here on one swing u&p"),
        {QKeySequence(Qt::ALT | Qt::Key_Up)}, [this] { move_launch(-1); });
    auto* guess = new QAction(tr("The golfer's &guess before the number"), this);
    guess->setCheckable(true);
    connect(guess, &QAction::toggled, swings_, &SwingTable::set_guess_first);
    commands.add(QStringLiteral("lesson"), QStringLiteral("lesson.guess-first"), guess,
                 {QKeySequence(Qt::CTRL | Qt::Key_G)});
    add("view", "back", tr("&Back to the Bench"), {QKeySequence(Qt::Key_Escape)},
        [this] { shell_.enter(QStringLiteral("bench")); });
    whole_->add_commands(commands);
}

} // namespace kite::app
