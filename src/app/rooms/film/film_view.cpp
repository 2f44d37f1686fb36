#include "app/rooms/film/film_view.h"

#include "app/theme/text.h"
#include "app/theme/theme.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace kite::app {

using film::Pixel;
using film::Point;

namespace {

constexpr double kMostZoom = 12.0;
constexpr double kGrab_px = 9.0; ///< on the widget, to take hold of a point
constexpr double kLoupe_px = 150.0;
constexpr double kLoupeTimes = 3.0;

QPointF point_of(const Pixel& p) {
    return {p.x(), p.y()};
}

} // namespace

const std::vector<FilmLine>& film_lines() {
    static const std::vector<FilmLine> lines{
        {Point::BeltTrail, Point::BeltLead, Segment::Pelvis},
        {Point::ShoulderTrail, Point::ShoulderLead, Segment::Torso},
        {Point::LeadShoulder, Point::Wrist, Segment::LeadArm},
        {Point::Grip, Point::ClubHead, Segment::Club},
        {Point::LeadKnee, Point::LeadAnkle, Segment::Pelvis},
        {Point::TrailKnee, Point::TrailAnkle, Segment::Pelvis}};
    return lines;
}

QString point_name(Point point) {
    switch (point) {
    case Point::BeltLead:
        return FilmView::tr("lead end of the belt stick");
    case Point::BeltTrail:
        return FilmView::tr("trail end of the belt stick");
    case Point::ShoulderLead:
        return FilmView::tr("lead end of the shoulder stick");
    case Point::ShoulderTrail:
        return FilmView::tr("trail end of the shoulder stick");
    case Point::LeadShoulder:
        return FilmView::tr("lead shoulder");
    case Point::Wrist:
        return FilmView::tr("lead wrist");
    case Point::Grip:
        return FilmView::tr("grip end of the club");
    case Point::ClubHead:
        return FilmView::tr("club head");
    case Point::LeadKnee:
        return FilmView::tr("lead knee");
    case Point::LeadAnkle:
        return FilmView::tr("lead ankle");
    case Point::TrailKnee:
        return FilmView::tr("trail knee");
    case Point::TrailAnkle:
        return FilmView::tr("trail ankle");
    case Point::Head:
        return FilmView::tr("middle of the head");
    }
    return {};
}

QString side_name(film::Side side) {
    switch (side) {
    case film::Side::FaceOn:
        return FilmView::tr("Face-on");
    case film::Side::DownTheLine:
        return FilmView::tr("Down the line");
    case film::Side::Above:
        return FilmView::tr("From above");
    }
    return {};
}

FilmView::FilmView(Marking* marking, std::size_t index, QWidget* parent)
    : QWidget(parent), marking_(marking), index_(index) {
    setObjectName(QStringLiteral("film_%1").arg(index));
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Film with the marked lines"));
    connect(marking, &Marking::changed, this, qOverload<>(&QWidget::update));
}

Pixel FilmView::size_px() const {
    const Pixel& told = marking_->view(index_).size_px;
    if (told.x() > 0.0 && told.y() > 0.0)
        return told;
    return image_.isNull() ? Pixel(9.0, 16.0) : Pixel(image_.width(), image_.height());
}

QRectF FilmView::target() const {
    const Pixel size = size_px();
    const double scale = zoom_ * std::min(width() / size.x(), height() / size.y());
    const QSizeF shown(scale * size.x(), scale * size.y());
    const QPointF middle = QPointF(0.5 * width(), 0.5 * height()) + shift_;
    return {middle.x() - 0.5 * shown.width(), middle.y() - 0.5 * shown.height(), shown.width(),
            shown.height()};
}

QPointF FilmView::on_widget(const Pixel& at) const {
    const QRectF to = target();
    const Pixel size = size_px();
    return {to.left() + at.x() / size.x() * to.width(), to.top() + at.y() / size.y() * to.height()};
}

Pixel FilmView::in_film(const QPointF& at) const {
    const QRectF to = target();
    const Pixel size = size_px();
    return {(at.x() - to.left()) / to.width() * size.x(),
            (at.y() - to.top()) / to.height() * size.y()};
}

void FilmView::show_picture(const QImage& image, std::size_t picture) {
    image_ = image;
    picture_ = picture;
    shown_ = true;
    update();
}

void FilmView::ask_for(std::optional<Point> point) {
    asked_ = point;
    setCursor(point || line_asked_ ? Qt::CrossCursor : Qt::ArrowCursor);
    update();
}

