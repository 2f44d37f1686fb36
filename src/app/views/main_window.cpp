#include "app/views/main_window.h"

#include "app/charts/body_strip.h"
#include "app/charts/stair_chart.h"
#include "app/session/swing_editor.h"
#include "app/theme/icons.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "app/views/bench_view.h"
#include "app/views/command_panel.h"
#include "app/views/empty_view.h"
#include "app/views/measure_bar.h"
#include "app/views/message_bar.h"
#include "app/views/moment_table.h"
#include "app/views/swing_panel.h"

#include <QAction>
#include <QApplication>
#include <QClipboard>
#include <QCloseEvent>
#include <QDragEnterEvent>
#include <QFile>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QListView>
#include <QMenuBar>
#include <QMimeData>
#include <QPainter>
#include <QPicture>
#include <QPixmap>
#include <QSettings>
#include <QStackedWidget>
#include <QSvgGenerator>
#include <QVBoxLayout>

namespace kite::app {

MainWindow::MainWindow(QWidget* parent)
    : QMainWindow(parent), model_(new SwingListModel(this)), state_(new BenchState(this)),
      editor_(new SwingEditor(model_, this)) {
    setWindowTitle(QStringLiteral("Kite Hinge"));
    setWindowIcon(app_icon());
    setAcceptDrops(true);
    const Theme& theme = Theme::instance();
    setMinimumSize(theme.scaled(1024), theme.scaled(700));
    resize(theme.scaled(1280), theme.scaled(800));

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
    blank_ = new QWidget(pages_); // while a file loads, or where one could not be read
    for (QWidget* widget : {empty_, static_cast<QWidget*>(bench_), blank_})
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
    connect(editor_, &SwingEditor::swing_touched, this, [this](int row) {
        if (row >= 0 && row != panel_->selected())
            select(row);
    });
    connect(bench_->measure_bar(), &MeasureBar::options_chosen, editor_, &SwingEditor::set_options);
    connect(model_, &SwingListModel::options_changed, this,
            [this] { bench_->measure_bar()->set_options(model_->options()); });
    make_actions();
    commands_ = new CommandPanel(actions(), this);
    read_settings();
    show_row(-1);
}

void MainWindow::make_actions() {
    const auto add = [this](QMenu* menu, const QString& text, const QList<QKeySequence>& keys,
                            auto run) {
        auto* action = new QAction(text, this);
        action->setShortcuts(keys);
        connect(action, &QAction::triggered, this, run);
        menu->addAction(action);
        // A menu's keys work wherever the focus is, also while the menu is not on screen.
        addAction(action);
        return action;
    };
    QMenu* file = menuBar()->addMenu(tr("&File"));
    add(file, tr("&Open…"), {QKeySequence::Open}, [this] { ask_for_files(); });
    add(file, tr("Open the &demo lesson"), {}, [this] { open_demo(); });
    file->addSeparator();
    add(file, tr("&Remove from the list"), {QKeySequence::Delete},
        [this] { model_->remove(panel_->selected()); });
    file->addSeparator();
    add(file, tr("&Quit"), {QKeySequence(Qt::CTRL | Qt::Key_Q)}, [] { QApplication::quit(); });

    QMenu* edit = menuBar()->addMenu(tr("&Edit"));
    const auto add_history = [&](QAction* action, const QKeySequence& key) {
        action->setShortcut(key);
        edit->addAction(action);
        addAction(action);
    };
    add_history(editor_->history()->createUndoAction(this, tr("Undo")), QKeySequence::Undo);
    add_history(editor_->history()->createRedoAction(this, tr("Redo")),
                QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_Z));
    edit->addSeparator();
    add(edit, tr("Move the moment one frame &back"), {QKeySequence(Qt::ALT | Qt::Key_Left)},
        [this] { state_->nudge_moment(-1); });
    add(edit, tr("Move the moment one frame &forward"), {QKeySequence(Qt::ALT | Qt::Key_Right)},
        [this] { state_->nudge_moment(1); });
    add(edit, tr("Put the moment back where it was &found"), {QKeySequence(Qt::Key_Backspace)},
        [this] {
            if (const auto moment = state_->chosen_moment())
                emit state_->reset_requested(*moment);
        });
    add(edit, tr("Put &all moments of this swing back"), {},
        [this] { editor_->reset_moments(panel_->selected()); });
    edit->addSeparator();
    add(edit, tr("&Copy charts or table"), {QKeySequence::Copy}, [this] { copy_shown(); });
    add(edit, tr("&Save charts or table…"), {QKeySequence::Save}, [this] { ask_where_to_save(); });

