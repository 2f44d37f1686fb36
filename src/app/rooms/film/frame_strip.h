#pragma once

#include "app/rooms/film/marking.h"
#include "core/base/range.h"

#include <QWidget>

namespace kite::app {

/// The pictures of a film as a line of time: which are to be marked, which are marked or only
/// followed, the moments, and where the film stands. A click goes there.
class FrameStrip : public QWidget {
    Q_OBJECT
public:
    FrameStrip(Marking* marking, std::size_t index, QWidget* parent = nullptr);
    void set_picture(std::size_t picture);
    std::size_t picture() const { return picture_; } ///< where the film is meant to stand
    QSize sizeHint() const override;

signals:
    void picture_asked(std::size_t picture);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;

private:
    /// What is shown: from a little before address to a little after impact once they are known.
    TimeRange range() const;
    double x_of(double t_s) const;
    void ask(double x);

    Marking* marking_;
    std::size_t index_;
    std::size_t picture_ = 0;
};

} // namespace kite::app
