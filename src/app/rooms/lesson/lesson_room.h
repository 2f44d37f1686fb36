#pragma once

#include "app/session/desk.h"
#include "app/shell/room.h"

#include <QPointer>
#include <QUndoStack>

#include <memory>

class QAction;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;
class QTableView;
class QVBoxLayout;

namespace kite::app {

class GolferPanel;
class SwingTable;
class Arrivals;
class WholeRecord;

/// Golfers, their lessons, and the lesson under way: swings as they arrive, how the ball flew, what
/// the golfer felt, the one thing, homework. All of it is in the record as soon as it is written.
class LessonRoom : public Room {
    Q_OBJECT
public:
    LessonRoom(Shell& shell, std::shared_ptr<Desk> desk);
    ~LessonRoom() override;

    QString id() const override { return QStringLiteral("lesson"); }
    QString name() const override { return tr("Lesson"); }
    QWidget* view() override { return page_; }
    void add_commands(Commands& commands) override;
    QUndoStack* history() override { return &history_; }
    bool open(const QStringList& paths) override;
    void entered() override;
    void read_settings(const QSettings& settings) override;

    QTableView* table() const { return table_; }
    RecordKeeper* record() const { return &desk_->record(); }
    Desk& desk() const { return *desk_; }
    QString golfer() const { return golfer_; } ///< id; empty: none is chosen

private:
    void make_left(QVBoxLayout* layout);
    void make_middle(QVBoxLayout* outer);
    void show_record();
    void show_lesson();
    void restyle();
    void choose_golfer(const QString& id);
    void new_golfer(bool always_new);
    void begin_lesson();
    void look_at_chosen();
    void bin_chosen();
    void compare_chosen();
    void compare_with_last_lesson();
    void count_chosen();
    void find_swings();
    void bin_golfer();
    void bin_lesson();
    bool key_in_list(QListWidget* list, const QKeyEvent& key);
    void keep_choice();
    void add_files();
    void show_columns(bool launch);
    void join_launch(const QString& file);
    void move_launch(int by);
    void put_launch(const std::vector<std::pair<QString, std::optional<LaunchNumbers>>>& shots,
                    const QString& what);
    /// One step that can be taken back.
    void edit(const QString& kind, const QString& id, const Row& values, const QString& what);
    QStringList chosen_swings() const;
    bool eventFilter(QObject* object, QEvent* event) override;

    Shell& shell_;
    std::shared_ptr<Desk> desk_;
    QUndoStack history_;
    QPointer<QWidget> page_; ///< the window's, once it is in
    SwingTable* swings_ = nullptr;
    QTableView* table_ = nullptr;
    QListWidget* golfers_ = nullptr;
    QListWidget* lessons_ = nullptr;
    QLineEdit* name_ = nullptr;
    QPushButton* begin_ = nullptr;
    GolferPanel* panel_ = nullptr;
    QWidget* body_ = nullptr; ///< what is of the lesson under way
    QLabel* whose_ = nullptr;
    QLabel* hint_ = nullptr;
    QLabel* keys_ = nullptr;
    std::vector<std::pair<QLineEdit*, const char*>> fields_; ///< of the lesson, by column
    QString golfer_;
    QLineEdit* find_ = nullptr; ///< swings of the whole record
    WholeRecord* whole_ = nullptr;
    Arrivals* arrivals_ = nullptr;
    QAction* launch_ = nullptr; ///< checked: the table shows launch numbers
};

} // namespace kite::app
