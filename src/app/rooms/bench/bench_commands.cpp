// Every command of the Bench: its name, its words, its keys, what it does. Menus and the sheet of
// commands are made of these.

#include "app/rooms/bench/bench_room.h"
#include "app/rooms/bench/bench_view.h"
#include "app/rooms/bench/measure_help.h"
#include "app/rooms/bench/swing_panel.h"
#include "app/shell/commands.h"

#include <QAction>

namespace kite::app {

namespace {

/// Adds commands of the Bench to one menu.
struct InMenu {
    Commands& commands;
    QString menu;

    QAction* operator()(const char* id, const QString& words, const QList<QKeySequence>& keys,
                        const std::function<void()>& run) const {
        return commands.add(menu, {QStringLiteral("bench.") + QLatin1String(id), words, keys, run});
    }
    void line() const { commands.add_line(menu); }
};

} // namespace

void BenchRoom::add_commands(Commands& commands) {
    commands.add_menu(QStringLiteral("swing"), tr("&Swing"), QStringLiteral("view"));
    commands.add_menu(QStringLiteral("compare"), tr("&Compare"), QStringLiteral("view"));
    add_file_commands(commands);
    add_edit_commands(commands);
    add_swing_commands(commands);
    add_compare_commands(commands);
    add_view_commands(commands);
    const InMenu help{commands, QStringLiteral("help")};
    help("what-is-this", tr("&What is this?"), {QKeySequence(Qt::Key_I)},
         [this] { help_->open(bench_->asked_measure()); });
}

void BenchRoom::add_file_commands(Commands& commands) {
    const InMenu add{commands, QStringLiteral("file")};
    add("open", tr("&Open…"), {QKeySequence::Open}, [this] { ask_for_files(); });
    add("open-folder", tr("Open a &folder…"), {QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_O)},
        [this] { ask_for_folder(); });
    add("watch", tr("&Watch a folder for new captures…"), {}, [this] { ask_what_to_watch(); });
    add("stop-watching", tr("Stop watching"), {}, [this] { lesson_.watch()->watch({}); });
    add("say-what-is-in-it", tr("Say what is &in this file…"), {}, [this] { open_assistant(); });
    add("open-demo", tr("Open the &demo lesson"), {}, [this] { open_demo(); });
    add.line();
    add("save", tr("Save charts or &table…"), {QKeySequence::Save}, [this] { save_shown(); });
    add("save-measures", tr("Save the &measures of all swings as a table…"), {},
        [this] { save_measures(); });
    add.line();
    add("remove", tr("&Remove from the list"), {QKeySequence::Delete},
        [this] { lesson_.editor()->remove(selected()); });
}

void BenchRoom::add_edit_commands(Commands& commands) {
    const InMenu add{commands, QStringLiteral("edit")};
    add.line();
    add("moment-back", tr("Move the moment one frame &back"),
        {QKeySequence(Qt::ALT | Qt::Key_Left)}, [this] { shown_.nudge_moment(-1); });
    add("moment-forward", tr("Move the moment one frame &forward"),
        {QKeySequence(Qt::ALT | Qt::Key_Right)}, [this] { shown_.nudge_moment(1); });
    add("moment-found", tr("Put the moment back where it was &found"),
        {QKeySequence(Qt::Key_Backspace)}, [this] {
            if (const auto moment = shown_.chosen_moment())
                emit shown_.reset_requested(*moment);
        });
    add("moments-found", tr("Put &all moments of this swing back"), {},
        [this] { lesson_.editor()->reset_moments(selected()); });
    add.line();
    add("copy", tr("&Copy charts or table"), {QKeySequence::Copy}, [this] { copy_shown(); });
}

void BenchRoom::add_swing_commands(Commands& commands) {
    const InMenu add{commands, QStringLiteral("swing")};
    add("next-swing", tr("&Next swing"), {QKeySequence(Qt::Key_PageDown), QKeySequence(Qt::Key_N)},
        [this] { select(panel_->neighbour(1)); });
    add("previous-swing", tr("&Previous swing"),
        {QKeySequence(Qt::Key_PageUp), QKeySequence(Qt::Key_P)},
        [this] { select(panel_->neighbour(-1)); });
    add("find-swings", tr("Find swings by &words"), {QKeySequence::Find},
        [this] { panel_->focus_words(); });
    add.line();
    panel_->set_row_actions(
        {add("mark-good", tr("Mark as &good, or not"), {QKeySequence(Qt::Key_G)},
             [this] { mark(&SwingMarks::good, tr("mark as good"), tr("take the mark away")); }),
         add("leave-out", tr("Leave &out of averages, or take in"), {QKeySequence(Qt::Key_E)},
             [this] { mark(&SwingMarks::excluded, tr("leave out"), tr("take in again")); }),
         add("note", tr("Write a no&te"), {QKeySequence(Qt::Key_F2)},
             [this] { panel_->edit_note(); })});
    add.line();
    add("play", tr("P&lay or pause"), {QKeySequence(Qt::Key_Space)},
        [this] { shown_.set_playing(!shown_.is_playing()); });
    add("play-quarter", tr("Play at 1/&4"), {QKeySequence(Qt::Key_1)},
        [this] { shown_.set_speed(0.25); });
    add("play-tenth", tr("Play at 1/1&0"), {QKeySequence(Qt::Key_2)},
        [this] { shown_.set_speed(0.1); });
    add("play-thirtieth", tr("Play at 1/&30"), {QKeySequence(Qt::Key_3)},
        [this] { shown_.set_speed(1.0 / 30.0); });
    add.line();
    add("frame-back", tr("Frame &back"), {QKeySequence(Qt::Key_Left)},
        [this] { shown_.step_frames(-1); });
    add("frame-forward", tr("Frame &forward"), {QKeySequence(Qt::Key_Right)},
        [this] { shown_.step_frames(1); });
    add("previous-moment", tr("Previous &moment"), {QKeySequence(Qt::SHIFT | Qt::Key_Left)},
        [this] { shown_.step_moment(-1); });
    add("next-moment", tr("Next m&oment"), {QKeySequence(Qt::SHIFT | Qt::Key_Right)},
        [this] { shown_.step_moment(1); });
}

