#include "app/charts/chart_picture.h"

#include "app/charts/time_chart.h"

#include <QPainter>
#include <QPicture>
#include <QSvgGenerator>
#include <QWidget>

namespace kite::app {

namespace {

/// Charts over time keep their picture in a buffer; into a drawing they paint themselves anew.
bool save_drawing(QWidget* charts, const QString& path) {
    QSvgGenerator svg;
    svg.setFileName(path);
    svg.setSize(charts->size());
    svg.setViewBox(charts->rect());
    svg.setTitle(charts->accessibleName());
    QPainter painter;
    if (!painter.begin(&svg))
        return false;
    QList<TimeChart*> over_time = charts->findChildren<TimeChart*>();
    if (auto* own = qobject_cast<TimeChart*>(charts))
        over_time << own;
    if (over_time.isEmpty())
        charts->render(&painter, QPoint(), QRegion(), QWidget::DrawChildren);
    for (TimeChart* chart : over_time) {
        QPicture picture;
        {
            QCPPainter into(&picture);
            chart->toPainter(&into, chart->width(), chart->height());
        }
        painter.drawPicture(chart->mapTo(charts, QPoint()), picture);
    }
    return painter.end();
}

} // namespace

QPixmap picture_of(QWidget* charts) {
    constexpr double kScale = 2.0;
    QPixmap picture(charts->size() * kScale);
    picture.setDevicePixelRatio(kScale);
    picture.fill(charts->palette().color(QPalette::Base));
    charts->render(&picture);
    return picture;
}

bool save_picture(QWidget* charts, const QString& path) {
    if (path.endsWith(QLatin1String(".svg"), Qt::CaseInsensitive))
        return save_drawing(charts, path);
    return picture_of(charts).save(path);
}

} // namespace kite::app
