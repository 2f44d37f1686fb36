#pragma once

#include "app/session/swing_filter.h"

#include <QFrame>

class QAction;
class QLabel;
class QLayout;
class QLineEdit;
class QListView;
class QPushButton;
class QToolButton;

namespace kite::app {

class SwingListModel;

/// Left side: the program's name, the lesson, its swings (narrowed down by words, sorted), what is
/// being read or watched, and how to bring in more. Rows are those of the model, whatever the
/// order on screen.
class SwingPanel : public QFrame {
    Q_OBJECT
public:
    explicit SwingPanel(SwingListModel* model, QWidget* parent = nullptr);

    void set_lesson_name(const QString& name);
    void select(int row); ///< a row that the words hide takes the words away
    int selected() const;
    /// The row before or after on screen; -1: there is none.
    int neighbour(int direction) const;
    QListView* list() const { return list_; }
    SwingFilter* filter() const { return filter_; }

    /// Commands of the menu under the right button.
    void set_row_actions(const QList<QAction*>& actions);
    void focus_words();
    /// A line for the note of the selected swing.
    void edit_note();
    void show_watched(const QString& folder); ///< empty: none

signals:
    void selected_changed(int row);
    void open_requested();
    void cancel_requested();
    void watch_end_requested();
    void note_entered(int row, const QString& text);

private:
    void restyle();
    void show_count();
    void show_progress(int done, int wanted);
    void keep_note();
    QLayout* make_head(int side);
    QLayout* make_foot(int side);
    QToolButton* make_sort_button();
    void connect_parts();
    bool eventFilter(QObject* watched, QEvent* event) override;

    SwingListModel* model_;
    SwingFilter* filter_;
    QListView* list_ = nullptr;
    QLabel* lesson_ = nullptr;
    QLabel* count_ = nullptr;
    QLineEdit* words_ = nullptr;
    QToolButton* sort_ = nullptr;
    QLineEdit* note_ = nullptr;
    int noted_id_ = -1;
    QWidget* progress_box_ = nullptr;
    QLabel* progress_ = nullptr;
    QWidget* watch_box_ = nullptr;
    QLabel* watch_ = nullptr;
    QPushButton* open_ = nullptr;
    QToolButton* theme_ = nullptr;
};

} // namespace kite::app
