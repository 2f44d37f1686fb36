#pragma once

#include "app/charts/time_chart.h"
#include "app/theme/units.h"
#include "core/catalogue/quantity.h"

namespace kite::app {

/// One quantity of the body on the stair's time axis: sway, depth, lift, tilt, bend, wrist hinge,
/// lead knee, pressure. A click on its name offers the others, those that matter here first.
class BodyStrip : public TimeChart {
    Q_OBJECT
public:
    BodyStrip(ShownSwing* state, QWidget* parent = nullptr);

    void choose(const QString& key); ///< an unknown key changes nothing
    QString chosen() const;
    /// The next curve that this swing has.
    void choose_next(int direction);
    /// The curves that this swing has: those that belong to its first fix before the others.
    std::vector<const Quantity*> offered() const;

signals:
    void choice_changed();

protected:
    void rebuild() override;
    void paint_decoration(QCPPainter* painter) override;
    QString text_at(QPointF at) const override;
    void paint_cursor_readings(QCPPainter* painter, double x) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    const Quantity& quantity() const { return *chosen_; }
    Units::Shown shown_unit() const;
    QString value_text(double value) const;

    const Quantity* chosen_ = find_quantity("pelvis_sway");
    QCPGraph* graph_ = nullptr;
    BandGraphs band_;             ///< of the set behind
    QCPGraph* overlay_ = nullptr; ///< of the second swing
};

} // namespace kite::app
