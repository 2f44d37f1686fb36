// Every command of the window: its words, its keys, what it does. The sheet of commands and the
// menus are made of these.

#include "app/charts/body_strip.h"
#include "app/charts/stair_chart.h"
#include "app/session/folder_watch.h"
#include "app/session/reference.h"
#include "app/session/swing_editor.h"
#include "app/views/bench_view.h"
#include "app/views/command_panel.h"
#include "app/views/main_window.h"
#include "app/views/measure_help.h"
#include "app/views/swing_panel.h"

#include <QAction>
#include <QApplication>
#include <QMenuBar>

namespace kite::app {

QAction* MainWindow::add_command(QMenu* menu, const QString& text, const QList<QKeySequence>& keys,
                                 const std::function<void()>& run) {
    auto* action = new QAction(text, this);
    action->setShortcuts(keys);
    connect(action, &QAction::triggered, this, run);
    menu->addAction(action);
    // A menu's keys work wherever the focus is, also while the menu is not on screen.
    addAction(action);
    return action;
}

void MainWindow::make_actions() {
    make_file_menu();
    make_edit_menu();
    make_swing_menu();
    make_compare_menu();
    make_view_menu();
    make_help_menu();
}

void MainWindow::make_file_menu() {
    QMenu* file = menuBar()->addMenu(tr("&File"));
    add_command(file, tr("&Open…"), {QKeySequence::Open}, [this] { ask_for_files(); });
    add_command(file, tr("Open a &folder…"), {QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_O)},
                [this] { ask_for_folder(); });
    add_command(file, tr("&Watch a folder for new captures…"), {}, [this] { ask_what_to_watch(); });
    add_command(file, tr("Stop watching"), {}, [this] { watch_->watch({}); });
    add_command(file, tr("Say what is &in this file…"), {}, [this] { open_assistant(); });
    add_command(file, tr("Open the &demo lesson"), {}, [this] { open_demo(); });
    file->addSeparator();
    add_command(file, tr("Save charts or &table…"), {QKeySequence::Save}, [this] { save_shown(); });
    add_command(file, tr("Save the &measures of all swings as a table…"), {},
                [this] { save_measures(); });
    file->addSeparator();
    add_command(file, tr("&Remove from the list"), {QKeySequence::Delete},
                [this] { editor_->remove(panel_->selected()); });
    file->addSeparator();
    add_command(file, tr("&Quit"), {QKeySequence(Qt::CTRL | Qt::Key_Q)},
                [] { QApplication::quit(); });
}

void MainWindow::make_edit_menu() {
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
    add_command(edit, tr("Move the moment one frame &back"), {QKeySequence(Qt::ALT | Qt::Key_Left)},
                [this] { state_->nudge_moment(-1); });
    add_command(edit, tr("Move the moment one frame &forward"),
                {QKeySequence(Qt::ALT | Qt::Key_Right)}, [this] { state_->nudge_moment(1); });
    add_command(edit, tr("Put the moment back where it was &found"),
                {QKeySequence(Qt::Key_Backspace)}, [this] {
                    if (const auto moment = state_->chosen_moment())
                        emit state_->reset_requested(*moment);
                });
    add_command(edit, tr("Put &all moments of this swing back"), {},
                [this] { editor_->reset_moments(panel_->selected()); });
    edit->addSeparator();
    add_command(edit, tr("&Copy charts or table"), {QKeySequence::Copy}, [this] { copy_shown(); });
}

void MainWindow::make_swing_menu() {
    QMenu* swing = menuBar()->addMenu(tr("&Swing"));
    add_command(swing, tr("&Next swing"), {QKeySequence(Qt::Key_PageDown), QKeySequence(Qt::Key_N)},
                [this] { select(panel_->neighbour(1)); });
    add_command(swing, tr("&Previous swing"),
                {QKeySequence(Qt::Key_PageUp), QKeySequence(Qt::Key_P)},
                [this] { select(panel_->neighbour(-1)); });
    add_command(swing, tr("Find swings by &words"), {QKeySequence::Find},
                [this] { panel_->focus_words(); });
    swing->addSeparator();
    panel_->set_row_actions(
        {add_command(
             swing, tr("Mark as &good, or not"), {QKeySequence(Qt::Key_G)},
             [this] { mark(&SwingMarks::good, tr("mark as good"), tr("take the mark away")); }),
         add_command(swing, tr("Leave &out of averages, or take in"), {QKeySequence(Qt::Key_E)},
                     [this] { mark(&SwingMarks::excluded, tr("leave out"), tr("take in again")); }),
         add_command(swing, tr("Write a no&te"), {QKeySequence(Qt::Key_F2)},
                     [this] { panel_->edit_note(); })});
    swing->addSeparator();
    add_command(swing, tr("P&lay or pause"), {QKeySequence(Qt::Key_Space)},
                [this] { state_->set_playing(!state_->is_playing()); });
    add_command(swing, tr("Play at 1/&4"), {QKeySequence(Qt::Key_1)},
                [this] { state_->set_speed(0.25); });
    add_command(swing, tr("Play at 1/1&0"), {QKeySequence(Qt::Key_2)},
                [this] { state_->set_speed(0.1); });
    add_command(swing, tr("Play at 1/&30"), {QKeySequence(Qt::Key_3)},
                [this] { state_->set_speed(1.0 / 30.0); });
    swing->addSeparator();
    add_command(swing, tr("Frame &back"), {QKeySequence(Qt::Key_Left)},
                [this] { state_->step_frames(-1); });
    add_command(swing, tr("Frame &forward"), {QKeySequence(Qt::Key_Right)},
                [this] { state_->step_frames(1); });
    add_command(swing, tr("Previous &moment"), {QKeySequence(Qt::SHIFT | Qt::Key_Left)},
                [this] { state_->step_moment(-1); });
    add_command(swing, tr("Next m&oment"), {QKeySequence(Qt::SHIFT | Qt::Key_Right)},
                [this] { state_->step_moment(1); });
}

