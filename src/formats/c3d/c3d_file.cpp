#include "formats/c3d/c3d_file.h"

#include "formats/text/numbers.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <cstring>
#include <limits>

namespace kite::formats {

using Severity = Finding::Severity;

namespace {

constexpr std::size_t kBlock = 512;
enum class Processor { Intel = 84, Dec = 85, Mips = 86 };

/// Reads values in the processor's byte order with every access checked against the end of the
/// file.
class ByteView {
public:
    explicit ByteView(std::string_view bytes) : bytes_(bytes) {}
    void set_processor(Processor processor) { processor_ = processor; }

    std::size_t size() const { return bytes_.size(); }
    bool has(std::size_t at, std::size_t count) const {
        return at <= bytes_.size() && count <= bytes_.size() - at;
    }
    std::uint8_t u8(std::size_t at) const { return static_cast<std::uint8_t>(bytes_[at]); }
    int i8(std::size_t at) const {
        const int value = u8(at);
        return value < 128 ? value : value - 256;
    }
    std::uint16_t u16(std::size_t at) const {
        const bool big = processor_ == Processor::Mips;
        return static_cast<std::uint16_t>(u8(at + (big ? 1 : 0)) | (u8(at + (big ? 0 : 1)) << 8));
    }
    int i16(std::size_t at) const {
        const int value = u16(at);
        return value < 32768 ? value : value - 65536;
    }
    double real(std::size_t at) const {
        std::uint32_t low = u16(at);
        std::uint32_t high = u16(at + 2);
        // MIPS: the most significant half first. DEC (VAX F): the halves swapped, and the exponent
        // two higher than in IEEE 754, so a quarter of the value.
        if (processor_ != Processor::Intel)
            std::swap(low, high);
        const std::uint32_t bits = low | (high << 16);
        if (processor_ == Processor::Dec && ((bits >> 23) & 0xFF) == 0)
            return 0.0;
        float value = 0.0F;
        std::memcpy(&value, &bits, sizeof value);
        return processor_ == Processor::Dec ? 0.25 * static_cast<double>(value)
                                            : static_cast<double>(value);
    }
    /// Do reals of the file stand as this computer has them? Then four at a time are a copy.
    bool are_reals_native() const {
        const std::uint16_t one = 1;
        unsigned char first = 0;
        std::memcpy(&first, &one, 1);
        return processor_ == Processor::Intel && first == 1;
    }
    std::array<float, 4> native_reals(std::size_t at) const {
        std::array<float, 4> out;
        std::memcpy(out.data(), bytes_.data() + at, sizeof out);
        return out;
    }
    std::string text(std::size_t at, std::size_t count) const {
        return std::string(bytes_.substr(at, count));
    }

private:
    std::string_view bytes_;
    Processor processor_ = Processor::Intel;
};

std::string upper_trimmed(std::string_view text) {
    std::string out(trimmed(text));
    std::transform(out.begin(), out.end(), out.begin(),
                   [](unsigned char c) { return static_cast<char>(std::toupper(c)); });
    return out;
}

/// Text parameters end in blanks or zeros.
std::string without_padding(std::string text) {
    const auto zero = text.find('\0');
    if (zero != std::string::npos)
        text.resize(zero);
    return std::string(trimmed(text));
}

std::string at_byte(std::size_t at) {
    return "byte " + std::to_string(at);
}

class C3dParser {
public:
    explicit C3dParser(std::string_view bytes) : bytes_(bytes) {}

    Outcome<C3dFile> parse() {
        if (read_start() && read_parameters() && read_counts()) {
            read_points();
            read_events();
            read_platforms();
        }
        return std::move(out_);
    }

private:
    bool fail(std::string code, std::string what, std::string where, std::string mend) {
        out_.add(
            {Severity::Error, std::move(code), std::move(what), std::move(where), std::move(mend)});
        return false;
    }

