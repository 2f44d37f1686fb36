#pragma once

#include "core/practice/drill.h"
#include "core/reading/rules.h"

#include <QWidget>

class QComboBox;
class QLineEdit;
class QListWidget;

namespace kite::app {

/// The drills by name, narrowed by words, fault, place, means and caution.
class DrillFinder : public QWidget {
    Q_OBJECT
public:
    DrillFinder(const DrillBook* book, const RuleBook* rules, QWidget* parent = nullptr);

    std::string chosen() const; ///< id; empty: nothing fits
    std::string fault() const;  ///< that is asked for; empty: any
    void choose(const std::string& id);
    void ask_for_fault(const std::string& id); ///< empty: for any
    void focus_words();
    void choose_next(int direction);
    QListWidget* list() const { return list_; }

signals:
    void chosen_changed();

private:
    void find();
    void restyle();

    const DrillBook* book_;
    QLineEdit* words_ = nullptr;
    QComboBox* fault_ = nullptr;
    QComboBox* place_ = nullptr;
    QComboBox* needs_ = nullptr;
    QComboBox* caution_ = nullptr;
    QListWidget* list_ = nullptr;
};

} // namespace kite::app
