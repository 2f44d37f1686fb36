#include "app/rooms/references/references_room.h"

#include "app/rooms/references/limit_table.h"
#include "app/shell/commands.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "core/reading/baseline.h"
#include "core/reading/why.h"
#include "formats/rules/rules_json.h"
#include "formats/rules/school_edit.h"

#include <QComboBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QSignalBlocker>
#include <QTableView>
#include <QVBoxLayout>

namespace kite::app {

namespace {

QString title_in(const Reading& reading, const std::optional<std::string>& id) {
    const Fault* fault = id ? reading.find(*id) : nullptr;
    return fault == nullptr ? ReferencesRoom::tr("nothing to mend") : said(fault->title);
}

} // namespace

ReferencesRoom::ReferencesRoom(Shell& shell, std::shared_ptr<Desk> desk)
    : shell_(shell), desk_(std::move(desk)) {
    const Theme& theme = Theme::instance();
    page_ = new QWidget;
    auto* row = new QHBoxLayout(page_);
    row->setContentsMargins(theme.scaled(14), theme.scaled(14), theme.scaled(8), theme.scaled(10));
    row->setSpacing(theme.scaled(12));
    limits_ = new LimitTable(desk_.get(), &desk_->schools(), page_);
    table_ = new QTableView(page_);
    table_->setObjectName(QStringLiteral("limits"));
    table_->setAccessibleName(tr("Limits of the schools"));
    table_->setModel(limits_);
    table_->hideColumn(LimitTable::NameColumn);
    table_->verticalHeader()->setHighlightSections(false);
    table_->horizontalHeader()->setDefaultAlignment(Qt::AlignRight | Qt::AlignBottom |
                                                    static_cast<Qt::Alignment>(Qt::TextWordWrap));
    table_->setShowGrid(false);
    table_->setWordWrap(false);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setTabKeyNavigation(false);
    row->addWidget(table_, 1);
    auto* side = new QVBoxLayout;
    make_side(side);
    row->addLayout(side);

    connect(table_->selectionModel(), &QItemSelectionModel::currentColumnChanged, this,
            [this](const QModelIndex& now) {
                if (const QString source = limits_->source_of(now.column()); !source.isEmpty())
                    choose(source);
            });
    connect(limits_, &LimitTable::refused, this,
            [this](const QString& why) { shell_.show_message(tr("Not changed"), why); });
    connect(&desk_->schools(), &SchoolShelf::changed, this, [this](const QString& source) {
        // A school that is in use is read anew with what was changed.
        if (!source.isEmpty() && source == desk_->school())
            say(tr("This school cannot be used"), desk_->read_by(source, desk_->rules()->face, {}));
        show_school();
        show_effect();
    });
    connect(&desk_->shown(), &ShownSwing::swing_changed, this, &ReferencesRoom::show_effect);
    connect(&Theme::instance(), &Theme::changed, this, &ReferencesRoom::restyle);
    restyle();
    show_school();
    show_effect();
}

ReferencesRoom::~ReferencesRoom() {
    delete page_;
}

void ReferencesRoom::make_side(QVBoxLayout* layout) {
    const auto button = [&](const char* object, const QString& words, const auto& run) {
        auto* made = new QPushButton(words, page_);
        made->setObjectName(QString::fromLatin1(object));
        connect(made, &QPushButton::clicked, this, run);
        return made;
    };
    schools_ = new QComboBox(page_);
    schools_->setObjectName(QStringLiteral("school"));
    schools_->setAccessibleName(tr("School"));
    connect(schools_, &QComboBox::activated, this,
            [this](int at) { choose(schools_->itemData(at).toString()); });
    layout->addWidget(schools_);
    layout->addWidget(button("read_by", tr("Read by this school"), [this] { read_by_chosen(); }));
    face_ = new QComboBox(page_);
    face_->setObjectName(QStringLiteral("face"));
    face_->setAccessibleName(tr("How the golfer usually brings the club face"));
    face_->addItem(tr("Club face square"), static_cast<int>(FaceHabit::Square));
    face_->addItem(tr("Club face shut"), static_cast<int>(FaceHabit::Shut));
    face_->addItem(tr("Club face open"), static_cast<int>(FaceHabit::Open));
    connect(face_, &QComboBox::activated, this, [this](int at) {
        say(tr("This school cannot be used"),
            desk_->read_by(desk_->school(), static_cast<FaceHabit>(face_->itemData(at).toInt()),
                           tr("say the club face")));
    });
    layout->addWidget(face_);
    goal_ = new QComboBox(page_);
    goal_->setObjectName(QStringLiteral("goal"));
    goal_->setAccessibleName(tr("What the golfer wants most"));
    goal_->addItem(tr("Goal: not said"), static_cast<int>(Goal::NotSaid));
    goal_->addItem(tr("Goal: more speed"), static_cast<int>(Goal::Speed));
    goal_->addItem(tr("Goal: straighter"), static_cast<int>(Goal::Straight));
    goal_->addItem(tr("Goal: cleaner strike"), static_cast<int>(Goal::Strike));
    goal_->addItem(tr("Goal: less strain"), static_cast<int>(Goal::Strain));
    connect(goal_, &QComboBox::activated, this, [this](int at) {
        desk_->set_goal(static_cast<Goal>(goal_->itemData(at).toInt()), tr("say the goal"));
    });
    layout->addWidget(goal_);
    effect_ = new QLabel(page_);
    effect_->setObjectName(QStringLiteral("effect"));
    effect_->setWordWrap(true);
    layout->addWidget(effect_);
    auto* copy = new QHBoxLayout;
    copy_name_ = new QLineEdit(page_);
    copy_name_->setObjectName(QStringLiteral("copy_name"));
    copy_name_->setAccessibleName(tr("Name of the copy"));
    copy_name_->setPlaceholderText(tr("Name of the copy"));
    connect(copy_name_, &QLineEdit::returnPressed, this, [this] { copy_chosen(); });
    copy->addWidget(copy_name_, 1);
    copy->addWidget(button("copy", tr("Copy as own"), [this] { copy_chosen(); }));
    layout->addLayout(copy);
    layout->addWidget(
        button("baseline", tr("Take limits from the good swings"), [this] { take_baseline(); }));
    auto* scroll = new QScrollArea(page_);
    scroll->setWidgetResizable(true);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* content = new QWidget;
    content->setObjectName(QStringLiteral("reading"));
    auto* inside = new QVBoxLayout(content);
    inside->setContentsMargins(0, 6, 6, 0);
    about_ = new QLabel(content);
    about_->setObjectName(QStringLiteral("about_school"));
    about_->setWordWrap(true);
    about_->setTextFormat(Qt::RichText);
    inside->addWidget(about_);
    inside->addStretch(1);
    scroll->setWidget(content);
    scroll->viewport()->setAutoFillBackground(false);
    layout->addWidget(scroll, 1);
}

void ReferencesRoom::restyle() {
    const Theme& theme = Theme::instance();
    table_->horizontalHeader()->setFont(theme.font(12, Theme::Weight::Semibold));
    table_->verticalHeader()->setDefaultSectionSize(theme.scaled(24));
    table_->verticalHeader()->setFixedWidth(theme.scaled(290));
    table_->horizontalHeader()->setFixedHeight(theme.scaled(44));
    for (int column = 1; column < limits_->columnCount(); ++column)
        table_->setColumnWidth(column, theme.scaled(80));
    for (QWidget* part : {static_cast<QWidget*>(schools_), static_cast<QWidget*>(face_),
                          static_cast<QWidget*>(goal_), static_cast<QWidget*>(effect_)})
        part->setFixedWidth(theme.scaled(290));
}

void ReferencesRoom::entered() {
    table_->setFocus();
    if (desk_->schools().find(chosen_) == nullptr)
        chosen_ = desk_->school();
    show_school();
    show_effect();
}

void ReferencesRoom::choose(const QString& source) {
    if (desk_->schools().find(source) == nullptr)
        return;
    chosen_ = source;
    show_school();
    show_effect();
}

void ReferencesRoom::show_school() {
    const QSignalBlocker quiet(schools_);
    schools_->clear();
    for (const auto& entry : desk_->schools().entries())
        schools_->addItem(entry.own ? tr("%1 (own)").arg(entry.name) : entry.name, entry.source);
    schools_->setCurrentIndex(schools_->findData(chosen_));
    goal_->setCurrentIndex(goal_->findData(static_cast<int>(desk_->rules()->goal)));
    face_->setCurrentIndex(face_->findData(static_cast<int>(desk_->rules()->face)));
    for (int column = LimitTable::FirstSchoolColumn; column < limits_->columnCount(); ++column)
        table_->setColumnWidth(column, Theme::instance().scaled(80));
    const auto* entry = desk_->schools().find(chosen_);
    if (entry == nullptr)
        return;
    if (has_errors(entry->findings)) {
        about_->setText(
            tr("<b>This school cannot be used</b><br>%1")
                .arg(QString::fromStdString(text_of(entry->findings.front())).toHtmlEscaped()));
        return;
    }
    const School& school = entry->school;
    QString html = said(school.believes).toHtmlEscaped();
    const auto list = [&](const QString& head, const std::vector<std::string>& lines) {
        if (lines.empty())
            return;
        html += QStringLiteral("<p><b>%1</b></p>").arg(head);
        for (const std::string& line : lines)
            html += QStringLiteral("<p>%1</p>").arg(said(line).toHtmlEscaped());
    };
    list(tr("To say"), school.cues);
    list(tr("Not to say"), school.avoid);
    std::vector<std::string> answers;
    for (const auto& [question, answer] : school.answers)
        answers.push_back(question + ": " + answer);
    list(tr("Its answers"), answers);
    std::vector<std::string> not_faults;
    for (const auto* reasons : {&school.no_fault, &school.not_judged})
        for (const auto& [fault, why] : *reasons)
            if (const FaultRule* rule = formats::shipped_rule_book().find(fault))
                not_faults.push_back(rule->title + ": " + why);
    list(tr("Does not count here"), not_faults);
    std::vector<std::string> added;
    for (const FaultRule& fault : school.adds)
        added.push_back(fault.title);
    list(tr("Faults of its own"), added);
    about_->setText(html);
}

void ReferencesRoom::show_effect() {
    const auto* entry = desk_->schools().find(chosen_);
    if (!desk_->shown().has_swing() || entry == nullptr || has_errors(entry->findings)) {
        effect_->setText(
            tr("Open a swing on the Bench: what a school changes for it is said here."));
        return;
    }
    const LoadedSwing& swing = *desk_->shown().swing();
    Rules other = *swing.rules;
    other.school = entry->school;
    const Reading then = read_swing(swing.analysis, other);
    QStringList lines;
    const QString now_title = title_in(swing.reading, swing.reading.first_fix);
    const QString then_title = title_in(then, then.first_fix);
    if (swing.rules->school.id == entry->school.id)
        lines << tr("This swing is read by it: %1.").arg(now_title);
    else if (now_title == then_title)
        lines << tr("For this swing the first fix stays: %1.").arg(now_title);
    else
        lines << tr("For this swing the first fix would be \u201c%1\u201d in place of "
                    "\u201c%2\u201d.")
                     .arg(then_title, now_title);
    const auto names = [](const Reading& reading) {
        QStringList out;
        for (const Fault* fault : listed_faults(reading))
            if (fault->counts())
                out << said(fault->title);
        return out;
    };
    const QStringList before = names(swing.reading);
    const QStringList after = names(then);
    QStringList come;
    QStringList gone;
    for (const QString& one : after)
        if (!before.contains(one))
            come << one;
    for (const QString& one : before)
        if (!after.contains(one))
            gone << one;
    if (!come.isEmpty())
        lines << tr("New: %1.").arg(come.join(QStringLiteral("; ")));
    if (!gone.isEmpty())
        lines << tr("No longer: %1.").arg(gone.join(QStringLiteral("; ")));
    effect_->setText(lines.join(QLatin1Char('\n')));
}

void ReferencesRoom::say(const QString& title, const std::vector<Finding>& findings) {
    if (!findings.empty())
        shell_.show_message(title, QString::fromStdString(text_of(findings.front())));
}

void ReferencesRoom::read_by_chosen() {
    say(tr("This school cannot be used"),
        desk_->read_by(chosen_, desk_->rules()->face, tr("choose the school")));
    show_effect();
}

void ReferencesRoom::copy_chosen() {
    const auto* entry = desk_->schools().find(chosen_);
    if (entry == nullptr)
        return;
    QString name = copy_name_->text().trimmed();
    if (name.isEmpty())
        name = tr("%1, my way").arg(entry->name);
    QString made;
    const auto findings = desk_->schools().copy(chosen_, name, made);
    say(tr("The school was not copied"), findings);
    if (findings.empty()) {
        copy_name_->clear();
        choose(made);
        table_->setCurrentIndex(limits_->index(0, limits_->column_of(made)));
        table_->setFocus();
    }
}

void ReferencesRoom::import_school() {
    const QString file = QFileDialog::getOpenFileName(shell_.widget(), tr("Import a school"), {},
                                                      tr("Schools (*.json)"));
    if (file.isEmpty())
        return;
    QString made;
    const auto findings = desk_->schools().import_file(file, made);
    say(tr("This school cannot be used"), findings);
    if (findings.empty())
        choose(made);
}

void ReferencesRoom::export_chosen() {
    shell_.ask_and_save(tr("Export the school"), tr("School (*.json)"),
                        [this](const QString& file) {
                            return desk_->schools().export_file(chosen_, file).empty();
                        });
}

void ReferencesRoom::take_baseline() {
    const auto* entry = desk_->schools().find(chosen_);
    if (entry == nullptr || !entry->own) {
        shell_.show_message(tr("The shipped schools stay as they are"),
                            tr("Copy one as your own; it can take the limits of a golfer."));
        return;
    }
    const SwingListModel& swings = *desk_->lesson().swings();
    std::vector<std::shared_ptr<const LoadedSwing>> held;
    std::vector<const Analysis*> good;
    for (int row = 0; row < swings.rowCount(); ++row)
        if (const auto swing = swings.swing(row); swing && swing->ok &&
                                                  swings.marks_of(swings.id_of(row)).good &&
                                                  swings.golfer_of(row) == desk_->golfer()) {
            held.push_back(swing);
            good.push_back(&swing->analysis);
        }
    const auto limits = baseline_limits(formats::shipped_rule_book(), good);
    if (limits.empty()) {
        shell_.show_message(
            tr("There is no baseline yet"),
            tr("It takes %1 swings of this golfer that are marked as good (G on the Bench); "
               "there are %2.")
                .arg(kFewestForBaseline)
                .arg(good.size()));
        return;
    }
    say(tr("The limits were not taken"),
        desk_->schools().change(chosen_, tr("take limits from good swings"),
                                [&](const std::string& bytes) {
                                    std::string out = bytes;
                                    for (const auto& [name, limit] : limits)
                                        out = formats::with_limit(out, name, limit, {});
                                    return out;
                                }));
}

void ReferencesRoom::clear_cell() {
    say(tr("Not changed"), limits_->clear(table_->currentIndex()));
}

void ReferencesRoom::add_commands(Commands& commands) {
    commands.add_menu(QStringLiteral("school"), tr("&School"), QStringLiteral("view"));
    const auto add = [&](const char* menu, const char* id, const QString& words,
                         const QList<QKeySequence>& keys, const std::function<void()>& run) {
        commands.add(QString::fromLatin1(menu),
                     {QStringLiteral("references.") + QLatin1String(id), words, keys, run});
    };
    add("school", "read-by", tr("&Read by this school"), {QKeySequence(Qt::CTRL | Qt::Key_R)},
        [this] { read_by_chosen(); });
    add("school", "copy", tr("&Copy as own school"), {QKeySequence(Qt::CTRL | Qt::Key_D)},
        [this] { copy_chosen(); });
    add("school", "usual", tr("Back to what is &usual"), {QKeySequence(Qt::Key_Delete)},
        [this] { clear_cell(); });
    add("school", "baseline", tr("Take limits from the &good swings"),
        {QKeySequence(Qt::CTRL | Qt::Key_B)}, [this] { take_baseline(); });
    add("file", "import", tr("&Import a school…"), {QKeySequence::Open},
        [this] { import_school(); });
    add("file", "export", tr("&Export this school…"), {QKeySequence::Save},
        [this] { export_chosen(); });
    add("view", "back", tr("&Back to the Bench"), {QKeySequence(Qt::Key_Escape)},
        [this] { shell_.enter(QStringLiteral("bench")); });
}

} // namespace kite::app
