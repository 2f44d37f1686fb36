#include "app/widgets/drawing_view.h"

#include "app/theme/theme.h"
#include "paper/paint.h"

#include <QPainter>

namespace kite::app {

DrawingView::DrawingView(QWidget* parent) : QWidget(parent) {
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

void DrawingView::show_drawing(Make make) {
    make_ = std::move(make);
    setAccessibleDescription(make_ ? QString::fromStdString(make_(100.0, 60.0, 1.0).says)
                                   : QString());
    update();
}

void DrawingView::paintEvent(QPaintEvent* /*event*/) {
    if (!make_)
        return;
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    // So many pixels a millimetre that words of 2.9 mm are as large as the usual text.
    constexpr double kPerMm = 4.4;
    paper::paint(painter,
                 make_(width() / kPerMm, height() / kPerMm, Theme::instance().text_scale()),
                 QRectF(rect()), theme_palette);
}

} // namespace kite::app
