#include "formats/text/csv_field.h"

#include <csv.h>

namespace kite::formats {

std::string csv_field(const std::string& text) {
    if (text.find_first_of(",\"\r\n") == std::string::npos)
        return text;
    std::string out(csv_write(nullptr, 0, text.data(), text.size()), '\0');
    csv_write(out.data(), out.size(), text.data(), text.size());
    return out;
}

std::string csv_text_field(const std::string& text) {
    const bool is_formula =
        !text.empty() && std::string("=+-@\t\r\n").find(text.front()) != std::string::npos;
    return csv_field(is_formula ? "'" + text : text);
}

} // namespace kite::formats
