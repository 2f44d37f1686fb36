#include "store/rows.h"

#include "store/packing.h"

#include <QDateTime>
#include <QSqlError>
#include <QUuid>

#include <chrono>
#include <cmath>
#include <mutex>

namespace kite::store {

QString text(const std::string& utf8) {
    return QString::fromStdString(utf8);
}
QVariant text_or_null(const std::string& utf8) {
    return utf8.empty() ? QVariant() : QVariant(text(utf8));
}

std::string now_utc() {
    static std::mutex mutex;
    static std::int64_t last_us = 0;
    const std::lock_guard lock(mutex);
    const std::int64_t now_us = std::chrono::duration_cast<std::chrono::microseconds>(
                                    std::chrono::system_clock::now().time_since_epoch())
                                    .count();
    last_us = std::max(now_us, last_us + 1);
    const QDateTime time = QDateTime::fromMSecsSinceEpoch(last_us / 1000, Qt::UTC);
    return time.toString(QStringLiteral("yyyy-MM-ddTHH:mm:ss.zzz")).toStdString() +
           QStringLiteral("%1Z").arg(last_us % 1000, 3, 10, QLatin1Char('0')).toStdString();
}

std::string new_id() {
    return QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString();
}

std::string seal_of(const Table& table, const Row& row) {
    Row values = Row::array();
    for (const Column& column : table.columns)
        if (column.name != "seal")
            values.push_back(row.value(column.name, Row()));
    return sha256_of(values.dump()).substr(0, 32);
}

std::string columns_of(const Table& table) {
    std::string out;
    for (const Column& column : table.columns)
        out += (out.empty() ? "" : ", ") + table.name + "." + column.name;
    return out;
}

namespace {

Row value_of(const Column& column, const QVariant& value) {
    if (value.isNull())
        return nullptr;
    switch (column.kind) {
    case Kind::Number:
        return value.toDouble();
    case Kind::Whole:
        return value.toLongLong();
    case Kind::Text:
    case Kind::Bytes:
        break;
    }
    return value.toString().toStdString();
}

QVariant variant_of(const Column& column, const Row& value) {
    if (value.is_null())
        return {};
    switch (column.kind) {
    case Kind::Number:
        return value.get<double>();
    case Kind::Whole:
        return static_cast<qlonglong>(value.get<std::int64_t>());
    case Kind::Text:
    case Kind::Bytes:
        break;
    }
    return text(value.get<std::string>());
}

} // namespace

std::optional<Row> Rows::read(const Table& table, const QSqlQuery& query) {
    Row row = Row::object();
    int at = 0;
    for (const Column& column : table.columns)
        row[column.name] = value_of(column, query.value(at++));
    if (row.value("seal", Row()) != seal_of(table, row)) {
        broken.push_back("the " + table.name + " " + row.value(table.key().name, Row()).dump() +
                         " was changed by damage");
        return std::nullopt;
    }
    return row;
}

std::optional<Row> Rows::find(const Table& table, const std::string& id) {
    auto rows = all(table, table.key().name + " = ?", {text(id)});
    return rows.empty() ? std::nullopt : std::optional(std::move(rows.front()));
}

std::vector<Row> Rows::all(const Table& table, const std::string& where,
                           const QVariantList& values) {
    std::vector<Row> out;
    QSqlQuery query = connection_.run(
        "SELECT " + columns_of(table) + " FROM " + table.name + " WHERE " + where, values);
    while (query.next())
        if (auto row = read(table, query))
            out.push_back(std::move(*row));
    connection_.need_end_of(query);
    return out;
}

void Rows::put(const Table& table, Row row) {
    std::string names;
    std::string marks;
    std::string updates;
    QVariantList values;
    // What comes out again is sealed: text that is no UTF-8 is replaced, whole numbers of
    // floating-point columns are floating-point.
    for (const Column& column : table.columns)
        if (column.name != "seal")
            row[column.name] = value_of(column, variant_of(column, row.value(column.name, Row())));
    row["seal"] = seal_of(table, row);
    for (const Column& column : table.columns) {
        const bool first = names.empty();
        names += (first ? "" : ", ") + column.name;
        marks += first ? "?" : ", ?";
        if (!first)
            updates += (updates.empty() ? "" : ", ") + column.name + " = excluded." + column.name;
        values.push_back(variant_of(column, row[column.name]));
    }
    connection_.run("INSERT INTO " + table.name + " (" + names + ") VALUES (" + marks +
                        ") ON CONFLICT (" + table.key().name + ") DO UPDATE SET " + updates,
                    values);
}

} // namespace kite::store
