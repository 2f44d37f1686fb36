#include "core/base/results_version.h"
#include "store/packing.h"
#include "store/work.h"

#include <QByteArray>

namespace kite::store {

namespace {

QVariant bytes(const std::string& data) {
    return QByteArray(data.data(), static_cast<qsizetype>(data.size()));
}

Row text_or_nothing(const std::string& value) {
    return value.empty() ? Row() : Row(value);
}

std::string simplified(const std::string& name) {
    return text(name).simplified().toStdString();
}

/// The golfer or lesson of a name, made if there is none.
std::string golfer_named(Record::Work& work, const std::string& name, const std::string& step) {
    const Table& table = table_of("golfer");
    const auto found = rows_called(work.rows, table, name, {});
    if (found.size() > 1)
        fail_ambiguous(table, name, found);
    if (!found.empty())
        return found.front().at("id").get<std::string>();
    const Row row{{"id", new_id()}, {"name", name}};
    work.change(table, row, step);
    return row.at("id").get<std::string>();
}

std::string lesson_named(Record::Work& work, const std::string& name, const std::string& golfer_id,
                         const std::string& step) {
    const Table& table = table_of("lesson");
    const auto found = golfer_id.empty()
                           ? work.rows.all(table,
                                           "name = ? AND golfer_id IS NULL AND deleted IS NULL "
                                           "ORDER BY created",
                                           {text(name)})
                           : rows_called(work.rows, table, name, golfer_id);
    if (found.size() > 1)
        fail_ambiguous(table, name, found);
    if (!found.empty())
        return found.front().at("id").get<std::string>();
    const Row row{{"id", new_id()},
                  {"golfer_id", text_or_nothing(golfer_id)},
                  {"name", name},
                  {"day", now_utc().substr(0, 10)}};
    work.change(table, row, step);
    return row.at("id").get<std::string>();
}

/// Keeps the bytes; those that are there and damaged are replaced.
void keep_capture(Record::Work& work, const NewSwing& swing) {
    QSqlQuery query =
        work.connection->run("SELECT data FROM capture WHERE sha256 = ?", {text(swing.sha256)});
    if (query.next()) {
        const QByteArray data = query.value(0).toByteArray();
        const auto kept =
            unpack({data.constData(), static_cast<std::size_t>(data.size())}, swing.size);
        if (kept && kept->size() == swing.size && sha256_of(*kept) == swing.sha256)
            return;
    }
    work.connection->run("INSERT INTO capture (sha256, size, packing, data) VALUES (?, ?, ?, ?) ON "
                         "CONFLICT (sha256) DO UPDATE SET size = excluded.size, packing = "
                         "excluded.packing, data = excluded.data",
                         {text(swing.sha256), static_cast<qlonglong>(swing.size),
                          QString::fromLatin1(kPacking), bytes(swing.packed)});
}

/// The swing that this one is already, if it is.
std::optional<Row> find_same(Record::Work& work, const NewSwing& swing,
                             const std::string& golfer_id, const std::string& lesson_id) {
    // One that nobody told more of may still become it.
    std::optional<Row> open;
    for (Row& row :
         work.rows.all(table_of("swing"), "sha256 = ? ORDER BY deleted IS NOT NULL, created",
                       {text(swing.sha256)})) {
        const auto fits = [&](const char* column, const std::string& id, bool& told) {
            const Row& has = row.at(column);
            told = told && (id.empty() || !has.is_null());
            return id.empty() || has.is_null() || has.get<std::string>() == id;
        };
        bool told = true;
        if (!fits("golfer_id", golfer_id, told) || !fits("lesson_id", lesson_id, told))
            continue;
        if (told)
            return row;
        if (!open)
            open = row;
    }
    return open;
}

/// What of a swing comes with its capture.
Row columns_of(const NewSwing& swing) {
    return {{"sha256", swing.sha256},
            {"file", swing.file},
            {"origin", text_or_nothing(swing.origin)},
            {"file_time", text_or_nothing(swing.file_time)},
            {"told", text_or_nothing(swing.told)},
            {"handed", text_or_nothing(swing.handed)},
            {"club", text_or_nothing(swing.club)},
            {"first_fix", text_or_nothing(swing.first_fix)},
            {"first_fix_words", text_or_nothing(swing.first_fix_words)}};
}

void write_result(Record::Work& work, const std::string& swing_id, int version,
                  const std::string& packed) {
    work.connection->run(
        "INSERT INTO result (swing_id, version, packing, data) VALUES (?, ?, ?, ?) ON "
        "CONFLICT (swing_id) DO UPDATE SET version = excluded.version, packing = "
        "excluded.packing, data = excluded.data",
        {text(swing_id), version, QString::fromLatin1(kPacking), bytes(packed)});
}

KeptSwing keep(Record::Work& work, const NewSwing& swing, const std::string& golfer_id,
               const std::string& lesson_id, const std::string& step) {
    keep_capture(work, swing);
    const Table& table = table_of("swing");
    if (auto same = find_same(work, swing, golfer_id, lesson_id)) {
        Row now = *same;
        for (const auto& [column, id] :
             {std::pair{"golfer_id", golfer_id}, std::pair{"lesson_id", lesson_id}})
            if (now.at(column).is_null() && !id.empty())
                now[column] = id;
        now["deleted"] = nullptr;
        if (now != *same)
            work.change(table, now, step);
        return {now.at("id").get<std::string>(), false, text_in(now, "lesson_id")};
    }
    Row row = columns_of(swing);
    row["id"] = new_id();
    row["golfer_id"] = text_or_nothing(golfer_id);
    row["lesson_id"] = text_or_nothing(lesson_id);
    work.change(table, row, step);
    const std::string id = row.at("id").get<std::string>();
    write_result(work, id, kResultsVersion, swing.result);
    return {id, true, lesson_id};
}

} // namespace

Outcome<std::vector<KeptSwing>> Record::add(const std::vector<NewSwing>& swings,
                                            const std::string& golfer, const std::string& lesson) {
    return guarded<std::vector<KeptSwing>>([&] {
        work_->need_writing();
        std::vector<KeptSwing> out;
        work_->connection->as_one([&] {
            const std::string step = new_id();
            const std::string golfer_name = simplified(golfer);
            const std::string lesson_name = simplified(lesson);
            const std::string golfer_id =
                golfer_name.empty() ? std::string() : golfer_named(*work_, golfer_name, step);
            const std::string lesson_id = lesson_name.empty()
                                              ? std::string()
                                              : lesson_named(*work_, lesson_name, golfer_id, step);
            for (const NewSwing& swing : swings)
                out.push_back(keep(*work_, swing, golfer_id, lesson_id, step));
        });
        return out;
    });
}

Outcome<KeptSwing> Record::add_to_lesson(const NewSwing& swing, const std::string& lesson_id) {
    return guarded<KeptSwing>([&] {
        work_->need_writing();
        KeptSwing out;
        work_->connection->as_one([&] {
            std::string golfer_id;
            if (!lesson_id.empty()) {
                const Row lesson = work_->need(table_of("lesson"), lesson_id);
                if (!lesson.at("deleted").is_null())
                    fail("in-the-bin", "The lesson of this swing is in the bin.",
                         "Take it out of the bin, or begin another.");
                if (lesson.at("golfer_id").is_string())
                    golfer_id = lesson.at("golfer_id").get<std::string>();
            }
            out = keep(*work_, swing, golfer_id, lesson_id, new_id());
        });
        return out;
    });
}

Outcome<KeptSwing> Record::add_to_day(const NewSwing& swing, const std::string& golfer_id,
                                      const std::string& day) {
    return guarded<KeptSwing>([&] {
        work_->need_writing();
        KeptSwing out;
        work_->connection->as_one([&] {
            const Table& lessons = table_of("lesson");
            const std::string step = new_id();
            if (!work_->need(table_of("golfer"), golfer_id).at("deleted").is_null())
                fail("in-the-bin", "The golfer of this swing is in the bin.",
                     "Take the golfer out of the bin, or choose another.");
            const auto of_day = work_->rows.all(
                lessons, "golfer_id = ? AND day = ? AND deleted IS NULL ORDER BY created",
                {text(golfer_id), text(day)});
            std::string lesson_id;
            if (of_day.empty()) {
                lesson_id = new_id();
                work_->change(
                    lessons,
                    {{"id", lesson_id}, {"golfer_id", golfer_id}, {"name", day}, {"day", day}},
                    step);
            } else {
                lesson_id = text_in(of_day.back(), "id");
            }
            out = keep(*work_, swing, golfer_id, lesson_id, step);
            out.began_lesson = of_day.empty();
        });
        return out;
    });
}

std::vector<Finding> Record::keep_anew(const std::string& swing_id, const NewSwing& swing) {
    return guarded([&] {
        work_->need_writing();
        work_->connection->as_one([&] {
            keep_capture(*work_, swing);
            Row row = work_->need(table_of("swing"), swing_id);
            row.update(columns_of(swing));
            // They were put into another reading.
            row["moved"] = nullptr;
            work_->change(table_of("swing"), row, new_id());
            // It was measured without the launch numbers that were joined to the swing since.
            write_result(*work_, swing_id, row.at("launch").is_null() ? kResultsVersion : 0,
                         swing.result);
        });
    });
}

Outcome<StoredResult> Record::result(const std::string& swing_id) {
    return guarded<StoredResult>([&] {
        QSqlQuery query = work_->connection->run(
            "SELECT version, data FROM result WHERE swing_id = ?", {text(swing_id)});
        StoredResult out;
        if (query.next()) {
            const QByteArray data = query.value(1).toByteArray();
            constexpr std::size_t kMost = std::size_t{64} << 20;
            auto json = unpack({data.constData(), static_cast<std::size_t>(data.size())}, kMost);
            // What is damaged is made again, as what is old.
            if (json) {
                out.version = query.value(0).toInt();
                out.json = std::move(*json);
            }
        } else {
            work_->connection->need_end_of(query);
        }
        return out;
    });
}

std::vector<Finding> Record::put_result(const std::string& swing_id, const StoredResult& result,
                                        const std::string& first_fix,
                                        const std::string& first_fix_words) {
    return guarded([&] {
        work_->need_writing();
        work_->connection->as_one([&] {
            write_result(*work_, swing_id, result.version, pack(result.json));
            Row swing = work_->need(table_of("swing"), swing_id);
            if (swing.at("first_fix") == text_or_nothing(first_fix))
                return;
            // No step of undo: nobody did this.
            swing["first_fix"] = text_or_nothing(first_fix);
            swing["first_fix_words"] = text_or_nothing(first_fix_words);
            work_->rows.put(table_of("swing"), swing);
            work_->index(swing, true);
        });
    });
}

Outcome<std::string> Record::capture(const std::string& sha256) {
    return guarded<std::string>([&] {
        QSqlQuery query = work_->connection->run("SELECT size, data FROM capture WHERE sha256 = ?",
                                                 {text(sha256)});
        if (!query.next()) {
            work_->connection->need_end_of(query);
            fail("no-capture", "The record has lost the capture " + sha256 + ".",
                 "Add the file again, or use a backup.");
        }
        const QByteArray data = query.value(1).toByteArray();
        auto out =
            unpack({data.constData(), static_cast<std::size_t>(data.size())},
                   static_cast<std::size_t>(std::max<qlonglong>(0, query.value(0).toLongLong())));
        if (!out || sha256_of(*out) != sha256)
            fail("damaged", "The capture " + sha256 + " is damaged in the record.",
                 "Add the file again: that mends it. Or use a backup.");
        return std::move(*out);
    });
}

} // namespace kite::store