void FilmView::ask_for_line(bool asked) {
    line_asked_ = asked;
    line_from_.reset();
    ask_for(asked_);
}

void FilmView::cover_face(bool covered) {
    covered_ = covered;
    update();
}

void FilmView::move_cross(double right_px, double down_px) {
    const Pixel size = size_px();
    if (!cross_shown_ && cross_.isZero()) {
        // It begins where the asked point was last.
        cross_ = 0.5 * size;
        for (std::size_t back = 1; asked_ && back < 12 && back <= picture_; ++back)
            if (const auto seen = marking_->seen(index_, picture_ - back, *asked_); seen.at) {
                cross_ = *seen.at;
                break;
            }
    }
    cross_shown_ = true;
    cross_ = (cross_ + Pixel(right_px, down_px)).cwiseMax(Pixel::Zero()).cwiseMin(size);
    pointer_ = on_widget(cross_);
    update();
}

void FilmView::mark_cross() {
    if (!asked_ || !cross_shown_)
        return;
    emit put(*asked_, cross_, 0);
    emit released();
}

std::optional<Point> FilmView::point_at(const QPointF& at) const {
    std::optional<Point> out;
    double nearest = kGrab_px;
    for (std::size_t p = 0; p < film::kPoints; ++p) {
        const auto seen = marking_->seen(index_, picture_, static_cast<Point>(p));
        if (!seen.at)
            continue;
        const QPointF apart = on_widget(*seen.at) - at;
        const double distance = std::hypot(apart.x(), apart.y());
        if (distance < nearest) {
            nearest = distance;
            out = static_cast<Point>(p);
        }
    }
    return out;
}

void FilmView::mousePressEvent(QMouseEvent* event) {
    emit pressed();
    if (event->button() == Qt::RightButton || event->button() == Qt::MiddleButton) {
        moving_from_ = event->position() - shift_;
        return;
    }
    if (event->button() != Qt::LeftButton)
        return;
    const Pixel at = in_film(event->position());
    if (line_asked_) {
        if (!line_from_) {
            line_from_ = at;
            update();
            return;
        }
        const film::Line line{*line_from_, at};
        ask_for_line(false);
        emit line_drawn(line);
        return;
    }
    ++gesture_;
    held_ = point_at(event->position());
    pressed_at_ = event->position();
    dragged_ = false;
    // Where another point lies a click still puts the one that is asked for; a drag moves that one.
    if (!held_ && asked_) {
        held_ = asked_;
        dragged_ = true;
        emit put(*held_, at, gesture());
    }
}

int FilmView::gesture() const {
    return 10000 * static_cast<int>(index_ + 1) + gesture_;
}

void FilmView::mouseMoveEvent(QMouseEvent* event) {
    constexpr double kBegins_px = 4.0;
    pointer_ = event->position();
    cross_shown_ = false;
    if (moving_from_) {
        shift_ = event->position() - *moving_from_;
    } else if (held_ && (event->buttons() & Qt::LeftButton) != 0) {
        dragged_ = dragged_ || QLineF(pressed_at_, event->position()).length() > kBegins_px;
        if (dragged_)
            emit put(*held_, in_film(event->position()), gesture());
    }
    update();
}

void FilmView::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton && held_ && !dragged_ && asked_)
        emit put(*asked_, in_film(pressed_at_), gesture());
    const bool put_one = held_.has_value();
    held_.reset();
    moving_from_.reset();
    if (put_one)
        emit released();
}

void FilmView::mouseDoubleClickEvent(QMouseEvent* event) {
    if (event->button() == Qt::RightButton) {
        zoom_ = 1.0;
        shift_ = {};
        update();
        return;
    }
    mousePressEvent(event); // quick marking is not a double click
}

void FilmView::wheelEvent(QWheelEvent* event) {
    const double turns = event->angleDelta().y() / 120.0;
    if ((event->modifiers() & Qt::ControlModifier) == 0) {
        emit step_asked(turns > 0.0 ? -1 : 1);
        return;
    }
    const Pixel under = in_film(event->position());
    zoom_ = std::clamp(zoom_ * std::pow(1.25, turns), 1.0, kMostZoom);
    if (zoom_ <= 1.0)
        shift_ = {};
    else
        shift_ += event->position() - on_widget(under);
    update();
}

void FilmView::leaveEvent(QEvent* /*event*/) {
    if (!cross_shown_)
        pointer_.reset();
    update();
}

