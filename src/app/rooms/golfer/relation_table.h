#pragma once

#include "app/session/record_keeper.h"
#include "core/sets/relation.h"

#include <QAbstractTableModel>

namespace kite::app {

/// Which measures go together with a launch number in one golfer's swings, strongest first.
class RelationTable : public QAbstractTableModel {
    Q_OBJECT
public:
    enum Column { Name, Together, Interval, Slope, Swings, Verdict, Count };

    using QAbstractTableModel::QAbstractTableModel;
    void show_relations(const GolferHistory& history, const LaunchField& against);
    /// False: no shot of it is known.
    bool any() const { return !rows_.empty(); }

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

private:
    struct Entry {
        const Measure* measure;
        Relation relation;
        bool is_shown; ///< with false discoveries kept below 5 %
    };
    QString text_at(const Entry& entry, int column) const;

    std::vector<Entry> rows_;
    LaunchField against_ = kLaunchFields[0];
};

} // namespace kite::app