void MainWindow::make_compare_menu() {
    QMenu* compare = menuBar()->addMenu(tr("&Compare"));
    add_command(compare, tr("Lay this swing &under the others"), {QKeySequence(Qt::Key_R)},
                [this] { lay_under(panel_->selected()); });
    add_command(compare, tr("Lay the golfer's &best swing under"), {QKeySequence(Qt::Key_L)},
                [this] { lay_under(ReferenceKeeper::best_like(*model_, panel_->selected())); });
    add_command(compare, tr("&Take the second swing away"), {QKeySequence(Qt::SHIFT | Qt::Key_R)},
                [this] { lay_under(-1); });
    add_command(compare, tr("&Align at impact, at the top, or stretched"),
                {QKeySequence(Qt::Key_A)}, [this] {
                    Overlay overlay = state_->overlay();
                    overlay.alignment = overlay.alignment == Alignment::Impact ? Alignment::Top
                                        : overlay.alignment == Alignment::Top ? Alignment::Stretched
                                                                              : Alignment::Impact;
                    state_->set_overlay(overlay);
                });
    add_command(compare, tr("&Swap the two swings"), {QKeySequence(Qt::Key_X)},
                [this] { swap_with_overlay(); });
    compare->addSeparator();
    add_command(compare, tr("&Mean and band behind: good swings, all swings, none"),
                {QKeySequence(Qt::Key_M)}, [this] { show_next_reference(); });
    compare->addSeparator();
    add_command(compare, tr("Save the &change against the second swing…"), {},
                [this] { save_change(); });
}

void MainWindow::make_view_menu() {
    QMenu* view = menuBar()->addMenu(tr("&View"));
    add_command(view, tr("&Whole swing or downswing"), {QKeySequence(Qt::Key_W)},
                [this] { state_->is_whole() ? state_->show_transition() : state_->show_whole(); });
    add_command(view, tr("Zoom &in"), {QKeySequence(Qt::Key_Plus), QKeySequence(Qt::Key_Equal)},
                [this] { state_->zoom_at(state_->cursor_s(), 0.8); });
    add_command(view, tr("Zoom &out"), {QKeySequence(Qt::Key_Minus)},
                [this] { state_->zoom_at(state_->cursor_s(), 1.25); });
    add_command(view, tr("&Common or own scale"), {QKeySequence(Qt::Key_C)}, [this] {
        bench_->stair()->set_common_scale(!bench_->stair()->has_common_scale());
    });
    add_command(view, tr("&Table or charts"), {QKeySequence(Qt::Key_T)},
                [this] { bench_->show_table(!bench_->is_table_shown()); });
    add_command(view, tr("Next &picture: above, face-on, down the line, change"),
                {QKeySequence(Qt::Key_F)}, [this] { bench_->show_next_picture(); });
    add_command(view, tr("T&races in the figure, or not"), {QKeySequence(Qt::Key_H)},
                [this] { bench_->show_traces(!bench_->are_traces_shown()); });
    add_command(view, tr("Next quantity of the &body"), {QKeySequence(Qt::Key_B)},
                [this] { bench_->body()->choose_next(1); });
    add_command(view, tr("Previous quantity of the body"), {QKeySequence(Qt::SHIFT | Qt::Key_B)},
                [this] { bench_->body()->choose_next(-1); });
    add_command(view, tr("&Show all parts alike"), {QKeySequence(Qt::Key_Escape)},
                [this] { state_->set_lit({}); });
    view->addSeparator();
    add_command(view, tr("&Units: cm and m/s, cm and km/h, cm and mph, inches and mph"),
                {QKeySequence(Qt::Key_U)}, [this] { show_next_units(); });
    add_command(view, tr("Light or &dark"), {QKeySequence(Qt::CTRL | Qt::Key_T)},
                [this] { switch_theme(); });
    add_command(view, tr("&Larger text"),
                {QKeySequence(Qt::CTRL | Qt::Key_Plus), QKeySequence(Qt::CTRL | Qt::Key_Equal)},
                [this] { change_text_size(1); });
    add_command(view, tr("S&maller text"), {QKeySequence(Qt::CTRL | Qt::Key_Minus)},
                [this] { change_text_size(-1); });
}

void MainWindow::make_help_menu() {
    QMenu* help = menuBar()->addMenu(tr("&Help"));
    add_command(help, tr("All &commands and keys"),
                {QKeySequence(Qt::Key_F1), QKeySequence(Qt::Key_Question),
                 QKeySequence(Qt::CTRL | Qt::Key_K)},
                [this] { commands_->open(); });
    add_command(help, tr("&What is this?"), {QKeySequence(Qt::Key_I)},
                [this] { help_->open(bench_->asked_measure()); });
}

} // namespace kite::app
