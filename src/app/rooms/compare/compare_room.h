#pragma once

#include "app/session/desk.h"
#include "app/shell/room.h"
#include "core/sets/history.h"

#include <QPointer>

#include <memory>
#include <optional>

class QComboBox;
class QLabel;
class QListView;
class QTableView;

namespace kite::app {

class ChangeTable;
class DrawingView;
class SetPicker;

/// Two sets of swings against each other: every measure with its swings, its interval and a
/// verdict.
class CompareRoom : public Room {
    Q_OBJECT
public:
    CompareRoom(Shell& shell, std::shared_ptr<Desk> desk);
    ~CompareRoom() override;

    QString id() const override { return QStringLiteral("compare"); }
    QString name() const override { return tr("Compare"); }
    QWidget* view() override { return page_; }
    void add_commands(Commands& commands) override;
    void entered() override;

    SetPicker* picker() const { return picker_; }
    ChangeTable* changes() const { return changes_; }

signals:
    void compared();

private:
    struct Result;
    void show(const Result& result);
    void restyle();
    void compare();
    /// One session, where the record has all swings in one lesson; not said where it does not tell.
    std::optional<Sessions> sessions() const;
    CompareOptions options(const Result& sets) const;
    /// How far the sessions of the golfer who is meant lie apart; asked for once a golfer.
    void look_back();
    void put_chosen(int set);
    void copy_table();
    bool eventFilter(QObject* object, QEvent* event) override;

    Shell& shell_;
    std::shared_ptr<Desk> desk_;
    QPointer<QWidget> page_; ///< the window's, once it is in
    SetPicker* picker_ = nullptr;
    ChangeTable* changes_ = nullptr;
    QListView* list_ = nullptr;
    QTableView* table_ = nullptr;
    QLabel* title_ = nullptr;
    QComboBox* question_ = nullptr; ///< first: what the lesson works on
    QComboBox* sessions_ = nullptr; ///< first: as the record says
    QLabel* caution_ = nullptr;
    DrawingView* picture_ = nullptr;
    QString past_of_;                ///< id of the golfer whose past this is
    std::vector<KeptMeasures> past_; ///< empty until it is known
    int asked_ = 0;                  ///< the newest wish counts
};

} // namespace kite::app
