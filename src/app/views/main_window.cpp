#include "app/views/main_window.h"

#include "app/charts/body_strip.h"
#include "app/charts/chart_picture.h"
#include "app/charts/stair_chart.h"
#include "app/session/folder_watch.h"
#include "app/session/reference.h"
#include "app/session/swing_editor.h"
#include "app/theme/icons.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"
#include "app/views/bench_view.h"
#include "app/views/blank_view.h"
#include "app/views/command_panel.h"
#include "app/views/difference_table.h"
#include "app/views/empty_view.h"
#include "app/views/import_assistant.h"
#include "app/views/measure_bar.h"
#include "app/views/measure_help.h"
#include "app/views/message_bar.h"
#include "app/views/moment_table.h"
#include "app/views/swing_panel.h"
#include "formats/mapping/column_mapping.h"
#include "formats/names/name_table.h"
#include "formats/text/bytes.h"
#include "formats/text/measures_csv.h"

#include <QApplication>
#include <QClipboard>
#include <QCloseEvent>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QListView>
#include <QMimeData>
#include <QSettings>
#include <QStackedWidget>
#include <QVBoxLayout>

#include <algorithm>
#include <array>
#include <utility>

namespace kite::app {

namespace {

/// An older file stays whole if this fails.
bool write_text(const QString& path, const QString& text) {
    return !has_errors(formats::write_bytes(path.toStdString(), text.toStdString()));
}

/// Where files were opened last: the next ones are most likely beside them.
QString last_folder() {
    return QSettings().value(QStringLiteral("files/folder")).toString();
}
void keep_folder(const QString& folder) {
    QSettings().setValue(QStringLiteral("files/folder"), folder);
}

} // namespace

MainWindow::MainWindow(QWidget* parent)
    : QMainWindow(parent), model_(new SwingListModel(this)), state_(new BenchState(this)),
      editor_(new SwingEditor(model_, this)), reference_(new ReferenceKeeper(model_, this)),
      watch_(new FolderWatch(this)) {
    setWindowTitle(QStringLiteral("Kite Hinge"));
    setWindowIcon(app_icon());
    setAcceptDrops(true);
    const Theme& theme = Theme::instance();
    setMinimumSize(1024, 700);
    resize(1280, 800);

    auto* page = new QWidget(this);
    page->setObjectName(QStringLiteral("page"));
    auto* layout = new QHBoxLayout(page);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    panel_ = new SwingPanel(model_, page);
    layout->addWidget(panel_);

    auto* right = new QVBoxLayout;
    right->setSpacing(0);
    message_ = new MessageBar(page);
    auto* message_box = new QVBoxLayout;
    message_box->setContentsMargins(theme.scaled(16), theme.scaled(12), theme.scaled(14), 0);
    message_box->addWidget(message_);
    right->addLayout(message_box);
    pages_ = new QStackedWidget(page);
    auto* empty = new EmptyView(pages_);
    empty_ = empty;
    bench_ = new BenchView(state_, pages_);
    blank_ = new BlankView(pages_); // while a file loads, or where one could not be read
    assistant_ = new ImportAssistant(pages_);
    for (QWidget* widget : {empty_, static_cast<QWidget*>(bench_), static_cast<QWidget*>(blank_),
                            static_cast<QWidget*>(assistant_)})
        pages_->addWidget(widget);
    right->addWidget(pages_, 1);
    layout->addLayout(right, 1);
    setCentralWidget(page);

    connect(panel_, &SwingPanel::selected_changed, this, &MainWindow::show_row);
    connect(panel_, &SwingPanel::open_requested, this, &MainWindow::ask_for_files);
    connect(panel_, &SwingPanel::theme_requested, this, &MainWindow::switch_theme);
    connect(empty, &EmptyView::open_requested, this, &MainWindow::ask_for_files);
    connect(empty, &EmptyView::demo_requested, this, &MainWindow::open_demo);
    connect(model_, &SwingListModel::swing_loaded, this, [this](int row) {
        if (row == panel_->selected())
            show_row(row);
        if (overlay_id_ >= 0 && row == model_->row_of(overlay_id_))
            lay_under(row); // measured anew
    });
    connect(state_, &BenchState::move_requested, this, [this](Moment moment, double t_s, int g) {
        editor_->move_moment(panel_->selected(), moment, t_s, g);
    });
    connect(state_, &BenchState::reset_requested, this, [this](Moment moment) {
        editor_->move_moment(panel_->selected(), moment, std::nullopt, -1);
    });
    const auto say = [this](const auto& change, const QString& what) {
        SwingSaid said = model_->said_of(model_->id_of(panel_->selected()));
        change(said);
        editor_->say(panel_->selected(), said, what);
    };
    connect(state_, &BenchState::hand_said, this, [say](Handedness handed) {
        say([handed](SwingSaid& said) { said.handed = handed; }, tr("say the hand"));
    });
    connect(state_, &BenchState::club_said, this, [say](ClubKind club) {
        say([club](SwingSaid& said) { said.club = club; }, tr("say the club"));
    });
    connect(state_, &BenchState::swing_number_said, this, [say](int number) {
        say([number](SwingSaid& said) { said.number = static_cast<std::size_t>(number); },
            tr("choose the swing of the take"));
    });
    connect(editor_, &SwingEditor::swing_touched, this, [this](int row) {
        if (row >= 0 && row != panel_->selected())
            select(row);
    });
    connect(bench_->measure_bar(), &MeasureBar::options_chosen, editor_, &SwingEditor::set_options);
    connect(model_, &SwingListModel::options_changed, this,
            [this] { bench_->measure_bar()->set_options(model_->options()); });
    connect(panel_, &SwingPanel::cancel_requested, model_, &SwingListModel::cancel_loading);
    connect(panel_, &SwingPanel::watch_end_requested, this, [this] { watch_->watch({}); });
    connect(panel_, &SwingPanel::note_entered, this, [this](int row, const QString& text) {
        SwingMarks marks = model_->marks_of(model_->id_of(row));
        marks.note = text;
        editor_->set_marks(row, marks, tr("write a note"));
    });
    connect(model_, &SwingListModel::marks_changed, this, [this](int row) {
        if (row == panel_->selected())
            show_title(row);
    });
    connect(assistant_, &ImportAssistant::answered, this, &MainWindow::take_answer);
    connect(assistant_, &ImportAssistant::given_up, this, [this] { show_row(panel_->selected()); });
    connect(message_, &MessageBar::action_requested, this, &MainWindow::open_assistant);
    connect(watch_, &FolderWatch::folder_changed, this,
            [this] { panel_->show_watched(watch_->folder()); });
    connect(watch_, &FolderWatch::arrived, this, &MainWindow::open_paths);
    connect(watch_, &FolderWatch::rewritten, this, [this](const QString& path) {
        // The same file once more: it takes the place of what stood there.
        const int row = model_->row_of_file(path);
        if (row < 0) {
            open_paths({path});
            return;
        }
        model_->read_again(row, model_->request(row).axes);
        select(row);
        if (row == panel_->selected())
            show_row(row);
    });
    // What is said of "swing 3 of 10" holds when swings come and go.
    const auto count_again = [this] { show_title(panel_->selected()); };
    connect(model_, &QAbstractItemModel::rowsRemoved, this, count_again);
    connect(model_, &QAbstractItemModel::rowsInserted, this, count_again);
    connect(watch_, &FolderWatch::lost, this, [this](const QString& folder) {
        message_->show_message(tr("%1 is no longer watched").arg(folder),
                               tr("It was removed or renamed. Choose it again under File."));
    });
    connect(reference_, &ReferenceKeeper::changed, this,
            [this](const std::shared_ptr<const Reference>& reference) {
                state_->set_reference(reference);
                const bool tell = std::exchange(tells_of_no_band_, false);
                if (tell && reference && reference->empty() && state_->has_swing())
                    message_->show_message(
                        tr("There is no band behind this swing yet"),
                        reference->kind == ReferenceKind::GoodSwings
                            ? tr("It takes two swings of this golfer with this club that are "
                                 "marked as good: G marks one. M shows all swings instead.")
                            : tr("It takes two swings of this golfer with this club."));
            });
    connect(bench_, &BenchView::explain_requested, this,
            [this](const QString& measure) { help_->open(measure); });
    connect(bench_, &BenchView::copy_requested, this,
            [](QWidget* chart) { QApplication::clipboard()->setPixmap(picture_of(chart)); });
    connect(bench_, &BenchView::save_requested, this, [this](QWidget* chart) {
        ask_and_save(tr("Save the picture"), tr("Picture (*.png);;Drawing (*.svg)"),
                     [chart](const QString& path) { return save_picture(chart, path); });
    });
    make_actions();
    commands_ = new CommandPanel(actions(), this);
    help_ = new MeasureHelp(this);
    read_settings();
    load_tables();
    show_row(-1);
    // Keys are commands until somebody goes to a line to type in.
    panel_->list()->setFocus();
}

void MainWindow::mark(bool SwingMarks::*mark, const QString& on, const QString& off) {
    const int row = panel_->selected();
    SwingMarks marks = model_->marks_of(model_->id_of(row));
    marks.*mark = !(marks.*mark);
    editor_->set_marks(row, marks, marks.*mark ? on : off);
}

void MainWindow::show_next_reference() {
    tells_of_no_band_ = true;
    const ReferenceKind now = reference_->kind();
    reference_->set_kind(now == ReferenceKind::None         ? ReferenceKind::GoodSwings
                         : now == ReferenceKind::GoodSwings ? ReferenceKind::AllSwings
                                                            : ReferenceKind::None);
}

void MainWindow::show_next_units() {
    Units& units = Units::instance();
    const auto& pairs = Units::pairs();
    const auto now =
        std::find(pairs.begin(), pairs.end(), std::pair(units.length(), units.speed()));
    const auto next = now == pairs.end() || now + 1 == pairs.end() ? pairs.begin() : now + 1;
    units.set(next->first, next->second);
}

void MainWindow::change_text_size(int direction) {
    constexpr double kStep = 0.125;
    Theme::instance().set_text_scale(Theme::instance().text_scale() + kStep * direction);
}

void MainWindow::lay_under(int row) {
    Overlay overlay;
    overlay.alignment = state_->overlay().alignment;
    overlay_id_ = model_->id_of(row);
    if (const auto swing = model_->swing(row); swing && swing->ok) {
        overlay.swing = swing;
        overlay.name = tr("swing %1, %2")
                           .arg(row + 1)
                           .arg(model_->index(row).data(SwingListModel::GolferRole).toString());
    }
    state_->set_overlay(std::move(overlay));
}

void MainWindow::swap_with_overlay() {
    const int other = model_->row_of(overlay_id_);
    const int shown = panel_->selected();
    if (other < 0 || other == shown)
        return;
    lay_under(shown);
    select(other);
}

void MainWindow::ask_and_save(const QString& title, const QString& kinds,
                              const std::function<bool(const QString&)>& write) {
    const QString path = QFileDialog::getSaveFileName(this, title, {}, kinds);
    if (!path.isEmpty() && !write(path))
        message_->show_message(tr("%1 was not written").arg(QFileInfo(path).fileName()),
                               tr("Check that its folder exists and may be written to."));
}

void MainWindow::save_shown() {
    if (!state_->has_swing())
        return;
    if (bench_->is_table_shown())
        ask_and_save(tr("Save the table"), tr("Table (*.csv)"), [this](const QString& path) {
            return write_text(path, bench_->table()->csv());
        });
    else
        ask_and_save(tr("Save the charts"), tr("Picture (*.png);;Drawing (*.svg)"),
                     [this](const QString& path) { return save_picture(bench_->charts(), path); });
}

void MainWindow::save_change() {
    const QString csv = bench_->differences()->csv();
    if (csv.isEmpty()) {
        message_->show_message(tr("There is no second swing"),
                               tr("R lays the swing shown under the others."));
        return;
    }
    ask_and_save(tr("Save the change"), tr("Table (*.csv)"),
                 [csv](const QString& path) { return write_text(path, csv); });
}

void MainWindow::save_measures() {
    std::string csv = formats::measures_csv_header();
    for (int row = 0; row < model_->rowCount(); ++row)
        if (const auto swing = model_->swing(row); swing && swing->ok)
            csv += formats::measures_csv_row(
                model_->index(row).data(SwingListModel::FileRole).toString().toStdString(),
                swing->analysis);
    ask_and_save(tr("Save the measures"), tr("Table (*.csv)"), [csv](const QString& path) {
        return write_text(path, QString::fromStdString(csv));
    });
}

void MainWindow::copy_shown() {
    if (!state_->has_swing())
        return;
    if (bench_->is_table_shown())
        bench_->table()->copy();
    else
        QApplication::clipboard()->setPixmap(picture_of(bench_->charts()));
}

void MainWindow::read_settings() {
    const QSettings settings;
    restoreGeometry(settings.value(QStringLiteral("window/geometry")).toByteArray());
    bench_->body()->choose(settings.value(QStringLiteral("bench/body")).toString());
    bench_->show_picture(
        std::clamp(settings.value(QStringLiteral("bench/picture"), 0).toInt(), 0, 3));
    bench_->stair()->set_common_scale(
        settings.value(QStringLiteral("bench/common_scale"), false).toBool());
    bench_->show_traces(settings.value(QStringLiteral("bench/traces"), false).toBool());
    Units::instance().set(static_cast<Units::Length>(std::clamp(
                              settings.value(QStringLiteral("units/length"), 0).toInt(), 0, 1)),
                          static_cast<Units::Speed>(std::clamp(
                              settings.value(QStringLiteral("units/speed"), 0).toInt(), 0, 2)));
    AnalysisOptions options;
    const auto key = [&settings](const char* name) {
        return settings.value(QString::fromLatin1(name)).toString().toStdString();
    };
    options.convention = find_convention(key("measure/rates")).value_or(options.convention);
    options.separation = find_separation(key("measure/separation")).value_or(options.separation);
    options.top = find_top(key("measure/top")).value_or(options.top);
    model_->set_options(options);
}

void MainWindow::write_settings() const {
    QSettings settings;
    settings.setValue(QStringLiteral("window/geometry"), saveGeometry());
    settings.setValue(QStringLiteral("window/theme"), Theme::instance().kind() == ThemeKind::Dark
                                                          ? QStringLiteral("dark")
                                                          : QStringLiteral("light"));
    settings.setValue(QStringLiteral("bench/body"), bench_->body()->chosen());
    settings.setValue(QStringLiteral("bench/picture"), bench_->picture());
    settings.setValue(QStringLiteral("bench/common_scale"), bench_->stair()->has_common_scale());
    settings.setValue(QStringLiteral("bench/traces"), bench_->are_traces_shown());
    settings.setValue(QStringLiteral("units/length"), static_cast<int>(Units::instance().length()));
    settings.setValue(QStringLiteral("units/speed"), static_cast<int>(Units::instance().speed()));
    settings.setValue(QStringLiteral("window/text_scale"), Theme::instance().text_scale());
    const auto put = [&settings](const char* name, std::string_view key) {
        settings.setValue(QString::fromLatin1(name),
                          QString::fromLatin1(key.data(), static_cast<qsizetype>(key.size())));
    };
    put("measure/rates", key_of(model_->options().convention));
    put("measure/separation", key_of(model_->options().separation));
    put("measure/top", key_of(model_->options().top));
}

void MainWindow::closeEvent(QCloseEvent* event) {
    write_settings();
    QMainWindow::closeEvent(event);
}

void MainWindow::ask_for_files() {
    const QStringList paths =
        QFileDialog::getOpenFileNames(this, tr("Open swings"), last_folder(),
                                      tr("Swings and lessons (%1 *.txt *.json);;All files (*)")
                                          .arg(capture_patterns().join(QLatin1Char(' '))));
    if (paths.isEmpty())
        return;
    keep_folder(QFileInfo(paths.first()).path());
    open_paths(paths);
}

void MainWindow::ask_for_folder() {
    const QString folder =
        QFileDialog::getExistingDirectory(this, tr("Open a folder"), last_folder());
    if (folder.isEmpty())
        return;
    keep_folder(folder);
    open_paths({folder});
}

void MainWindow::ask_what_to_watch() {
    const QString folder = QFileDialog::getExistingDirectory(
        this, tr("Watch a folder for new captures"), last_folder());
    if (folder.isEmpty())
        return;
    keep_folder(folder);
    watch_->watch(folder);
}

void MainWindow::open_paths(const QStringList& paths) {
    QString lesson;
    const int first = model_->open(expand_paths(paths, &lesson));
    if (!lesson.isEmpty())
        panel_->set_lesson_name(lesson);
    select(first);
}

void MainWindow::open_demo() {
    const QString demo = find_demo_lesson();
    if (demo.isEmpty()) {
        message_->show_message(
            tr("The demo lesson is missing"),
            tr("It belongs in share/kite-hinge/demo/lesson beside the program; install it again."));
        return;
    }
    open_paths({demo});
}

void MainWindow::select(int row) {
    panel_->select(row);
}

void MainWindow::show_row(int row) {
    message_->hide();
    if (model_->rowCount() == 0 || row < 0) {
        state_->set_swing(nullptr);
        blank_->show_words(
            tr("No swing is chosen"),
            tr("Choose one in the list. If the list is empty, no swing holds the words "
               "typed above it: clear them to see all %1.")
                .arg(model_->rowCount()));
        pages_->setCurrentWidget(model_->rowCount() == 0 ? empty_ : blank_);
        return;
    }
    const auto swing = model_->swing(row);
    if (!swing || !swing->ok) {
        state_->set_swing(nullptr);
        if (swing)
            blank_->show_words({}, {});
        else
            blank_->show_words(tr("Reading…"), {});
        pages_->setCurrentWidget(blank_);
        if (swing) {
            const QString file = model_->index(row).data(SwingListModel::FileRole).toString();
            QString text;
            for (const Finding& finding : swing->findings)
                if (finding.severity == Finding::Severity::Error)
                    text += (text.isEmpty() ? QString() : QStringLiteral("\n")) +
                            QString::fromStdString(text_of(finding));
            message_->show_message(tr("%1 cannot be shown").arg(file), text,
                                   tr("Say what is in it…"));
        }
        return;
    }
    show_title(row);
    // Another golfer's mean is not shown for a moment.
    if (const auto& behind = state_->reference();
        behind &&
        std::find(behind->swings.begin(), behind->swings.end(), swing) == behind->swings.end())
        state_->set_reference(nullptr);
    state_->set_swing(swing);
    reference_->set_row(row);
    pages_->setCurrentWidget(bench_);
}

void MainWindow::show_title(int row) {
    const QModelIndex index = model_->index(row);
    const auto swing = row < 0 ? nullptr : model_->swing(row);
    if (!swing || !swing->ok)
        return;
    const Analysis& analysis = swing->analysis;
    const QString golfer = index.data(SwingListModel::GolferRole).toString();
    QStringList parts{tr("Swing %1 of %2").arg(row + 1).arg(model_->rowCount())};
    const QString note = index.data(SwingListModel::NoteRole).toString();
    if (!note.isEmpty())
        parts << note;
    parts << tr("%1 Hz").arg(number_text(analysis.rate_hz))
          << tr("tempo %1 to 1").arg(number_text(analysis.tempo.ratio, 1));
    bench_->set_title(tr("%1 — %2").arg(golfer, golfer_text(analysis)),
                      parts.join(QStringLiteral("  ·  ")));
}

void MainWindow::load_tables() {
    auto read = formats::read_options_of_user();
    for (const Finding& finding : read.findings)
        message_->show_message(tr("Not everything you said about files can be used"),
                               QString::fromStdString(text_of(finding)));
    model_->set_read_options(std::move(read.value));
}

void MainWindow::open_assistant() {
    const int row = panel_->selected();
    if (row < 0)
        return;
    message_->hide();
    const SwingRequest& request = model_->request(row);
    assistant_->open(request.path, request.axes, model_->read_options(), model_->options());
    pages_->setCurrentWidget(assistant_);
}

void MainWindow::take_answer(const ImportSubject& subject, const ImportAnswer& answer) {
    std::vector<Finding> findings;
    if (subject.kind == ImportSubject::Kind::Columns) {
        const auto path = formats::MappingStore::user_path();
        auto store = formats::MappingStore::load(path);
        findings = store.findings;
        if (findings.empty()) {
            store.value.put(answer.mapping);
            findings = store.value.save(path);
        }
    } else if (!answer.markers.empty()) {
        findings =
            formats::NameTable::add_user_markers(formats::NameTable::user_path(), answer.markers);
    }
    load_tables();
    const int shown = panel_->selected();
    for (int row = 0; row < model_->rowCount(); ++row) {
        // What could not be read before may be of the same kind.
        if (row == shown)
            model_->read_again(row, answer.axes);
        else if (model_->state(row) == SwingListModel::State::Failed)
            model_->read_again(row, model_->request(row).axes);
    }
    blank_->show_words(tr("Reading…"), {});
    pages_->setCurrentWidget(blank_);
    if (has_errors(findings))
        message_->show_message(tr("What you said could not be kept"),
                               QString::fromStdString(text_of(findings.front())));
}

void MainWindow::switch_theme() {
    Theme::instance().apply(Theme::instance().kind() == ThemeKind::Light ? ThemeKind::Dark
                                                                         : ThemeKind::Light);
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls())
        event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
    QStringList paths;
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile())
            paths << url.toLocalFile();
    if (!paths.isEmpty()) {
        event->acceptProposedAction();
        open_paths(paths);
    }
}

} // namespace kite::app
