#pragma once

#include "app/rooms/film/marking.h"

#include <QImage>
#include <QWidget>

#include <functional>
#include <optional>

namespace kite::app {

/// Lines between points, by the part that they show.
struct FilmLine {
    film::Point from;
    film::Point to;
    Segment part;
};
const std::vector<FilmLine>& film_lines();
QString point_name(film::Point point);
QString side_name(film::Side side);

/// One film, upright, with the lines drawn on it. A click puts the point that is asked for, a drag
/// moves one, a loupe shows what is under the pointer; wheel and right button zoom and move.
class FilmView : public QWidget {
    Q_OBJECT
public:
    FilmView(Marking* marking, std::size_t index, QWidget* parent = nullptr);

    void show_picture(const QImage& image, std::size_t picture);
    std::size_t picture() const { return picture_; }
    /// The point that a click puts; empty: clicks put none.
    void ask_for(std::optional<film::Point> point);
    /// The next two clicks give a line instead.
    void ask_for_line(bool asked);
    void cover_face(bool covered);
    bool knows_face() const { return face().has_value(); } ///< so that it can be covered

    /// The cross that keys move, in pixels of the film; and a mark there.
    void move_cross(double right_px, double down_px);
    void mark_cross();

    /// The whole picture with lines in its own size.
    QImage still() const;
    /// Where a place of the film is on the widget.
    QPointF on_widget(const film::Pixel& at) const;

    QSize sizeHint() const override { return {320, 480}; }
    QSize minimumSizeHint() const override { return {140, 200}; }

signals:
    void pressed(); ///< this is the view that is worked on
    void put(kite::film::Point point, const kite::film::Pixel& at, int gesture);
    void released(); ///< what was put by the mouse is put
    void line_drawn(const kite::film::Line& line);
    void step_asked(int pictures);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void leaveEvent(QEvent* event) override;

private:
    film::Pixel size_px() const;
    QRectF target() const; ///< of the whole picture on the widget
    film::Pixel in_film(const QPointF& at) const;
    int gesture() const; ///< of the press that goes on
    std::optional<film::Point> point_at(const QPointF& at) const;
    void paint_marks(QPainter& painter, double scale,
                     const std::function<QPointF(const film::Pixel&)>& place) const;
    void paint_lines_of_view(QPainter& painter) const;
    void paint_loupe(QPainter& painter) const;
    std::optional<QRectF> face() const; ///< in the film
    std::optional<QRectF> face_in(std::size_t picture) const;

    Marking* marking_;
    std::size_t index_;
    QImage image_;
    std::size_t picture_ = 0;
    bool shown_ = false; ///< a picture was asked for and came, be it none
    std::optional<film::Point> asked_;
    bool line_asked_ = false;
    std::optional<film::Pixel> line_from_;
    std::optional<film::Point> held_;
    int gesture_ = 0;
    QPointF pressed_at_;
    bool dragged_ = false;
    std::optional<QPointF> pointer_;
    film::Pixel cross_ = film::Pixel::Zero(); ///< zero: it was not moved yet
    bool cross_shown_ = false;
    bool covered_ = false;
    double zoom_ = 1.0;
    QPointF shift_; ///< of the picture's middle, in pixels of the widget
    std::optional<QPointF> moving_from_;
};

} // namespace kite::app
