#pragma once

#include "core/sets/comparison.h"

#include <QAbstractTableModel>
#include <QStyledItemDelegate>

#include <vector>

namespace kite::app {

/// Every measure of two sets with its verdict, what changed most first.
class ChangeTable : public QAbstractTableModel {
    Q_OBJECT
public:
    enum Column { Name, Before, After, Difference, Interval, Picture, Verdict, Count };

    using QAbstractTableModel::QAbstractTableModel;

    void show_changes(std::vector<MeasureChange> changes);
    const MeasureChange& change(int row) const {
        return changes_.at(static_cast<std::size_t>(row));
    }

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

    /// All of it for a spreadsheet, numbers for machines.
    QString csv() const;
    void unit_changed();

private:
    QString text_at(const MeasureChange& change, int column) const;
    std::vector<MeasureChange> changes_;
};

/// Marks for the swings of both sets one above the other, and between them the interval of the
/// change, drawn from the first set's mean.
class ChangePicture : public QStyledItemDelegate {
    Q_OBJECT
public:
    ChangePicture(const ChangeTable* table, QObject* parent)
        : QStyledItemDelegate(parent), table_(table) {}
    void paint(QPainter* painter, const QStyleOptionViewItem& option,
               const QModelIndex& index) const override;

private:
    const ChangeTable* table_;
};

} // namespace kite::app