    bool read_start() {
        if (!bytes_.has(0, kBlock) || bytes_.u8(1) != 0x50)
            return fail("not-c3d", "This is not a C3D file.", at_byte(1),
                        "Choose a C3D file, or export the capture again.");
        const std::size_t block = bytes_.u8(0);
        parameters_at_ = block == 0 ? 0 : (block - 1) * kBlock;
        if (block < 2 || !bytes_.has(parameters_at_, 4))
            return fail("parameters-outside", "The parameter section lies outside the file.",
                        at_byte(0), "The file is cut short; export the capture again.");
        const int processor = bytes_.u8(parameters_at_ + 3);
        if (processor < static_cast<int>(Processor::Intel) ||
            processor > static_cast<int>(Processor::Mips))
            return fail("processor",
                        "The processor type is " + std::to_string(processor) +
                            "; 84 (Intel), 85 (DEC) and 86 (SGI/MIPS) are known.",
                        at_byte(parameters_at_ + 3),
                        "The file is damaged; export the capture again.");
        bytes_.set_processor(static_cast<Processor>(processor));
        return true;
    }

    /// Groups and parameters form a chain: name length, group number, name, offset to the next.
    bool read_parameters() {
        std::map<int, std::string> groups;
        struct Found {
            int group;
            std::string name;
            C3dParameter parameter;
        };
        std::vector<Found> found;
        std::size_t at = parameters_at_ + 4;
        while (bytes_.has(at, 2)) {
            const auto name_size = static_cast<std::size_t>(std::abs(bytes_.i8(at)));
            const int group = bytes_.i8(at + 1);
            if (name_size == 0 || group == 0)
                break;
            if (!bytes_.has(at + 2, name_size + 2))
                return chain_broken(at);
            const std::string name = upper_trimmed(bytes_.text(at + 2, name_size));
            const std::size_t offset_at = at + 2 + name_size;
            const std::size_t offset = bytes_.u16(offset_at);
            if (group < 0) {
                groups[-group] = name;
            } else {
                C3dParameter parameter;
                if (!read_parameter(offset_at + 2, parameter))
                    return chain_broken(at);
                found.push_back({group, name, std::move(parameter)});
            }
            if (offset == 0)
                break;
            if (offset < 2)
                return chain_broken(at);
            at = offset_at + offset;
        }
        for (Found& entry : found) {
            const auto group = groups.find(entry.group);
            if (group != groups.end())
                out_.value.parameters[group->second + ":" + entry.name] =
                    std::move(entry.parameter);
        }
        if (out_.value.parameters.empty())
            return fail("no-parameters", "The parameter section is empty.", at_byte(parameters_at_),
                        "The file is damaged; export the capture again.");
        return true;
    }

    bool chain_broken(std::size_t at) {
        return fail("parameters-broken", "The parameter section is damaged.", at_byte(at),
                    "Export the capture again.");
    }

    bool read_parameter(std::size_t at, C3dParameter& parameter) {
        if (!bytes_.has(at, 2))
            return false;
        const int type = bytes_.i8(at);
        if (type != -1 && type != 1 && type != 2 && type != 4)
            return false;
        parameter.type = static_cast<C3dParameter::Type>(type);
        const std::size_t ranks = bytes_.u8(at + 1);
        if (ranks > 7 || !bytes_.has(at + 2, ranks))
            return false;
        std::size_t count = 1;
        for (std::size_t i = 0; i < ranks; ++i) {
            parameter.dimensions.push_back(bytes_.u8(at + 2 + i));
            count *= parameter.dimensions.back();
            if (count > bytes_.size())
                return false;
        }
        const std::size_t data = at + 2 + ranks;
        const auto item = static_cast<std::size_t>(std::abs(type));
        if (!bytes_.has(data, count * item))
            return false;
        if (parameter.type == C3dParameter::Type::Text) {
            const std::size_t width =
                parameter.dimensions.empty() ? 1 : parameter.dimensions.front();
            for (std::size_t i = 0; width > 0 && i < count / width; ++i)
                parameter.texts.push_back(without_padding(bytes_.text(data + i * width, width)));
            return true;
        }
        for (std::size_t i = 0; i < count; ++i) {
            const std::size_t place = data + i * item;
            parameter.numbers.push_back(parameter.type == C3dParameter::Type::Byte
                                            ? static_cast<double>(bytes_.i8(place))
                                        : parameter.type == C3dParameter::Type::Integer
                                            ? static_cast<double>(bytes_.i16(place))
                                            : bytes_.real(place));
        }
        return true;
    }

