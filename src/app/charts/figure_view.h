#pragma once

#include "app/session/shown_swing.h"
#include "report/pictures/body_figure.h"

#include <QWidget>

namespace kite::app {

using report::FigureTraces;

/// The golfer as a plain line figure at the cursor, face-on (target to the right) or down the line
/// (ball to the right); on request with the paths of hip joints, hands and club head.
class FigureView : public QWidget {
    Q_OBJECT
public:
    enum class From { FaceOn, DownTheLine };
    FigureView(ShownSwing* state, From from, QWidget* parent = nullptr);

    QSize sizeHint() const override;
    void show_traces(bool shown);
    bool are_traces_shown() const { return traces_shown_; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    ShownSwing* state_;
    From from_;
    void swing_changed();
    double across_of(const Eigen::Vector3d& p_m) const; ///< to the right in the picture

    FigureTraces traces_;
    bool traces_shown_ = false;
    /// What is shown, metres against the pelvis at address: all that the swing passes through.
    double left_m_ = -1.0;
    double right_m_ = 1.0;
    double highest_m_ = 2.0;
};

} // namespace kite::app
