#include "store/backups.h"
#include "store/packing.h"
#include "store/work.h"

#include <QDateTime>

#include <cstdlib>
#include <fstream>

namespace kite::store {

namespace {

namespace fs = std::filesystem;

/// Everything but the captures and the results, which are compared with their check sums when they
/// are read: this is quick however many swings there are.
std::vector<std::string> tables_to_check() {
    std::vector<std::string> out;
    for (const Table& table : all_tables())
        if (table.name != "capture" && table.name != "result")
            out.push_back(table.name);
    return out;
}

int schema_version(Connection& connection) {
    return connection.value("SELECT value FROM meta WHERE key = 'schema_version'").toInt();
}

/// What a file is: a record of this version or an older one, or nothing yet. Throws for the others.
enum class Nature { Nothing, Record };
Nature nature_of(Connection& connection) {
    const bool tables = connection.value("SELECT count(*) FROM sqlite_master").toInt() > 0;
    if (!tables)
        return Nature::Nothing; // another program is just making it, or was ended while it did
    if (!connection.is_signed())
        fail("not-a-record",
             connection.path().string() +
                 " belongs to another program: it is no record of swings. It is unchanged.",
             "Name another file.");
    if (connection.signed_version() > kSchemaVersion || schema_version(connection) > kSchemaVersion)
        fail("newer-record",
             "The record " + connection.path().string() +
                 " was written by a newer version of Kite Hinge. It is unchanged.",
             "Use that version, or newer.");
    return Nature::Record;
}

bool is_there(const fs::path& path) {
    std::error_code error;
    return fs::exists(path, error) &&
           (fs::file_size(path, error) > 0 || fs::exists(path.string() + "-wal", error));
}

fs::path place_of_rescue(const fs::path& path) {
    fs::path out = path;
    return out.replace_extension(".rescued" + path.extension().string());
}

/// Saves what can be saved beside a damaged record, once, and says so.
Finding say_damage(Connection& damaged, const std::string& problem) {
    const fs::path path = damaged.path();
    const fs::path to = place_of_rescue(path);
    Finding finding{Finding::Severity::Error, "damaged",
                    "The record " + path.string() + " is damaged (" + problem +
                        "). It was left as it is and can be read alone.",
                    "", ""};
    std::error_code error;
    if (fs::exists(to, error)) {
        finding.mend = "What could be saved is in " + to.string() + ": use that.";
    } else {
        try {
            const Rescued rescued = rescue(damaged, to);
            finding.mend =
                std::to_string(rescued.swings) + " swings were saved into " + to.string() +
                (rescued.lost > 0 ? ", " + std::to_string(rescued.lost) + " rows could not be"
                                  : "") +
                ": use that.";
        } catch (const std::exception& failed) {
            finding.mend = std::string("Nothing could be saved beside it: ") + failed.what();
        }
    }
    if (const auto backups = backups_of(path); !backups.empty())
        finding.mend += " The newest backup is " + backups.back().string() + ".";
    return finding;
}

/// The first table that has not the columns it was made with: the description of tables can be
/// damaged too.
std::string find_strange_table(Connection& connection) {
    if (schema_version(connection) != kSchemaVersion)
        return {};
    for (const Table& table : all_tables()) {
        QSqlQuery query =
            connection.run("SELECT name FROM pragma_table_info(?)", {text(table.name)});
        std::size_t at = 0;
        bool same = true;
        for (; query.next(); ++at)
            same = same && at < table.columns.size() &&
                   query.value(0).toString().toStdString() == table.columns[at].name;
        connection.need_end_of(query);
        if (!same || at != table.columns.size())
            return "the description of the table " + table.name + " is not what it must be";
    }
    return {};
}

/// Opens a record for reading; `damage` says what is wrong with it.
std::unique_ptr<Connection> look_at(const fs::path& path, std::string& damage) {
    try {
        auto out = std::make_unique<Connection>(path, Access::Read);
        if (nature_of(*out) == Nature::Nothing)
            return out;
        const auto found = out->find_damage(tables_to_check());
        damage = found.empty() ? find_strange_table(*out) : found.front();
        if (damage.empty())
            return out;
    } catch (const StoreError& error) {
        if (error.finding.code != "damaged")
            throw;
        damage = "it is cut or its beginning is lost";
    }
    return std::make_unique<Connection>(path, Access::Salvage);
}

} // namespace

void bring_up_to_date(Connection& connection) {
    connection.as_one([&] {
        // Looked at again: another program may have been first.
        if (nature_of(connection) == Nature::Nothing) {
            for (const std::string& statement : migration_from(0))
                connection.run(statement);
            connection.run(Search::create_statement());
            connection.run("INSERT INTO meta (key, value) VALUES ('schema_version', ?)",
                           {QString::number(kSchemaVersion)});
            connection.sign(kSchemaVersion);
            return;
        }
        for (int version = schema_version(connection); version < kSchemaVersion; ++version)
            for (const std::string& statement : migration_from(version))
                connection.run(statement);
        connection.run("UPDATE meta SET value = ? WHERE key = 'schema_version' AND value <> ?",
                       {QString::number(kSchemaVersion), QString::number(kSchemaVersion)});
        connection.sign(kSchemaVersion);
    });
}

fs::path Record::usual_place() {
    const char* data = std::getenv("XDG_DATA_HOME");
    const char* home = std::getenv("HOME");
    // Relative paths there are to be ignored (XDG Base Directory Specification).
    const fs::path base = data != nullptr && *data == '/'
                              ? fs::path(data)
                              : fs::path(home != nullptr ? home : "/") / ".local" / "share";
    return base / "kite-hinge" / "record.db";
}

Outcome<std::unique_ptr<Record>> Record::open(const fs::path& path, Opening opening) {
    Outcome<std::unique_ptr<Record>> out;
    const auto findings = guarded([&] {
        std::error_code error;
        if (fs::is_directory(path, error))
            fail("not-a-record", path.string() + " is a folder.", "Name a file in it.");
        const bool there = is_there(path);
        if (!there && opening == Opening::Read) {
            out.add({Finding::Severity::Note, "no-record",
                     "There is no record yet at " + path.string() + ".", "",
                     "Add swings to it first."});
            return;
        }
        if (there) {
            // Looked at without a trace: what is not ours stays as it is.
            std::string damage;
            auto looking = look_at(path, damage);
            if (!damage.empty()) {
                Finding said = say_damage(*looking, damage);
                if (opening == Opening::Write) {
                    said.what += " Nothing was written.";
                    throw StoreError(said);
                }
                said.severity = Finding::Severity::Warning;
                out.add(said);
                out.value.reset(new Record(std::move(looking), true));
                return;
            }
            if (nature_of(*looking) == Nature::Record) {
                if (opening == Opening::Read && schema_version(*looking) == kSchemaVersion) {
                    out.value.reset(new Record(std::move(looking), true));
                    return;
                }
            } else if (opening == Opening::Read) {
                out.add({Finding::Severity::Note, "no-record",
                         "There is nothing in the record " + path.string() + " yet.", "",
                         "Add swings to it first."});
                return;
            }
        } else if (path.has_parent_path()) {
            fs::create_directories(path.parent_path(), error); // said when opening, if it failed
        }
        auto connection = std::make_unique<Connection>(path, Access::Write);
        bring_up_to_date(*connection);
        out.value.reset(new Record(std::move(connection), false));
    });
    out.findings.insert(out.findings.end(), findings.begin(), findings.end());
    if (!out.ok())
        out.value.reset();
    return out;
}

Record::Record(std::unique_ptr<Connection> connection, bool readable_only)
    : work_(std::make_unique<Work>(std::move(connection))) {
    work_->readable_only = readable_only;
}
Record::~Record() = default;

const fs::path& Record::path() const {
    return work_->connection->path();
}

} // namespace kite::store
