#include "core/base/number.h"

#include <cmath>
#include <fmt/format.h>

namespace kite {

std::string fixed(double value, int decimals) {
    if (!std::isfinite(value))
        return "";
    std::string text = fmt::format("{:.{}f}", value, decimals);
    if (text.front() == '-' && text.find_first_not_of("-0.") == std::string::npos)
        text.erase(0, 1);
    return text;
}

std::string digits(double value, int count) {
    return fmt::format("{:.{}g}", value, count);
}

} // namespace kite
