#include "store/connection.h"

#include <QCoreApplication>
#include <QSqlError>
#include <QUuid>

#include <array>
#include <chrono>
#include <fstream>
#include <set>
#include <thread>

namespace kite::store {

namespace {

constexpr int kApplicationId = 0x4B697448; ///< "KitH"
constexpr int kPatience_ms = 60000;

// Result codes of SQLite (sqlite.org/rescode.html).
enum SqliteCode {
    kPermission = 3,
    kBusy = 5,
    kLocked = 6,
    kReadOnly = 8,
    kInputOutput = 10,
    kCorrupt = 11,
    kFull = 13,
    kCannotOpen = 14,
    kConstraint = 19,
    kNotADatabase = 26
};

/// Qt finds its database drivers through an application, which the command line has not.
void need_application() {
    static int count = 1;
    static char name[] = "kite-hinge";
    static char* arguments[] = {name, nullptr};
    // Never taken down: at the program's end Qt's own statics are gone before it.
    if (QCoreApplication::instance() == nullptr) {
        static QCoreApplication* const kApplication = new QCoreApplication(count, arguments);
        (void)kApplication;
    }
}

QString text(const std::filesystem::path& path) {
    return QString::fromStdString(path.string());
}

/// A file that was cut is as long as its head says again (sqlite.org/fileformat2.html, 1.3).
void lengthen(const std::filesystem::path& file) {
    std::array<unsigned char, 100> head{};
    std::ifstream in(file, std::ios::binary);
    if (!in.read(reinterpret_cast<char*>(head.data()), head.size()))
        return;
    const auto number = [&](std::size_t at, std::size_t count) {
        std::uintmax_t out = 0;
        for (std::size_t i = 0; i < count; ++i)
            out = out << 8U | head[at + i];
        return out;
    };
    const std::uintmax_t page = number(16, 2) == 1 ? 65536 : number(16, 2);
    const std::uintmax_t whole = page * number(28, 4);
    std::error_code error;
    // No more than could have been cut off in earnest.
    if (const auto size = std::filesystem::file_size(file, error);
        !error && whole > size && whole - size < std::uintmax_t{1} << 36)
        std::filesystem::resize_file(file, whole, error);
}

} // namespace

void fail(const std::string& code, const std::string& what, const std::string& mend) {
    throw StoreError({Finding::Severity::Error, code, what, "", mend});
}

Connection::Connection(std::filesystem::path path, Access access)
    : path_(std::move(path)), name_(QUuid::createUuid().toString()) {
    need_application();
    if (access == Access::Salvage) {
        open_copy(true);
        return;
    }
    try {
        open(path_, access == Access::Read);
        if (access == Access::Write) {
            use_write_ahead_log();
            run("PRAGMA synchronous=FULL");
            run("PRAGMA secure_delete=ON");
            run("PRAGMA journal_size_limit=0");
            run("PRAGMA wal_autocheckpoint=8000"); // 32 MB: captures are large
        }
        run("PRAGMA schema_version");
        run("SELECT count(*) FROM sqlite_master");
    } catch (const StoreError& error) {
        close();
        const std::set<std::string> kPlace{"cannot-open", "read-only", "disk-full", "disk-failed"};
        if (access == Access::Write || kPlace.count(error.finding.code) == 0)
            throw;
        open_copy(false);
    }
}

Connection::~Connection() {
    close();
}

void Connection::close() {
    QSqlDatabase::database(name_, false).close();
    QSqlDatabase::removeDatabase(name_);
}

void Connection::open(const std::filesystem::path& file, bool read_only) {
    QSqlDatabase database = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), name_);
    if (!database.isValid())
        fail("no-driver", "The part that reads and writes records is not installed.",
             "Install the SQLite driver of Qt 6.");
    database.setDatabaseName(text(file));
    QString options = QStringLiteral("QSQLITE_BUSY_TIMEOUT=%1").arg(kPatience_ms);
    if (read_only)
        options += QStringLiteral(";QSQLITE_OPEN_READONLY");
    database.setConnectOptions(options);
    if (!database.open())
        throw_error(database.lastError(), "open");
    run("PRAGMA foreign_keys=ON");
}

/// Where nothing may be written, or no room is left, even reading needs a place for the index of
/// the log and for taking back what was not finished: it is done on a copy.
void Connection::open_copy(bool salvage) {
    copy_ = std::make_unique<QTemporaryDir>();
    const std::filesystem::path copy = copy_->filePath(QStringLiteral("record.db")).toStdString();
    std::error_code error;
    std::filesystem::copy_file(path_, copy, error);
    if (error)
        fail("cannot-open",
             "The record " + path_.string() + " cannot be read: " + error.message() + ".",
             "Look at its permissions.");
    for (const char* beside : {"-wal", "-journal"})
        std::filesystem::copy_file(path_.string() + beside, copy.string() + beside, error);
    if (salvage)
        lengthen(copy);
    try {
        open(copy, false);
        if (salvage)
            run("PRAGMA writable_schema=ON"); // else a table that cannot be had hides the others
        run("SELECT count(*) FROM sqlite_master");
    } catch (...) {
        close();
        throw;
    }
}

