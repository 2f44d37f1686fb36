#include "app/rooms/bench/bench_room.h"

#include "app/charts/chart_picture.h"
#include "app/rooms/bench/bench_view.h"
#include "app/rooms/bench/blank_view.h"
#include "app/rooms/bench/empty_view.h"
#include "app/rooms/bench/import_assistant.h"
#include "app/rooms/bench/measure_help.h"
#include "app/rooms/bench/swing_panel.h"
#include "app/session/film_files.h"
#include "app/shell/jobs.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "formats/rules/rules_json.h"

#include <QApplication>
#include <QClipboard>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QListView>
#include <QSettings>
#include <QStackedWidget>
#include <QVBoxLayout>

#include <algorithm>
#include <utility>

namespace kite::app {

namespace {

/// Where files were opened last: the next ones are most likely beside them.
QString last_folder() {
    return QSettings().value(QStringLiteral("files/folder")).toString();
}
void keep_folder(const QString& folder) {
    QSettings().setValue(QStringLiteral("files/folder"), folder);
}

} // namespace

BenchRoom::BenchRoom(Shell& shell, std::shared_ptr<Desk> desk)
    : shell_(shell), desk_(std::move(desk)), lesson_(desk_->lesson()), shown_(desk_->shown()) {
    make_pages();
    connect_lesson();
    connect_views();
    help_ = new MeasureHelp(shell_.widget());
    for (const Finding& finding : lesson_.load_tables())
        shell_.show_message(tr("Not everything you said about files can be used"),
                            QString::fromStdString(text_of(finding)));
    show_row(-1);
}

BenchRoom::~BenchRoom() {
    // Views ask for the swings until they are gone.
    delete page_;
}

void BenchRoom::make_pages() {
    page_ = new QWidget;
    auto* layout = new QHBoxLayout(page_);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    panel_ = new SwingPanel(lesson_.swings(), page_);
    layout->addWidget(panel_);
    right_ = new QVBoxLayout;
    right_->setSpacing(0);
    pages_ = new QStackedWidget(page_);
    empty_ = new EmptyView(pages_);
    bench_ = new BenchView(&shown_, pages_);
    blank_ = new BlankView(pages_);
    assistant_ = new ImportAssistant(pages_);
    for (QWidget* widget : {static_cast<QWidget*>(empty_), static_cast<QWidget*>(bench_),
                            static_cast<QWidget*>(blank_), static_cast<QWidget*>(assistant_)})
        pages_->addWidget(widget);
    right_->addWidget(pages_, 1);
    layout->addLayout(right_, 1);
}

void BenchRoom::connect_lesson() {
    SwingListModel* swings = lesson_.swings();
    connect(swings, &SwingListModel::swing_loaded, this, [this](int row) {
        if (row == selected())
            show_row(row);
        if (overlay_id_ >= 0 && row == lesson_.swings()->row_of(overlay_id_))
            lay_under(row); // measured anew
    });
    connect(swings, &SwingListModel::options_changed, this,
            [this] { bench_->set_options(lesson_.swings()->options()); });
    connect(swings, &SwingListModel::marks_changed, this, [this](int row) {
        if (row == selected())
            show_title(row);
    });
    connect(swings, &SwingListModel::progress_changed, this, [this](int done, int wanted) {
        shell_.jobs().report(id(), tr("reading"), done, wanted);
    });
    connect(swings, &SwingListModel::all_loaded, this, [this] { shell_.jobs().end(id()); });
    // What is said of "swing 3 of 10" holds when swings come and go.
    const auto count_again = [this] { show_title(selected()); };
    connect(swings, &QAbstractItemModel::rowsRemoved, this, count_again);
    connect(swings, &QAbstractItemModel::rowsInserted, this, count_again);

    connect(&lesson_, &Lesson::named, panel_, &SwingPanel::set_lesson_name);
    connect(lesson_.editor(), &SwingEditor::swing_touched, this, [this](int row) {
        if (row >= 0 && row != selected())
            select(row);
    });
    connect(lesson_.reference(), &ReferenceKeeper::changed, this, &BenchRoom::show_reference);
    FolderWatch* watch = lesson_.watch();
    connect(watch, &FolderWatch::folder_changed, this,
            [this, watch] { panel_->show_watched(watch->folder()); });
    connect(watch, &FolderWatch::arrived, this, [this](const QStringList& paths) { open(paths); });
    connect(watch, &FolderWatch::rewritten, this, [this](const QString& path) {
        const int row = lesson_.take_rewritten(path);
        select(row);
        if (row == selected())
            show_row(row);
    });
    connect(watch, &FolderWatch::lost, this, [this](const QString& folder) {
        shell_.show_message(tr("%1 is no longer watched").arg(folder),
                            tr("It was removed or renamed. Choose it again under File."));
    });
}

void BenchRoom::connect_views() {
    connect(panel_, &SwingPanel::selected_changed, this, &BenchRoom::show_row);
    connect(panel_, &SwingPanel::open_requested, this, &BenchRoom::ask_for_files);
    connect(panel_, &SwingPanel::cancel_requested, lesson_.swings(),
            &SwingListModel::cancel_loading);
    connect(panel_, &SwingPanel::watch_end_requested, this, [this] { lesson_.watch()->watch({}); });
    connect(panel_, &SwingPanel::note_entered, this, [this](int row, const QString& text) {
        SwingMarks marks = lesson_.swings()->marks_of(lesson_.swings()->id_of(row));
        marks.note = text;
        lesson_.editor()->set_marks(row, marks, tr("write a note"));
    });
    connect(empty_, &EmptyView::open_requested, this, &BenchRoom::ask_for_files);
    connect(empty_, &EmptyView::demo_requested, this, &BenchRoom::open_demo);
    connect(assistant_, &ImportAssistant::answered, this, &BenchRoom::take_answer);
    connect(assistant_, &ImportAssistant::given_up, this, [this] { show_row(selected()); });

    connect(&shown_, &ShownSwing::move_requested, this, [this](Moment moment, double t_s, int g) {
        lesson_.editor()->move_moment(selected(), moment, t_s, g);
    });
    connect(&shown_, &ShownSwing::reset_requested, this, [this](Moment moment) {
        lesson_.editor()->move_moment(selected(), moment, std::nullopt, -1);
    });
    connect(&shown_, &ShownSwing::hand_said, this, [this](Handedness handed) {
        say([handed](SwingSaid& said) { said.handed = handed; }, tr("say the hand"));
    });
    connect(&shown_, &ShownSwing::club_said, this, [this](ClubKind club) {
        say([club](SwingSaid& said) { said.club = club; }, tr("say the club"));
    });
    connect(&shown_, &ShownSwing::swing_number_said, this, [this](int number) {
        say([number](SwingSaid& said) { said.number = static_cast<std::size_t>(number); },
            tr("choose the swing of the take"));
    });
    connect(bench_, &BenchView::options_chosen, lesson_.editor(), &SwingEditor::set_options);
    connect(bench_, &BenchView::explain_requested, this,
            [this](const QString& measure) { help_->open(measure); });
    connect(desk_.get(), &Desk::look_asked, this, &BenchRoom::select);
    connect(bench_, &BenchView::why_asked, desk_.get(), &Desk::ask_why);
    connect(bench_, &BenchView::copy_requested, this,
            [](QWidget* chart) { QApplication::clipboard()->setPixmap(picture_of(chart)); });
    connect(bench_, &BenchView::save_requested, this, [this](QWidget* chart) {
        shell_.ask_and_save(tr("Save the picture"), tr("Picture (*.png);;Drawing (*.svg)"),
                            [chart](const QString& path) { return save_picture(chart, path); });
    });
}

QBoxLayout* BenchRoom::place_for_messages() {
    return right_;
}

void BenchRoom::entered() {
    // Keys are commands until somebody goes to a line to type in.
    panel_->list()->setFocus();
}

void BenchRoom::read_settings(const QSettings& settings) {
    bench_->read_settings(settings);
    AnalysisOptions options;
    const auto key = [&settings](const char* name) {
        return settings.value(QString::fromLatin1(name)).toString().toStdString();
    };
    options.convention = find_convention(key("measure/rates")).value_or(options.convention);
    options.separation = find_separation(key("measure/separation")).value_or(options.separation);
    options.top = find_top(key("measure/top")).value_or(options.top);
    lesson_.swings()->set_options(options);
    desk_->schools().load();
    const std::string school = key("reading/school");
    choose_rules(QString::fromStdString(school.empty() ? "none" : school),
                 find_face(key("reading/face")).value_or(FaceHabit::Square), {});
    desk_->set_goal(find_goal(key("reading/goal")).value_or(Goal::NotSaid), {});
}

void BenchRoom::write_settings(QSettings& settings) const {
    bench_->write_settings(settings);
    const auto put = [&settings](const char* name, std::string_view key) {
        settings.setValue(QString::fromLatin1(name),
                          QString::fromLatin1(key.data(), static_cast<qsizetype>(key.size())));
    };
    const AnalysisOptions& options = lesson_.swings()->options();
    put("measure/rates", key_of(options.convention));
    put("measure/separation", key_of(options.separation));
    put("measure/top", key_of(options.top));
    settings.setValue(QStringLiteral("reading/school"), desk_->school());
    put("reading/face", key_of(lesson_.swings()->rules()->face));
    put("reading/goal", key_of(lesson_.swings()->rules()->goal));
}

int BenchRoom::selected() const {
    return panel_->selected();
}

void BenchRoom::select(int row) {
    panel_->select(row);
}

bool BenchRoom::open(const QStringList& paths) {
    // Film becomes a swing by being marked, in its own room.
    if (std::any_of(paths.begin(), paths.end(), is_film))
        return false;
    select(lesson_.open(paths));
    return true;
}

void BenchRoom::open_demo() {
    const QString demo = find_demo_lesson();
    if (demo.isEmpty()) {
        shell_.show_message(
            tr("The demo lesson is missing"),
            tr("It belongs in share/kite-hinge/demo/lesson beside the program; install it again."));
        return;
    }
    desk_->use_demo_record();
    open({demo});
}

void BenchRoom::ask_for_files() {
    const QStringList paths =
        QFileDialog::getOpenFileNames(shell_.widget(), tr("Open swings"), last_folder(),
                                      tr("Swings and lessons (%1 *.txt *.json);;All files (*)")
                                          .arg(capture_patterns().join(QLatin1Char(' '))));
    if (paths.isEmpty())
        return;
    keep_folder(QFileInfo(paths.first()).path());
    open(paths);
}

void BenchRoom::ask_for_folder() {
    const QString folder =
        QFileDialog::getExistingDirectory(shell_.widget(), tr("Open a folder"), last_folder());
    if (folder.isEmpty())
        return;
    keep_folder(folder);
    open({folder});
}

void BenchRoom::ask_what_to_watch() {
    const QString folder = QFileDialog::getExistingDirectory(
        shell_.widget(), tr("Watch a folder for new captures"), last_folder());
    if (folder.isEmpty())
        return;
    keep_folder(folder);
    lesson_.watch()->watch(folder);
}

void BenchRoom::open_assistant() {
    const int row = selected();
    if (row < 0)
        return;
    shell_.hide_message();
    const SwingRequest& request = lesson_.swings()->request(row);
    assistant_->open(request.path, request.axes, lesson_.swings()->read_options(),
                     lesson_.swings()->options());
    pages_->setCurrentWidget(assistant_);
}

void BenchRoom::take_answer(const ImportSubject& subject, const ImportAnswer& answer) {
    const auto findings = lesson_.keep_answer(selected(), subject, answer);
    blank_->show_words(tr("Reading…"), {});
    pages_->setCurrentWidget(blank_);
    if (has_errors(findings))
        shell_.show_message(tr("What you said could not be kept"),
                            QString::fromStdString(text_of(findings.front())));
}

void BenchRoom::show_row(int row) {
    SwingListModel* swings = lesson_.swings();
    shell_.hide_message();
    if (swings->rowCount() == 0 || row < 0) {
        shown_.set_swing(nullptr);
        blank_->show_words(
            tr("No swing is chosen"),
            tr("Choose one in the list. If the list is empty, no swing holds the words "
               "typed above it: clear them to see all %1.")
                .arg(swings->rowCount()));
        pages_->setCurrentWidget(swings->rowCount() == 0 ? static_cast<QWidget*>(empty_) : blank_);
        return;
    }
    const auto swing = swings->swing(row);
    if (!swing || !swing->ok) {
        shown_.set_swing(nullptr);
        blank_->show_words(swing ? QString() : tr("Reading…"), {});
        pages_->setCurrentWidget(blank_);
        if (swing)
            show_failure(*swing, row);
        return;
    }
    show_title(row);
    // Another golfer's mean is not shown for a moment.
    if (const auto& behind = shown_.reference();
        behind &&
        std::find(behind->swings.begin(), behind->swings.end(), swing) == behind->swings.end())
        shown_.set_reference(nullptr);
    shown_.set_swing(swing);
    lesson_.reference()->set_row(row);
    pages_->setCurrentWidget(bench_);
}

void BenchRoom::show_failure(const LoadedSwing& swing, int row) {
    const QString file = lesson_.swings()->index(row).data(SwingListModel::FileRole).toString();
    QStringList errors;
    for (const Finding& finding : swing.findings)
        if (finding.severity == Finding::Severity::Error)
            errors << QString::fromStdString(text_of(finding));
    shell_.show_message(tr("%1 cannot be shown").arg(file), errors.join(QLatin1Char('\n')),
                        tr("Say what is in it…"), [this] { open_assistant(); });
}

void BenchRoom::show_title(int row) {
    const QModelIndex index = lesson_.swings()->index(row);
    const auto swing = row < 0 ? nullptr : lesson_.swings()->swing(row);
    if (!swing || !swing->ok)
        return;
    const Analysis& analysis = swing->analysis;
    const QString golfer = index.data(SwingListModel::GolferRole).toString();
    QStringList parts{tr("Swing %1 of %2").arg(row + 1).arg(lesson_.swings()->rowCount())};
    const QString note = index.data(SwingListModel::NoteRole).toString();
    if (!note.isEmpty())
        parts << note;
    parts << tr("%1 Hz").arg(number_text(analysis.rate_hz))
          << tr("tempo %1 to 1").arg(number_text(analysis.tempo.ratio, 1));
    desk_->set_caption(lesson_.swings()->golfer_of(row),
                       golfer + QStringLiteral("  ·  ") +
                           parts.mid(0, 2).join(QStringLiteral("  ·  ")));
    bench_->set_title(tr("%1 — %2").arg(golfer, golfer_text(analysis)),
                      parts.join(QStringLiteral("  ·  ")));
}

void BenchRoom::mark(bool SwingMarks::*mark, const QString& on, const QString& off) {
    SwingMarks marks = lesson_.swings()->marks_of(lesson_.swings()->id_of(selected()));
    marks.*mark = !(marks.*mark);
    lesson_.editor()->set_marks(selected(), marks, marks.*mark ? on : off);
}

void BenchRoom::say(const std::function<void(SwingSaid&)>& change, const QString& what) {
    SwingSaid said = lesson_.swings()->said_of(lesson_.swings()->id_of(selected()));
    change(said);
    lesson_.editor()->say(selected(), said, what);
}

void BenchRoom::choose_rules(const QString& school, FaceHabit face, const QString& what) {
    const auto findings = desk_->read_by(school, face, what);
    if (!findings.empty())
        shell_.show_message(tr("This school cannot be used"),
                            QString::fromStdString(text_of(findings.front())));
}

void BenchRoom::choose_next_school() {
    // Own ones come after those that ship; what cannot be used is passed over.
    const auto& schools = desk_->schools().entries();
    const auto at = std::find_if(schools.begin(), schools.end(), [&](const auto& entry) {
        return entry.source == desk_->school();
    });
    const auto from = at == schools.end() ? schools.begin() : at + 1;
    const auto next = std::find_if(from, schools.end(),
                                   [](const auto& entry) { return !has_errors(entry.findings); });
    choose_rules(next == schools.end() ? schools.front().source : next->source,
                 desk_->rules()->face, tr("choose the school"));
}

void BenchRoom::choose_next_face() {
    const Rules& now = *lesson_.swings()->rules();
    const FaceHabit next = now.face == FaceHabit::Square ? FaceHabit::Shut
                           : now.face == FaceHabit::Shut ? FaceHabit::Open
                                                         : FaceHabit::Square;
    choose_rules(desk_->school(), next, tr("say the club face"));
}

void BenchRoom::show_next_reference() {
    tells_of_no_band_ = true;
    const ReferenceKind now = lesson_.reference()->kind();
    lesson_.reference()->set_kind(now == ReferenceKind::None         ? ReferenceKind::GoodSwings
                                  : now == ReferenceKind::GoodSwings ? ReferenceKind::AllSwings
                                                                     : ReferenceKind::None);
}

void BenchRoom::show_reference(const std::shared_ptr<const Reference>& reference) {
    shown_.set_reference(reference);
    const bool tell = std::exchange(tells_of_no_band_, false);
    if (!tell || !reference || !reference->empty() || !shown_.has_swing())
        return;
    shell_.show_message(tr("There is no band behind this swing yet"),
                        reference->kind == ReferenceKind::GoodSwings
                            ? tr("It takes two swings of this golfer with this club that are "
                                 "marked as good: G marks one. M shows all swings instead.")
                            : tr("It takes two swings of this golfer with this club."));
}

void BenchRoom::lay_under(int row) {
    SwingListModel* swings = lesson_.swings();
    Overlay overlay;
    overlay.alignment = shown_.overlay().alignment;
    overlay_id_ = swings->id_of(row);
    if (const auto swing = swings->swing(row); swing && swing->ok) {
        overlay.swing = swing;
        overlay.name = tr("swing %1, %2")
                           .arg(row + 1)
                           .arg(swings->index(row).data(SwingListModel::GolferRole).toString());
    }
    shown_.set_overlay(std::move(overlay));
}

void BenchRoom::align_next() {
    Overlay overlay = shown_.overlay();
    overlay.alignment = overlay.alignment == Alignment::Impact ? Alignment::Top
                        : overlay.alignment == Alignment::Top  ? Alignment::Stretched
                                                               : Alignment::Impact;
    shown_.set_overlay(std::move(overlay));
}

void BenchRoom::swap_with_overlay() {
    const int other = lesson_.swings()->row_of(overlay_id_);
    const int now = selected();
    if (other < 0 || other == now)
        return;
    lay_under(now);
    select(other);
}

} // namespace kite::app
