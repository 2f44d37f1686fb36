#include "app/rooms/film/film_player.h"
#include "app/rooms/film/film_room.h"
#include "app/rooms/film/film_view.h"
#include "app/shell/commands.h"

#include <QAction>

namespace kite::app {

namespace {

/// A command of this room, into a menu.
void add(Commands& commands, const char* menu, const char* name, const QString& words,
         const QList<QKeySequence>& keys, std::function<void()> run) {
    commands.add(QString::fromLatin1(menu),
                 {QStringLiteral("film.") + QLatin1String(name), words, keys, std::move(run)});
}

} // namespace

void FilmRoom::add_commands(Commands& commands) {
    add_file_commands(commands);
    commands.add_menu(QStringLiteral("film"), tr("Fil&m"), QStringLiteral("view"));
    add_picture_commands(commands);
    commands.add_line(QStringLiteral("film"));
    add_moment_commands(commands);
    commands.add_line(QStringLiteral("film"));
    add_point_commands(commands);
    commands.add_line(QStringLiteral("film"));
    add_cross_commands(commands);
    commands.add_line(QStringLiteral("film"));
    add_choices(commands);
}

void FilmRoom::add_file_commands(Commands& commands) {
    add(commands, "file", "open", tr("&Open film…"), {QKeySequence::Open},
        [this] { choose_files(); });
    add(commands, "file", "open-demo", tr("Open the &demo film"), {}, [this] { open_demo(); });
    add(commands, "file", "save-still", tr("&Save this picture with its lines…"), {},
        [this] { save_still(); });
    add(commands, "file", "report-still", tr("Put this picture into the &report"),
        {QKeySequence(Qt::Key_R)}, [this] { report_still(); });
    add(commands, "file", "to-bench", tr("Take it to the &Bench"),
        {QKeySequence(Qt::CTRL | Qt::Key_Return)}, [this] { to_bench(); });
}

void FilmRoom::add_picture_commands(Commands& commands) {
    add(commands, "film", "next-picture", tr("&Next picture"), {QKeySequence(Qt::Key_Right)},
        [this] { step(1); });
    add(commands, "film", "previous-picture", tr("&Previous picture"), {QKeySequence(Qt::Key_Left)},
        [this] { step(-1); });
    add(commands, "film", "on-ten", tr("Ten pictures on"),
        {QKeySequence(Qt::SHIFT | Qt::Key_Right)}, [this] { step(10); });
    add(commands, "film", "back-ten", tr("Ten pictures back"),
        {QKeySequence(Qt::SHIFT | Qt::Key_Left)}, [this] { step(-10); });
    add(commands, "film", "next-planned", tr("Next picture to be &marked"),
        {QKeySequence(Qt::Key_PageDown)}, [this] { step_planned(1); });
    add(commands, "film", "previous-planned", tr("Previous picture to be marked"),
        {QKeySequence(Qt::Key_PageUp)}, [this] { step_planned(-1); });
    add(commands, "film", "play", tr("P&lay slowly, or stop"), {QKeySequence(Qt::Key_Space)},
        [this] { set_playing(!play_.isActive()); });
    add(commands, "film", "next-view", tr("The other &film"), {QKeySequence(Qt::Key_V)}, [this] {
        if (!panes_.empty()) {
            activate((active_ + 1) % panes_.size());
            panes_[active_].view->setFocus();
        }
    });
}

void FilmRoom::add_moment_commands(Commands& commands) {
    add(commands, "film", "propose", tr("Find the m&oments"), {QKeySequence(Qt::Key_P)},
        [this] { propose(); });
    add(commands, "film", "address", tr("&Address is here"), {QKeySequence(Qt::Key_A)},
        [this] { put_moment(Moment::Address); });
    add(commands, "film", "top", tr("The &top is here"), {QKeySequence(Qt::Key_T)},
        [this] { put_moment(Moment::Top); });
    add(commands, "film", "impact", tr("&Impact is here"), {QKeySequence(Qt::Key_I)},
        [this] { put_moment(Moment::Impact); });
    add(commands, "film", "film-later", tr("This film one picture later than the others"),
        {QKeySequence(Qt::ALT | Qt::Key_Right)}, [this] { shift_film(1); });
    add(commands, "film", "film-earlier", tr("This film one picture earlier"),
        {QKeySequence(Qt::ALT | Qt::Key_Left)}, [this] { shift_film(-1); });
}

void FilmRoom::add_point_commands(Commands& commands) {
    add(commands, "film", "follow", tr("&Follow the points of this picture"),
        {QKeySequence(Qt::Key_F)}, [this] { follow(true); });
    add(commands, "film", "follow-back", tr("Follow them backwards"),
        {QKeySequence(Qt::SHIFT | Qt::Key_F)}, [this] { follow(false); });
    add(commands, "film", "give-up", tr("Stop following"), {QKeySequence(Qt::Key_Escape)}, [this] {
        for (Pane& pane : panes_)
            pane.player->give_up();
    });
    add(commands, "film", "accept", tr("A&ccept this picture and go on"),
        {QKeySequence(Qt::Key_Return)}, [this] { accept(false); });
    add(commands, "film", "accept-all", tr("Accept all that was followed"),
        {QKeySequence(Qt::SHIFT | Qt::Key_Return)}, [this] { accept(true); });
    add(commands, "film", "leave-guesses", tr("Leave what was followed"), {}, [this] {
        if (active_ < marking_.views())
            marking_.drop_guesses(active_);
    });
    add(commands, "film", "skip", tr("This point cannot be &seen"), {QKeySequence(Qt::Key_S)},
        [this] { skip(); });
    add(commands, "film", "take-back", tr("Take the last point away"),
        {QKeySequence(Qt::Key_Backspace)}, [this] { take_back(); });
}

void FilmRoom::add_cross_commands(Commands& commands) {
    const auto cross = [&](const char* name, const QString& words, Qt::Key key, double right,
                           double down) {
        add(commands, "film", name, words, {QKeySequence(Qt::CTRL | key)}, [this, right, down] {
            if (active_ < panes_.size())
                panes_[active_].view->move_cross(8.0 * right, 8.0 * down);
        });
        add(commands, "film", (std::string(name) + "-little").c_str(),
            tr("%1, one pixel").arg(words), {QKeySequence(Qt::CTRL | Qt::SHIFT | key)},
            [this, right, down] {
                if (active_ < panes_.size())
                    panes_[active_].view->move_cross(right, down);
            });
    };
    cross("cross-left", tr("The cross to the left"), Qt::Key_Left, -1.0, 0.0);
    cross("cross-right", tr("The cross to the right"), Qt::Key_Right, 1.0, 0.0);
    cross("cross-up", tr("The cross up"), Qt::Key_Up, 0.0, -1.0);
    cross("cross-down", tr("The cross down"), Qt::Key_Down, 0.0, 1.0);
    add(commands, "film", "mark-cross", tr("Put the point where the cross is"),
        {QKeySequence(Qt::Key_X)}, [this] {
            if (active_ < panes_.size())
                panes_[active_].view->mark_cross();
        });
}

void FilmRoom::add_choices(Commands& commands) {
    const auto choice = [&](const char* name, const QString& words, bool on,
                            const std::function<void(bool)>& set) {
        auto* action = new QAction(words, this);
        commands.add(QStringLiteral("film"), QStringLiteral("film.") + QLatin1String(name), action,
                     {});
        action->setCheckable(true);
        action->setChecked(on);
        if (set)
            connect(action, &QAction::toggled, this, set);
        return action;
    };
    choice("with-legs", tr("Ask for &head, knees and ankles too"), marking_.wants_more(),
           [this](bool on) { marking_.want_more(on); });
    of_drill_action_ = choice("of-drill", tr("This is film of the plan's &drill"), false, {});
    in_record_action_ = choice("keep-in-record", tr("Keep a copy of film &with the record"),
                               film_in_record_, [this](bool on) { film_in_record_ = on; });
    add(commands, "film", "cover-face", tr("Co&ver the face, or show it"), {}, [this] {
        face_covered_ = !face_covered_;
        for (const Pane& pane : panes_)
            pane.view->cover_face(face_covered_);
    });
}

} // namespace kite::app
