#include "app/session/import_subject.h"

#include "formats/names/name_table.h"
#include "formats/reader.h"
#include "formats/text/bytes.h"

namespace kite::app {

std::shared_ptr<const ImportSubject> inspect_file(const QString& path) {
    auto out = std::make_shared<ImportSubject>();
    out->path = path;
    const std::filesystem::path file(path.toStdString());
    Outcome<std::string> bytes = formats::read_bytes(file);
    out->findings = std::move(bytes.findings);
    if (has_errors(out->findings))
        return out;
    out->bytes = std::move(bytes.value);
    Outcome<MarkerTake> markers = formats::read_markers(out->bytes, file, {});
    if (markers.ok()) {
        out->kind = ImportSubject::Kind::Markers;
        out->names = std::move(markers.value.labels);
        out->tracks_m = std::move(markers.value.tracks_m);
        out->rate_hz = markers.value.rate_hz;
        return out;
    }
    Outcome<formats::ForeignTable> table = formats::read_foreign_table(out->bytes);
    out->findings = std::move(table.findings);
    if (has_errors(out->findings) || table.value.header.empty())
        return out;
    out->kind = ImportSubject::Kind::Columns;
    out->names = std::move(table.value.header);
    out->columns = std::move(table.value.columns);
    return out;
}

std::shared_ptr<const LoadedSwing> try_import(const std::shared_ptr<const ImportSubject>& subject,
                                              const ImportAnswer& answer,
                                              const formats::ReadOptions& read_options,
                                              const AnalysisOptions& options) {
    formats::ReadOptions read = read_options;
    read.mappings = nullptr;
    read.axes = answer.axes;
    const std::filesystem::path file(subject->path.toStdString());
    Outcome<Take> take;
    if (subject->kind == ImportSubject::Kind::Columns) {
        Outcome<std::string> text = formats::map_table(subject->bytes, answer.mapping);
        if (text.ok())
            take = formats::read_take(text.value, file, read);
        take.findings.insert(take.findings.begin(), text.findings.begin(), text.findings.end());
    } else {
        auto names = std::make_shared<formats::NameTable>(
            read.names ? *read.names : formats::NameTable::shipped());
        for (const auto& [theirs, ours] : answer.markers)
            names->add_marker(theirs, ours);
        read.names = std::move(names);
        take = formats::read_take(subject->bytes, file, read);
    }
    return swing_of(std::move(take), options);
}

} // namespace kite::app