    /// Counts above 32,767 are stored as signed integers and come out negative.
    static std::size_t unsigned_count(double value) {
        if (value < 0.0)
            value += 65536.0;
        return value > 0.0 && value < 1e9 ? static_cast<std::size_t>(value) : 0;
    }

    bool read_counts() {
        C3dFile& file = out_.value;
        points_ = unsigned_count(file.find_number("POINT:USED").value_or(bytes_.u16(2)));
        file.scale = file.find_number("POINT:SCALE").value_or(bytes_.real(12));
        file.rate_hz = file.find_number("POINT:RATE").value_or(bytes_.real(20));
        data_at_ = unsigned_count(file.find_number("POINT:DATA_START").value_or(bytes_.u16(16)));
        // Analogue samples of each frame stand behind its points and are passed over.
        analog_ = bytes_.u16(4);

        const std::size_t first = bytes_.u16(6);
        const std::size_t last = bytes_.u16(8);
        file.frames = last >= first ? last - first + 1 : 0;
        if (const auto frames = file.find_number("POINT:FRAMES"); frames && last == 65535)
            file.frames = std::max(file.frames, unsigned_count(*frames));
        if (const auto frames = file.find_number("POINT:LONG_FRAMES"))
            file.frames = static_cast<std::size_t>(std::clamp(*frames, 0.0, 1e9));
        file.first_field = actual_field("TRIAL:ACTUAL_START_FIELD").value_or(first);
        const auto end_field = actual_field("TRIAL:ACTUAL_END_FIELD");
        if (end_field && *end_field >= file.first_field)
            file.frames = *end_field - file.first_field + 1;

        if (points_ == 0)
            return fail("no-points", "There are no points in this file.", "parameter POINT:USED",
                        "Export the marker positions too.");
        if (!(file.rate_hz > 0.0) || !(file.rate_hz < 1e5))
            return fail("bad-rate", "The frame rate is " + format_number(file.rate_hz) + ".",
                        "parameter POINT:RATE", "Export the capture again with its frame rate.");
        if (!std::isfinite(file.scale) || file.scale == 0.0)
            return fail("bad-scale",
                        "The scale of the points is " + format_number(file.scale) + ".",
                        "parameter POINT:SCALE", "Export the capture again.");
        if (data_at_ < 2 || !bytes_.has((data_at_ - 1) * kBlock, 1))
            return fail("data-outside", "The data section lies outside the file.",
                        "parameter POINT:DATA_START",
                        "The file is cut short; export the capture again.");
        data_at_ = (data_at_ - 1) * kBlock;

        item_ = file.scale < 0.0 ? 4 : 2;
        frame_size_ = (points_ * 4 + analog_) * item_;
        const std::size_t held = (bytes_.size() - data_at_) / frame_size_;
        if (file.frames == 0 || file.frames > held)
            return fail("frames-beyond-file",
                        "The header claims " + std::to_string(file.frames) + " frames of " +
                            std::to_string(points_) + " points, the file holds " +
                            std::to_string(held) + ".",
                        at_byte(data_at_),
                        "The file is cut short or damaged; export the capture again.");
        return true;
    }

    /// Frame numbers of long captures: two 16-bit words, low one first.
    std::optional<std::size_t> actual_field(const std::string& name) const {
        const C3dParameter* parameter = out_.value.find(name);
        if (parameter == nullptr || parameter->numbers.size() < 2)
            return std::nullopt;
        return unsigned_count(parameter->numbers[0]) +
               65536 * unsigned_count(parameter->numbers[1]);
    }

