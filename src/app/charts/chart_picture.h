#pragma once

#include <QPixmap>
#include <QString>

class QWidget;

namespace kite::app {

/// A chart, or a widget full of charts, as it stands on screen, at twice the screen's resolution.
QPixmap picture_of(QWidget* charts);

/// The same as a file: SVG (lines and text) by its extension, else PNG. False: it could not be
/// written.
bool save_picture(QWidget* charts, const QString& path);

} // namespace kite::app
