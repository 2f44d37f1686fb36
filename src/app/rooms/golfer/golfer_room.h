#pragma once

#include "app/session/desk.h"
#include "app/shell/room.h"

#include <QPointer>

#include <memory>
#include <set>

class QComboBox;
class QLabel;
class QListWidget;
class QTableView;
class QVBoxLayout;

namespace kite::app {

class DrawingView;
class RelationTable;

/// One golfer over time: the few measures that matter with their scatter, lessons, plans and
/// practice on one line of days, what goes with speed and carry, how feel and fact compare.
class GolferRoom : public Room {
    Q_OBJECT
public:
    GolferRoom(Shell& shell, std::shared_ptr<Desk> desk);
    ~GolferRoom() override;

    QString id() const override { return QStringLiteral("golfer"); }
    QString name() const override { return tr("Golfer"); }
    QWidget* view() override { return page_; }
    void add_commands(Commands& commands) override;
    void entered() override;
    void read_settings(const QSettings& settings) override;
    void write_settings(QSettings& settings) const override;

    const GolferHistory& history() const { return history_; }

private:
    void make_left(QVBoxLayout* layout);
    void make_right(QVBoxLayout* layout);
    void restyle();
    void show_golfers();
    void look_back();
    void show_history();
    void show_bests();
    void show_relations();
    std::vector<const Measure*> measures() const;
    void show_clubs();
    /// Swings with the club that is looked at: clubs are never mixed.
    std::vector<KeptMeasures> with_club() const;

    Shell& shell_;
    std::shared_ptr<Desk> desk_;
    QPointer<QWidget> page_;
    QListWidget* golfers_ = nullptr;
    QListWidget* choice_ = nullptr; ///< of measures
    QLabel* title_ = nullptr;
    QLabel* hint_ = nullptr;
    QComboBox* club_ = nullptr;
    DrawingView* picture_ = nullptr;
    QLabel* bests_ = nullptr;
    QLabel* relation_title_ = nullptr;
    QLabel* relation_caution_ = nullptr;
    QComboBox* against_ = nullptr;
    QTableView* relations_ = nullptr;
    RelationTable* relation_table_ = nullptr;
    GolferHistory history_;
    int asked_ = 0;                ///< the newest look back counts
    std::set<std::string> ticked_; ///< measures chosen by hand; empty: those that matter
    bool filling_ = false;
};

} // namespace kite::app