    void read_points() {
        C3dFile& file = out_.value;
        for (int part = 1;; ++part) {
            const std::string name =
                part == 1 ? "POINT:LABELS" : "POINT:LABELS" + std::to_string(part);
            const C3dParameter* labels = file.find(name);
            if (labels == nullptr)
                break;
            file.labels.insert(file.labels.end(), labels->texts.begin(), labels->texts.end());
        }
        file.unit = file.find_text("POINT:UNITS").value_or("");
        const std::size_t named = file.labels.size();
        file.labels.resize(points_);
        for (std::size_t i = named; i < points_; ++i)
            file.labels[i] = "point " + std::to_string(i + 1);
        const Eigen::Vector3d unseen =
            Eigen::Vector3d::Constant(std::numeric_limits<double>::quiet_NaN());
        const auto place = [&](std::size_t frame, std::size_t point) {
            return data_at_ + frame * frame_size_ + point * 4 * item_;
        };
        if (item_ == 4 && bytes_.are_reals_native()) {
            file.points.resize(points_);
            for (std::size_t point = 0; point < points_; ++point) {
                std::vector<Eigen::Vector3d>& track = file.points[point];
                track.resize(file.frames);
                for (std::size_t frame = 0; frame < file.frames; ++frame) {
                    const auto xyzr = bytes_.native_reals(place(frame, point));
                    const Eigen::Vector3d p(xyzr[0], xyzr[1], xyzr[2]);
                    track[frame] = !(xyzr[3] < 0.0F) && std::isfinite(p.sum()) ? p : unseen;
                }
            }
            return;
        }
        file.points.assign(points_, std::vector<Eigen::Vector3d>(file.frames, unseen));
        for (std::size_t frame = 0; frame < file.frames; ++frame) {
            for (std::size_t point = 0; point < points_; ++point) {
                const std::size_t at = place(frame, point);
                Eigen::Vector3d p;
                bool valid = false;
                if (item_ == 4) {
                    p = {bytes_.real(at), bytes_.real(at + 4), bytes_.real(at + 8)};
                    valid = !(bytes_.real(at + 12) < 0.0) && p.allFinite();
                } else {
                    p = file.scale *
                        Eigen::Vector3d(bytes_.i16(at), bytes_.i16(at + 2), bytes_.i16(at + 4));
                    valid = bytes_.i16(at + 6) >= 0; // a negative residual word marks a gap
                }
                if (valid)
                    file.points[point][frame] = p;
            }
        }
    }

    /// Value i of a numeric parameter, if it has so many.
    std::optional<double> number_at(const std::string& name, std::size_t i) const {
        const C3dParameter* parameter = out_.value.find(name);
        if (parameter == nullptr || i >= parameter->numbers.size())
            return std::nullopt;
        return parameter->numbers[i];
    }

    /// EVENT group: labels, and times as pairs of minutes and seconds counted from frame 1.
    void read_events() {
        C3dFile& file = out_.value;
        const C3dParameter* labels = file.find("EVENT:LABELS");
        const auto used = file.find_number("EVENT:USED");
        if (labels == nullptr || !used)
            return;
        const double offset_s = (static_cast<double>(file.first_field) - 1.0) / file.rate_hz;
        for (std::size_t i = 0; i < labels->texts.size() && static_cast<double>(i) < *used; ++i) {
            const auto minutes = number_at("EVENT:TIMES", 2 * i);
            const auto seconds = number_at("EVENT:TIMES", 2 * i + 1);
            if (minutes && seconds && std::isfinite(*minutes) && std::isfinite(*seconds))
                file.events.push_back({labels->texts[i], 60.0 * *minutes + *seconds - offset_s});
        }
    }

    /// One analogue sample in its unit: (stored - offset) · channel scale · general scale.
    double analog_value(std::size_t frame, std::size_t sample, std::size_t channel) const {
        const std::size_t at = data_at_ + frame * frame_size_ + points_ * 4 * item_ +
                               (sample * analog_channels_ + channel) * item_;
        double stored = 0.0;
        if (item_ == 4)
            stored = bytes_.real(at);
        else
            stored = analog_unsigned_ ? static_cast<double>(bytes_.u16(at))
                                      : static_cast<double>(bytes_.i16(at));
        const double offset = number_at("ANALOG:OFFSET", channel).value_or(0.0);
        const double scale = number_at("ANALOG:SCALE", channel).value_or(1.0);
        return (stored - offset) * scale * analog_scale_;
    }

