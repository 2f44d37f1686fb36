#include "formats/trc/trc.h"

#include "core/base/units.h"
#include "core/motion/rotation.h"
#include "core/motion/uniform.h"
#include "formats/text/delimited.h"
#include "formats/text/numbers.h"

#include <cmath>

namespace kite::formats {

using Severity = Finding::Severity;

namespace {

/// Tabs, or runs of blanks where a program wrote those.
std::vector<std::string_view> split(std::string_view line) {
    std::vector<std::string_view> out;
    while (!line.empty() && (line.back() == '\r' || line.back() == '\n'))
        line.remove_suffix(1);
    if (line.find('\t') == std::string_view::npos) {
        std::size_t at = 0;
        while (at < line.size()) {
            const auto begin = line.find_first_not_of(' ', at);
            if (begin == std::string_view::npos)
                break;
            at = std::min(line.find(' ', begin), line.size());
            out.push_back(line.substr(begin, at - begin));
        }
        return out;
    }
    for (;;) {
        const auto tab = line.find('\t');
        out.push_back(trimmed(line.substr(0, tab)));
        if (tab == std::string_view::npos)
            return out;
        line.remove_prefix(tab + 1);
    }
}

class TrcReader {
public:
    TrcReader(std::string_view text, const ReadOptions& options) : rest_(text) {
        out_.value.handed = options.handed.value_or(Handedness::Right);
        out_.value.handed_said = options.handed.has_value();
        out_.value.club = options.club.value_or(ClubKind::Iron);
        out_.value.club_said = options.club.has_value();
    }

    Outcome<MarkerTake> read() {
        if (read_header() && read_labels() && read_rows())
            bring_to_uniform_times();
        return std::move(out_);
    }

private:
    bool fail(std::string code, std::string what, std::string where, std::string mend) {
        out_.add(
            {Severity::Error, std::move(code), std::move(what), std::move(where), std::move(mend)});
        return false;
    }
    std::string place() const { return "line " + std::to_string(line_); }

    std::string_view next_line() {
        const auto end = rest_.find('\n');
        const std::string_view line =
            rest_.substr(0, end == std::string_view::npos ? rest_.size() : end + 1);
        rest_.remove_prefix(line.size());
        ++line_;
        return line;
    }

    bool read_header() {
        next_line(); // PathFileType
        const auto names = split(next_line());
        const auto values = split(next_line());
        for (std::size_t i = 0; i < std::min(names.size(), values.size()); ++i) {
            const std::string name = lower_case(names[i]);
            if (name == "datarate")
                rate_hz_ = parse_number(values[i]);
            else if (name == "units")
                unit_ = std::string(values[i]);
        }
        if (rate_hz_ && !(*rate_hz_ > 0.0))
            return fail("bad-rate", "The DataRate is not a positive number.", place(),
                        "Export the markers again with their frame rate.");
        return true;
    }

    bool read_labels() {
        const auto fields = split(next_line());
        if (fields.size() < 3 || lower_case(fields[0]).rfind("frame", 0) != 0)
            return fail("no-labels", "The line of marker names is missing.", place(),
                        "Line 4 of a TRC file begins with Frame# and Time.");
        for (std::size_t i = 2; i < fields.size(); ++i)
            if (!fields[i].empty())
                out_.value.labels.emplace_back(fields[i]);
        next_line(); // X1 Y1 Z1 …
        out_.value.tracks_m.resize(out_.value.labels.size());
        return true;
    }

