#include "live/raw_file.h"

#include <array>
#include <cerrno>
#include <cstring>

namespace kite::live {

using Severity = Finding::Severity;

namespace {

constexpr std::size_t kRecordHead = 13; ///< kind, time, length
constexpr std::size_t kLongest = 65536;

template <class Number>
void put(std::string& out, Number value) {
    for (std::size_t i = 0; i < sizeof(Number); ++i)
        out += static_cast<char>(static_cast<std::uint64_t>(value) >> 8 * i & 0xff);
}

std::uint64_t get(std::string_view bytes, std::size_t at, std::size_t size) {
    std::uint64_t out = 0;
    for (std::size_t i = size; i > 0; --i)
        out = out << 8 | static_cast<unsigned char>(bytes[at + i - 1]);
    return out;
}

} // namespace

std::string raw_head(std::string_view json) {
    return std::string(kRawMagic) + std::string(json) + "\n";
}

void append(std::string& out, const RawRecord& record) {
    out += static_cast<char>(record.kind);
    put(out, record.time_ns);
    put(out, static_cast<std::uint32_t>(record.bytes.size()));
    out += record.bytes;
}

Outcome<std::unique_ptr<RawWriter>> RawWriter::create(const std::filesystem::path& path) {
    Outcome<std::unique_ptr<RawWriter>> out;
    // "x": what is there already is not written over.
    std::FILE* file = std::fopen(path.c_str(), "wbx");
    if (file == nullptr) {
        const int why = errno;
        out.add({Severity::Error, "cannot-write",
                 why == EEXIST
                     ? "There is a file of this name already."
                     : "The file cannot be made: " + std::string(std::strerror(why)) + ".",
                 path.string(), "Give another name, or another folder."});
        return out;
    }
    out.value.reset(new RawWriter(file));
    const std::string head = raw_head("{}");
    if (std::fwrite(head.data(), 1, head.size(), file) != head.size() || !out.value->flush())
        out.add({Severity::Error, "cannot-write", "The disk takes no more.", path.string(),
                 "Make room, or give another folder."});
    return out;
}

bool RawWriter::write(const RawRecord& record) {
    if (!works_)
        return true;
    std::string bytes;
    append(bytes, record);
    works_ = std::fwrite(bytes.data(), 1, bytes.size(), file_.get()) == bytes.size();
    constexpr std::int64_t kOften_ns = 1000000000;
    if (works_ && record.time_ns - flushed_ns_ > kOften_ns) {
        flushed_ns_ = record.time_ns;
        works_ = flush();
    }
    return works_;
}

bool RawWriter::flush() {
    return std::fflush(file_.get()) == 0;
}

Outcome<RawFile> open_raw(std::string_view bytes) {
    Outcome<RawFile> out;
    if (bytes.substr(0, kRawMagic.size()) != kRawMagic) {
        out.add({Severity::Error, "not-raw", "This is no recording of a bay.", "byte 0",
                 "Choose a file that was written by this program or by its description."});
        return out;
    }
    bytes.remove_prefix(kRawMagic.size());
    const std::size_t end = bytes.find('\n');
    if (end == std::string_view::npos) {
        out.add({Severity::Error, "not-raw", "The recording ends in its head.", "line 2",
                 "Copy the file again."});
        return out;
    }
    out.value.json = std::string(bytes.substr(0, end));
    out.value.records = bytes.substr(end + 1);
    return out;
}

std::optional<RawRecord> next_record(std::string_view& records) {
    if (records.size() < kRecordHead)
        return std::nullopt;
    const char kind = records[0];
    const std::size_t length = get(records, 9, 4);
    if ((kind != 'P' && kind != 'T' && kind != 'N') || length > kLongest ||
        length > records.size() - kRecordHead)
        return std::nullopt;
    RawRecord out;
    out.kind = static_cast<RawRecord::Kind>(kind);
    out.time_ns = static_cast<std::int64_t>(get(records, 1, 8));
    out.bytes = records.substr(kRecordHead, length);
    records.remove_prefix(kRecordHead + length);
    return out;
}

} // namespace kite::live
