#include "formats/text/numbers.h"

#include "core/practice/plan.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>
#include <cmath>

namespace kite::formats {

std::optional<double> parse_number(std::string_view text, bool decimal_comma) {
    std::string copy;
    if (decimal_comma && text.find(',') != std::string_view::npos) {
        copy = text;
        std::replace(copy.begin(), copy.end(), ',', '.');
        text = copy;
    }
    if (!text.empty() && text.front() == '+')
        text.remove_prefix(1);
    double value = 0.0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc{} || end != text.data() + text.size() || !std::isfinite(value))
        return std::nullopt;
    return value;
}

bool is_missing_text(std::string_view text) {
    return text.empty() || text == "-" || lower_case(text) == "nan";
}

std::string format_number(double value) {
    if (!std::isfinite(value))
        return "";
    std::array<char, 64> buffer{};
    const auto result = std::to_chars(buffer.data(), buffer.data() + buffer.size(), value);
    return {buffer.data(), result.ptr};
}

std::string_view trimmed(std::string_view text) {
    const auto is_space = [](char c) { return std::isspace(static_cast<unsigned char>(c)) != 0; };
    while (!text.empty() && is_space(text.front()))
        text.remove_prefix(1);
    while (!text.empty() && is_space(text.back()))
        text.remove_suffix(1);
    return text;
}

std::string lower_case(std::string_view text) {
    std::string out(text);
    std::transform(out.begin(), out.end(), out.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return out;
}

std::optional<double> parse_clock(std::string_view text) {
    constexpr std::size_t kDate = 10;
    double days = 0.0;
    if (text.size() > kDate && (text[kDate] == 'T' || text[kDate] == ' ')) {
        const auto date = find_date(text.substr(0, kDate));
        if (!date)
            return std::nullopt;
        days = static_cast<double>((*date - Date(1970, 1, 1)).days());
        text.remove_prefix(kDate + 1);
    }
    if (!text.empty() && text.back() == 'Z')
        text.remove_suffix(1);
    double seconds = 0.0;
    double unit = 3600.0;
    int parts = 0;
    for (; parts < 3; ++parts, unit /= 60.0) {
        const std::size_t end = std::min(text.find(':'), text.size());
        const std::string_view part = text.substr(0, end);
        const auto value = parse_number(part);
        constexpr std::array kMost{24.0, 60.0, 61.0}; // a second may leap
        if (part.empty() || part[0] < '0' || part[0] > '9' || !value ||
            *value >= kMost.at(static_cast<std::size_t>(parts)) ||
            (parts < 2 && part.find_first_not_of("0123456789") != std::string_view::npos))
            return std::nullopt;
        seconds += unit * *value;
        if (end == text.size())
            break;
        text.remove_prefix(end + 1);
    }
    if (parts < 1 || parts > 2)
        return std::nullopt;
    return 86400.0 * days + seconds;
}

} // namespace kite::formats