std::optional<QRectF> FilmView::face() const {
    // Where nothing is marked the face is about where it was in the nearest picture that is.
    const std::size_t pictures = marking_->times_s(index_).size();
    for (std::size_t off = 0; off < pictures; ++off)
        for (const bool back : {true, false}) {
            if (back ? off > picture_ : picture_ + off >= pictures)
                continue;
            if (const auto found = face_in(back ? picture_ - off : picture_ + off)) {
                const double more = std::min(1.0, 0.04 * static_cast<double>(off)) * found->width();
                return found->adjusted(-0.5 * more, -0.5 * more, 0.5 * more, 0.5 * more);
            }
        }
    return std::nullopt;
}

std::optional<QRectF> FilmView::face_in(std::size_t picture) const {
    const auto at = [&](Point point) { return marking_->seen(index_, picture, point).at; };
    const auto lead = at(Point::ShoulderLead);
    const auto trail = at(Point::ShoulderTrail);
    const auto head = at(Point::Head);
    const auto round = [](const Pixel& middle, double radius) {
        return QRectF(middle.x() - radius, middle.y() - radius, 2.0 * radius, 2.0 * radius);
    };
    const double usual = 0.05 * size_px().y();
    const auto belt_lead = at(Point::BeltLead);
    const auto belt_trail = at(Point::BeltTrail);
    if (lead && trail && belt_lead && belt_trail) {
        // A head stands as far over the shoulders as half a trunk is long.
        const Pixel shoulders = 0.5 * (*lead + *trail);
        const Pixel trunk = shoulders - 0.5 * (*belt_lead + *belt_trail);
        const double radius = std::max(0.5 * usual, 0.6 * trunk.norm());
        return round(head ? *head : Pixel(shoulders + 0.6 * trunk), radius);
    }
    if (head)
        return round(*head, usual);
    return std::nullopt;
}

void FilmView::paint_marks(QPainter& painter, double scale,
                           const std::function<QPointF(const Pixel&)>& place) const {
    const Colours& c = colours_of(ThemeKind::Dark); // film is dark, whatever the window is
    const auto seen = [&](Point point) { return marking_->seen(index_, picture_, point); };
    for (const FilmLine& line : film_lines()) {
        const auto from = seen(line.from);
        const auto to = seen(line.to);
        if (!from.at || !to.at)
            continue;
        const bool guessed = from.guessed || to.guessed;
        painter.setPen(QPen(QColor(0, 0, 0, 120), 4.5 * scale, Qt::SolidLine, Qt::RoundCap));
        painter.drawLine(place(*from.at), place(*to.at));
        painter.setPen(QPen(c.of(line.part), 2.2 * scale, guessed ? Qt::DotLine : Qt::SolidLine,
                            Qt::RoundCap));
        painter.drawLine(place(*from.at), place(*to.at));
    }
    for (std::size_t p = 0; p < film::kPoints; ++p) {
        const auto point = static_cast<Point>(p);
        const auto one = seen(point);
        if (!one.at)
            continue;
        QColor ink = c.ink;
        for (const FilmLine& line : film_lines())
            if (line.from == point || line.to == point)
                ink = c.of(line.part);
        const double radius = 3.6 * scale;
        painter.setPen(QPen(one.guessed ? ink : QColor(0, 0, 0, 160), 1.4 * scale));
        painter.setBrush(one.guessed ? QBrush(Qt::NoBrush) : QBrush(ink));
        painter.drawEllipse(place(*one.at), radius, radius);
    }
}

void FilmView::paint_lines_of_view(QPainter& painter) const {
    const film::View& view = marking_->view(index_);
    const Colours& c = colours_of(ThemeKind::Dark);
    const auto draw = [&](const std::optional<film::Line>& line, const QString& name) {
        if (!line)
            return;
        painter.setPen(QPen(c.soft, 1.2, Qt::DashLine));
        painter.drawLine(on_widget(line->from), on_widget(line->to));
        painter.setFont(Theme::instance().font(11));
        painter.drawText(on_widget(line->to) + QPointF(5.0, -4.0), name);
    };
    draw(view.plumb_px, tr("upright"));
    draw(view.target_line_px, tr("target line"));
    draw(view.scale_px, tr("%1 m").arg(number_text(view.scale_m, 2)));
    if (line_from_ && pointer_) {
        painter.setPen(QPen(c.accent, 1.4));
        painter.drawLine(on_widget(*line_from_), *pointer_);
    }
}

