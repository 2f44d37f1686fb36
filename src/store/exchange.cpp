#include "core/base/results_version.h"
#include "formats/text/bytes.h"
#include "formats/text/csv_field.h"
#include "store/packing.h"
#include "store/work.h"

#include <QByteArray>

#include <algorithm>
#include <exception>
#include <functional>
#include <list>
#include <set>
#include <zip.h>

namespace kite::store {

namespace {

constexpr const char* kKind = "golfer record 1";
constexpr std::size_t kMostJson = std::size_t{512} << 20;
constexpr std::size_t kMostCapture = std::size_t{1} << 30;

/// Kinds that go out and come in, owners first.
constexpr const char* kKinds[] = {"golfer", "lesson", "swing", "verdict", "plan"};

struct ZipClose {
    void operator()(zip_t* zip) const { zip_discard(zip); }
};
using Zip = std::unique_ptr<zip_t, ZipClose>;

/// Bytes of a ZIP's part that are fetched when their turn comes, so that one of them at a time is
/// in memory. See zip_source_function(3).
struct Part {
    std::function<std::string()> fetch;
    std::size_t size = 0;
    std::string bytes = {};
    std::size_t at = 0;
    std::exception_ptr failed = {}; ///< why it could not be fetched

    static zip_int64_t call(void* user, void* data, zip_uint64_t length, zip_source_cmd_t command) {
        auto& part = *static_cast<Part*>(user);
        switch (command) {
        case ZIP_SOURCE_OPEN:
            part.at = 0;
            try {
                part.bytes = part.fetch();
            } catch (...) {
                part.failed = std::current_exception();
                return -1;
            }
            return 0;
        case ZIP_SOURCE_READ: {
            const std::size_t count = std::min<std::size_t>(length, part.bytes.size() - part.at);
            part.bytes.copy(static_cast<char*>(data), count, part.at);
            part.at += count;
            return static_cast<zip_int64_t>(count);
        }
        case ZIP_SOURCE_CLOSE:
            part.bytes = {};
            return 0;
        case ZIP_SOURCE_STAT: {
            auto* stat = static_cast<zip_stat_t*>(data);
            zip_stat_init(stat);
            stat->size = part.size;
            stat->valid = ZIP_STAT_SIZE;
            return sizeof(zip_stat_t);
        }
        case ZIP_SOURCE_ERROR: {
            auto* codes = static_cast<int*>(data);
            codes[0] = ZIP_ER_READ;
            codes[1] = 0;
            return 2 * sizeof(int);
        }
        case ZIP_SOURCE_FREE:
            return 0; // the writer's
        case ZIP_SOURCE_SUPPORTS:
            return zip_source_make_command_bitmap(ZIP_SOURCE_OPEN, ZIP_SOURCE_READ,
                                                  ZIP_SOURCE_CLOSE, ZIP_SOURCE_STAT,
                                                  ZIP_SOURCE_ERROR, ZIP_SOURCE_FREE, -1);
        default:
            return -1;
        }
    }
};

class ZipWriter {
public:
    explicit ZipWriter(const std::filesystem::path& path) : path_(path) {
        int error = 0;
        zip_.reset(zip_open(path.c_str(), ZIP_CREATE | ZIP_TRUNCATE, &error));
        if (!zip_)
            fail_to_write();
    }
    void add(const std::string& name, std::size_t size, std::function<std::string()> fetch) {
        parts_.push_back({std::move(fetch), size});
        zip_source_t* source = zip_source_function(zip_.get(), &Part::call, &parts_.back());
        if (source == nullptr ||
            zip_file_add(zip_.get(), name.c_str(), source, ZIP_FL_ENC_UTF_8) < 0) {
            zip_source_free(source);
            fail_to_write();
        }
    }
    void add(const std::string& name, std::string bytes) {
        const std::size_t size = bytes.size();
        add(name, size, [bytes = std::move(bytes)] { return bytes; });
    }
    void close() {
        if (zip_close(zip_.get()) != 0) {
            for (const Part& part : parts_)
                if (part.failed)
                    std::rethrow_exception(part.failed);
            fail_to_write();
        }
        (void)zip_.release();
    }

private:
    [[noreturn]] void fail_to_write() const {
        fail("cannot-write", path_.string() + " could not be written.",
             "Look whether there is room, and whether you may write there.");
    }
    std::filesystem::path path_;
    std::list<Part> parts_; ///< where they are told to be
    Zip zip_;
};

class ZipReader {
public:
    explicit ZipReader(const std::filesystem::path& path) : path_(path) {
        int error = 0;
        zip_.reset(zip_open(path.c_str(), ZIP_RDONLY | ZIP_CHECKCONS, &error));
        if (!zip_)
            fail("not-a-zip",
                 path.string() + " is no ZIP file, or is damaged. Nothing was taken in.",
                 "Export the golfer again.");
    }
    /// Empty: there is none of that name.
    std::optional<std::string> read(const std::string& name, std::size_t most) {
        zip_stat_t stat;
        if (zip_stat(zip_.get(), name.c_str(), 0, &stat) != 0)
            return std::nullopt;
        if ((stat.valid & ZIP_STAT_SIZE) == 0 || stat.size > most)
            refuse("\"" + name + "\" is larger than it can be");
        std::string out(stat.size, '\0');
        zip_file_t* file = zip_fopen(zip_.get(), name.c_str(), 0);
        const zip_int64_t got = file == nullptr ? -1 : zip_fread(file, out.data(), out.size());
        char more = 0;
        const bool ended = file != nullptr && zip_fread(file, &more, 1) == 0;
        if (file != nullptr)
            zip_fclose(file);
        if (got != static_cast<zip_int64_t>(out.size()) || !ended)
            refuse("\"" + name + "\" is damaged");
        return out;
    }
    [[noreturn]] void refuse(const std::string& why) const {
        fail("bad-import", "In " + path_.string() + ", " + why + ". Nothing was taken in.",
             "Export the golfer again.");
    }

private:
    std::filesystem::path path_;
    Zip zip_;
};

/// Throws if the work is given up.
void go_on(const Record::Going& going, std::size_t done, std::size_t of) {
    if (going && !going(done, of))
        fail("given-up", "It was given up; nothing was changed.", "");
}

std::string csv_of(const std::vector<Row>& swings) {
    const Table& table = table_of("swing");
    std::string out;
    for (const Column& column : table.columns)
        out += (out.empty() ? "" : ",") + column.name;
    out += "\n";
    for (const Row& swing : swings) {
        bool first = true;
        for (const Column& column : table.columns) {
            const Row& value = swing.at(column.name);
            out += first ? "" : ",";
            first = false;
            out += value.is_null()     ? ""
                   : value.is_string() ? formats::csv_text_field(value.get<std::string>())
                                       : value.dump();
        }
        out += "\n";
    }
    return out;
}

/// A row of the file as a row of the table; refuses what cannot be one.
Row row_from(const ZipReader& zip, const Table& table, const Row& given) {
    if (!given.is_object())
        zip.refuse("a " + table.name + " is no object");
    for (const auto& entry : given.items())
        if (table.find(entry.key()) == nullptr)
            zip.refuse("a " + table.name + " has an unknown \"" + entry.key() + "\"");
    Row out = Row::object();
    for (const Column& column : table.columns) {
        const auto found = given.find(column.name);
        const Row value = found == given.end() ? Row() : *found;
        const bool fits = value.is_null()              ? !column.needed
                          : column.kind == Kind::Text  ? value.is_string()
                          : column.kind == Kind::Whole ? value.is_number_integer()
                                                       : value.is_number();
        if (!fits)
            zip.refuse("\"" + column.name + "\" of a " + table.name + " is not what it must be");
        out[column.name] = value;
    }
    if (out.at("seal") != seal_of(table, out))
        zip.refuse("the " + table.name + " " + out.at(table.key().name).dump() +
                   " was changed by hand or by damage");
    return out;
}

std::vector<Row> rows_of(const ZipReader& zip, const Row& json, const std::string& kind) {
    const auto found = json.find(kind);
    if (found == json.end() || !found->is_array())
        zip.refuse("there is no list of \"" + kind + "\"");
    std::vector<Row> out;
    for (const Row& given : *found)
        out.push_back(row_from(zip, table_of(kind), given));
    return out;
}

void take_capture(Record::Work& work, ZipReader& zip, const std::string& sha256) {
    const auto bytes = zip.read("captures/" + sha256, kMostCapture);
    if (!bytes || sha256_of(*bytes) != sha256)
        zip.refuse("the capture " + sha256 + " is missing or damaged");
    const std::string packed = pack(*bytes);
    work.connection->run("INSERT INTO capture (sha256, size, packing, data) VALUES (?, ?, ?, ?) ON "
                         "CONFLICT DO NOTHING",
                         {text(sha256), static_cast<qlonglong>(bytes->size()),
                          QString::fromLatin1(kPacking),
                          QByteArray(packed.data(), static_cast<qsizetype>(packed.size()))});
}

void take_result(Record::Work& work, ZipReader& zip, const Row& json, const std::string& id) {
    const auto bytes = zip.read("results/" + id + ".json", kMostJson);
    const auto versions = json.find("results_versions");
    if (!bytes || versions == json.end() || !versions->is_object() || !versions->contains(id) ||
        !(*versions)[id].is_number_integer())
        return; // it is made again from the capture
    // Whatever it says, this program has not measured it: a result of before, made again from the
    // capture when it is asked for.
    const std::string packed = pack(*bytes);
    work.connection->run(
        "INSERT INTO result (swing_id, version, packing, data) VALUES (?, 0, ?, ?) "
        "ON CONFLICT DO NOTHING",
        {text(id), QString::fromLatin1(kPacking),
         QByteArray(packed.data(), static_cast<qsizetype>(packed.size()))});
}

/// The rows of a golfer and of all that is theirs; throws where one is damaged.
Row all_of_golfer(Rows& rows, const std::string& golfer_id) {
    Row json{{"kite-hinge", kKind}, {"schema", kSchemaVersion}};
    const auto golfers = rows.all(table_of("golfer"), "id = ?", {text(golfer_id)});
    json["golfer"] = golfers;
    for (const char* kind : {"lesson", "swing", "verdict", "plan"})
        json[kind] = Row::array();
    for (const Row& golfer : golfers) {
        const QVariantList id{text(golfer.at("id").get<std::string>())};
        for (const char* kind : {"lesson", "swing", "plan"})
            for (Row& row :
                 rows.all(table_of(kind), "golfer_id = ? AND deleted IS NULL ORDER BY created", id))
                json[kind].push_back(std::move(row));
    }
    for (const Row& swing : json["swing"]) {
        for (Row& row : rows.all(table_of("verdict"), "swing_id = ? AND deleted IS NULL",
                                 {text(swing.at("id").get<std::string>())}))
            json["verdict"].push_back(std::move(row));
    }
    if (!rows.broken.empty())
        fail("damaged-row", "In the record, " + rows.broken.front() + ". Nothing was written.",
             "Use a backup.");
    // A swing may be in a lesson that is in the bin.
    std::set<std::string> lessons;
    for (const Row& lesson : json["lesson"])
        lessons.insert(lesson.at("id").get<std::string>());
    for (const char* kind : {"swing", "plan"})
        for (Row& row : json[kind])
            if (row.at("lesson_id").is_string() &&
                lessons.count(row.at("lesson_id").get<std::string>()) == 0) {
                row["lesson_id"] = nullptr;
                row["seal"] = seal_of(table_of(kind), row);
            }
    return json;
}

} // namespace

std::vector<Finding> Record::export_golfer(const std::string& who,
                                           const std::filesystem::path& path, const Going& going,
                                           formats::Old old) {
    return guarded([&] {
        const auto golfer = golfer_called(who);
        if (!golfer.ok())
            throw StoreError(golfer.findings.front());
        Row json = all_of_golfer(work_->rows, golfer.value);
        const auto swings = json["swing"].get<std::vector<Row>>();
        if (old == formats::Old::Stays)
            refuse_what_is_there(path);
        const std::filesystem::path part = formats::part_of(path);
        std::error_code error;
        try {
            ZipWriter zip(part);
            json["results_versions"] = Row::object();
            std::set<std::string> captures;
            std::size_t done = 0;
            for (const Row& swing : swings) {
                const std::string id = swing.at("id").get<std::string>();
                const auto kept = result(id);
                if (!kept.ok())
                    throw StoreError(kept.findings.front());
                if (!kept.value.json.empty()) {
                    json["results_versions"][id] = kept.value.version;
                    zip.add("results/" + id + ".json", kept.value.json);
                }
                const std::string sha256 = swing.at("sha256").get<std::string>();
                if (!captures.insert(sha256).second)
                    continue;
                const auto size = static_cast<std::size_t>(
                    work_->connection
                        ->value("SELECT size FROM capture WHERE sha256 = ?", {text(sha256)})
                        .toULongLong());
                zip.add("captures/" + sha256, size, [this, sha256, &going, &done, &captures] {
                    go_on(going, done++, captures.size());
                    auto bytes = capture(sha256);
                    if (!bytes.ok()) {
                        bytes.findings.front().what += " Nothing was written.";
                        throw StoreError(bytes.findings.front());
                    }
                    return std::move(bytes.value);
                });
            }
            zip.add("record.json", json.dump(1));
            zip.add("swings.csv", csv_of(swings));
            zip.close();
            put_whole(part, path, old);
        } catch (...) {
            std::filesystem::remove(part, error);
            throw;
        }
    });
}

Outcome<Record::Imported> Record::import_golfers(const std::filesystem::path& path,
                                                 const Going& going) {
    return guarded<Imported>([&] {
        work_->need_writing();
        ZipReader zip(path);
        const auto bytes = zip.read("record.json", kMostJson);
        const Row json = bytes ? Row::parse(*bytes, nullptr, false) : Row();
        if (!json.is_object() || !json.contains("kite-hinge") ||
            json.at("kite-hinge") != Row(kKind))
            zip.refuse("there is no golfer's record");
        if (!json.contains("schema") || !json.at("schema").is_number_integer() ||
            json.at("schema").get<int>() > kSchemaVersion)
            zip.refuse("the record was written by a newer version of Kite Hinge");
        Imported out;
        work_->connection->as_one([&] {
            for (const char* kind : kKinds) {
                const Table& table = table_of(kind);
                for (Row& row : rows_of(zip, json, kind)) {
                    const std::string id = row.at("id").get<std::string>();
                    const auto has = work_->rows.find(table, id);
                    // The state that was changed later holds.
                    if (has && has->at("changed").get<std::string>() >=
                                   row.at("changed").get<std::string>())
                        continue;
                    if (table.name == "swing") {
                        go_on(going, out.swings, json.at(kind).size());
                        take_capture(*work_, zip, row.at("sha256").get<std::string>());
                    }
                    work_->rows.put(table, row);
                    if (table.name == "swing") {
                        take_result(*work_, zip, json, id);
                        if (has)
                            work_->outdate(table, *has, row);
                        work_->index(row, has.has_value());
                        ++out.swings;
                    } else if (table.name == "golfer" || table.name == "lesson") {
                        work_->index_all_of(table.name + "_id", id);
                    }
                    ++out.rows;
                }
            }
        });
        return out;
    });
}

} // namespace kite::store
