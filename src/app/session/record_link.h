#pragma once

#include "app/session/record_keeper.h"
#include "app/session/swing_list_model.h"

#include <QTimer>

#include <map>
#include <set>

namespace kite::app {

/// Between the swings on the list and the record. Where a swing is kept is settled when it comes
/// onto the list; what is said of a kept swing is kept too, in the record it is in. What could not
/// be kept is tried again until it is.
class RecordLink : public QObject {
    Q_OBJECT
public:
    RecordLink(SwingListModel* swings, RecordKeeper* keeper, QObject* parent = nullptr);

    /// Swings that were to be kept and are not, and why the last of them is not.
    int unkept() const { return static_cast<int>(failed_.size()); }
    const QString& why_not() const { return why_not_; }
    void try_again();
    /// Swings on the list that are kept nowhere since nobody was chosen when they came; and keeps
    /// them where what arrives now would go.
    int nobodys() const;
    void keep_nobodys();
    /// Takes off the list what belongs to the record that was in use.
    void let_go_of(const QString& record);

signals:
    void unkept_changed();
    /// A swing has come while nobody is chosen, or it says it is of another golfer: it is on the
    /// list alone. Said once until somebody is chosen.
    void nobody_to_keep_for();
    void of_another_golfer(const QString& golfer);

private:
    void take_arrivals(int first, int last);
    bool is_nobodys(int row) const;
    void take_verdicts();
    void keep_ready();
    void keep(int row);
    void keep_anew(int row);
    ToKeep to_keep(int row) const; ///< a swing that is measured
    void tell(int row);

    SwingListModel* swings_;
    RecordKeeper* keeper_;
    std::map<int, KeepIn> places_;  ///< where a swing is kept, by list id; none: nowhere
    std::set<int> asked_;           ///< list ids that are on their way
    std::set<int> failed_;          ///< of them those that could not be kept
    std::set<int> anew_;            ///< of them those whose file was written again meanwhile
    std::map<int, Row> told_;       ///< what the record was told last, by list id
    std::map<int, SwingSaid> said_; ///< of hand, club and number, as the record has it
    QString why_not_;
    QTimer retry_;
    bool said_nobody_ = false;
};

} // namespace kite::app