void FilmView::paint_loupe(QPainter& painter) const {
    if (!pointer_ || image_.isNull() || !(asked_ || line_asked_ || held_))
        return;
    const Pixel at = in_film(*pointer_);
    const Pixel size = size_px();
    if ((at.array() < 0.0).any() || (at.array() > size.array()).any())
        return;
    const double side = Theme::instance().scaled(kLoupe_px);
    // Beside the pointer, on the side where there is room.
    QPointF middle = *pointer_ + QPointF(0.75 * side, -0.75 * side);
    if (middle.x() + 0.5 * side > width())
        middle.setX(pointer_->x() - 0.75 * side);
    if (middle.y() - 0.5 * side < 0.0)
        middle.setY(pointer_->y() + 0.75 * side);
    const QRectF round(middle.x() - 0.5 * side, middle.y() - 0.5 * side, side, side);
    const double shown = target().width() / size.x();
    const double reach = 0.5 * side / (kLoupeTimes * std::max(shown, 1.0 / kLoupeTimes));
    painter.save();
    QPainterPath edge;
    edge.addEllipse(round);
    painter.setClipPath(edge);
    painter.fillRect(round, Qt::black);
    painter.drawImage(round, image_,
                      QRectF(at.x() - reach, at.y() - reach, 2.0 * reach, 2.0 * reach));
    painter.setPen(QPen(QColor(255, 255, 255, 200), 1.0));
    painter.drawLine(QPointF(middle.x() - 12.0, middle.y()), QPointF(middle.x() - 3.0, middle.y()));
    painter.drawLine(QPointF(middle.x() + 3.0, middle.y()), QPointF(middle.x() + 12.0, middle.y()));
    painter.drawLine(QPointF(middle.x(), middle.y() - 12.0), QPointF(middle.x(), middle.y() - 3.0));
    painter.drawLine(QPointF(middle.x(), middle.y() + 3.0), QPointF(middle.x(), middle.y() + 12.0));
    painter.setClipping(false);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(colours().line, 1.5));
    painter.drawEllipse(round);
    painter.restore();
}

void FilmView::paintEvent(QPaintEvent* /*event*/) {
    QPainter painter(this);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    painter.fillRect(rect(), QColor(0x15, 0x17, 0x1B));
    const QRectF to = target();
    if (image_.isNull()) {
        painter.setPen(QPen(colours_of(ThemeKind::Dark).line, 1.0));
        painter.drawRect(to);
        if (marking_->has_film(index_) && shown_) {
            painter.setFont(Theme::instance().font(13));
            painter.setPen(colours_of(ThemeKind::Dark).ink);
            painter.drawText(to, Qt::AlignCenter | Qt::TextWordWrap,
                             tr("This picture cannot be shown: the film is damaged here."));
        }
    } else {
        painter.drawImage(to, image_);
    }
    if (covered_)
        if (const auto round = face()) {
            const QPointF a = on_widget({round->left(), round->top()});
            const QPointF b = on_widget({round->right(), round->bottom()});
            painter.setPen(Qt::NoPen);
            painter.setBrush(QColor(0x2A, 0x2E, 0x35));
            painter.drawEllipse(QRectF(a, b));
        }
    paint_lines_of_view(painter);
    paint_marks(painter, 1.0, [this](const Pixel& at) { return on_widget(at); });
    paint_loupe(painter);
    if (cross_shown_) {
        painter.setPen(QPen(colours_of(ThemeKind::Dark).accent, 1.2));
        const QPointF at = on_widget(cross_);
        painter.drawLine(at - QPointF(9.0, 0.0), at + QPointF(9.0, 0.0));
        painter.drawLine(at - QPointF(0.0, 9.0), at + QPointF(0.0, 9.0));
    }
    if (hasFocus()) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(colours().accent, 1.5));
        painter.drawRect(QRectF(rect()).adjusted(0.75, 0.75, -0.75, -0.75));
    }
}

QImage FilmView::still() const {
    const Pixel size = size_px();
    QImage out(static_cast<int>(size.x()), static_cast<int>(size.y()), QImage::Format_RGB32);
    out.fill(QColor(0x15, 0x17, 0x1B));
    QPainter painter(&out);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!image_.isNull())
        painter.drawImage(QRectF(0.0, 0.0, size.x(), size.y()), image_);
    if (covered_)
        if (const auto round = face()) {
            painter.setPen(Qt::NoPen);
            painter.setBrush(QColor(0x2A, 0x2E, 0x35));
            painter.drawEllipse(*round);
        }
    paint_marks(painter, std::max(1.0, size.y() / 700.0), point_of);
    return out;
}

} // namespace kite::app
