#include "formats/reader.h"

#include "formats/c3d/c3d.h"
#include "formats/pose_csv/pose_csv.h"
#include "formats/text/bytes.h"

#include <new>

namespace kite::formats {

const std::vector<Format>& all_formats() {
    static const std::vector<Format> formats{
        {"pose CSV", pose_csv_sureness, read_pose_csv},
        {"C3D", c3d_sureness, read_c3d},
    };
    return formats;
}

Outcome<Take> read_take(std::string_view bytes, const std::filesystem::path& path,
                        const ReadOptions& options) {
    const Format* best = nullptr;
    int surest = 0;
    for (const Format& format : all_formats()) {
        const int sureness = format.sureness(bytes, path);
        if (sureness > surest) {
            surest = sureness;
            best = &format;
        }
    }
    Outcome<Take> out;
    try {
        if (best != nullptr) {
            out = best->read(bytes, options);
            out.value.name = path.filename().string();
            return out;
        }
    } catch (const std::bad_alloc&) {
        out = {};
        out.add({Finding::Severity::Error, "too-large",
                 "The file is too large for this computer's memory.", "", "Cut it to the swing."});
        return out;
    }
    std::string known;
    for (const Format& format : all_formats())
        known += (known.empty() ? "" : ", ") + format.name;
    out.add({Finding::Severity::Error, "format-unknown", "This is not a format that can be read.",
             "", "Known formats: " + known + "."});
    return out;
}

Outcome<Take> read_take(const std::filesystem::path& path, const ReadOptions& options) {
    Outcome<std::string> bytes = read_bytes(path);
    if (!bytes.ok()) {
        Outcome<Take> out;
        out.value.name = path.filename().string();
        out.findings = std::move(bytes.findings);
        return out;
    }
    return read_take(std::string_view(bytes.value), path, options);
}

std::string text_of(const std::filesystem::path& path, const Finding& finding) {
    return path.string() + ": " + kite::text_of(finding);
}

} // namespace kite::formats
