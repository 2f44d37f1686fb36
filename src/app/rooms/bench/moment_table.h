#pragma once

#include "app/session/shown_swing.h"

#include <QAbstractTableModel>
#include <QTableView>

namespace kite::app {

/// Moments × measures of the swing shown. Numbers alone in the cells, units in the header.
class MomentTableModel : public QAbstractTableModel {
    Q_OBJECT
public:
    explicit MomentTableModel(ShownSwing* state, QObject* parent = nullptr);
    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;

private:
    ShownSwing* state_;
};

/// The table as it stands beside the charts: a row chosen moves the cursor to its moment; Ctrl+C
/// copies what is chosen (or all) for a spreadsheet.
class MomentTable : public QTableView {
    Q_OBJECT
public:
    explicit MomentTable(ShownSwing* state, QWidget* parent = nullptr);
    /// Tab-separated, with the headers.
    QString text(bool chosen_only) const;
    /// The whole table as CSV, decimal points, full precision of the cells.
    QString csv() const;
    void copy() const;
    /// Key of the explanation of the current column.
    QString asked_measure() const;

signals:
    void explain_requested(const QString& measure);

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    void restyle();
    QString measure_of(int column) const;
    QString joined(bool chosen_only, QChar separator) const;
    ShownSwing* state_;
};

} // namespace kite::app
