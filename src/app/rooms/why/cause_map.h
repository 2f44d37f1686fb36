#pragma once

#include "app/session/desk.h"

#include <QWidget>

#include <string>
#include <vector>

namespace kite::app {

/// All faults of the rules in force, a column a phase, with what leads to what: the lit path runs
/// from the first fix to what it explains. Drawn from the rules and the reading alone. A click or
/// the arrow keys choose a fault.
class CauseMap : public QWidget {
    Q_OBJECT
public:
    explicit CauseMap(Desk* desk, QWidget* parent = nullptr);

    const std::string& chosen() const { return chosen_; }
    void choose(const std::string& fault); ///< an id; unknown ones choose nothing
    QRect place_of(const std::string& fault) const;

    QSize sizeHint() const override { return {820, 560}; }

signals:
    void chosen_changed();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    struct Node {
        std::string id;
        QRectF box;
        std::size_t column = 0;
        std::size_t row = 0;
    };
    std::vector<Node> lay_out() const;
    void paint_edges(QPainter& painter, const std::vector<Node>& nodes) const;
    void paint_node(QPainter& painter, const Node& node) const;
    const Fault* fault_at(const QPointF& at) const;
    void step(int columns, int rows);

    Desk* desk_;
    std::string chosen_;
};

} // namespace kite::app
