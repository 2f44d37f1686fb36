#pragma once

#include "app/session/record_keeper.h"
#include "app/session/swing_list_model.h"

#include <map>
#include <set>

namespace kite::app {

/// Between the swings on the list and the record: while a lesson is under way what is opened is
/// kept in it, and what is said of a kept swing is kept too.
class RecordLink : public QObject {
    Q_OBJECT
public:
    RecordLink(SwingListModel* swings, RecordKeeper* keeper, QObject* parent = nullptr);

private:
    void keep_ready();
    void keep(int row);
    void keep_anew(int row);
    ToKeep to_keep(int row) const; ///< a swing that is measured
    void tell(int row);

    SwingListModel* swings_;
    RecordKeeper* keeper_;
    std::set<int> asked_;     ///< list ids that are on their way
    std::set<int> anew_;      ///< of them those whose file was written again meanwhile
    std::map<int, Row> told_; ///< what the record was told last, by list id
};

} // namespace kite::app
