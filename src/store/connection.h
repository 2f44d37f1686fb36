#pragma once

#include "core/base/findings.h"

#include <QSqlDatabase>
#include <QSqlQuery>
#include <QTemporaryDir>
#include <QVariant>

#include <filesystem>
#include <functional>
#include <memory>
#include <stdexcept>
#include <string>
#include <vector>

namespace kite::store {

/// Thrown inside the store; its public face turns it into findings.
class StoreError : public std::runtime_error {
public:
    explicit StoreError(Finding said) : std::runtime_error(said.what), finding(std::move(said)) {}
    Finding finding;
};
[[noreturn]] void fail(const std::string& code, const std::string& what, const std::string& mend);

enum class Access {
    Read,   ///< nothing is written, not even a lock left behind
    Write,  ///< the file is made if there is none
    Salvage ///< of a damaged file: a copy, made long enough to be looked into
};

/// One connection to one file, with what only SQLite has. Belongs to the thread that made it.
class Connection {
public:
    Connection(std::filesystem::path path, Access access);
    ~Connection();
    Connection(const Connection&) = delete;
    Connection& operator=(const Connection&) = delete;

    const std::filesystem::path& path() const { return path_; }

    /// Runs one statement with its values in the place of its question marks.
    QSqlQuery run(const std::string& sql, const QVariantList& values = {});
    /// The first column of the first row, or an invalid one.
    QVariant value(const std::string& sql, const QVariantList& values = {});
    /// Throws if the rows ended early: Qt takes a failed step for the end.
    void need_end_of(const QSqlQuery& query);

    /// Does the work as one: all of it is safe on disk afterwards, or none of it was done. Waits
    /// for other programs. Inside another one it is part of that.
    void as_one(const std::function<void()>& work);

    /// What is wrong with the pages of these tables; of all and of the free list if none is named.
    std::vector<std::string> find_damage(const std::vector<std::string>& tables);
    bool has_table(const std::string& name);
    /// Marks the file as a record of this version of the schema.
    void sign(int schema_version);
    bool is_signed();
    int signed_version();
    /// Whole and consistent, into a file that does not exist yet.
    void copy_to(const std::filesystem::path& path);
    /// Overwrites what was deleted: the journal is folded in, free pages given back.
    void forget_deleted();

private:
    void open(const std::filesystem::path& file, bool read_only);
    void close();
    void open_copy(bool salvage);
    void use_write_ahead_log();
    void throw_error(const QSqlError& error, const std::string& sql);

    std::filesystem::path path_;
    QString name_;
    std::unique_ptr<QTemporaryDir> copy_; ///< where a record is read that cannot be in its place
    bool at_work_ = false;
};

} // namespace kite::store
