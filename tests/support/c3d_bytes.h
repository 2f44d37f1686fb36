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

    static void u16(std::string& out, unsigned value) {
        out += static_cast<char>(value & 0xFF);
        out += static_cast<char>(value >> 8);
    }
    static void real(std::string& out, double value) {
        const auto single = static_cast<float>(value);
        char bytes[4];
        std::memcpy(bytes, &single, 4); // tests run on Intel
        out.append(bytes, 4);
    }
    static void entry(std::string& out, const std::string& name, int group,
                      const std::string& data) {
        out += static_cast<char>(name.size());
        out += static_cast<char>(group);
        out += name;
        u16(out, static_cast<unsigned>(data.size() + 2));
        out += data;
    }
    static std::string integer(unsigned value) {
        std::string out{'\2', '\0'};
        u16(out, value);
        return out + '\0';
    }
    static std::string number(double value) {
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
        out.resize(1024, '\0');
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
                if (integers)
                    u16(out, 999);
                else
                    real(out, 999.0);
            }
        }
        return out;
    }
};

} // namespace kite::test
