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
    void tell(int row);

    SwingListModel* swings_;
    RecordKeeper* keeper_;
    std::set<int> asked_;     ///< list ids that are on their way
    std::map<int, Row> told_; ///< what the record was told last, by list id
};

} // namespace kite::app
