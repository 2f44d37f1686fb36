#pragma once

#include "app/charts/time_chart.h"

namespace kite::app {

/// Separation over time on the stair's axis: where it stands at the top, where it is widest (the
/// stretch), and what is left at impact.
class SeparationStrip : public TimeChart {
    Q_OBJECT
public:
    explicit SeparationStrip(ShownSwing* state, QWidget* parent = nullptr);

protected:
    void rebuild() override;
    void paint_decoration(QCPPainter* painter) override;
    QString text_at(QPointF at) const override;
    void paint_cursor_readings(QCPPainter* painter, double x) override;

private:
    QCPGraph* graph_ = nullptr;
    BandGraphs band_;             ///< of the set behind
    QCPGraph* overlay_ = nullptr; ///< of the second swing
    QCPGraph* other_ = nullptr;   ///< by the method that was not chosen
};

} // namespace kite::app
