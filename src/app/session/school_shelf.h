#pragma once

#include "core/base/findings.h"
#include "core/reading/rules.h"

#include <QObject>
#include <QString>
#include <QUndoStack>

#include <functional>
#include <string>
#include <vector>

namespace kite::app {

/// All schools there are: those that ship, and the user's own, each a file. Every change of an own
/// one can be undone and is in its file at once.
class SchoolShelf : public QObject {
    Q_OBJECT
public:
    struct Entry {
        QString source; ///< what Desk::read_by takes: an id, or the path of an own one
        QString name;
        bool own = false;
        School school;                 ///< empty where it cannot be used
        std::vector<Finding> findings; ///< why it cannot
    };

    explicit SchoolShelf(QObject* parent = nullptr);

    const std::vector<Entry>& entries() const { return entries_; }
    const Entry* find(const QString& source) const;
    QUndoStack* history() { return &history_; }

    void load(); ///< the user's own, from their folder
    static QString folder();

    /// A copy as an own school; its source, or why there is none.
    std::vector<Finding> copy(const QString& source, const QString& name, QString& made);
    std::vector<Finding> import_file(const QString& file, QString& made);
    std::vector<Finding> export_file(const QString& source, const QString& file) const;
    /// Changes the file of an own school; what would not be a school any more changes nothing.
    std::vector<Finding> change(const QString& source, const QString& what,
                                const std::function<std::string(const std::string&)>& edit);

signals:
    void changed(const QString& source);

private:
    std::string bytes_of(const QString& source, std::vector<Finding>& findings) const;
    std::vector<Finding> put(const QString& source, const std::string& bytes);
    QString free_file(const QString& name) const;

    std::vector<Entry> entries_;
    QUndoStack history_;
};

} // namespace kite::app