void BenchRoom::add_compare_commands(Commands& commands) {
    const InMenu add{commands, QStringLiteral("compare")};
    add("lay-under", tr("Lay this swing &under the others"), {QKeySequence(Qt::Key_R)},
        [this] { lay_under(selected()); });
    add("lay-best-under", tr("Lay the golfer's &best swing under"), {QKeySequence(Qt::Key_L)},
        [this] { lay_under(ReferenceKeeper::best_like(*lesson_.swings(), selected())); });
    add("take-under-away", tr("&Take the second swing away"), {QKeySequence(Qt::SHIFT | Qt::Key_R)},
        [this] { lay_under(-1); });
    add("align", tr("&Align at impact, at the top, or stretched"), {QKeySequence(Qt::Key_A)},
        [this] { align_next(); });
    add("swap", tr("&Swap the two swings"), {QKeySequence(Qt::Key_X)},
        [this] { swap_with_overlay(); });
    add.line();
    add("band", tr("&Mean and band behind: good swings, all swings, none"),
        {QKeySequence(Qt::Key_M)}, [this] { show_next_reference(); });
    add.line();
    add("save-change", tr("Save the &change against the second swing…"), {},
        [this] { save_change(); });
}

void BenchRoom::add_view_commands(Commands& commands) {
    const InMenu add{commands, QStringLiteral("view")};
    add("whole-swing", tr("&Whole swing or downswing"), {QKeySequence(Qt::Key_W)},
        [this] { shown_.is_whole() ? shown_.show_transition() : shown_.show_whole(); });
    add("zoom-in", tr("Zoom &in"), {QKeySequence(Qt::Key_Plus), QKeySequence(Qt::Key_Equal)},
        [this] { shown_.zoom_at(shown_.cursor_s(), 0.8); });
    add("zoom-out", tr("Zoom &out"), {QKeySequence(Qt::Key_Minus)},
        [this] { shown_.zoom_at(shown_.cursor_s(), 1.25); });
    add("common-scale", tr("&Common or own scale"), {QKeySequence(Qt::Key_C)},
        [this] { bench_->switch_common_scale(); });
    add("table", tr("&Table or charts"), {QKeySequence(Qt::Key_T)},
        [this] { bench_->show_table(!bench_->is_table_shown()); });
    add("next-picture", tr("Next &picture: above, face-on, down the line, change"),
        {QKeySequence(Qt::Key_F)}, [this] { bench_->show_next_picture(); });
    add("traces", tr("T&races in the figure, or not"), {QKeySequence(Qt::Key_H)},
        [this] { bench_->show_traces(!bench_->are_traces_shown()); });
    add("next-quantity", tr("Next quantity of the &body"), {QKeySequence(Qt::Key_B)},
        [this] { bench_->choose_next_quantity(1); });
    add("previous-quantity", tr("Previous quantity of the body"),
        {QKeySequence(Qt::SHIFT | Qt::Key_B)}, [this] { bench_->choose_next_quantity(-1); });
    add("words", tr("Reading with &numbers, or plain words for the golfer"),
        {QKeySequence(Qt::SHIFT | Qt::Key_W)}, [this] { bench_->switch_words(); });
    add("next-school", tr("Next sc&hool to read by: none, stretch, depth first and so on"),
        {QKeySequence(Qt::Key_S)}, [this] { choose_next_school(); });
    add("next-face", tr("Next habit of the club face: square, shut, open"),
        {QKeySequence(Qt::SHIFT | Qt::Key_S)}, [this] { choose_next_face(); });
    add("all-parts", tr("&Show all parts alike"), {QKeySequence(Qt::Key_Escape)},
        [this] { shown_.set_lit({}); });
}

} // namespace kite::app
