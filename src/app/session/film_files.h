#pragma once

#include <QString>

#include <string>

namespace kite::app {

/// A film file or a folder of numbered pictures, as its name tells; marks in film are swings.
bool is_film(const QString& path);
/// "NAME.film.json".
bool is_marks_name(const QString& path);
/// Where the marks of a film are kept: beside it.
QString marks_beside(const QString& film);

/// The film that marks name. Marks may come from anybody and name any file of this machine: only a
/// film beside the marks is taken, or one that the user opened or agreed to (allow_film).
struct NamedFilm {
    QString path;      ///< empty: not to be opened
    QString elsewhere; ///< what is named instead, a film that is there: to be asked about
};
NamedFilm film_named(const QString& marks, const std::string& name);
void allow_film(const QString& path);

} // namespace kite::app
