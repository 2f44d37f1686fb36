#include "app/shell/shell_window.h"

#include "app/shell/command_panel.h"
#include "app/shell/commands.h"
#include "app/shell/message_bar.h"
#include "app/shell/room_strip.h"
#include "app/theme/icons.h"
#include "app/theme/theme.h"
#include "app/theme/units.h"

#include <QAction>
#include <QApplication>
#include <QCloseEvent>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QMenuBar>
#include <QMimeData>
#include <QRegularExpression>
#include <QSettings>
#include <QStackedWidget>
#include <QUndoGroup>
#include <QUndoStack>
#include <QVBoxLayout>

#include <utility>

namespace kite::app {

ShellWindow::ShellWindow(QWidget* parent)
    : QMainWindow(parent), commands_(new Commands(menuBar(), this)),
      history_(new QUndoGroup(this)) {
    setWindowTitle(QStringLiteral("Kite Hinge"));
    setWindowIcon(app_icon());
    setAcceptDrops(true);
    setMinimumSize(1024, 700);
    resize(1280, 800);

    auto* page = new QWidget(this);
    page->setObjectName(QStringLiteral("page"));
    above_ = new QVBoxLayout(page);
    above_->setContentsMargins(0, 0, 0, 0);
    above_->setSpacing(0);
    const Theme& theme = Theme::instance();
    message_place_ = new QVBoxLayout;
    message_place_->setContentsMargins(theme.scaled(16), theme.scaled(12), theme.scaled(14), 0);
    message_ = new MessageBar(page);
    message_place_->addWidget(message_);
    above_->addLayout(message_place_);
    pages_ = new QStackedWidget(page);
    above_->addWidget(pages_, 1);
    setCentralWidget(page);
    strip_ = new RoomStrip(menuBar());
    menuBar()->setCornerWidget(strip_);

    connect(message_, &MessageBar::action_requested, this, [this] {
        if (answer_)
            answer_();
    });
    connect(strip_, &RoomStrip::asked_for, this,
            [this](int index) { enter(static_cast<std::size_t>(index)); });
    connect(&jobs_, &Jobs::changed, this, [this] {
        strip_->show_jobs(rooms_.empty() ? QString() : jobs_.words_but(current()->id()));
    });
    make_first_menus();
}

ShellWindow::~ShellWindow() {
    // Rooms end before what they stand in.
    rooms_.clear();
}

void ShellWindow::add_room(std::unique_ptr<Room> room) {
    strip_->add_room(room->name());
    pages_->addWidget(room->view());
    if (QUndoStack* own = room->history())
        history_->addStack(own);
    commands_->set_owner(room->id());
    room->add_commands(*commands_);
    commands_->set_owner({});
    rooms_.push_back(std::move(room));
}

void ShellWindow::furnish() {
    make_last_menus();
    panel_ = new CommandPanel(commands_->all(), this);
    read_settings();
    enter(std::size_t{0});
}

Room* ShellWindow::current() const {
    return rooms_.at(current_).get();
}

void ShellWindow::enter(const QString& room_id) {
    for (std::size_t i = 0; i < rooms_.size(); ++i)
        if (rooms_[i]->id() == room_id)
            enter(i);
}

void ShellWindow::enter(std::size_t index) {
    current_ = index;
    Room& room = *rooms_.at(index);
    hide_message();
    qobject_cast<QLayout*>(message_place_->parent())->removeItem(message_place_);
    message_place_->setParent(nullptr);
    QBoxLayout* place = room.place_for_messages();
    (place == nullptr ? above_ : place)->insertLayout(0, message_place_);
    strip_->show_current(static_cast<int>(index));
    strip_->show_jobs(jobs_.words_but(room.id()));
    history_->setActiveStack(room.history());
    commands_->show_room(room.id());
    pages_->setCurrentWidget(room.view());
    room.entered();
}

void ShellWindow::open_paths(const QStringList& paths) {
    if (current()->open(paths))
        return;
    for (std::size_t i = 0; i < rooms_.size(); ++i)
        if (i != current_ && rooms_[i]->open(paths)) {
            enter(i);
            return;
        }
}

void ShellWindow::make_first_menus() {
    commands_->add_menu(QStringLiteral("file"), tr("&File"));
    commands_->add_menu(QStringLiteral("edit"), tr("&Edit"));
    commands_->add_menu(QStringLiteral("view"), tr("&View"));
    commands_->add_menu(QStringLiteral("help"), tr("&Help"));
    commands_->add(QStringLiteral("edit"), QStringLiteral("window.undo"),
                   history_->createUndoAction(this, tr("Undo")), {QKeySequence::Undo});
    commands_->add(QStringLiteral("edit"), QStringLiteral("window.redo"),
                   history_->createRedoAction(this, tr("Redo")),
                   {QKeySequence(Qt::CTRL | Qt::SHIFT | Qt::Key_Z)});
    commands_->add(QStringLiteral("help"),
                   {QStringLiteral("window.commands"),
                    tr("All &commands and keys"),
                    {QKeySequence(Qt::Key_F1), QKeySequence(Qt::Key_Question),
                     QKeySequence(Qt::CTRL | Qt::Key_K)},
                    [this] { panel_->open(); }});
}

void ShellWindow::make_last_menus() {
    const auto resize_text = [](int direction) {
        constexpr double kStep = 0.125;
        Theme::instance().set_text_scale(Theme::instance().text_scale() + kStep * direction);
    };
    const QString file = QStringLiteral("file");
    const QString view = QStringLiteral("view");
    commands_->add_line(file);
    commands_->add(file, {QStringLiteral("window.quit"),
                          tr("&Quit"),
                          {QKeySequence(Qt::CTRL | Qt::Key_Q)},
                          [] { QApplication::quit(); }});
    if (rooms_.size() > 1) {
        commands_->add_line(view);
        for (std::size_t i = 0; i < rooms_.size(); ++i) {
            // 1 to 9 and 0, as they stand on the keyboard; a room beyond has none.
            QList<QKeySequence> keys;
            if (i < 10)
                keys << QKeySequence(static_cast<int>(Qt::CTRL) | (static_cast<int>(Qt::Key_0) +
                                                                   static_cast<int>((i + 1) % 10)));
            commands_->add(view, {QStringLiteral("window.go-") + rooms_[i]->id(),
                                  tr("Go to the room %1").arg(rooms_[i]->name()), keys,
                                  [this, i] { enter(i); }});
        }
        commands_->add(view, {QStringLiteral("window.next-room"),
                              tr("Next r&oom"),
                              {QKeySequence(Qt::CTRL | Qt::Key_Tab)},
                              [this] { enter((current_ + 1) % rooms_.size()); }});
    }
    commands_->add_line(view);
    commands_->add(view, {QStringLiteral("window.units"),
                          tr("&Units: cm and m/s, cm and km/h, cm and mph, inches and mph"),
                          {QKeySequence(Qt::Key_U)},
                          [] { Units::instance().set_next(); }});
    commands_->add(view, {QStringLiteral("window.theme"),
                          tr("Light or &dark"),
                          {QKeySequence(Qt::CTRL | Qt::Key_T)},
                          [] { Theme::instance().switch_kind(); }});
    commands_->add(view,
                   {QStringLiteral("window.larger-text"),
                    tr("&Larger text"),
                    {QKeySequence(Qt::CTRL | Qt::Key_Plus), QKeySequence(Qt::CTRL | Qt::Key_Equal)},
                    [resize_text] { resize_text(1); }});
    commands_->add(view, {QStringLiteral("window.smaller-text"),
                          tr("S&maller text"),
                          {QKeySequence(Qt::CTRL | Qt::Key_Minus)},
                          [resize_text] { resize_text(-1); }});
}

void ShellWindow::show_message(const QString& title, const QString& text, const QString& action,
                               std::function<void()> run) {
    answer_ = std::move(run);
    message_->show_message(title, text, action);
}

void ShellWindow::show_caution(const QString& key, const QString& words) {
    cautions_[key] = words;
    QStringList all;
    for (const auto& [about, said] : cautions_)
        if (!said.isEmpty())
            all << said;
    strip_->show_caution(all.join(QStringLiteral(" · ")));
}

void ShellWindow::hide_message() {
    message_->hide();
}

QString ShellWindow::ask_for_new_file(const QString& title, const QString& kinds,
                                      const QString& suggested) {
    QFileDialog dialog(this, title, {}, kinds);
    dialog.setAcceptMode(QFileDialog::AcceptSave);
    if (!suggested.isEmpty())
        dialog.selectFile(suggested);
    const auto end_as = [&dialog](const QString& kind) {
        const auto ending = QRegularExpression(QStringLiteral("\\*\\.(\\w+)")).match(kind);
        dialog.setDefaultSuffix(ending.captured(1));
    };
    connect(&dialog, &QFileDialog::filterSelected, &dialog, end_as);
    end_as(dialog.selectedNameFilter());
    return dialog.exec() == QDialog::Accepted ? dialog.selectedFiles().constFirst() : QString();
}

void ShellWindow::ask_and_save(const QString& title, const QString& kinds,
                               const std::function<bool(const QString&)>& write) {
    const QString path = ask_for_new_file(title, kinds);
    if (!path.isEmpty() && !write(path))
        show_message(tr("%1 was not written").arg(QFileInfo(path).fileName()),
                     tr("Check that its folder exists and may be written to."));
}

void ShellWindow::read_settings() {
    const QSettings settings;
    restoreGeometry(settings.value(QStringLiteral("window/geometry")).toByteArray());
    Units::instance().read(settings);
    for (const auto& room : rooms_)
        room->read_settings(settings);
}

void ShellWindow::write_settings() const {
    QSettings settings;
    settings.setValue(QStringLiteral("window/geometry"), saveGeometry());
    Theme::instance().write(settings);
    Units::instance().write(settings);
    for (const auto& room : rooms_)
        room->write_settings(settings);
}

void ShellWindow::closeEvent(QCloseEvent* event) {
    write_settings();
    QMainWindow::closeEvent(event);
}

void ShellWindow::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls())
        event->acceptProposedAction();
}

void ShellWindow::dropEvent(QDropEvent* event) {
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