    /// Mean |Fz| of a platform in a frame. Types 1, 2: channel 3; type 3: the sum of the four
    /// vertical channels 5 to 8; type 4: row 3 of the calibration matrix times the six channels.
    double vertical_in(std::size_t frame, std::size_t plate, int type,
                       const std::vector<std::size_t>& channels) const {
        double sum = 0.0;
        for (std::size_t sample = 0; sample < analog_samples_; ++sample) {
            double vertical = 0.0;
            if (type == 3) {
                for (std::size_t c = 4; c < 8; ++c)
                    vertical += analog_value(frame, sample, channels[c]);
            } else if (type == 4) {
                // Stored column by column: element (row, column) at row + 6 · column.
                for (std::size_t c = 0; c < 6; ++c)
                    vertical += number_at("FORCE_PLATFORM:CAL_MATRIX", 36 * plate + 6 * c + 2)
                                    .value_or(0.0) *
                                analog_value(frame, sample, channels[c]);
            } else {
                vertical = analog_value(frame, sample, channels[2]);
            }
            sum += std::abs(vertical);
        }
        return sum / static_cast<double>(analog_samples_);
    }

    void read_platforms() {
        C3dFile& file = out_.value;
        const auto used = file.find_number("FORCE_PLATFORM:USED");
        const C3dParameter* channel_table = file.find("FORCE_PLATFORM:CHANNEL");
        if (!used || channel_table == nullptr || channel_table->dimensions.empty() || analog_ == 0)
            return;
        analog_channels_ = unsigned_count(file.find_number("ANALOG:USED").value_or(0.0));
        if (analog_channels_ == 0 || analog_ % analog_channels_ != 0)
            return;
        analog_samples_ = analog_ / analog_channels_;
        analog_scale_ = file.find_number("ANALOG:GEN_SCALE").value_or(1.0);
        analog_unsigned_ =
            upper_trimmed(file.find_text("ANALOG:FORMAT").value_or("")) == "UNSIGNED";
        const std::size_t row = channel_table->dimensions.front();
        for (std::size_t plate = 0; plate < 64 && static_cast<double>(plate) < *used; ++plate) {
            C3dFile::Platform platform;
            platform.type = static_cast<int>(number_at("FORCE_PLATFORM:TYPE", plate).value_or(0.0));
            const std::size_t needed = platform.type == 3 ? 8 : 6;
            if (platform.type < 1 || platform.type > 4 || row < needed)
                continue;
            std::vector<std::size_t> channels;
            for (std::size_t c = 0; c < needed; ++c) {
                const auto number =
                    number_at("FORCE_PLATFORM:CHANNEL", plate * row + c).value_or(0.0);
                if (!(number >= 1.0) || number > static_cast<double>(analog_channels_))
                    break;
                channels.push_back(static_cast<std::size_t>(number) - 1);
            }
            if (channels.size() < needed)
                continue;
            for (std::size_t corner = 0; corner < 4; ++corner)
                for (std::size_t axis = 0; axis < 3; ++axis)
                    platform.centre(static_cast<Eigen::Index>(axis)) +=
                        0.25 * number_at("FORCE_PLATFORM:CORNERS", 12 * plate + 3 * corner + axis)
                                   .value_or(0.0);
            platform.vertical.reserve(file.frames);
            for (std::size_t frame = 0; frame < file.frames; ++frame)
                platform.vertical.push_back(vertical_in(frame, plate, platform.type, channels));
            file.platforms.push_back(std::move(platform));
        }
    }

    ByteView bytes_;
    Outcome<C3dFile> out_;
    std::size_t parameters_at_ = 0;
    std::size_t points_ = 0;
    std::size_t analog_ = 0;
    std::size_t data_at_ = 0;
    std::size_t item_ = 4;
    std::size_t frame_size_ = 0;
    std::size_t analog_channels_ = 0;
    std::size_t analog_samples_ = 0;
    double analog_scale_ = 1.0;
    bool analog_unsigned_ = false;
};

} // namespace

const C3dParameter* C3dFile::find(const std::string& name) const {
    const auto found = parameters.find(name);
    return found == parameters.end() ? nullptr : &found->second;
}

std::optional<double> C3dFile::find_number(const std::string& name) const {
    const C3dParameter* parameter = find(name);
    if (parameter == nullptr || parameter->numbers.empty())
        return std::nullopt;
    return parameter->numbers.front();
}

std::optional<std::string> C3dFile::find_text(const std::string& name) const {
    const C3dParameter* parameter = find(name);
    if (parameter == nullptr || parameter->texts.empty())
        return std::nullopt;
    return parameter->texts.front();
}

Outcome<C3dFile> parse_c3d(std::string_view bytes) {
    return C3dParser(bytes).parse();
}

} // namespace kite::formats
