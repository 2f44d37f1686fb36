#pragma once

#include "core/base/findings.h"

#include <cstdint>
#include <cstdio>
#include <filesystem>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <string_view>

/// The open file of what arrived (docs/live.md, "The file"): a line that names it, a line of JSON,
/// and records.
namespace kite::live {

inline constexpr std::string_view kRawMagic = "kite-hinge-bay 1\n";

struct RawRecord {
    enum class Kind : char {
        Packet = 'P', ///< bytes as they came
        Tick = 'T',   ///< time passed and nothing came
        Note = 'N',   ///< JSON of whoever wrote the file
    };
    Kind kind = Kind::Packet;
    std::int64_t time_ns = 0; ///< of arrival, from 1970 on the computer's clock
    std::string_view bytes;

    double time_s() const { return static_cast<double>(time_ns) * 1e-9; }
};

/// The head of a file, its two first lines. `json` has no line end.
std::string raw_head(std::string_view json);
void append(std::string& out, const RawRecord& record);

/// Writes while things arrive. What was written stays when the program ends in between.
class RawWriter {
public:
    /// An error where the file cannot be made, or is there already.
    static Outcome<std::unique_ptr<RawWriter>> create(const std::filesystem::path& path);

    /// False: the disk takes no more; said once, and nothing more is written.
    bool write(const RawRecord& record);
    bool flush();

private:
    struct Close {
        void operator()(std::FILE* file) const { std::fclose(file); }
    };
    explicit RawWriter(std::FILE* file) : file_(file) {}
    std::unique_ptr<std::FILE, Close> file_;
    std::int64_t flushed_ns_ = 0;
    bool works_ = true;
};

/// The JSON line of the head, and every record in order. A file that was cut in its last record
/// ends before it, with a note. Errors: another file.
struct RawFile {
    std::string json;
    std::string_view records; ///< within the bytes that were read
};
Outcome<RawFile> open_raw(std::string_view bytes);
/// Takes the first record off; empty at the end, or where what follows is none.
std::optional<RawRecord> next_record(std::string_view& records);

} // namespace kite::live
