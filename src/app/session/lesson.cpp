#include "app/session/lesson.h"

#include "formats/mapping/column_mapping.h"
#include "formats/mapping/user_tables.h"
#include "formats/names/name_table.h"

namespace kite::app {

Lesson::Lesson(QObject* parent) : QObject(parent) {}

int Lesson::open(const QStringList& paths) {
    QString name;
    const int first = swings_.open(expand_paths(paths, &name));
    if (!name.isEmpty())
        emit named(name);
    return first;
}

int Lesson::take_rewritten(const QString& path) {
    const int row = swings_.row_of_file(path);
    if (row < 0)
        return open({path});
    swings_.take_rewritten(row);
    return row;
}

std::vector<Finding> Lesson::load_tables() {
    auto read = formats::read_options_of_user();
    swings_.set_read_options(std::move(read.value));
    return std::move(read.findings);
}

std::vector<Finding> Lesson::keep_answer(int row, const ImportSubject& subject,
                                         const ImportAnswer& answer) {
    std::vector<Finding> findings;
    if (subject.kind == ImportSubject::Kind::Columns) {
        const auto path = formats::MappingStore::user_path();
        auto store = formats::MappingStore::load(path);
        findings = store.findings;
        if (findings.empty()) {
            store.value.put(answer.mapping);
            findings = store.value.save(path);
        }
    } else if (!answer.markers.empty()) {
        findings =
            formats::NameTable::add_user_markers(formats::NameTable::user_path(), answer.markers);
    }
    const auto unused = load_tables();
    findings.insert(findings.end(), unused.begin(), unused.end());
    for (int other = 0; other < swings_.rowCount(); ++other) {
        // What could not be read before may be of the same kind.
        if (other == row)
            swings_.read_again(other, answer.axes);
        else if (swings_.state(other) == SwingListModel::State::Failed)
            swings_.read_again(other, swings_.request(other).axes);
    }
    return findings;
}

} // namespace kite::app
