#pragma once

#include <QFrame>

class QLabel;
class QListView;
class QPushButton;
class QToolButton;

namespace kite::app {

class SwingListModel;

/// Left side: the program's name, the lesson, its swings, and how to bring in more.
class SwingPanel : public QFrame {
    Q_OBJECT
public:
    explicit SwingPanel(SwingListModel* model, QWidget* parent = nullptr);

    void set_lesson_name(const QString& name);
    void select(int row);
    int selected() const;
    QListView* list() const { return list_; }

signals:
    void selected_changed(int row);
    void open_requested();
    void theme_requested();

private:
    void restyle();

    QListView* list_ = nullptr;
    QLabel* lesson_ = nullptr;
    QLabel* count_ = nullptr;
    QPushButton* open_ = nullptr;
    QToolButton* theme_ = nullptr;
};

} // namespace kite::app
