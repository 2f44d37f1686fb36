#pragma once

#include "app/session/reference.h"
#include "app/session/shown_swing.h"
#include "core/reading/ranges.h"

#include <qcustomplot.h>

#include <functional>
#include <vector>

namespace kite::app {

/// A layer of own painting inside a QCustomPlot, in pixels of the widget.
class PaintedItem : public QCPAbstractItem {
public:
    PaintedItem(QCustomPlot* plot, std::function<void(QCPPainter*)> paint);
    double selectTest(const QPointF& position, bool only_selectable,
                      QVariant* details) const override;

protected:
    void draw(QCPPainter* painter) override;

private:
    std::function<void(QCPPainter*)> paint_;
};

/// Base of all charts over time: lanes under each other on one time axis in ms from impact, with
/// the shared cursor. Left button or drag moves the cursor, the wheel zooms at the pointer, a
/// double click shows the transition again. Moving the cursor repaints only the cursor's own layer.
class TimeChart : public QCustomPlot {
    Q_OBJECT
public:
    TimeChart(ShownSwing* state, QWidget* parent);

protected:
    /// Adds a lane below the others.
    QCPAxisRect* add_lane();
    const std::vector<QCPAxisRect*>& lanes() const { return lanes_; }
    /// Room above the first and below the last lane, in pixels of 100 % text.
    void set_bands(double top, double bottom);

    ShownSwing* state() const { return state_; }
    const LoadedSwing* swing() const {
        return state_->has_swing() ? state_->swing().get() : nullptr;
    }

    /// Fills graphs and ranges from the swing; called when the swing or the theme changes.
    virtual void rebuild() = 0;
    virtual void paint_decoration(QCPPainter* painter) = 0;
    /// What stands under the pointer, with its unit and uncertainty; empty: nothing.
    virtual QString text_at(QPointF at) const = 0;
    /// Readings beside the cursor line; the line itself is drawn by the base.
    virtual void paint_cursor_readings(QCPPainter* painter, double x) = 0;

    /// "88 ms before impact: 512 ± 3 °/s".
    QString value_text_at(double t_s, const QString& value) const;
    /// x pixel of a time.
    double pixel_of(double t_s) const;
    bool is_visible_time(double t_s) const;
    double time_at(double x_pixel) const;
    static int left_margin();
    static int right_margin();
    /// A reading on a small plate so that it can be read over a curve.
    QRectF draw_plate(QCPPainter* painter, QPointF at, const QString& text, const QColor& colour,
                      bool to_right) const;
    /// Where it would stand.
    QRectF plate_of(QPointF at, const QString& text, bool to_right) const;
    /// Does the cursor stand on a time, so that what is said there need not be said twice?
    bool is_cursor_at(double t_s) const;
    /// The name of a lane and lines of small text beneath, beside the lane; from its top if there
    /// is no room lower down. Lines that find no room at all are left out, the last ones first.
    /// Where the school wants the curve to be, as quiet bars; `factor` turns them into the axis'
    /// unit.
    void paint_wanted(QCPPainter* painter, const QRect& lane, QCPAxis* axis,
                      const std::vector<WantedRange>& ranges, double factor) const;
    /// The school that these bars are of, for a caption.
    QString wanted_by() const;
    void paint_caption(QCPPainter* painter, const QString& name, const QStringList& lines) const;

    /// Stretches of a curve without samples in the swing, hatched over a lane with a word; bridged
    /// ones with a dotted edge along the lane's foot.
    void paint_unseen(QCPPainter* painter, const QRect& lane, const Curve& curve,
                      const std::vector<TimeRange>& bridged) const;

    /// The curve as graph data in ms from impact, with the sudden change drawn as a drop.
    QSharedPointer<QCPGraphDataContainer> data_of(const Curve& curve) const;
    /// The same curve of the second swing, at the shown swing's times; empty without one.
    QSharedPointer<QCPGraphDataContainer> overlay_data_of(const Curve& curve) const;
    const LoadedSwing* overlay() const {
        return state_->has_overlay() ? state_->overlay().swing.get() : nullptr;
    }
    /// Mean ± SD of the set behind, filled between two graphs; empty without one.
    struct BandGraphs {
        QCPGraph* low = nullptr;
        QCPGraph* high = nullptr;
    };
    BandGraphs add_band(QCPAxisRect* lane);
    void show_band(const BandGraphs& graphs, const Band& band, double factor,
                   const QColor& colour) const;
    /// Greatest upper edge of a band; 0 without one.
    static double top_of(const Band& band);
    const Reference* reference() const;
    QPen overlay_pen(const QColor& colour) const;

    /// Paints anew soon; a hidden chart waits until it is shown.
    void repaint_soon();

    bool event(QEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void showEvent(QShowEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

private:
    void restyle();
    void take_range();
    void paint_cursor(QCPPainter* painter);

    QSharedPointer<QCPGraphDataContainer>
    container_of(const Curve& curve, const std::function<double(double)>& ms_of) const;

    ShownSwing* state_;
    std::vector<QCPAxisRect*> lanes_;
    double top_band_ = 0.0;
    double bottom_band_ = 0.0;
    bool dragging_ = false;
};

} // namespace kite::app
