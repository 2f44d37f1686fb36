#include "core/base/language.h"

#include "core/base/number.h"

#include <cmath>

namespace kite {

namespace {

std::string plain_number(double value, int decimals) {
    // Halves away from nought, as on paper.
    const double scale = std::pow(10.0, decimals);
    const double rounded = std::round(value * scale) / scale;
    return (rounded < 0.0 ? "\u2212" : "") + fixed(std::abs(rounded), decimals);
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
