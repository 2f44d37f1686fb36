#pragma once

#include "app/session/desk.h"
#include "app/shell/room.h"

#include <QPointer>

#include <memory>

class QLabel;

namespace kite::app {

class CauseMap;
class WhyPanel;

/// Why the reading says what it says: the picture of causes with the lit path, and beside it one
/// fault from its verdict down to the measures.
class WhyRoom : public Room {
    Q_OBJECT
public:
    WhyRoom(Shell& shell, std::shared_ptr<Desk> desk);
    ~WhyRoom() override;

    QString id() const override { return QStringLiteral("why"); }
    QString name() const override { return tr("Why"); }
    QWidget* view() override { return page_; }
    void add_commands(Commands& commands) override;
    QUndoStack* history() override { return desk_->lesson().editor()->history(); }
    void entered() override;

    CauseMap* map() const { return map_; }

private:
    void show_swing();
    void step_listed(int direction);

    Shell& shell_;
    std::shared_ptr<Desk> desk_;
    QPointer<QWidget> page_; ///< the window's, once it is in
    QLabel* title_ = nullptr;
    QLabel* caption_ = nullptr;
    QLabel* legend_ = nullptr;
    CauseMap* map_ = nullptr;
    WhyPanel* panel_ = nullptr;
};

} // namespace kite::app
