#include "app/charts/time_chart.h"

#include "app/theme/text.h"
#include "app/theme/theme.h"

#include <QHelpEvent>
#include <QToolTip>

#include <algorithm>
#include <cmath>

namespace kite::app {

namespace {

/// Tick labels with a real minus sign, as everywhere else.
class MinusTicker : public QCPAxisTicker {
protected:
    QString getTickLabel(double tick, const QLocale& locale, QChar format, int precision) override {
        return QCPAxisTicker::getTickLabel(tick, locale, format, precision)
            .replace(QLatin1Char('-'), QChar(0x2212));
    }
};

} // namespace

PaintedItem::PaintedItem(QCustomPlot* plot, std::function<void(QCPPainter*)> paint)
    : QCPAbstractItem(plot), paint_(std::move(paint)) {
    setClipToAxisRect(false);
    setSelectable(false);
}

double PaintedItem::selectTest(const QPointF& /*position*/, bool /*only_selectable*/,
                               QVariant* /*details*/) const {
    return -1.0;
}

void PaintedItem::draw(QCPPainter* painter) {
    paint_(painter);
}

TimeChart::TimeChart(ShownSwing* state, QWidget* parent) : QCustomPlot(parent), state_(state) {
    setFocusPolicy(Qt::StrongFocus);
    setMinimumHeight(60);
    setNoAntialiasingOnDrag(false);
    plotLayout()->clear();
    plotLayout()->setAutoMargins(QCP::msNone);
    plotLayout()->setRowSpacing(0);
    // Overlay is drawn with the curves; the cursor has a buffer of its own.
    addLayer(QStringLiteral("cursor"), layer(QStringLiteral("overlay")), QCustomPlot::limAbove);
    layer(QStringLiteral("cursor"))->setMode(QCPLayer::lmBuffered);
    auto* decoration =
        new PaintedItem(this, [this](QCPPainter* painter) { paint_decoration(painter); });
    decoration->setLayer(QStringLiteral("overlay"));
    auto* cursor = new PaintedItem(this, [this](QCPPainter* painter) { paint_cursor(painter); });
    cursor->setLayer(QStringLiteral("cursor"));

    connect(state_, &ShownSwing::swing_changed, this, [this] {
        rebuild();
        take_range();
    });
    connect(state_, &ShownSwing::range_changed, this, &TimeChart::take_range);
    connect(state_, &ShownSwing::cursor_changed, this, [this] {
        if (isVisible())
            layer(QStringLiteral("cursor"))->replot();
    });
    for (const auto signal :
         {&ShownSwing::lit_changed, &ShownSwing::overlay_changed, &ShownSwing::reference_changed})
        connect(state_, signal, this, [this] {
            rebuild();
            repaint_soon();
        });
    connect(&Theme::instance(), &Theme::changed, this, [this] {
        restyle();
        rebuild();
        take_range();
    });
}

int TimeChart::left_margin() {
    return Theme::instance().scaled(132);
}
int TimeChart::right_margin() {
    return Theme::instance().scaled(18);
}

void TimeChart::set_bands(double top, double bottom) {
    top_band_ = top;
    bottom_band_ = bottom;
    restyle();
}

QCPAxisRect* TimeChart::add_lane() {
    auto* rect = new QCPAxisRect(this);
    rect->setAutoMargins(QCP::msNone);
    plotLayout()->addElement(plotLayout()->rowCount(), 0, rect);
    for (QCPAxis* axis : rect->axes()) {
        axis->setLayer(QStringLiteral("axes"));
        axis->grid()->setLayer(QStringLiteral("grid"));
        axis->setVisible(axis->axisType() == QCPAxis::atBottom);
        axis->setTickLabels(false);
        axis->setTicks(false);
        axis->setTicker(QSharedPointer<MinusTicker>::create());
    }
    rect->axis(QCPAxis::atLeft)->grid()->setVisible(false);
    lanes_.push_back(rect);
    restyle();
    return rect;
}

void TimeChart::restyle() {
    const Colours& c = colours();
    setBackground(QBrush(c.surface));
    plotLayout()->setMargins(QMargins(0, Theme::instance().scaled(top_band_), 0,
                                      Theme::instance().scaled(bottom_band_)));
    for (QCPAxisRect* rect : lanes_) {
        rect->setMargins(QMargins(left_margin(), 0, right_margin(), 0));
        QCPAxis* axis = rect->axis(QCPAxis::atBottom);
        axis->setBasePen(QPen(c.line, 1));
        axis->grid()->setPen(QPen(c.line, 1, Qt::DotLine));
        axis->grid()->setZeroLinePen(Qt::NoPen);
        axis->setTickLabelColor(c.soft);
        axis->setLabelColor(c.soft);
        axis->setTickLabelFont(Theme::instance().font(12));
        axis->setLabelFont(Theme::instance().font(12));
        axis->setTickPen(QPen(c.line, 1));
        axis->setTickLength(0, 4);
        axis->setSubTickPen(Qt::NoPen);
        axis->setNumberFormat(QStringLiteral("f"));
        axis->setNumberPrecision(0);
    }
}

void TimeChart::take_range() {
    // As many time labels as have room.
    constexpr double kLabel_px = 64.0;
    const double across = width() - left_margin() - right_margin();
    for (QCPAxisRect* rect : lanes_)
        rect->axis(QCPAxis::atBottom)
            ->ticker()
            ->setTickCount(std::clamp(static_cast<int>(across / kLabel_px), 2, 9));
    if (swing() != nullptr) {
        const TimeRange range = state_->range();
        for (QCPAxisRect* rect : lanes_)
            rect->axis(QCPAxis::atBottom)
                ->setRange(state_->ms_from_impact(range.begin_s),
                           state_->ms_from_impact(range.end_s));
    }
    repaint_soon();
}

double TimeChart::pixel_of(double t_s) const {
    return lanes_.front()->axis(QCPAxis::atBottom)->coordToPixel(state_->ms_from_impact(t_s));
}

double TimeChart::time_at(double x_pixel) const {
    return state_->impact_s() +
           lanes_.front()->axis(QCPAxis::atBottom)->pixelToCoord(x_pixel) / 1000.0;
}

bool TimeChart::is_visible_time(double t_s) const {
    return state_->range().contains(t_s);
}

QSharedPointer<QCPGraphDataContainer>
TimeChart::container_of(const Curve& curve, const std::function<double(double)>& ms_of) const {
    QVector<QCPGraphData> points;
    points.reserve(static_cast<int>(curve.size()) + 2);
    const auto change = curve.change_s();
    bool passed = !change;
    for (std::size_t i = 0; i < curve.size(); ++i) {
        const double t = curve.time_of(i);
        if (!passed && t > *change) {
            const double key = ms_of(*change);
            points.append({key, curve.at(*change, Curve::Side::Before)});
            points.append({key, curve.at(*change, Curve::Side::After)});
            passed = true;
        }
        points.append({ms_of(t), curve.values()[i]});
    }
    QSharedPointer<QCPGraphDataContainer> out(new QCPGraphDataContainer);
    out->set(points, true);
    return out;
}

void TimeChart::paint_unseen(QCPPainter* painter, const QRect& lane, const Curve& curve,
                             const std::vector<TimeRange>& bridged) const {
    if (curve.empty())
        return;
    const auto& values = curve.values();
    painter->save();
    painter->setClipRect(lane);
    painter->setFont(Theme::instance().font(11));
    for (std::size_t i = 0; i < values.size(); ++i) {
        if (std::isfinite(values[i]))
            continue;
        const std::size_t from = i;
        while (i + 1 < values.size() && !std::isfinite(values[i + 1]))
            ++i;
        // From the last frame that was seen to the next one.
        const double left = pixel_of(curve.time_of(from == 0 ? 0 : from - 1));
        const double right = pixel_of(curve.time_of(std::min(i + 1, values.size() - 1)));
        const QRectF hole(left, lane.top(), right - left, lane.height());
        if (right <= lane.left() || left >= lane.right())
            continue;
        painter->setPen(Qt::NoPen);
        painter->setBrush(QBrush(colours().line, Qt::BDiagPattern));
        painter->drawRect(hole);
        const QString word = tr("not seen");
        const QFontMetricsF metrics(painter->font());
        if (hole.intersected(QRectF(lane)).width() > metrics.horizontalAdvance(word) + 6.0) {
            painter->setPen(colours().soft);
            painter->drawText(hole.intersected(QRectF(lane)).adjusted(0, 2, 0, 0),
                              Qt::AlignHCenter | Qt::AlignTop, word);
        }
    }
    painter->setPen(QPen(colours().soft, 2.0, Qt::DotLine));
    for (const TimeRange& bridge : bridged) {
        const double y = lane.bottom() - 2.0;
        painter->drawLine(QLineF(pixel_of(bridge.begin_s), y, pixel_of(bridge.end_s) + 1.0, y));
    }
    painter->restore();
}

QSharedPointer<QCPGraphDataContainer> TimeChart::data_of(const Curve& curve) const {
    return container_of(curve, [this](double t_s) { return state_->ms_from_impact(t_s); });
}

QSharedPointer<QCPGraphDataContainer> TimeChart::overlay_data_of(const Curve& curve) const {
    if (!state_->has_overlay())
        return QSharedPointer<QCPGraphDataContainer>(new QCPGraphDataContainer);
    return container_of(curve, [this](double t_s) {
        return state_->ms_from_impact(state_->overlay_clock().shown_of(t_s));
    });
}

TimeChart::BandGraphs TimeChart::add_band(QCPAxisRect* lane) {
    BandGraphs out;
    for (QCPGraph** graph : {&out.low, &out.high}) {
        *graph = addGraph(lane->axis(QCPAxis::atBottom), lane->axis(QCPAxis::atLeft));
        (*graph)->setPen(Qt::NoPen);
    }
    out.high->setChannelFillGraph(out.low);
    return out;
}

void TimeChart::show_band(const BandGraphs& graphs, const Band& band, double factor,
                          const QColor& colour) const {
    QVector<double> t_ms;
    QVector<double> low;
    QVector<double> high;
    for (std::size_t i = 0; i < band.t_s.size(); ++i) {
        if (!std::isfinite(band.mean[i]) || !std::isfinite(band.sd[i]))
            continue;
        t_ms << 1000.0 * band.t_s[i];
        low << factor * (band.mean[i] - band.sd[i]);
        high << factor * (band.mean[i] + band.sd[i]);
    }
    graphs.low->setData(t_ms, low, true);
    graphs.high->setData(t_ms, high, true);
    QColor pale = colour;
    pale.setAlphaF(0.22F);
    graphs.high->setBrush(pale);
    // Its edge is dotted, so that it is not taken for the ridge itself.
    QColor edge = colour;
    edge.setAlphaF(0.5F);
    for (QCPGraph* graph : {graphs.low, graphs.high})
        graph->setPen(QPen(edge, 0.8, Qt::DotLine));
}

double TimeChart::top_of(const Band& band) {
    double top = 0.0;
    for (std::size_t i = 0; i < band.t_s.size(); ++i)
        if (std::isfinite(band.mean[i]) && std::isfinite(band.sd[i]))
            top = std::max(top, band.mean[i] + band.sd[i]);
    return top;
}

const Reference* TimeChart::reference() const {
    const auto& reference = state_->reference();
    return swing() != nullptr && reference && !reference->empty() ? reference.get() : nullptr;
}

QPen TimeChart::overlay_pen(const QColor& colour) const {
    QColor pale = colour;
    pale.setAlphaF(0.55F);
    return {pale, 1.3, Qt::DashLine};
}

QRectF TimeChart::plate_of(QPointF at, const QString& text, bool to_right) const {
    const QFontMetricsF metrics(Theme::instance().font(12, Theme::Weight::Semibold));
    const double across = metrics.horizontalAdvance(text) + 8.0;
    QRectF plate(to_right ? at.x() + 4.0 : at.x() - 4.0 - across, at.y() - metrics.height() / 2.0,
                 across, metrics.height());
    // Never cut off at the edge of the picture.
    plate.moveRight(std::min(plate.right(), width() - 2.0));
    return plate;
}

bool TimeChart::is_cursor_at(double t_s) const {
    constexpr double kSame_px = 3.0;
    return std::abs(pixel_of(t_s) - pixel_of(state_->cursor_s())) < kSame_px;
}

void TimeChart::paint_wanted(QCPPainter* painter, const QRect& lane, QCPAxis* axis,
                             const std::vector<WantedRange>& ranges, double factor) const {
    painter->save();
    painter->setClipRect(lane);
    QColor quiet = colours().soft;
    quiet.setAlphaF(0.22F);
    const double half = Theme::instance().scaled(5);
    for (const WantedRange& range : ranges) {
        if (!is_visible_time(range.t_s))
            continue;
        const double x = pixel_of(range.t_s);
        const bool has_high = std::isfinite(range.high);
        const bool has_low = std::isfinite(range.low);
        const double top = has_high ? axis->coordToPixel(range.high * factor) : lane.top();
        const double bottom = has_low ? axis->coordToPixel(range.low * factor) : lane.bottom();
        if (bottom <= top)
            continue;
        painter->fillRect(QRectF(x - half, top, 2.0 * half, bottom - top), quiet);
        painter->setPen(QPen(colours().soft, 1.2));
        if (has_high)
            painter->drawLine(QLineF(x - half, top, x + half, top));
        if (has_low)
            painter->drawLine(QLineF(x - half, bottom, x + half, bottom));
    }
    painter->restore();
}

QString TimeChart::wanted_by() const {
    return swing() == nullptr
               ? QString()
               : tr("bars: %1").arg(QString::fromStdString(swing()->rules->school.name));
}

void TimeChart::paint_caption(QCPPainter* painter, const QString& name,
                              const QStringList& lines) const {
    const Theme& theme = Theme::instance();
    const double x = theme.scaled(14);
    const QFont big = theme.font(15, Theme::Weight::Bold);
    const QFont small = theme.font(12);
    const double big_px = QFontMetricsF(big).height();
    const double small_px = QFontMetricsF(small).height();
    const double high = big_px + small_px * static_cast<double>(lines.size());
    double y = std::max(2.0, lanes_.front()->rect().center().y() - 0.5 * high);
    const auto write = [&](const QString& text, const QFont& font, double line_px,
                           const QColor& colour) {
        if (y + line_px > height())
            return;
        painter->setFont(font);
        painter->setPen(colour);
        painter->drawText(QRectF(x, y, left_margin() - x, line_px),
                          Qt::AlignLeft | Qt::AlignVCenter, text);
        y += line_px;
    };
    write(name, big, big_px, colours().ink);
    for (const QString& line : lines)
        write(line, small, small_px, colours().soft);
}

QRectF TimeChart::draw_plate(QCPPainter* painter, QPointF at, const QString& text,
                             const QColor& colour, bool to_right) const {
    painter->setFont(Theme::instance().font(12, Theme::Weight::Semibold));
    const QRectF plate = plate_of(at, text, to_right);
    QColor back = colours().surface;
    back.setAlphaF(0.86F);
    painter->setPen(Qt::NoPen);
    painter->setBrush(back);
    painter->drawRoundedRect(plate, 3, 3);
    painter->setPen(colour);
    painter->drawText(plate, Qt::AlignCenter, text);
    return plate;
}

void TimeChart::paint_cursor(QCPPainter* painter) {
    if (swing() == nullptr || lanes_.empty() || !is_visible_time(state_->cursor_s()))
        return;
    const double x = pixel_of(state_->cursor_s());
    const double top = lanes_.front()->rect().top();
    const double bottom = lanes_.back()->rect().bottom();
    painter->setAntialiasing(true);
    painter->setPen(QPen(colours().ink, 1.4));
    painter->drawLine(QLineF(x, top, x, bottom));
    painter->setBrush(colours().ink);
    painter->setPen(Qt::NoPen);
    painter->drawPolygon(QPolygonF{{x - 5, top - 6}, {x + 5, top - 6}, {x, top + 1}});
    paint_cursor_readings(painter, x);
}

void TimeChart::repaint_soon() {
    if (isVisible())
        replot(QCustomPlot::rpQueuedReplot);
}

void TimeChart::showEvent(QShowEvent* event) {
    QCustomPlot::showEvent(event);
    take_range();
}

QString TimeChart::value_text_at(double t_s, const QString& value) const {
    return tr("%1: %2").arg(before_impact_text(state_->ms_from_impact(t_s)), value);
}

bool TimeChart::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip)
        return QCustomPlot::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    const QString text = swing() == nullptr ? QString() : text_at(help->pos());
    if (text.isEmpty())
        QToolTip::hideText();
    else
        QToolTip::showText(help->globalPos(), text, this);
    return true;
}

void TimeChart::resizeEvent(QResizeEvent* event) {
    QCustomPlot::resizeEvent(event);
    take_range();
}

void TimeChart::mousePressEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton && swing() != nullptr) {
        dragging_ = true;
        state_->set_playing(false);
        state_->set_cursor_s(std::clamp(time_at(event->position().x()), state_->range().begin_s,
                                        state_->range().end_s));
    }
    event->accept();
}

void TimeChart::mouseMoveEvent(QMouseEvent* event) {
    if (dragging_ && swing() != nullptr)
        state_->set_cursor_s(std::clamp(time_at(event->position().x()), state_->range().begin_s,
                                        state_->range().end_s));
    event->accept();
}

void TimeChart::mouseReleaseEvent(QMouseEvent* event) {
    dragging_ = false;
    event->accept();
}

void TimeChart::mouseDoubleClickEvent(QMouseEvent* event) {
    state_->show_transition();
    event->accept();
}

void TimeChart::wheelEvent(QWheelEvent* event) {
    if (swing() != nullptr && event->angleDelta().y() != 0) {
        const double turns = event->angleDelta().y() / 120.0;
        state_->zoom_at(time_at(event->position().x()), std::pow(0.85, turns));
    }
    event->accept();
}

} // namespace kite::app
