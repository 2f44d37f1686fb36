#include "app/rooms/film/frame_strip.h"

#include "app/theme/text.h"
#include "app/theme/theme.h"

#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace kite::app {

FrameStrip::FrameStrip(Marking* marking, std::size_t index, QWidget* parent)
    : QWidget(parent), marking_(marking), index_(index) {
    setObjectName(QStringLiteral("frames_%1").arg(index));
    setAccessibleName(tr("Pictures of the film"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    connect(marking, &Marking::changed, this, qOverload<>(&QWidget::update));
}

QSize FrameStrip::sizeHint() const {
    return {200, Theme::instance().scaled(40)};
}

void FrameStrip::set_picture(std::size_t picture) {
    picture_ = picture;
    update();
}

TimeRange FrameStrip::range() const {
    const std::vector<double>& times = marking_->times_s(index_);
    if (times.empty())
        return {0.0, 1.0};
    TimeRange out{times.front(), std::max(times.back(), times.front() + 0.01)};
    const auto& moments = marking_->view(index_).moments_s;
    const auto impact = moments.find(Moment::Impact);
    const auto address = moments.find(Moment::Address);
    if (impact != moments.end() && address != moments.end() && address->second < impact->second) {
        out.begin_s = std::max(out.begin_s, address->second - 0.2);
        out.end_s = std::min(out.end_s, impact->second + 0.3);
    }
    return out;
}

double FrameStrip::x_of(double t_s) const {
    const TimeRange shown = range();
    return 6.0 + (t_s - shown.begin_s) / (shown.end_s - shown.begin_s) * (width() - 12.0);
}

void FrameStrip::ask(double x) {
    const std::vector<double>& times = marking_->times_s(index_);
    if (times.empty())
        return;
    const TimeRange shown = range();
    const double t_s = shown.begin_s + (x - 6.0) / (width() - 12.0) * (shown.end_s - shown.begin_s);
    emit picture_asked(film::nearest_picture(times, t_s));
}

void FrameStrip::mousePressEvent(QMouseEvent* event) {
    ask(event->position().x());
}

void FrameStrip::mouseMoveEvent(QMouseEvent* event) {
    if ((event->buttons() & Qt::LeftButton) != 0)
        ask(event->position().x());
}

void FrameStrip::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Theme& theme = Theme::instance();
    const Colours& c = colours();
    const double base = height() - theme.scaled(10);
    painter.setPen(QPen(c.line, 1.0));
    painter.drawLine(QPointF(6.0, base), QPointF(width() - 6.0, base));
    const std::vector<double>& times = marking_->times_s(index_);
    if (times.empty())
        return;
    const double tall = theme.scaled(10);
    for (const std::size_t picture : marking_->plan(index_).pictures) {
        const double x = x_of(times[picture]);
        // To be marked: a low tick; followed: a hollow one; marked: a full one.
        const bool marked = marking_->is_marked(index_, picture);
        const bool guessed = marking_->is_guessed(index_, picture);
        painter.setPen(QPen(marked && !guessed ? c.ink : c.soft, marked ? 2.0 : 1.0,
                            guessed ? Qt::DotLine : Qt::SolidLine));
        painter.drawLine(QPointF(x, base),
                         QPointF(x, base - (marked || guessed ? tall : 0.4 * tall)));
    }
    painter.setFont(theme.font(11));
    for (const auto& [moment, t_s] : marking_->view(index_).moments_s) {
        const double x = x_of(t_s);
        painter.setPen(QPen(c.ink, 1.0));
        painter.drawLine(QPointF(x, theme.scaled(13)), QPointF(x, base + 3.0));
        const QString name = moment_name(moment);
        const double wide = painter.fontMetrics().horizontalAdvance(name);
        painter.drawText(
            QPointF(std::clamp(x - 0.5 * wide, 2.0, width() - wide - 2.0), theme.scaled(10)), name);
    }
    if (picture_ < times.size()) {
        const double x = x_of(times[picture_]);
        painter.setPen(QPen(c.accent, 1.6));
        painter.drawLine(QPointF(x, theme.scaled(12)), QPointF(x, height() - 1.0));
    }
}

} // namespace kite::app
