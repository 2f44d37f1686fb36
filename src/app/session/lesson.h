#pragma once

#include "app/session/folder_watch.h"
#include "app/session/import_subject.h"
#include "app/session/reference.h"
#include "app/session/swing_editor.h"
#include "app/session/swing_list_model.h"

namespace kite::app {

/// The swings that are worked on, and what is done with them whatever they are shown in: changes
/// that can be undone, what lies behind a swing, a folder that is watched.
class Lesson : public QObject {
    Q_OBJECT
public:
    explicit Lesson(QObject* parent = nullptr);

    SwingListModel* swings() { return &swings_; }
    const SwingListModel* swings() const { return &swings_; }
    SwingEditor* editor() { return &editor_; }
    ReferenceKeeper* reference() { return &reference_; }
    const ReferenceKeeper* reference() const { return &reference_; }
    FolderWatch* watch() { return &watch_; }

    /// Appends what the paths hold; the first new row. A lesson list gives the lesson its name.
    int open(const QStringList& paths);
    /// The file of a watched folder has been written again: its swing is read anew, or it is new.
    /// Its row.
    int take_rewritten(const QString& path);

    /// What the user said of files so far; comes back with what of it cannot be used.
    std::vector<Finding> load_tables();
    /// Keeps what the user said of a file, and reads it and those that could not be read again.
    std::vector<Finding> keep_answer(int row, const ImportSubject& subject,
                                     const ImportAnswer& answer);

signals:
    void named(const QString& lesson);

private:
    SwingListModel swings_;
    SwingEditor editor_{&swings_};
    ReferenceKeeper reference_{&swings_};
    FolderWatch watch_;
};

} // namespace kite::app
