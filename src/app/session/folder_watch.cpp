#include "app/session/folder_watch.h"

#include "app/session/swing_loader.h"

#include <QDir>
#include <QFileInfo>

namespace kite::app {

namespace {

constexpr int kLook_ms = 400;

QFileInfoList files_of(const QString& folder) {
    return QDir(folder).entryInfoList(capture_patterns(), QDir::Files | QDir::Readable, QDir::Name);
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
            known_.insert(file.absoluteFilePath());
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
    QMap<QString, qint64> growing;
    for (const QFileInfo& file : files_of(folder_)) {
        const QString path = file.absoluteFilePath();
        if (known_.contains(path))
            continue;
        const auto before = growing_.constFind(path);
        if (before != growing_.constEnd() && *before == file.size() && file.size() > 0) {
            known_.insert(path);
            come << path;
        } else {
            growing.insert(path, file.size());
        }
    }
    growing_ = growing;
    if (!come.isEmpty())
        emit arrived(come);
}

} // namespace kite::app
