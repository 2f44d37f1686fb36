#pragma once

#include "app/session/desk.h"
#include "app/session/school_shelf.h"

#include <QAbstractTableModel>

#include <string>
#include <vector>

namespace kite::app {

/// Faults and their limits down, schools across: what each has in place of the usual limit, and how
/// often a fault counts. Cells of own schools can be changed.
class LimitTable : public QAbstractTableModel {
    Q_OBJECT
public:
    LimitTable(Desk* desk, SchoolShelf* shelf, QObject* parent = nullptr);

    enum Column { NameColumn, SwingColumn, FirstSchoolColumn };

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    bool setData(const QModelIndex& index, const QVariant& value, int role) override;

    /// Which school a column shows; empty: none.
    QString source_of(int column) const;
    int column_of(const QString& source) const; ///< -1: none
    std::string fault_of(int row) const;

    /// Takes what a school has of its own out again.
    std::vector<Finding> clear(const QModelIndex& index);

signals:
    void refused(const QString& why);

private:
    struct Row {
        std::string fault;
        std::string limit; ///< empty: how often the fault counts
        const Condition* leaf = nullptr;
    };
    void make_rows();
    QVariant weight_text(const School& school, const Row& row) const;
    QVariant limit_text(const School& school, const Row& row, bool own) const;
    QVariant swing_text(const Row& row) const;
    const School* school_of(int column) const;

    Desk* desk_;
    SchoolShelf* shelf_;
    std::vector<Row> rows_;
};

} // namespace kite::app