    bool read_rows() {
        const std::string name = lower_case(unit_);
        double unit_m = 0.001;
        if (name == "m" || name == "meters" || name == "metres")
            unit_m = 1.0;
        else if (name == "cm")
            unit_m = 0.01;
        else if (name == "in")
            unit_m = 0.0254;
        else if (name != "mm")
            out_.add(
                {Severity::Warning, "unit-unknown",
                 "The unit of length \"" + unit_ + "\" is not known; millimetres were assumed.",
                 "line 3, Units", "Export with mm or m."});
        const std::size_t markers = out_.value.labels.size();
        while (!rest_.empty()) {
            const std::string_view line = next_line();
            const auto fields = split(line);
            if (fields.empty() || (fields.size() == 1 && fields[0].empty()))
                continue;
            const bool cut = rest_.empty() && line.back() != '\n';
            const auto time = fields.size() > 1 ? parse_number(fields[1]) : std::nullopt;
            if (!time || fields.size() > 2 + 3 * markers + 1) {
                if (cut)
                    break; // the last row is cut short
                return fail("row-broken",
                            time ? "The row has more values than markers." : "The row has no time.",
                            place() + ", column Time", "Export the markers again.");
            }
            if (cut && fields.size() < 2 + 3 * markers) {
                out_.add({Severity::Warning, "row-cut",
                          "The last row is cut short and was left out.", place(), ""});
                break;
            }
            times_s_.push_back(*time);
            for (std::size_t m = 0; m < markers; ++m) {
                Eigen::Vector3d p = missing_point();
                for (std::size_t axis = 0; axis < 3; ++axis) {
                    const std::size_t i = 2 + 3 * m + axis;
                    if (i >= fields.size() || is_missing_text(fields[i]))
                        continue;
                    const auto value = parse_number(fields[i]);
                    if (!value)
                        return fail("not-a-number",
                                    "\"" + std::string(fields[i].substr(0, 24)) +
                                        "\" is not a number.",
                                    place() + ", marker " + out_.value.labels[m],
                                    "Put a number there, or leave it empty if it is missing.");
                    p(static_cast<Eigen::Index>(axis)) = *value * unit_m;
                }
                out_.value.tracks_m[m].push_back(p.allFinite() ? p : missing_point());
            }
        }
        return true;
    }

    void bring_to_uniform_times() {
        Outcome<TimeBase> base = find_time_base(times_s_, rate_hz_);
        settle_tremble(out_.value.tracks_m, times_s_, base);
        for (Finding& finding : base.findings)
            out_.add(std::move(finding));
        if (!base.ok())
            return;
        MarkerTake& markers = out_.value;
        markers.rate_hz = base.value.rate_hz;
        markers.frames = base.value.frames;
        if (base.value.resampled)
            resample_tracks(markers.tracks_m, times_s_, base.value);
    }

    std::string_view rest_;
    std::size_t line_ = 0;
    std::optional<double> rate_hz_;
    std::string unit_;
    std::vector<double> times_s_;
    Outcome<MarkerTake> out_;
};

} // namespace

int trc_sureness(std::string_view bytes, const std::filesystem::path& path) {
    if (lower_case(without_mark(bytes).substr(0, 12)) == "pathfiletype")
        return 95;
    return lower_case(path.extension().string()) == ".trc" ? 60 : 0;
}

Outcome<MarkerTake> read_trc_markers(std::string_view bytes, const ReadOptions& options) {
    const std::string_view text = without_mark(bytes);
    const auto zero = text.find('\0');
    if (zero != std::string_view::npos) {
        Outcome<MarkerTake> out;
        out.add({Severity::Error, "binary", "This is binary data, not a text table.",
                 "byte " + std::to_string(zero), "Export the markers as TRC text."});
        return out;
    }
    return TrcReader(text, options).read();
}

std::string write_trc(const MarkerTake& markers) {
    const std::string rate = format_number(markers.rate_hz);
    const std::string frames = std::to_string(markers.frames);
    const std::string count = std::to_string(markers.labels.size());
    std::string out = "PathFileType\t4\t(X/Y/Z)\t" + markers.name + "\n";
    out += "DataRate\tCameraRate\tNumFrames\tNumMarkers\tUnits\tOrigDataRate\tOrigDataStartFrame\t"
           "OrigNumFrames\n";
    out += rate + "\t" + rate + "\t" + frames + "\t" + count + "\tmm\t" + rate + "\t1\t" + frames +
           "\n";
    out += "Frame#\tTime";
    for (const std::string& label : markers.labels)
        out += "\t" + label + "\t\t";
    out += "\n\t";
    for (std::size_t m = 1; m <= markers.labels.size(); ++m)
        for (const char* axis : {"X", "Y", "Z"})
            out += std::string("\t") + axis + std::to_string(m);
    out += "\n\n";
    for (std::size_t i = 0; i < markers.frames; ++i) {
        out += std::to_string(i + 1) + "\t" + fixed(static_cast<double>(i) / markers.rate_hz, 6);
        for (const auto& track : markers.tracks_m)
            for (Eigen::Index axis = 0; axis < 3; ++axis)
                out += "\t" + fixed(mm_from_m(track[i](axis)), 4);
        out += "\n";
    }
    return out;
}

} // namespace kite::formats