    QMenu* swing = menuBar()->addMenu(tr("&Swing"));
    add(swing, tr("&Next swing"), {QKeySequence(Qt::Key_PageDown), QKeySequence(Qt::Key_N)},
        [this] { select_next(1); });
    add(swing, tr("&Previous swing"), {QKeySequence(Qt::Key_PageUp), QKeySequence(Qt::Key_P)},
        [this] { select_next(-1); });
    swing->addSeparator();
    add(swing, tr("P&lay or pause"), {QKeySequence(Qt::Key_Space)},
        [this] { state_->set_playing(!state_->is_playing()); });
    add(swing, tr("Play at 1/&4"), {QKeySequence(Qt::Key_1)}, [this] { state_->set_speed(0.25); });
    add(swing, tr("Play at 1/1&0"), {QKeySequence(Qt::Key_2)}, [this] { state_->set_speed(0.1); });
    add(swing, tr("Play at 1/&30"), {QKeySequence(Qt::Key_3)},
        [this] { state_->set_speed(1.0 / 30.0); });
    swing->addSeparator();
    add(swing, tr("Frame &back"), {QKeySequence(Qt::Key_Left)},
        [this] { state_->step_frames(-1); });
    add(swing, tr("Frame &forward"), {QKeySequence(Qt::Key_Right)},
        [this] { state_->step_frames(1); });
    add(swing, tr("Previous &moment"), {QKeySequence(Qt::SHIFT | Qt::Key_Left)},
        [this] { state_->step_moment(-1); });
    add(swing, tr("Next m&oment"), {QKeySequence(Qt::SHIFT | Qt::Key_Right)},
        [this] { state_->step_moment(1); });

    QMenu* compare = menuBar()->addMenu(tr("&Compare"));
    add(compare, tr("Lay this swing &under the others"), {QKeySequence(Qt::Key_R)},
        [this] { lay_under(panel_->selected()); });
    add(compare, tr("&Take the second swing away"), {QKeySequence(Qt::SHIFT | Qt::Key_R)},
        [this] { lay_under(-1); });
    add(compare, tr("&Align at impact, at the top, or stretched"), {QKeySequence(Qt::Key_A)},
        [this] {
            Overlay overlay = state_->overlay();
            overlay.alignment = overlay.alignment == Alignment::Impact ? Alignment::Top
                                : overlay.alignment == Alignment::Top  ? Alignment::Stretched
                                                                       : Alignment::Impact;
            state_->set_overlay(overlay);
        });
    add(compare, tr("&Swap the two swings"), {QKeySequence(Qt::Key_X)},
        [this] { swap_with_overlay(); });

    QMenu* view = menuBar()->addMenu(tr("&View"));
    add(view, tr("&Whole swing or downswing"), {QKeySequence(Qt::Key_W)},
        [this] { state_->is_whole() ? state_->show_transition() : state_->show_whole(); });
    add(view, tr("Zoom &in"), {QKeySequence(Qt::Key_Plus), QKeySequence(Qt::Key_Equal)},
        [this] { state_->zoom_at(state_->cursor_s(), 0.8); });
    add(view, tr("Zoom &out"), {QKeySequence(Qt::Key_Minus)},
        [this] { state_->zoom_at(state_->cursor_s(), 1.25); });
    add(view, tr("&Common or own scale"), {QKeySequence(Qt::Key_C)},
        [this] { bench_->stair()->set_common_scale(!bench_->stair()->has_common_scale()); });
    add(view, tr("&Table or charts"), {QKeySequence(Qt::Key_T)},
        [this] { bench_->show_table(!bench_->is_table_shown()); });
    add(view, tr("Next &picture: above, face-on, down the line, change"), {QKeySequence(Qt::Key_F)},
        [this] { bench_->show_next_picture(); });
    add(view, tr("Next quantity of the &body"), {QKeySequence(Qt::Key_B)},
        [this] { bench_->body()->choose_next(1); });
    add(view, tr("Previous quantity of the body"), {QKeySequence(Qt::SHIFT | Qt::Key_B)},
        [this] { bench_->body()->choose_next(-1); });
    add(view, tr("&Show all parts alike"), {QKeySequence(Qt::Key_Escape)},
        [this] { state_->set_lit({}); });
    view->addSeparator();
    add(view, tr("Light or &dark"), {QKeySequence(Qt::CTRL | Qt::Key_T)},
        [this] { switch_theme(); });

