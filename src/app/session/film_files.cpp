#include "app/session/film_files.h"

#include "film/film.h"

#include <QDir>
#include <QFileInfo>

namespace kite::app {

namespace {
const QLatin1String kEnding(".film.json");
}

bool is_film(const QString& path) {
    const std::filesystem::path file = path.toStdString();
    return film::is_film_name(file) || film::is_picture_folder(file);
}

bool is_marks_name(const QString& path) {
    return path.endsWith(kEnding, Qt::CaseInsensitive);
}

QString marks_beside(const QString& film) {
    const QFileInfo info(film);
    return info.dir().absoluteFilePath(info.completeBaseName() + kEnding);
}

} // namespace kite::app
