#include "app/charts/drill_figure.h"

#include "app/theme/theme.h"
#include "paper/paint.h"
#include "report/pictures/drawings.h"

#include <QPainter>

namespace kite::app {

namespace {

void draw(QPainter& painter, const QRectF& field, const DrillFigure& figure) {
    // So many pixels a millimetre that lines are as thick as in the other figures.
    constexpr double kPerMm = 4.7;
    paper::paint(painter,
                 report::drill_drawing(figure, field.width() / kPerMm, field.height() / kPerMm),
                 field, theme_palette);
}

} // namespace

QImage picture_of_drill(const DrillFigure& drawing, const QSize& pixels) {
    QImage out(pixels, QImage::Format_ARGB32_Premultiplied);
    out.fill(Qt::transparent);
    QPainter painter(&out);
    painter.setRenderHint(QPainter::Antialiasing);
    draw(painter, QRectF(QPointF(0, 0), QSizeF(pixels)), drawing);
    return out;
}

DrillFigureView::DrillFigureView(QWidget* parent) : QWidget(parent) {
    setObjectName(QStringLiteral("drill_figure"));
    setMinimumHeight(200);
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

void DrillFigureView::show_drill(const Drill* drill) {
    drawing_ = drill == nullptr ? DrillFigure{} : drill->figure;
    setAccessibleName(
        drill == nullptr ? QString() : tr("Drawing: %1").arg(QString::fromStdString(drill->title)));
    update();
}

void DrillFigureView::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    draw(painter, QRectF(rect()).adjusted(6, 4, -6, -4), drawing_);
}

} // namespace kite::app
