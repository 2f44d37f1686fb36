#pragma once

#include "app/session/bench_state.h"

#include <QWidget>

#include <vector>

class QButtonGroup;
class QStackedWidget;

namespace kite::app {

class BodyStrip;
class DifferenceTable;
class ElidedLabel;
class FigureView;
class KiteView;
class MeasureBar;
class MomentTable;
class PlaceLabel;
class ReadingPanel;
class SeparationStrip;
class StairChart;
class TransportBar;

/// One swing in full: the stair and the separation strip on one time axis, the reading and the kite
/// beside them, play beneath. Puts the parts together and computes nothing.
class BenchView : public QWidget {
    Q_OBJECT
public:
    explicit BenchView(BenchState* state, QWidget* parent = nullptr);

    void set_title(const QString& title, const QString& note);
    StairChart* stair() const { return stair_; }
    SeparationStrip* separation() const { return separation_; }
    BodyStrip* body() const { return body_; }
    KiteView* kite() const { return kite_; }
    MeasureBar* measure_bar() const { return measure_bar_; }
    MomentTable* table() const { return table_; }

    void show_table(bool shown);
    bool is_table_shown() const;
    /// From above, face-on, down the line, change against the second swing, and round again.
    void show_next_picture();
    int picture() const;
    void show_picture(int index);
    /// All charts as they stand, for the clipboard and for files.
    QWidget* charts() const;
    DifferenceTable* differences() const { return differences_; }

    /// Paths of hip joints, hands and club head in the figures.
    void show_traces(bool shown);
    bool are_traces_shown() const;

    /// The measure that "what is this?" is asked of: that of the table's column or of the chart
    /// with the focus.
    QString asked_measure() const;

signals:
    // From the menu under the right button of a chart or a table's head.
    void explain_requested(const QString& measure);
    void copy_requested(QWidget* chart);
    void save_requested(QWidget* chart);

private:
    void restyle();
    void add_menu(QWidget* chart);
    QString measure_of(const QWidget* chart) const;

    BenchState* state_;
    ElidedLabel* title_ = nullptr;
    ElidedLabel* note_ = nullptr;
    PlaceLabel* place_ = nullptr;
    StairChart* stair_ = nullptr;
    SeparationStrip* separation_ = nullptr;
    BodyStrip* body_ = nullptr;
    KiteView* kite_ = nullptr;
    MeasureBar* measure_bar_ = nullptr;
    MomentTable* table_ = nullptr;
    DifferenceTable* differences_ = nullptr;
    std::vector<FigureView*> figures_;
    QWidget* side_ = nullptr;
    QStackedWidget* middle_ = nullptr;
    QStackedWidget* pictures_ = nullptr;
    QButtonGroup* picture_choice_ = nullptr;
};

} // namespace kite::app
