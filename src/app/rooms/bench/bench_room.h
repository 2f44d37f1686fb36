#pragma once

#include "app/session/desk.h"
#include "app/shell/room.h"

#include <QPointer>

#include <memory>

class QStackedWidget;
class QVBoxLayout;

namespace kite::app {

class BenchView;
class BlankView;
class EmptyView;
class ImportAssistant;
class MeasureHelp;
class SwingPanel;

/// The Bench: swings on the left, one of them in full beside them. Opens captures by menu, button,
/// drop and command line; every action has a key.
class BenchRoom : public Room {
    Q_OBJECT
public:
    BenchRoom(Shell& shell, std::shared_ptr<Desk> desk);
    ~BenchRoom() override;

    QString id() const override { return QStringLiteral("bench"); }
    QString name() const override { return tr("Bench"); }
    QWidget* view() override { return page_; }
    void add_commands(Commands& commands) override; ///< bench_commands.cpp
    QBoxLayout* place_for_messages() override;
    QUndoStack* history() override { return lesson_.editor()->history(); }
    bool open(const QStringList& paths) override;
    void entered() override;
    void read_settings(const QSettings& settings) override;
    void write_settings(QSettings& settings) const override;

    void select(int row);
    int selected() const;
    Lesson& lesson() { return lesson_; }
    ShownSwing& shown() { return shown_; }

private:
    void make_pages();
    void connect_lesson();
    void connect_views();
    void add_file_commands(Commands& commands);
    void add_edit_commands(Commands& commands);
    void add_swing_commands(Commands& commands);
    void add_compare_commands(Commands& commands);
    void add_view_commands(Commands& commands);

    void open_demo();
    void ask_for_files();
    void ask_for_folder();
    void ask_what_to_watch();
    void open_assistant();
    void take_answer(const ImportSubject& subject, const ImportAnswer& answer);

    void show_row(int row);
    void show_failure(const LoadedSwing& swing, int row);
    void show_title(int row);
    void mark(bool SwingMarks::*mark, const QString& on, const QString& off);
    void say(const std::function<void(SwingSaid&)>& change, const QString& what);
    void show_next_reference();
    void choose_rules(const QString& school, FaceHabit face, const QString& what);
    void choose_next_school();
    void choose_next_face();
    void show_reference(const std::shared_ptr<const Reference>& reference);
    void lay_under(int row); ///< -1: takes the second swing away
    void align_next();
    void swap_with_overlay();

    // bench_saving.cpp
    void save_shown();
    void save_change();
    void save_measures();
    void copy_shown();

    Shell& shell_;
    std::shared_ptr<Desk> desk_;
    Lesson& lesson_;         ///< of the desk
    ShownSwing& shown_;      ///< of the desk
    QPointer<QWidget> page_; ///< the window's, once it is in
    SwingPanel* panel_ = nullptr;
    QVBoxLayout* right_ = nullptr;
    QStackedWidget* pages_ = nullptr;
    EmptyView* empty_ = nullptr;
    BlankView* blank_ = nullptr; ///< while a file loads, or where one could not be read
    BenchView* bench_ = nullptr;
    ImportAssistant* assistant_ = nullptr;
    MeasureHelp* help_ = nullptr;
    int overlay_id_ = -1;
    bool tells_of_no_band_ = false; ///< once after it was asked for
};

} // namespace kite::app
