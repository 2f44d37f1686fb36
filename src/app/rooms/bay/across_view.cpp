#include "app/rooms/bay/across_view.h"

#include "app/charts/order_glyph.h"
#include "app/theme/text.h"
#include "app/theme/theme.h"
#include "report/pictures/stair_steps.h"

#include <QPainter>

#include <algorithm>
#include <cmath>

namespace kite::app {

using report::StairStep;

AcrossView::AcrossView(QWidget* parent) : QWidget(parent) {
    setObjectName(QStringLiteral("bay_across"));
    connect(&Theme::instance(), &Theme::changed, this, qOverload<>(&QWidget::update));
}

void AcrossView::set_picture(AcrossPicture picture) {
    picture_ = std::move(picture);
    // The same in words, for who does not see it.
    QStringList words{picture_.state, picture_.advice, picture_.reading};
    if (!picture_.drill.isEmpty())
        words << picture_.drill << number_text(picture_.value.value, 1) << picture_.band_words;
    words.removeAll({});
    setAccessibleName(words.join(QStringLiteral(". ")));
    update();
}

QFont AcrossView::sized(double share, bool bold) const {
    QFont font = Theme::instance().font(1, bold ? Theme::Weight::Bold : Theme::Weight::Regular);
    font.setPixelSize(std::max(12, static_cast<int>(share * std::min(height(), width()))));
    return font;
}

void AcrossView::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), colours().page);
    const double margin = 0.035 * height();
    const QRectF all = QRectF(rect()).adjusted(margin, margin, -margin, -margin);
    const double head = 0.12 * all.height();
    const double foot = 0.15 * all.height();
    paint_head(painter, {all.left(), all.top(), all.width(), head});
    const QRectF middle(all.left(), all.top() + head, all.width(),
                        all.height() - head - foot - margin);
    if (!picture_.advice.isEmpty()) {
        paint_advice(painter, middle);
    } else if (picture_.swing) {
        const bool drill = !picture_.drill.isEmpty();
        const double share = drill ? 0.6 : 1.0;
        paint_stair(painter,
                    {middle.left(), middle.top(), share * middle.width(), middle.height()});
        if (drill)
            paint_number(painter, {middle.left() + (share + 0.02) * middle.width(), middle.top(),
                                   (0.98 - share) * middle.width(), middle.height()});
    }
    paint_last(painter, {all.left(), all.bottom() - foot, all.width(), foot});
}

void AcrossView::paint_head(QPainter& painter, const QRectF& box) const {
    painter.setFont(sized(0.075, true));
    painter.setPen(picture_.busy ? colours().accent : colours().ink);
    painter.drawText(box, Qt::AlignLeft | Qt::AlignVCenter, picture_.state);
    painter.setFont(sized(0.035));
    painter.setPen(colours().soft);
    const QString right = picture_.launch.isEmpty()
                              ? picture_.counts
                              : picture_.counts + QLatin1Char('\n') + picture_.launch;
    painter.drawText(box, Qt::AlignRight | Qt::AlignVCenter, right);
}

void AcrossView::paint_advice(QPainter& painter, const QRectF& box) const {
    painter.setFont(sized(0.048));
    painter.setPen(colours().ink);
    const bool bar = picture_.advice_share >= 0.0;
    const QRectF words = box.adjusted(0.0, 0.06 * box.height(), -0.06 * box.width(),
                                      bar ? -0.2 * box.height() : 0.0);
    painter.drawText(words, Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, picture_.advice);
    if (!bar)
        return;
    const QRectF way(box.left(), box.bottom() - 0.12 * box.height(), 0.7 * box.width(),
                     0.05 * box.height());
    painter.setPen(Qt::NoPen);
    painter.setBrush(colours().line);
    painter.drawRect(way);
    painter.setBrush(colours().accent);
    painter.drawRect(
        QRectF(way.topLeft(),
               QSizeF(way.width() * std::clamp(picture_.advice_share, 0.0, 1.0), way.height())));
}

