#include "core/base/units.h"
#include "formats/c3d/c3d.h"
#include "formats/c3d/c3d_file.h"

#include <algorithm>
#include <cmath>
#include <cstring>

namespace kite::formats {

using Severity = Finding::Severity;

namespace {

constexpr std::size_t kBlock = 512;
constexpr std::size_t kMostLabels = 255; ///< a dimension is one byte; more go to LABELS2, LABELS3 …

void put_u16(std::string& out, std::size_t value) {
    out += static_cast<char>(value & 0xFF);
    out += static_cast<char>((value >> 8) & 0xFF);
}

void put_real(std::string& out, double value) {
    const auto single = static_cast<float>(value);
    std::uint32_t bits = 0;
    std::memcpy(&bits, &single, sizeof bits);
    put_u16(out, bits & 0xFFFF);
    put_u16(out, bits >> 16);
}

void pad_to_block(std::string& out) {
    out.resize((out.size() + kBlock - 1) / kBlock * kBlock, '\0');
}

/// Collects groups and parameters; every entry points to the next one.
class ParameterSection {
public:
    void group(const std::string& name) {
        ++group_;
        entry(name, -group_, std::string(1, '\0')); // no description
    }
    void text(const std::string& name, const std::vector<std::string>& rows) {
        std::size_t width = 1;
        for (const std::string& row : rows)
            width = std::min<std::size_t>(127, std::max(width, row.size()));
        std::string data{static_cast<char>(-1)};
        data += '\2';
        data += static_cast<char>(width);
        data += static_cast<char>(rows.size());
        for (std::string row : rows) {
            row.resize(width, ' ');
            data += row;
        }
        entry(name, group_, data + '\0');
    }
    void integer(const std::string& name, std::size_t value) {
        std::string data{'\2', '\0'};
        put_u16(data, value);
        entry(name, group_, data + '\0');
    }
    void integers(const std::string& name, const std::vector<std::size_t>& values) {
        std::string data{'\2', '\1', static_cast<char>(values.size())};
        for (std::size_t value : values)
            put_u16(data, value);
        entry(name, group_, data + '\0');
    }
    void real(const std::string& name, double value) {
        std::string data{'\4', '\0'};
        put_real(data, value);
        entry(name, group_, data + '\0');
    }
    /// A table with rows of `width` numbers.
    void reals(const std::string& name, const std::vector<double>& values, std::size_t width) {
        std::string data{'\4', '\2', static_cast<char>(width),
                         static_cast<char>(values.size() / width)};
        for (double value : values)
            put_real(data, value);
        entry(name, group_, data + '\0');
    }
    /// The finished section with its own start, padded to whole blocks.
    std::string finished() const {
        std::string out{'\1', '\x50', '\0', static_cast<char>(84)};
        out += body_;
        out += std::string(2, '\0'); // end of the chain
        pad_to_block(out);
        out[2] = static_cast<char>(out.size() / kBlock);
        return out;
    }

private:
    void entry(const std::string& name, int group, const std::string& data) {
        body_ += static_cast<char>(name.size());
        body_ += static_cast<char>(group);
        body_ += name;
        put_u16(body_, data.size() + 2);
        body_ += data;
    }
    std::string body_;
    int group_ = 0;
};

} // namespace

Outcome<std::string> write_c3d(const MarkerTake& markers) {
    Outcome<std::string> out;
    if (markers.frames == 0 || markers.labels.empty() || markers.labels.size() > 0xFFFF) {
        out.add({Severity::Error, "nothing-to-write", "There are no markers to write.", "", ""});
        return out;
    }
    const std::size_t frames = markers.frames;
    const auto section = [&](std::size_t data_block) {
        ParameterSection parameters;
        parameters.group("POINT");
        parameters.integer("USED", markers.labels.size());
        parameters.real("SCALE", -1.0);
        parameters.real("RATE", markers.rate_hz);
        parameters.integer("DATA_START", data_block);
        parameters.integer("FRAMES", std::min<std::size_t>(frames, 0xFFFF));
        for (std::size_t from = 0, part = 1; from < markers.labels.size();
             from += kMostLabels, ++part) {
            const auto begin = markers.labels.begin() + static_cast<std::ptrdiff_t>(from);
            const std::size_t count = std::min(kMostLabels, markers.labels.size() - from);
            parameters.text(part == 1 ? "LABELS" : "LABELS" + std::to_string(part),
                            {begin, begin + static_cast<std::ptrdiff_t>(count)});
        }
        parameters.text("UNITS", {"mm"});
        std::string up = text_of(markers.up_axis.value_or(SignedAxis{2, +1}));
        up.back() = static_cast<char>(up.back() - 'a' + 'A');
        // Any horizontal axis will do for X_SCREEN: it is only a hint.
        parameters.text("X_SCREEN", {up.back() == 'X' ? "+Y" : "+X"});
        parameters.text("Y_SCREEN", {up});
        parameters.group("ANALOG");
        parameters.integer("USED", 0);
        parameters.group("TRIAL");
        parameters.integers("ACTUAL_START_FIELD", {1, 0});
        parameters.integers("ACTUAL_END_FIELD", {frames & 0xFFFF, frames >> 16});
        if (markers.contact_s) {
            parameters.group("EVENT");
            parameters.integer("USED", 1);
            parameters.text("LABELS", {"Impact"});
            parameters.reals("TIMES", {0.0, *markers.contact_s}, 2);
        }
        parameters.group("KITE_HINGE");
        if (markers.handed_said)
            parameters.text("HANDED", {std::string(key_of(markers.handed))});
        if (markers.club_said)
            parameters.text("CLUB", {std::string(key_of(markers.club))});
        return parameters.finished();
    };
    const std::size_t data_block = 2 + section(0).size() / kBlock;

    std::string& bytes = out.value;
    bytes += '\2';
    bytes += '\x50';
    put_u16(bytes, markers.labels.size());
    put_u16(bytes, 0); // analogue samples a frame
    put_u16(bytes, 1);
    put_u16(bytes, std::min<std::size_t>(frames, 0xFFFF));
    put_u16(bytes, 0); // no interpolation
    put_real(bytes, -1.0);
    put_u16(bytes, data_block);
    put_u16(bytes, 0);
    put_real(bytes, markers.rate_hz);
    pad_to_block(bytes);
    bytes += section(data_block);
    bytes.reserve(bytes.size() + frames * markers.labels.size() * 16 + kBlock);
    for (std::size_t frame = 0; frame < frames; ++frame) {
        for (const auto& track : markers.tracks_m) {
            const Eigen::Vector3d& p = track[frame];
            const bool seen = p.allFinite();
            for (int axis = 0; axis < 3; ++axis)
                put_real(bytes, seen ? mm_from_m(p(axis)) : 0.0);
            put_real(bytes, seen ? 0.0 : -1.0);
        }
    }
    pad_to_block(bytes);
    return out;
}

} // namespace kite::formats
