#include "formats/reader.h"

#include "formats/all_formats.h"
#include "formats/c3d/c3d.h"
#include "formats/mapping/column_mapping.h"
#include "formats/text/bytes.h"
#include "formats/trc/trc.h"

#include <exception>
#include <new>
#include <stdexcept>

namespace kite::formats {

Outcome<MarkerTake> read_markers(std::string_view bytes, const std::filesystem::path& path,
                                 const ReadOptions& options) {
    const int c3d = c3d_sureness(bytes, path);
    const int trc = trc_sureness(bytes, path);
    if (c3d == 0 && trc == 0) {
        Outcome<MarkerTake> out;
        out.add({Finding::Severity::Error, "no-markers", "This file holds no markers.", "",
                 "Marker files are C3D and TRC."});
        return out;
    }
    Outcome<MarkerTake> out =
        c3d >= trc ? read_c3d_markers(bytes, options) : read_trc_markers(bytes, options);
    out.value.name = path.filename().string();
    return out;
}

namespace {

Outcome<Take> read_mapped(std::string_view bytes, const std::filesystem::path& path,
                          const ColumnMapping& mapping, const ReadOptions& options) {
    Outcome<std::string> text = map_table(bytes, mapping);
    if (!text.ok()) {
        Outcome<Take> out;
        out.findings = std::move(text.findings);
        return out;
    }
    ReadOptions without = options;
    without.mappings = nullptr;
    Outcome<Take> out = read_take(text.value, path, without);
    out.findings.insert(out.findings.begin(), text.findings.begin(), text.findings.end());
    return out;
}

Outcome<Take> read_as_known(std::string_view bytes, const std::filesystem::path& path,
                            const ReadOptions& options) {
    // What the user said of such a table comes before any guess.
    if (options.mappings)
        if (const ColumnMapping* mapping = options.mappings->find_for(bytes))
            return read_mapped(bytes, path, *mapping, options);
    const Format* best = nullptr;
    int surest = 0;
    for (const Format& format : all_formats()) {
        const int sureness = format.sureness(bytes, path);
        if (sureness > surest) {
            surest = sureness;
            best = &format;
        }
    }
    if (best != nullptr)
        return best->read(bytes, options);
    Outcome<Take> out;
    std::string known;
    for (const Format& format : all_formats())
        known += (known.empty() ? "" : ", ") + format.name;
    out.add({Finding::Severity::Error, "format-unknown", "This is not a format that can be read.",
             "", "Known formats: " + known + "."});
    return out;
}

/// A file may ask for anything; what reading it throws is its own fault and becomes a sentence.
template <class Read>
Outcome<Take> guarded(const std::filesystem::path& path, const Read& read) {
    Outcome<Take> out;
    try {
        out = read();
    } catch (const std::bad_alloc&) {
        out = {};
        out.add({Finding::Severity::Error, "too-large",
                 "The file is too large for this computer's memory.", "", "Cut it to the swing."});
    } catch (const std::length_error&) {
        out = {};
        out.add({Finding::Severity::Error, "too-large",
                 "The file is too large for this computer's memory.", "", "Cut it to the swing."});
    } catch (const std::exception& error) {
        out = {};
        out.add({Finding::Severity::Error, "unreadable",
                 std::string("The file could not be read: ") + error.what() + ".", "",
                 "Export the recording again."});
    }
    out.value.name = path.filename().string();
    return out;
}

} // namespace

Outcome<Take> read_take(std::string_view bytes, const std::filesystem::path& path,
                        const ReadOptions& options) {
    return guarded(path, [&] { return read_as_known(bytes, path, options); });
}

Outcome<Take> read_take(const std::filesystem::path& path, const ReadOptions& options) {
    return guarded(path, [&] {
        Outcome<std::string> bytes = read_bytes(path);
        if (bytes.ok())
            return read_as_known(std::string_view(bytes.value), path, options);
        Outcome<Take> out;
        out.findings = std::move(bytes.findings);
        return out;
    });
}

std::string text_of(const std::filesystem::path& path, const Finding& finding) {
    return path.string() + ": " + kite::text_of(finding);
}

} // namespace kite::formats
