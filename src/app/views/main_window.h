#pragma once

#include "app/session/bench_state.h"
#include "app/session/swing_list_model.h"

#include <QMainWindow>

class QStackedWidget;

namespace kite::app {

class BenchView;
class CommandPanel;
class SwingEditor;
class MessageBar;
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

    /// A picture of the charts: PNG at twice the size of the screen, or SVG by its extension.
    bool save_charts(const QString& path);

protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void closeEvent(QCloseEvent* event) override;

private:
    void make_actions();
    void ask_for_files();
    void switch_theme();
    void lay_under(int row); ///< -1: takes the second swing away
    void swap_with_overlay();
    void ask_where_to_save();
    void copy_shown();
    void read_settings();
    void write_settings() const;
    void show_row(int row);
    void select_next(int direction);

    SwingListModel* model_;
    BenchState* state_;
    SwingEditor* editor_;
    SwingPanel* panel_ = nullptr;
    CommandPanel* commands_ = nullptr;
    MessageBar* message_ = nullptr;
    QStackedWidget* pages_ = nullptr;
    QWidget* empty_ = nullptr;
    QWidget* blank_ = nullptr;
    BenchView* bench_ = nullptr;
    int overlay_id_ = -1;
};

} // namespace kite::app
