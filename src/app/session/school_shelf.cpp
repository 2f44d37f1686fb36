#include "app/session/school_shelf.h"

#include "app/theme/text.h"
#include "formats/rules/rules_json.h"
#include "formats/rules/school_edit.h"
#include "formats/text/bytes.h"

#include <QDir>
#include <QFileInfo>
#include <QRegularExpression>
#include <QSettings>
#include <QUndoCommand>

#include <algorithm>
#include <utility>

namespace kite::app {

namespace {

class SchoolChange : public QUndoCommand {
public:
    SchoolChange(std::function<void(const std::string&)> put, std::string before, std::string after,
                 const QString& what)
        : QUndoCommand(what), put_(std::move(put)), before_(std::move(before)),
          after_(std::move(after)) {}
    void undo() override { put_(before_); }
    void redo() override {
        // The first time it is done already.
        if (std::exchange(done_, false))
            return;
        put_(after_);
    }

private:
    std::function<void(const std::string&)> put_;
    std::string before_;
    std::string after_;
    bool done_ = true;
};

} // namespace

SchoolShelf::SchoolShelf(QObject* parent) : QObject(parent) {
    for (const School& school : formats::shipped_schools())
        entries_.push_back({QString::fromStdString(school.id),
                            QString::fromStdString(school.name),
                            false,
                            school,
                            {}});
}

QString SchoolShelf::folder() {
    return QFileInfo(QSettings().fileName()).dir().filePath(QStringLiteral("schools"));
}

const SchoolShelf::Entry* SchoolShelf::find(const QString& source) const {
    const auto found = std::find_if(entries_.begin(), entries_.end(),
                                    [&](const Entry& entry) { return entry.source == source; });
    return found == entries_.end() ? nullptr : &*found;
}

void SchoolShelf::load() {
    entries_.erase(std::remove_if(entries_.begin(), entries_.end(),
                                  [](const Entry& entry) { return entry.own; }),
                   entries_.end());
    const QDir dir(folder());
    for (const QString& name : dir.entryList({QStringLiteral("*.json")}, QDir::Files, QDir::Name)) {
        Entry entry;
        entry.source = dir.filePath(name);
        entry.own = true;
        const auto bytes = formats::read_bytes(path_of(entry.source));
        entry.findings = bytes.findings;
        if (bytes.ok()) {
            auto read = formats::parse_school(bytes.value, formats::shipped_rule_book());
            entry.findings.insert(entry.findings.end(), read.findings.begin(), read.findings.end());
            entry.school = std::move(read.value);
        }
        entry.name = entry.school.name.empty() ? QFileInfo(name).completeBaseName()
                                               : QString::fromStdString(entry.school.name);
        entries_.push_back(std::move(entry));
    }
    emit changed({});
}

std::string SchoolShelf::bytes_of(const QString& source, std::vector<Finding>& findings) const {
    const Entry* entry = find(source);
    if (entry != nullptr && !entry->own)
        return std::string(formats::shipped_school_file(source.toStdString()));
    auto bytes = formats::read_bytes(path_of(source));
    findings = std::move(bytes.findings);
    return std::move(bytes.value);
}

QString SchoolShelf::free_file(const QString& name) const {
    QString stem = name.toLower();
    stem.replace(QRegularExpression(QStringLiteral("[^a-z0-9]+")), QStringLiteral("-"));
    if (stem.isEmpty() || stem == QLatin1String("-"))
        stem = QStringLiteral("school");
    QString file = QDir(folder()).filePath(stem + QStringLiteral(".json"));
    for (int i = 2; QFileInfo::exists(file); ++i)
        file = QDir(folder()).filePath(QStringLiteral("%1-%2.json").arg(stem).arg(i));
    return file;
}

std::vector<Finding> SchoolShelf::copy(const QString& source, const QString& name, QString& made) {
    std::vector<Finding> findings;
    const std::string bytes = bytes_of(source, findings);
    if (has_errors(findings))
        return findings;
    QDir().mkpath(folder());
    const QString file = free_file(name);
    findings = formats::write_bytes(
        path_of(file),
        formats::copy_of_school(bytes, QFileInfo(file).completeBaseName().toStdString(),
                                name.toStdString()));
    if (findings.empty()) {
        made = file;
        load();
    }
    return findings;
}

std::vector<Finding> SchoolShelf::import_file(const QString& file, QString& made) {
    const auto bytes = formats::read_bytes(path_of(file));
    if (!bytes.ok())
        return bytes.findings;
    const auto read = formats::parse_school(bytes.value, formats::shipped_rule_book());
    if (!read.ok())
        return read.findings;
    QDir().mkpath(folder());
    const QString to = free_file(QString::fromStdString(read.value.name));
    auto findings = formats::write_bytes(path_of(to), bytes.value);
    if (findings.empty()) {
        made = to;
        load();
    }
    return findings;
}

std::vector<Finding> SchoolShelf::export_file(const QString& source, const QString& file) const {
    std::vector<Finding> findings;
    const std::string bytes = bytes_of(source, findings);
    return has_errors(findings) ? findings : formats::write_bytes(path_of(file), bytes);
}

std::vector<Finding> SchoolShelf::put(const QString& source, const std::string& bytes) {
    auto findings = formats::write_bytes(path_of(source), bytes);
    if (!findings.empty())
        return findings;
    auto read = formats::parse_school(bytes, formats::shipped_rule_book());
    for (Entry& entry : entries_)
        if (entry.source == source && read.ok()) {
            entry.school = std::move(read.value);
            entry.name = QString::fromStdString(entry.school.name);
            entry.findings.clear();
        }
    emit changed(source);
    return {};
}

std::vector<Finding>
SchoolShelf::change(const QString& source, const QString& what,
                    const std::function<std::string(const std::string&)>& edit) {
    std::vector<Finding> findings;
    const std::string before = bytes_of(source, findings);
    if (has_errors(findings))
        return findings;
    const std::string after = edit(before);
    if (after == before)
        return {};
    const auto read = formats::parse_school(after, formats::shipped_rule_book());
    if (!read.ok())
        return read.findings;
    if (auto problems = put(source, after); !problems.empty())
        return problems;
    history_.push(new SchoolChange([this, source](const std::string& bytes) { put(source, bytes); },
                                   before, after, what));
    return {};
}

} // namespace kite::app
