#pragma once

#include <QColor>
#include <QIcon>
#include <QPainter>

namespace kite::app {

enum class Icon {
    Play,
    Pause,
    FrameBack,
    FrameForward,
    MomentBack,
    MomentForward,
    Open,
    Theme,
    Close,
    WholeSwing,
    Sort
};

/// Drawn in one colour at any size; no picture files.
QIcon icon(Icon kind, const QColor& colour);

/// The program's own mark: a kite on its hinge.
void draw_mark(QPainter& painter, const QRectF& box, const QColor& ink, const QColor& accent);
QIcon app_icon();

} // namespace kite::app
