#pragma once

#include "report/drawing.h"

#include <QWidget>

#include <functional>

namespace kite::app {

/// A drawing that is made anew for the size it has; it can be read aloud and saved as SVG.
class DrawingView : public QWidget {
    Q_OBJECT
public:
    /// Makes the drawing for a width and height in mm and letters so many times as large.
    using Make = std::function<report::Drawing(double width_mm, double height_mm, double letters)>;

    explicit DrawingView(QWidget* parent = nullptr);
    void show_drawing(Make make);
    /// As it is for a size, in mm.
    report::Drawing drawing(double width_mm, double height_mm) const {
        return make_ ? make_(width_mm, height_mm, 1.0) : report::Drawing();
    }
    QSize sizeHint() const override { return {420, 240}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Make make_;
};

} // namespace kite::app
