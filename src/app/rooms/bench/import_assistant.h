#pragma once

#include "app/session/import_subject.h"

#include <QFutureWatcher>
#include <QTimer>
#include <QWidget>

class QComboBox;
class QCPAxisRect;
class QCustomPlot;
class QDoubleSpinBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QTableWidget;

namespace kite::app {

/// For files that nobody knows: which column is what, in which unit; which marker is which; which
/// axis points where. The curves beside the table show at once what comes of it, so that a wrong
/// answer is seen.
class ImportAssistant : public QWidget {
    Q_OBJECT
public:
    explicit ImportAssistant(QWidget* parent = nullptr);

    void open(const QString& path, const AxisHints& axes, const formats::ReadOptions& read_options,
              const AnalysisOptions& options);
    /// Until what comes of the newest answer is seen.
    bool is_busy() const { return busy_; }
    const ImportSubject* subject() const { return subject_.get(); }
    /// What the table says now.
    ImportAnswer answer() const;

signals:
    void answered(const kite::app::ImportSubject& subject, const kite::app::ImportAnswer& answer);
    void given_up();

private:
    QLayout* make_middle(); ///< what is in the file, and its curves
    void make_axes();
    QLayout* make_foot(); ///< what is asked beside the table
    void show_subject();
    void fill_columns();
    void fill_markers();
    void add_row(int row, const QString& name);
    void units_of(int row, double factor);
    void changed(); ///< try soon
    void try_now();
    void show_result();
    void show_raw();
    void restyle();

    std::shared_ptr<const ImportSubject> subject_;
    std::shared_ptr<const LoadedSwing> result_;
    formats::ReadOptions read_options_;
    AnalysisOptions options_;
    QFutureWatcher<std::shared_ptr<const ImportSubject>> inspecting_;
    QFutureWatcher<std::shared_ptr<const LoadedSwing>> trying_;
    QTimer soon_;
    bool busy_ = false;

    QLabel* title_ = nullptr;
    QLabel* lead_ = nullptr;
    QTableWidget* table_ = nullptr;
    QCustomPlot* plot_ = nullptr;
    QCPAxisRect* raw_ = nullptr;
    QCPAxisRect* rates_ = nullptr;
    QLabel* result_text_ = nullptr;
    QWidget* axes_box_ = nullptr;
    QComboBox* up_ = nullptr;
    QComboBox* target_ = nullptr;
    QDoubleSpinBox* target_deg_ = nullptr; ///< its lowest value: as found, or along the axis chosen
    QWidget* rows_box_ = nullptr;
    QDoubleSpinBox* rows_hz_ = nullptr;
    QLineEdit* name_ = nullptr;
    QPushButton* take_ = nullptr;
};

} // namespace kite::app
