#include "store/packing.h"
#include "store/work.h"

#include <QSqlError>

namespace kite::store {

namespace {

/// Calls use for every row of a table that can be read: first all in order, and behind a damaged
/// page one by one.
template <class Use>
void each_readable(Connection& damaged, const Table& table, const Use& use, std::size_t& lost) {
    const std::string select = "SELECT rowid, * FROM " + table.name; // names may be damaged
    long long last = 0;
    try {
        QSqlQuery query = damaged.run(select + " ORDER BY rowid");
        while (query.next()) {
            last = query.value(0).toLongLong();
            use(query);
        }
        damaged.need_end_of(query);
        return;
    } catch (const StoreError&) { // the rest one by one
    }
    long long highest = last;
    try {
        highest = damaged.value("SELECT max(rowid) FROM " + table.name).toLongLong();
    } catch (const StoreError&) {
        ++lost;
    }
    constexpr long long kMost = 10'000'000; // a damaged number is no reason to look for ever
    for (long long row = last + 1; row <= std::min(highest, last + kMost); ++row) {
        try {
            QSqlQuery query = damaged.run(select + " WHERE rowid = ?", {row});
            if (query.next())
                use(query);
            else if (query.lastError().isValid())
                ++lost;
        } catch (const StoreError&) {
            ++lost;
        }
    }
}

void copy_row(Connection& to, const Table& table, const QSqlQuery& query) {
    std::string marks;
    QVariantList values;
    for (std::size_t i = 0; i < table.columns.size(); ++i) {
        marks += i == 0 ? "?" : ", ?";
        values.push_back(query.value(static_cast<int>(i) + 1));
    }
    to.run("INSERT INTO " + table.name + " VALUES (" + marks + ") ON CONFLICT DO NOTHING", values);
}

bool is_whole(const Table& table, const QSqlQuery& query) {
    const auto bytes_at = [&](const char* column) -> QByteArray {
        for (std::size_t i = 0; i < table.columns.size(); ++i)
            if (table.columns[i].name == column)
                return query.value(static_cast<int>(i) + 1).toByteArray();
        return {};
    };
    if (table.name == "capture") {
        const QByteArray data = bytes_at("data");
        const auto bytes =
            unpack({data.constData(), static_cast<std::size_t>(data.size())},
                   static_cast<std::size_t>(std::max<qlonglong>(0, bytes_at("size").toLongLong())));
        return bytes && sha256_of(*bytes) == bytes_at("sha256").toStdString();
    }
    if (!table.sealed)
        return true;
    Row row = Row::object();
    for (std::size_t i = 0; i < table.columns.size(); ++i) {
        const QVariant value = query.value(static_cast<int>(i) + 1);
        const Column& column = table.columns[i];
        row[column.name] = value.isNull()                ? Row()
                           : column.kind == Kind::Number ? Row(value.toDouble())
                           : column.kind == Kind::Whole  ? Row(value.toLongLong())
                                                         : Row(value.toString().toStdString());
    }
    return row.at("seal") == seal_of(table, row);
}

} // namespace

Rescued rescue(Connection& damaged, const std::filesystem::path& to) {
    const std::filesystem::path part = formats::part_of(to);
    Rescued out;
    {
        Connection connection(part, Access::Write);
        connection.run("PRAGMA foreign_keys=OFF"); // parents may be lost
        bring_up_to_date(connection);
        connection.as_one([&] {
            for (const Table& table : all_tables()) {
                if (table.name == "meta" || table.name == "change")
                    continue;
                each_readable(
                    damaged, table,
                    [&](const QSqlQuery& query) {
                        if (is_whole(table, query))
                            copy_row(connection, table, query);
                        else
                            ++out.lost;
                    },
                    out.lost);
            }
            // What names something that was lost: the swing without its golfer is better than none,
            // but one without its capture is nothing.
            connection.run("DELETE FROM swing WHERE sha256 NOT IN (SELECT sha256 FROM capture)");
            connection.run("DELETE FROM result WHERE swing_id NOT IN (SELECT id FROM swing)");
            connection.run("DELETE FROM verdict WHERE swing_id NOT IN (SELECT id FROM swing)");
            connection.run("DELETE FROM plan WHERE golfer_id NOT IN (SELECT id FROM golfer)");
            Rows rows(connection);
            for (const char* kind : {"lesson", "swing", "plan"})
                for (const char* owner : {"golfer", "lesson"}) {
                    const Table& table = table_of(kind);
                    const std::string column = std::string(owner) + "_id";
                    if (table.find(column) == nullptr)
                        continue;
                    for (Row& row : rows.all(table, column + " IS NOT NULL AND " + column +
                                                        " NOT IN (SELECT id FROM " + owner + ")")) {
                        row[column] = nullptr;
                        rows.put(table, row);
                    }
                }
        });
        out.swings =
            static_cast<std::size_t>(connection.value("SELECT count(*) FROM swing").toULongLong());
    }
    {
        auto opened = std::make_unique<Connection>(part, Access::Write);
        Record::Work work(std::move(opened));
        work.connection->as_one([&] {
            for (const Row& swing : work.rows.all(table_of("swing")))
                work.index(swing, true);
        });
        work.connection->run("PRAGMA wal_checkpoint(TRUNCATE)");
    }
    put_whole(part, to, formats::Old::Stays);
    return out;
}

} // namespace kite::store
