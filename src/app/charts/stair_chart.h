#pragma once

#include "app/charts/time_chart.h"

#include <array>

namespace kite::app {

/// The stair: a lane a part, pelvis at the bottom and club on top. Each lane shows the part's
/// rotation speed as a filled ridge on its own scale, its reversal, its peak with the peak's
/// uncertainty as a width, and what is left at impact. A line joins the peaks from the ground up.
class StairChart : public TimeChart {
    Q_OBJECT
public:
    StairChart(ShownSwing* state, QWidget* parent = nullptr);

    void set_common_scale(bool common);
    bool has_common_scale() const { return common_scale_; }

protected:
    void rebuild() override;
    void paint_decoration(QCPPainter* painter) override;
    void paint_cursor_readings(QCPPainter* painter, double x) override;

    // A moment's flag, above the lanes, can be dragged; a double click puts it back.
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    QString text_at(QPointF at) const override;

private:
    std::optional<Moment> flag_at(QPointF at) const;
    QString flag_text(Moment moment) const;
    /// Lanes are listed from the top; parts from the ground up.
    QCPAxisRect* lane_of(Segment segment) const { return lanes()[3 - index_of(segment)]; }
    double y_pixel(Segment segment, double rate_deg_s) const;
    void paint_wanted_times(QCPPainter* painter) const;
    void paint_names(QCPPainter* painter) const;
    void paint_moments(QCPPainter* painter) const;
    void paint_reversals(QCPPainter* painter) const;
    void paint_peaks(QCPPainter* painter) const;
    void paint_at_impact(QCPPainter* painter) const;

    void paint_overlay(QCPPainter* painter) const;
    /// Where the set behind has its peaks: a box of mean ± SD in time and speed.
    void paint_reference(QCPPainter* painter) const;

    std::array<QCPGraph*, 4> graphs_{};
    std::array<QCPGraph*, 4> overlays_{}; ///< outlines of the second swing
    std::array<BandGraphs, 4> bands_{};   ///< of the set behind
    /// Where the steps are written, so that the cursor's readings keep clear of them.
    mutable std::vector<QRectF> step_plates_;
    bool common_scale_ = false;
    std::optional<Moment> held_; ///< flag under the pressed button
    bool dragged_ = false;
    double pressed_x_ = 0.0;
    int gesture_ = 0;
};

} // namespace kite::app