void Connection::use_write_ahead_log() {
    const auto mode = [&] { return value("PRAGMA journal_mode").toString(); };
    // The change needs the file for itself for a moment, and does not wait for it by itself.
    const auto end = std::chrono::steady_clock::now() + std::chrono::milliseconds(kPatience_ms);
    while (mode() != QLatin1String("wal")) {
        try {
            run("PRAGMA journal_mode=WAL");
        } catch (const StoreError& error) {
            if (error.finding.code != "in-use" || std::chrono::steady_clock::now() > end)
                throw;
            std::this_thread::sleep_for(std::chrono::milliseconds(20));
        }
    }
}

void Connection::throw_error(const QSqlError& error, const std::string& sql) {
    const std::string file = path_.string();
    switch (error.nativeErrorCode().toInt() & 0xff) {
    case kFull:
        fail("disk-full", "The disk is full: nothing more was written to the record " + file + ".",
             "Make room and do it again; what was kept before is safe.");
    case kPermission:
    case kReadOnly:
        fail("read-only", "The record " + file + " may be read but not written here.",
             "Change the permissions, or use another place; it is unchanged.");
    case kBusy:
    case kLocked:
        fail("in-use", "Another program is writing to the record " + file + " and does not end.",
             "Close it and do it again; nothing was changed.");
    case kCorrupt:
        fail("damaged", "The record " + file + " is damaged.",
             "Use a backup, or what can be saved of it.");
    case kNotADatabase:
        fail("not-a-record", file + " is no record of swings, or its beginning is damaged.",
             "Name another file, or use a backup.");
    case kCannotOpen:
        fail("cannot-open", "The record " + file + " cannot be opened or made.",
             "Look whether the folder is there and may be written to.");
    case kConstraint:
        fail("does-not-fit", "That names something that the record " + file + " does not hold.",
             "Nothing was changed.");
    case kInputOutput:
        fail("disk-failed", "The disk did not take or give the data of the record " + file + ".",
             "Make room, look at the disk, and do it again; what was kept before is safe.");
    default:
        fail("store-failed",
             "The record " + file + " could not be used: " + error.text().toStdString() + " (" +
                 sql.substr(0, 60) + ").",
             "Please keep the file: it shows a mistake of this program.");
    }
}

QSqlQuery Connection::run(const std::string& sql, const QVariantList& values) {
    QSqlQuery query(QSqlDatabase::database(name_, false));
    query.setForwardOnly(true);
    if (!query.prepare(QString::fromStdString(sql)))
        throw_error(query.lastError(), sql);
    for (const QVariant& value : values)
        query.addBindValue(value);
    if (!query.exec())
        throw_error(query.lastError(), sql);
    return query;
}

QVariant Connection::value(const std::string& sql, const QVariantList& values) {
    QSqlQuery query = run(sql, values);
    if (query.next())
        return query.value(0);
    need_end_of(query);
    return {};
}

void Connection::need_end_of(const QSqlQuery& query) {
    if (query.lastError().isValid())
        throw_error(query.lastError(), query.lastQuery().toStdString());
}

void Connection::as_one(const std::function<void()>& work) {
    if (at_work_) {
        work();
        return;
    }
    run("BEGIN IMMEDIATE"); // a reader that turns writer half-way could not wait
    at_work_ = true;
    try {
        work();
        run("COMMIT");
        at_work_ = false;
    } catch (...) {
        at_work_ = false;
        // A full disk has already ended it.
        QSqlQuery(QSqlDatabase::database(name_, false)).exec(QStringLiteral("ROLLBACK"));
        throw;
    }
}

std::vector<std::string> Connection::find_damage(const std::vector<std::string>& tables) {
    std::vector<std::string> out;
    const auto check = [&](const std::string& pragma) {
        try {
            QSqlQuery query = run(pragma);
            while (query.next())
                if (const std::string said = query.value(0).toString().toStdString(); said != "ok")
                    out.push_back(said);
            need_end_of(query);
        } catch (const StoreError& error) {
            out.push_back(error.finding.what);
        }
    };
    for (const std::string& table : tables)
        check("PRAGMA quick_check('" + table + "')");
    if (tables.empty()) {
        check("PRAGMA integrity_check");
        try {
            QSqlQuery query = run("PRAGMA foreign_key_check");
            while (query.next())
                out.push_back("a row of " + query.value(0).toString().toStdString() +
                              " names one of " + query.value(2).toString().toStdString() +
                              " that is not there");
        } catch (const StoreError& error) {
            out.push_back(error.finding.what);
        }
    }
    return out;
}

bool Connection::has_table(const std::string& name) {
    return value("SELECT count(*) FROM sqlite_master WHERE name = ?",
                 {QString::fromStdString(name)})
               .toInt() > 0;
}

void Connection::sign(int schema_version) {
    run("PRAGMA application_id=" + std::to_string(kApplicationId));
    run("PRAGMA user_version=" + std::to_string(schema_version));
}

int Connection::signed_version() {
    return value("PRAGMA user_version").toInt();
}

bool Connection::is_signed() {
    return value("PRAGMA application_id").toInt() == kApplicationId;
}

void Connection::copy_to(const std::filesystem::path& path) {
    run("VACUUM INTO ?", {text(path)});
}

void Connection::forget_deleted() {
    run("PRAGMA wal_checkpoint(TRUNCATE)");
    run("VACUUM");
    run("PRAGMA wal_checkpoint(TRUNCATE)");
}

} // namespace kite::store
