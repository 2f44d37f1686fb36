#include "app/session/folder_watch.h"

#include "app/session/swing_loader.h"

#include <QDateTime>
#include <QDir>
#include <QFileInfo>

namespace kite::app {

namespace {

constexpr int kLook_ms = 400;

QFileInfoList files_of(const QString& folder) {
    return QDir(folder).entryInfoList(capture_patterns(), QDir::Files | QDir::Readable, QDir::Name);
}

/// Size and time of the last change: a capture written again under its old name differs in one.
std::pair<qint64, qint64> stamp_of(const QFileInfo& file) {
    return {file.size(), file.lastModified().toMSecsSinceEpoch()};
}

} // namespace

FolderWatch::FolderWatch(QObject* parent) : QObject(parent) {
    timer_.setInterval(kLook_ms);
    connect(&timer_, &QTimer::timeout, this, &FolderWatch::look);
}

void FolderWatch::watch(const QString& folder) {
    known_.clear();
    growing_.clear();
    folder_ = folder;
    if (folder_.isEmpty()) {
        timer_.stop();
    } else {
        for (const QFileInfo& file : files_of(folder_))
            known_.insert(file.absoluteFilePath(), stamp_of(file));
        timer_.start();
    }
    emit folder_changed();
}

void FolderWatch::look() {
    if (!QFileInfo(folder_).isDir()) {
        const QString gone = folder_;
        watch({});
        emit lost(gone);
        return;
    }
    QStringList come;
    QStringList anew;
    QMap<QString, Stamp> growing;
    for (const QFileInfo& file : files_of(folder_)) {
        const QString path = file.absoluteFilePath();
        const Stamp now = stamp_of(file);
        const auto known = known_.constFind(path);
        if (known != known_.constEnd() && *known == now)
            continue;
        // Whole once it no longer changes from one look to the next.
        const auto before = growing_.constFind(path);
        if (before != growing_.constEnd() && *before == now && now.first > 0) {
            (known == known_.constEnd() ? come : anew) << path;
            known_.insert(path, now);
        } else {
            growing.insert(path, now);
        }
    }
    growing_ = growing;
    if (!come.isEmpty())
        emit arrived(come);
    for (const QString& path : anew)
        emit rewritten(path);
}

} // namespace kite::app
