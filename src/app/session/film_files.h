#pragma once

#include <QString>

namespace kite::app {

/// A film file or a folder of numbered pictures, as its name tells; marks in film are swings.
bool is_film(const QString& path);
/// "NAME.film.json".
bool is_marks_name(const QString& path);
/// Where the marks of a film are kept: beside it.
QString marks_beside(const QString& film);

} // namespace kite::app
