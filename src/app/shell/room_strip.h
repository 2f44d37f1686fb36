#pragma once

#include <QWidget>

class QBoxLayout;
class QButtonGroup;
class QLabel;

namespace kite::app {

/// The rooms by name, as words in the row of the menu; before them what goes on in others.
class RoomStrip : public QWidget {
    Q_OBJECT
public:
    explicit RoomStrip(QWidget* parent = nullptr);

    void add_room(const QString& name);
    void show_current(int index);
    void show_jobs(const QString& words);
    void show_caution(const QString& words);

signals:
    void asked_for(int index);

private:
    void restyle();

    QBoxLayout* row_ = nullptr;
    QLabel* caution_ = nullptr;
    QLabel* jobs_ = nullptr;
    QButtonGroup* words_ = nullptr;
};

} // namespace kite::app
