#pragma once

#include "app/session/desk.h"
#include "app/shell/room.h"

#include <QPointer>

#include <memory>

class QComboBox;
class QLabel;
class QLineEdit;
class QTableView;
class QVBoxLayout;

namespace kite::app {

class LimitTable;

/// Schools and their limits side by side; own ones can be changed. What it changes for the swing on
/// the Bench is seen at once.
class ReferencesRoom : public Room {
    Q_OBJECT
public:
    ReferencesRoom(Shell& shell, std::shared_ptr<Desk> desk);
    ~ReferencesRoom() override;

    QString id() const override { return QStringLiteral("references"); }
    QString name() const override { return tr("References"); }
    QWidget* view() override { return page_; }
    void add_commands(Commands& commands) override;
    QUndoStack* history() override { return desk_->schools().history(); }
    void entered() override;

    QTableView* table() const { return table_; }
    LimitTable* limits() const { return limits_; }
    QString chosen() const { return chosen_; } ///< the school that is looked at
    void choose(const QString& source);

private:
    void make_side(QVBoxLayout* layout);
    void restyle();
    void show_school();
    void show_effect();
    void read_by_chosen();
    void copy_chosen();
    void import_school();
    void export_chosen();
    void take_baseline();
    void clear_cell();
    void say(const QString& title, const std::vector<Finding>& findings);

    Shell& shell_;
    std::shared_ptr<Desk> desk_;
    QPointer<QWidget> page_; ///< the window's, once it is in
    LimitTable* limits_ = nullptr;
    QTableView* table_ = nullptr;
    QComboBox* schools_ = nullptr;
    QComboBox* face_ = nullptr;
    QComboBox* goal_ = nullptr;
    QLineEdit* copy_name_ = nullptr;
    QLabel* about_ = nullptr;
    QLabel* effect_ = nullptr;
    QString chosen_ = QStringLiteral("none");
};

} // namespace kite::app