    QMenu* help = menuBar()->addMenu(tr("&Help"));
    add(help, tr("All &commands and keys"),
        {QKeySequence(Qt::Key_F1), QKeySequence(Qt::Key_Question),
         QKeySequence(Qt::CTRL | Qt::Key_K)},
        [this] { commands_->open(); });
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

bool MainWindow::save_charts(const QString& path) {
    QWidget* charts = bench_->charts();
    if (path.endsWith(QLatin1String(".svg"), Qt::CaseInsensitive)) {
        QSvgGenerator svg;
        svg.setFileName(path);
        svg.setSize(charts->size());
        svg.setViewBox(charts->rect());
        svg.setTitle(windowTitle());
        QPainter painter;
        if (!painter.begin(&svg))
            return false;
        // The charts paint themselves into the file, as lines and text.
        for (auto* chart : charts->findChildren<TimeChart*>()) {
            const QPoint at = chart->mapTo(charts, QPoint());
            QPicture picture;
            {
                QCPPainter into(&picture);
                chart->toPainter(&into, chart->width(), chart->height());
            }
            painter.drawPicture(at, picture);
        }
        return painter.end();
    }
    constexpr double kScale = 2.0;
    QPixmap picture(charts->size() * kScale);
    picture.setDevicePixelRatio(kScale);
    charts->render(&picture);
    return picture.save(path);
}

void MainWindow::ask_where_to_save() {
    if (!state_->has_swing())
        return;
    const bool table = bench_->is_table_shown();
    const QString path = QFileDialog::getSaveFileName(
        this, table ? tr("Save the table") : tr("Save the charts"), {},
        table ? tr("Table (*.csv)") : tr("Picture (*.png);;Drawing (*.svg)"));
    if (path.isEmpty())
        return;
    bool done = false;
    if (table) {
        QFile file(path);
        const QByteArray bytes = bench_->table()->csv().toUtf8();
        done = file.open(QIODevice::WriteOnly) && file.write(bytes) == bytes.size();
    } else {
        done = save_charts(path);
    }
    if (!done)
        message_->show_message(tr("%1 was not written").arg(QFileInfo(path).fileName()),
                               tr("Check that its folder exists and may be written to."));
}

void MainWindow::copy_shown() {
    if (!state_->has_swing())
        return;
    if (bench_->is_table_shown())
        bench_->table()->copy();
    else
        QApplication::clipboard()->setPixmap(bench_->charts()->grab());
}

void MainWindow::read_settings() {
    const QSettings settings;
    restoreGeometry(settings.value(QStringLiteral("window/geometry")).toByteArray());
    bench_->body()->choose(settings.value(QStringLiteral("bench/body")).toString());
    bench_->show_picture(
        std::clamp(settings.value(QStringLiteral("bench/picture"), 0).toInt(), 0, 3));
    bench_->stair()->set_common_scale(
        settings.value(QStringLiteral("bench/common_scale"), false).toBool());
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
    const QStringList paths = QFileDialog::getOpenFileNames(
        this, tr("Open swings"), {},
        tr("Swings and lessons (*.csv *.txt *.c3d *.json);;All files (*)"));
    if (!paths.isEmpty())
        open_paths(paths);
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

void MainWindow::select_next(int direction) {
    const int row = panel_->selected() + direction;
    if (row >= 0 && row < model_->rowCount())
        select(row);
}

void MainWindow::show_row(int row) {
    message_->hide();
    if (model_->rowCount() == 0 || row < 0) {
        state_->set_swing(nullptr);
        pages_->setCurrentWidget(model_->rowCount() == 0 ? empty_ : blank_);
        return;
    }
    const auto swing = model_->swing(row);
    if (!swing || !swing->ok) {
        state_->set_swing(nullptr);
        pages_->setCurrentWidget(blank_);
        if (swing) {
            const QString file = model_->index(row).data(SwingListModel::FileRole).toString();
            QString text;
            for (const Finding& finding : swing->findings)
                if (finding.severity == Finding::Severity::Error)
                    text += (text.isEmpty() ? QString() : QStringLiteral("\n")) +
                            QString::fromStdString(text_of(finding));
            message_->show_message(tr("%1 cannot be shown").arg(file), text);
        }
        return;
    }
    const QModelIndex index = model_->index(row);
    const Analysis& analysis = swing->analysis;
    const QString golfer = index.data(SwingListModel::GolferRole).toString();
    QStringList parts{tr("Swing %1 of %2").arg(row + 1).arg(model_->rowCount())};
    const QString note = index.data(SwingListModel::NoteRole).toString();
    if (!note.isEmpty())
        parts << note;
    parts << tr("%1 Hz").arg(number_text(analysis.rate_hz))
          << tr("tempo %1 to 1").arg(number_text(analysis.tempo.ratio, 1));
    bench_->set_title(
        tr("%1 — %2, %3").arg(golfer, club_name(analysis.club), handed_name(analysis.handed)),
        parts.join(QStringLiteral("  ·  ")));
    state_->set_swing(swing);
    pages_->setCurrentWidget(bench_);
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
