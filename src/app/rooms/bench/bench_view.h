#pragma once

#include "app/session/shown_swing.h"

#include <QWidget>

#include <vector>

class QButtonGroup;
class QSettings;
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
    explicit BenchView(ShownSwing* state, QWidget* parent = nullptr);

    void set_title(const QString& title, const QString& note);
    void set_options(const AnalysisOptions& options); ///< how swings are measured now
    void read_settings(const QSettings& settings);
    void write_settings(QSettings& settings) const;

    void show_table(bool shown);
    bool is_table_shown() const;
    QString table_csv() const;
    void copy_table() const;
    QString change_csv() const; ///< against the second swing; empty without one
    void switch_words();        ///< with numbers, or plain for the golfer
    void switch_common_scale();
    void choose_next_quantity(int direction); ///< of the body
    /// From above, face-on, down the line, change against the second swing, and round again.
    void show_next_picture();
    int picture() const;
    void show_picture(int index);
    /// All charts as they stand, for the clipboard and for files.
    QWidget* charts() const;

    /// Paths of hip joints, hands and club head in the figures.
    void show_traces(bool shown);
    bool are_traces_shown() const;

    /// The measure that "what is this?" is asked of: that of the table's column or of the chart
    /// with the focus.
    QString asked_measure() const;

signals:
    void why_asked(const QString& fault);
    /// `what` names the step for undo.
    void options_chosen(const kite::AnalysisOptions& options, const QString& what);
    // From the menu under the right button of a chart or a table's head.
    void explain_requested(const QString& measure);
    void copy_requested(QWidget* chart);
    void save_requested(QWidget* chart);

private:
    QLayout* make_right(); ///< reading and pictures
    void restyle();
    void add_menu(QWidget* chart);
    QString measure_of(const QWidget* chart) const;

    ReadingPanel* reading_ = nullptr;
    ShownSwing* state_;
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
