#include "app/session/film_files.h"

#include "film/film.h"

#include <QDir>
#include <QFileInfo>
#include <QSettings>

namespace kite::app {

namespace {
const QLatin1String kEnding(".film.json");
const QLatin1String kAllowed("film/elsewhere");
} // namespace

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

NamedFilm film_named(const QString& marks, const std::string& name) {
    const QString said = QString::fromStdString(name);
    if (said.isEmpty())
        return {};
    const QDir folder = QFileInfo(marks).dir();
    const QString path = QDir::cleanPath(folder.absoluteFilePath(said));
    // A name alone, without a way to somewhere else.
    const bool is_beside = QFileInfo(said).fileName() == said && said != QLatin1String(".") &&
                           said != QLatin1String("..") && !said.contains(QLatin1Char('\\'));
    if (is_beside)
        return {path, {}};
    if (!is_film(path))
        return {};
    if (QSettings().value(kAllowed).toStringList().contains(path))
        return {path, {}};
    return {{}, path};
}

void allow_film(const QString& path) {
    constexpr int kMost = 200;
    QSettings settings;
    QStringList allowed = settings.value(kAllowed).toStringList();
    const QString clean = QDir::cleanPath(path);
    allowed.removeAll(clean);
    allowed.prepend(clean);
    settings.setValue(kAllowed, QStringList(allowed.mid(0, kMost)));
}

} // namespace kite::app
