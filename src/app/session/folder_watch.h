#pragma once

#include <QMap>
#include <QObject>
#include <QTimer>

#include <utility>

namespace kite::app {

/// Watches a folder for new captures. A file counts as come when its size has stood still from one
/// look to the next, so that none is read while it is still being written. Looks by the clock: file
/// systems of a network send no word.
class FolderWatch : public QObject {
    Q_OBJECT
public:
    explicit FolderWatch(QObject* parent = nullptr);

    /// What is there already is not reported. An empty path ends the watch.
    void watch(const QString& folder);
    QString folder() const { return folder_; }

signals:
    void arrived(const QStringList& files);
    void rewritten(const QString& file); ///< a file that was there holds something else now
    void folder_changed();
    void lost(const QString& folder); ///< it was removed or renamed; the watch has ended

private:
    void look();

    QString folder_;
    QTimer timer_;
    using Stamp = std::pair<qint64, qint64>; ///< size, time of the last change
    QMap<QString, Stamp> known_;
    QMap<QString, Stamp> growing_; ///< seen, as it was at the last look
};

} // namespace kite::app
