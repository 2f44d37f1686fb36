#pragma once

#include <cstdint>
#include <cstring>
#include <string>
#include <vector>

namespace kite::test {

/// A small C3D built byte by byte after the published layout (c3d.org user guide), apart from the
/// program's own writer: 2 points "AA" and "BB", 3 frames, parameters in the order USED, SCALE,
/// RATE, DATA_START, FRAMES, LABELS, UNITS.
struct C3dBytes {
    bool integers = false;
    int processor = 84;
    std::uint16_t frames_claimed = 3;
    std::uint16_t points_claimed = 2;
    std::uint16_t data_block = 3;
    double scale = 0.5; ///< for integers; reals are written with -1
    std::string unit = "mm";
    std::size_t analog = 0; ///< analogue samples a frame

    double event_min = -1.0; ///< an event "Impact" at so many minutes …
    double event_s = 0.0;    ///< … and seconds; none below zero
    int platform_type = 0;   ///< one force platform of this type on the analogue channels
    unsigned first_field = 0;

    void u16(std::string& out, unsigned value) const {
        const char low = static_cast<char>(value & 0xFF);
        const char high = static_cast<char>(value >> 8);
        out += processor == 86 ? high : low;
        out += processor == 86 ? low : high;
    }
    /// IEEE 754 in the processor's order; for DEC as VAX F: four times the value, halves swapped.
    void real(std::string& out, double value) const {
        const auto single = static_cast<float>(processor == 85 ? 4.0 * value : value);
        char b[4];
        std::memcpy(b, &single, 4); // tests run on Intel
        if (processor == 86)
            out += {b[3], b[2], b[1], b[0]};
        else if (processor == 85)
            out += {b[2], b[3], b[0], b[1]};
        else
            out += {b[0], b[1], b[2], b[3]};
    }
    void entry(std::string& out, const std::string& name, int group,
               const std::string& data) const {
        out += static_cast<char>(name.size());
        out += static_cast<char>(group);
        out += name;
        u16(out, static_cast<unsigned>(data.size() + 2));
        out += data;
    }
    std::string integer(unsigned value) const {
        std::string out{'\2', '\0'};
        u16(out, value);
        return out + '\0';
    }
    std::string number(double value) const {
        std::string out{'\4', '\0'};
        real(out, value);
        return out + '\0';
    }
    static std::string text(const std::string& value, int width, int rows) {
        std::string out{static_cast<char>(-1), '\2'};
        out += static_cast<char>(width);
        out += static_cast<char>(rows);
        return out + value + '\0';
    }

    /// Coordinate of a point as stored: frame * 100 + point * 10 + axis.
    static double stored(int frame, int point, int axis) { return frame * 100 + point * 10 + axis; }

