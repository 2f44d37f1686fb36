#pragma once

#include "app/session/swing_list_model.h"

#include <QAbstractListModel>

#include <map>
#include <memory>
#include <vector>

namespace kite::app {

/// Which swing of the list is in which of the two sets.
class SetPicker : public QAbstractListModel {
    Q_OBJECT
public:
    enum class Set { Neither, First, Second };
    enum Role { SetRole = Qt::UserRole + 1 };

    explicit SetPicker(SwingListModel* swings, QObject* parent = nullptr);

    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;

    Set set_of(int row) const;
    void clear() { sets_.clear(); } ///< put() tells of it
    /// Each swing is in one set at most.
    void put(const std::vector<int>& rows, Set set);
    /// The earlier half of the golfer's swings against the later half; what is left out stays out.
    void split(const QString& golfer);
    /// Swings with the club of the golfer's first one against those with another.
    void split_by_club(const QString& golfer);
    /// Measured swings of a set, in the order of the list; those left out of averages are left out.
    std::vector<std::shared_ptr<const LoadedSwing>> swings_of(Set set) const;

signals:
    void sets_changed();

private:
    std::vector<int> rows_that_count(const QString& golfer) const;

    SwingListModel* swings_;
    std::map<int, Set> sets_; ///< by the list's ids
};

} // namespace kite::app
