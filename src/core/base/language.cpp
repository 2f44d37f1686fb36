#include "core/base/language.h"

#include <array>
#include <cmath>
#include <cstdio>

namespace kite {

namespace {

std::string plain_number(double value, int decimals) {
    std::array<char, 64> buffer{};
    const double scale = std::pow(10.0, decimals);
    double rounded = std::round(value * scale) / scale;
    const bool negative = rounded < 0.0;
    rounded = std::abs(rounded);
    std::snprintf(buffer.data(), buffer.size(), "%.*f", decimals, rounded);
    return (negative ? "\u2212" : "") + std::string(buffer.data());
}

} // namespace

std::string written(double value, int decimals, const Language& language) {
    return language.number ? language.number(value, decimals) : plain_number(value, decimals);
}

std::string filled(const std::string& text, const std::vector<std::string>& values,
                   const Language& language) {
    std::string out = language.translate(text);
    for (std::size_t i = 0; i < values.size(); ++i) {
        const std::string place = "{" + std::to_string(i + 1) + "}";
        for (auto at = out.find(place); at != std::string::npos;
             at = out.find(place, at + values[i].size()))
            out.replace(at, place.size(), values[i]);
    }
    return out;
}

} // namespace kite
