#pragma once

#include "app/session/plan_keeper.h"

#include <QScrollArea>

class QCheckBox;
class QComboBox;
class QDateEdit;
class QLabel;
class QListWidget;
class QPushButton;
class QSpinBox;
class QToolButton;
class QVBoxLayout;

namespace kite::app {

/// The plan: what the golfer has, where the drill stands, the days with what is done.
class PlanPanel : public QScrollArea {
    Q_OBJECT
public:
    PlanPanel(PlanKeeper* keeper, const DrillBook* book, QWidget* parent = nullptr);

    PlanWish wish() const; ///< as the controls stand
    /// Ticks what must be spared, beside what is ticked already.
    void spare(const std::vector<std::string>& limits);
    void tick(const Date& day);

signals:
    void make_requested();
    void count_requested(); ///< the swings on the list
    void drill_asked(const QString& id);

private:
    void make_wish(QVBoxLayout* layout);
    void make_days(QVBoxLayout* layout);
    void restyle();
    void show_plan();
    void show_wish(const PlanWish& wish);
    void wish_changed();
    void count_by_hand();
    void change_day(int row, bool done);

    PlanKeeper* keeper_;
    const DrillBook* book_;
    bool showing_ = false;
    QLabel* head_ = nullptr;
    QLabel* what_ = nullptr;
    std::vector<QToolButton*> weekdays_;
    QSpinBox* minutes_ = nullptr;
    QComboBox* place_ = nullptr;
    QCheckBox* has_lesson_ = nullptr;
    QDateEdit* lesson_ = nullptr;
    std::vector<QCheckBox*> limits_; ///< named by their keys
    QPushButton* make_ = nullptr;
    QPushButton* main_ = nullptr;
    QPushButton* helper_ = nullptr;
    QLabel* rung_ = nullptr;
    QWidget* counting_ = nullptr;
    QSpinBox* passed_ = nullptr;
    QSpinBox* made_ = nullptr;
    QListWidget* days_ = nullptr;
    QLabel* cautions_ = nullptr;
};

} // namespace kite::app