    std::string reals(const std::vector<double>& values, const std::vector<int>& dimensions) const {
        std::string out{'\4', static_cast<char>(dimensions.size())};
        for (int d : dimensions)
            out += static_cast<char>(d);
        for (double value : values)
            real(out, value);
        return out + '\0';
    }
    std::string integers_of(const std::vector<unsigned>& values,
                            const std::vector<int>& dimensions) const {
        std::string out{'\2', static_cast<char>(dimensions.size())};
        for (int d : dimensions)
            out += static_cast<char>(d);
        for (unsigned value : values)
            u16(out, value);
        return out + '\0';
    }
    void add_trial(std::string& out) const {
        entry(out, "TRIAL", -2, std::string(1, '\0'));
        entry(out, "ACTUAL_START_FIELD", 2, integers_of({first_field, 0}, {2}));
        entry(out, "ACTUAL_END_FIELD", 2, integers_of({first_field + 2, 0}, {2}));
    }
    void add_event(std::string& out) const {
        entry(out, "EVENT", -3, std::string(1, '\0'));
        entry(out, "USED", 3, integer(1));
        entry(out, "LABELS", 3, text("Impact", 6, 1));
        entry(out, "TIMES", 3, reals({event_min, event_s}, {2, 1}));
    }
    /// Calibration of type 4: row 3 takes twice channel 3 and half of channel 1; corners about
    /// (100, 200, 0).
    void add_platform(std::string& out) const {
        const unsigned channels = platform_type == 3 ? 8 : 6;
        entry(out, "ANALOG", -4, std::string(1, '\0'));
        entry(out, "USED", 4, integer(channels));
        entry(out, "GEN_SCALE", 4, number(2.0));
        entry(out, "SCALE", 4,
              reals(std::vector<double>(channels, -0.5), {static_cast<int>(channels)}));
        entry(out, "OFFSET", 4,
              integers_of(std::vector<unsigned>(channels, 1), {static_cast<int>(channels)}));
        entry(out, "FORCE_PLATFORM", -5, std::string(1, '\0'));
        entry(out, "USED", 5, integer(1));
        entry(out, "TYPE", 5, integers_of({static_cast<unsigned>(platform_type)}, {1}));
        std::vector<unsigned> numbers;
        for (unsigned c = 1; c <= channels; ++c)
            numbers.push_back(c);
        entry(out, "CHANNEL", 5, integers_of(numbers, {static_cast<int>(channels), 1}));
        entry(out, "CORNERS", 5, reals({0, 0, 0, 200, 0, 0, 200, 400, 0, 0, 400, 0}, {3, 4, 1}));
        if (platform_type == 4) {
            std::vector<double> matrix(36, 0.0);
            matrix[0 * 6 + 2] = 0.5; // row 3, column 1
            matrix[2 * 6 + 2] = 2.0; // row 3, column 3
            entry(out, "CAL_MATRIX", 5, reals(matrix, {6, 6, 1}));
        }
    }

    std::string build() const {
        std::string out;
        out += '\2';
        out += '\x50';
        u16(out, points_claimed);
        u16(out, static_cast<unsigned>(analog));
        u16(out, 1);
        u16(out, frames_claimed);
        u16(out, 0);
        real(out, integers ? scale : -1.0);
        u16(out, data_block);
        u16(out, 0);
        real(out, 120.0);
        out.resize(512, '\0');
        out += '\1';
        out += '\x50';
        out += '\1';
        out += static_cast<char>(processor);
        entry(out, "POINT", -1, std::string(1, '\0'));
        entry(out, "USED", 1, integer(points_claimed));
        entry(out, "SCALE", 1, number(integers ? scale : -1.0));
        entry(out, "RATE", 1, number(120.0));
        entry(out, "DATA_START", 1, integer(data_block));
        entry(out, "FRAMES", 1, integer(frames_claimed));
        entry(out, "LABELS", 1, text("AA  BB  ", 4, 2));
        entry(out, "UNITS", 1, text(unit + std::string(4 - unit.size(), ' '), 4, 1));
        if (first_field > 0)
            add_trial(out);
        if (event_min >= 0.0)
            add_event(out);
        if (platform_type > 0)
            add_platform(out);
        const bool more = platform_type > 0 || event_min >= 0.0 || first_field > 0;
        out.resize(more ? 1536 : 1024, '\0');
        for (int frame = 0; frame < 3; ++frame) {
            for (int point = 0; point < 2; ++point) {
                // The second point is hidden in the last frame.
                const bool hidden = frame == 2 && point == 1;
                for (int axis = 0; axis < 3; ++axis) {
                    if (integers)
                        u16(out, static_cast<unsigned>(stored(frame, point, axis)));
                    else
                        real(out, stored(frame, point, axis));
                }
                if (integers)
                    u16(out, hidden ? 0xFFFFU : 0U);
                else
                    real(out, hidden ? -1.0 : 0.0);
            }
            for (std::size_t i = 0; i < analog; ++i) {
                // Channel c of sample s in frame f: 100 f + 10 s + c + 1 with platforms, else 999.
                const std::size_t channels = platform_type == 3 ? 8 : 6;
                const std::size_t sample = i / channels;
                const double value =
                    platform_type == 0
                        ? 999.0
                        : 100.0 * frame + static_cast<double>(10 * sample + i % channels + 1);
                if (integers)
                    u16(out, static_cast<unsigned>(value));
                else
                    real(out, value);
            }
        }
        return out;
    }
};

} // namespace kite::test
