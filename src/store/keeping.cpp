#include "store/backups.h"
#include "store/packing.h"
#include "store/work.h"

#include <algorithm>

namespace kite::store {

namespace fs = std::filesystem;

Outcome<Check> Record::check() {
    return guarded<Check>([&] {
        Check out;
        Connection& connection = *work_->connection;
        out.problems = connection.find_damage({});
        const auto tried = [&](const auto& look) {
            try {
                look();
            } catch (const StoreError& error) {
                out.problems.push_back(error.finding.what);
            }
        };
        for (const Table& table : all_tables())
            if (table.sealed)
                tried([&] { work_->rows.all(table); });
        out.problems.insert(out.problems.end(), work_->rows.broken.begin(),
                            work_->rows.broken.end());
        work_->rows.broken.clear();
        tried([&] {
            out.swings = static_cast<std::size_t>(
                connection.value("SELECT count(*) FROM swing WHERE deleted IS NULL").toULongLong());
        });
        std::vector<std::string> captures;
        tried([&] {
            QSqlQuery query = connection.run("SELECT sha256 FROM capture");
            while (query.next())
                captures.push_back(query.value(0).toString().toStdString());
            connection.need_end_of(query);
        });
        for (const std::string& sha256 : captures)
            for (const Finding& finding : capture(sha256).findings)
                out.problems.push_back(finding.what);
        tried([&] {
            QSqlQuery query = connection.run("SELECT swing_id, data FROM result");
            while (query.next()) {
                const QByteArray data = query.value(1).toByteArray();
                if (!unpack({data.constData(), static_cast<std::size_t>(data.size())},
                            std::size_t{64} << 20))
                    out.problems.push_back("The result of the swing " +
                                           query.value(0).toString().toStdString() +
                                           " is damaged; it is made again when it is shown.");
            }
            connection.need_end_of(query);
        });
        tried([&] {
            const int lost = connection
                                 .value("SELECT count(*) FROM swing WHERE id NOT IN (SELECT "
                                        "swing_id FROM swing_words)")
                                 .toInt();
            if (lost > 0)
                out.problems.push_back(std::to_string(lost) +
                                       " swings are not found by their words.");
        });
        return out;
    });
}

namespace {

/// Beside its place first, so that a file of that name is whole.
void copy_whole(Connection& connection, const fs::path& path) {
    const fs::path part = formats::part_of(path);
    std::error_code error;
    try {
        connection.copy_to(part);
        put_whole(part, path, formats::Old::Stays);
    } catch (...) {
        fs::remove(part, error);
        throw;
    }
}

} // namespace

std::vector<Finding> Record::back_up(const fs::path& path) {
    return guarded([&] {
        refuse_what_is_there(path);
        copy_whole(*work_->connection, path);
    });
}

std::vector<Finding> Record::back_up_daily() {
    auto findings = guarded([&] {
        work_->need_writing();
        const std::string today = now_utc().substr(0, 10);
        const fs::path folder = backup_folder(path());
        const fs::path target = folder / (today + ".db");
        std::error_code error;
        if (fs::exists(target, error) ||
            work_->connection->value("SELECT count(*) FROM swing").toInt() == 0)
            return;
        const auto size = fs::file_size(path(), error);
        const auto space =
            fs::space(path().parent_path().empty() ? fs::path(".") : path().parent_path(), error);
        constexpr std::uintmax_t kMargin = 3; // room for the backup and as much again for work
        if (!error && space.available < kMargin * size)
            fail("no-room", "There is no room for today's backup of the record.",
                 "Make room on the disk.");
        fs::create_directories(folder);
        copy_whole(*work_->connection, target);
        std::vector<std::string> days;
        for (const auto& backup : backups_of(path()))
            days.push_back(backup.stem().string());
        const auto keep = days_to_keep(days);
        for (const auto& backup : backups_of(path()))
            if (std::find(keep.begin(), keep.end(), backup.stem().string()) == keep.end())
                fs::remove(backup, error);
    });
    // The work goes on without.
    for (Finding& finding : findings)
        finding.severity = Finding::Severity::Warning;
    return findings;
}

} // namespace kite::store
