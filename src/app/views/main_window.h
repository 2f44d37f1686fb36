#pragma once

#include "app/session/bench_state.h"
#include "app/session/swing_list_model.h"

#include <QMainWindow>

#include <functional>

class QMenu;
class QStackedWidget;

namespace kite::app {

struct ImportAnswer;
struct ImportSubject;

class BenchView;
class BlankView;
class CommandPanel;
class FolderWatch;
class ImportAssistant;
class MeasureHelp;
class MessageBar;
class ReferenceKeeper;
class SwingEditor;
class SwingPanel;

/// The window: swings on the left, the Bench beside them. Opens files by menu, button, drop and
/// command line; every action has a key.
class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    explicit MainWindow(QWidget* parent = nullptr);

    /// Opens files, folders or lesson lists and shows the first of them.
    void open_paths(const QStringList& paths);
    void open_demo();
    void select(int row);

    SwingListModel* model() const { return model_; }
    BenchState* state() const { return state_; }
    BenchView* bench() const { return bench_; }
    SwingEditor* editor() const { return editor_; }

    ReferenceKeeper* reference() const { return reference_; }
    FolderWatch* folder_watch() const { return watch_; }
    MeasureHelp* measure_help() const { return help_; }
    ImportAssistant* assistant() const { return assistant_; }

protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void closeEvent(QCloseEvent* event) override;

private:
    /// Adds a command to a menu and to the window, whose keys work wherever the focus is.
    QAction* add_command(QMenu* menu, const QString& text, const QList<QKeySequence>& keys,
                         const std::function<void()>& run);
    void make_actions(); ///< main_window_commands.cpp
    void make_file_menu();
    void make_edit_menu();
    void make_swing_menu();
    void make_compare_menu();
    void make_view_menu();
    void make_help_menu();
    void ask_for_files();
    void ask_for_folder();
    void ask_what_to_watch();
    void mark(bool SwingMarks::*mark, const QString& on, const QString& off);
    void show_next_reference();
    void show_next_units();
    void change_text_size(int direction);
    /// Asks for a place and writes; says so in the window if it cannot.
    void ask_and_save(const QString& title, const QString& kinds,
                      const std::function<bool(const QString&)>& write);
    /// What the user said of files so far.
    void load_tables();
    void open_assistant();
    void take_answer(const ImportSubject& subject, const ImportAnswer& answer);
    void switch_theme();
    void lay_under(int row); ///< -1: takes the second swing away
    void swap_with_overlay();
    void save_shown();
    void save_change();
    void save_measures();
    void copy_shown();
    void read_settings();
    void write_settings() const;
    void show_row(int row);
    void show_title(int row);

    SwingListModel* model_;
    BenchState* state_;
    SwingEditor* editor_;
    ReferenceKeeper* reference_;
    FolderWatch* watch_;
    SwingPanel* panel_ = nullptr;
    CommandPanel* commands_ = nullptr;
    MeasureHelp* help_ = nullptr;
    MessageBar* message_ = nullptr;
    QStackedWidget* pages_ = nullptr;
    QWidget* empty_ = nullptr;
    BlankView* blank_ = nullptr;
    BenchView* bench_ = nullptr;
    ImportAssistant* assistant_ = nullptr;
    int overlay_id_ = -1;
    bool tells_of_no_band_ = false; ///< once after it was asked for
};

} // namespace kite::app