void AcrossView::paint_stair(QPainter& painter, const QRectF& box) const {
    const LoadedSwing& swing = *picture_.swing;
    const std::vector<StairStep> steps =
        report::stair_of_peaks(swing.analysis.sequence, swing.reading);
    const double line = 0.11 * box.height();
    painter.setFont(sized(0.04));
    painter.setPen(colours().ink);
    painter.drawText(QRectF(box.left(), box.bottom() - line, box.width(), line),
                     Qt::AlignLeft | Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(picture_.reading, Qt::ElideRight,
                                                      static_cast<int>(box.width())));
    if (steps.size() < 2)
        return;
    const QRectF stair = box.adjusted(0.02 * box.width(), 0.05 * box.height(), -0.02 * box.width(),
                                      -line - 0.03 * box.height());
    const auto [first, last] = std::minmax_element(
        steps.begin(), steps.end(), [](const auto& a, const auto& b) { return a.t_s < b.t_s; });
    constexpr double kLeast_s = 0.06; // a bunched stair looks bunched
    painter.setFont(sized(0.044, true));
    // At the right, for what is written at the last landing.
    const double room = std::max(0.3 * stair.width(),
                                 painter.fontMetrics().horizontalAdvance(tr("lead arm  +000 ms")) +
                                     0.05 * height());
    const double span = std::max(kLeast_s, last->t_s - first->t_s);
    const double from = 0.5 * (first->t_s + last->t_s - span);
    const double tread = 0.10 * stair.width();
    const auto place = [&](const StairStep& step) {
        return QPointF(stair.left() + tread +
                           (step.t_s - from) / span * (stair.width() - room - tread),
                       stair.bottom() - (static_cast<double>(index_of(step.segment)) + 0.6) / 4.0 *
                                            stair.height());
    };
    const double thick = std::max(3.0, 0.014 * height());
    for (std::size_t i = 0; i < steps.size(); ++i) {
        const QPointF at = place(steps[i]);
        if (i > 0) {
            QPen pen(steps[i].is_named ? colours().accent : colours().soft, 0.5 * thick);
            if (steps[i].is_tied)
                pen.setDashPattern({2.0, 2.5});
            painter.setPen(pen);
            const QPointF below = place(steps[i - 1]);
            painter.drawPolyline(QPolygonF{below, QPointF(at.x(), below.y()), at});
        }
        // As wide as the peak is sure: twice its standard uncertainty either way.
        const double half =
            std::max(0.5 * thick, 2.0 * steps[i].u_s / span * (stair.width() - room));
        painter.setPen(QPen(colours().of(steps[i].segment), thick, Qt::SolidLine, Qt::RoundCap));
        painter.drawLine(at - QPointF(half, 0.0), at + QPointF(half, 0.0));
        painter.setBrush(colours().of(steps[i].segment));
        painter.setPen(Qt::NoPen);
        painter.drawEllipse(at, thick, thick);
        QString words = segment_name(steps[i].segment);
        if (std::isfinite(steps[i].after_below_ms))
            words += steps[i].is_tied
                         ? QStringLiteral("  ") + tr("together")
                         : QStringLiteral("  ") +
                               tr("%1 ms").arg((steps[i].after_below_ms > 0.0 ? QStringLiteral("+")
                                                                              : QString()) +
                                               number_text(steps[i].after_below_ms));
        painter.setFont(sized(0.044, steps[i].is_named));
        painter.setPen(steps[i].is_named ? colours().accent : colours().ink);
        // Below the tread: above it the next riser begins.
        painter.drawText(
            QRectF(at.x() + 2.0 * thick, at.y() + thick, box.right() - at.x(), 0.08 * height()),
            Qt::AlignLeft | Qt::AlignTop, words);
    }
}

void AcrossView::paint_number(QPainter& painter, const QRectF& box) const {
    painter.setFont(sized(0.036));
    painter.setPen(colours().soft);
    const QRectF name(box.left(), box.top(), box.width(), 0.22 * box.height());
    painter.drawText(name, Qt::AlignLeft | Qt::AlignBottom | Qt::TextWordWrap, picture_.drill);
    painter.setFont(sized(0.2, true));
    painter.setPen(picture_.passed.value_or(true) ? colours().ink : colours().accent);
    const QRectF number(box.left(), name.bottom(), box.width(), 0.4 * box.height());
    painter.drawText(
        number, Qt::AlignLeft | Qt::AlignVCenter,
        number_text(picture_.value.value, std::abs(picture_.value.value) < 10 ? 1 : 0));
    painter.setFont(sized(0.036));
    painter.setPen(colours().ink);
    QString wanted = tr("wanted: %1").arg(picture_.band_words);
    if (std::isfinite(picture_.value.u))
        wanted = tr("%1, ± %2").arg(picture_.unit, number_text(2.0 * picture_.value.u, 1)) +
                 QLatin1Char('\n') + wanted;
    if (picture_.passed)
        wanted += QLatin1Char('\n') + (*picture_.passed ? tr("That counts.") : tr("Not yet."));
    else if (!std::isfinite(picture_.value.value))
        wanted += QLatin1Char('\n') + tr("Not measured in this swing.");
    painter.drawText(
        QRectF(box.left(), number.bottom(), box.width(), box.bottom() - number.bottom()),
        Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap, wanted);
}

void AcrossView::paint_last(QPainter& painter, const QRectF& box) const {
    constexpr int kMost = 10;
    const double cell = std::min(box.width() / kMost, 1.25 * box.height());
    double x = box.left();
    for (const BayGlyph& glyph : picture_.last) {
        const QRectF place(x, box.top(), 0.86 * cell, box.height());
        const QRectF stair = place.adjusted(0.0, 0.0, 0.0, -0.28 * place.height());
        painter.save();
        // A practice swing is paler: it does not count.
        painter.setOpacity(glyph.practice ? 0.5 : 1.0);
        if (glyph.measured)
            draw_order_glyph(painter, stair, glyph.sequence, glyph.reading);
        painter.setFont(sized(0.026));
        painter.setPen(colours().soft);
        const QString below = glyph.passed      ? (*glyph.passed ? tr("counts") : tr("not yet"))
                              : glyph.practice  ? tr("practice")
                              : !glyph.measured ? tr("not told")
                                                : QString::number(glyph.number);
        painter.drawText(
            QRectF(place.left(), stair.bottom(), cell, place.bottom() - stair.bottom()),
            Qt::AlignLeft | Qt::AlignBottom, below);
        painter.restore();
        x += cell;
    }
}

} // namespace kite::app
