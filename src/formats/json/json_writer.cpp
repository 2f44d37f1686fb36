#include "formats/json/json_writer.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

namespace kite::formats {

void JsonWriter::separate() {
    if (!is_first_ && !after_key_)
        text_ += ',';
    is_first_ = false;
    after_key_ = false;
}

void JsonWriter::open(char bracket) {
    separate();
    text_ += bracket;
    is_first_ = true;
}

void JsonWriter::close(char bracket) {
    text_ += bracket;
    is_first_ = false;
}

void JsonWriter::key(std::string_view name) {
    separate();
    add_text(name);
    text_ += ':';
    after_key_ = true;
}

void JsonWriter::value(double number) {
    if (!std::isfinite(number))
        return null();
    separate();
    std::array<char, 32> digits{};
    char* const end = std::to_chars(digits.data(), digits.data() + digits.size(), number).ptr;
    text_.append(digits.data(), end);
    // A whole one stays known as a number with places.
    if (std::none_of(digits.data(), end, [](char c) { return c == '.' || c == 'e'; }))
        text_ += ".0";
}

void JsonWriter::value(bool yes) {
    value_as_is(yes ? "true" : "false");
}

void JsonWriter::value(std::string_view text) {
    separate();
    add_text(text);
}

void JsonWriter::value_as_is(std::string_view json) {
    separate();
    text_ += json;
}

void JsonWriter::null() {
    value_as_is("null");
}

void JsonWriter::add_text(std::string_view text) {
    const bool plain = std::all_of(text.begin(), text.end(), [](char c) {
        return c >= ' ' && c <= '~' && c != '"' && c != '\\';
    });
    if (plain) {
        text_ += '"';
        text_ += text;
        text_ += '"';
        return;
    }
    text_ += nlohmann::json(std::string(text))
                 .dump(-1, ' ', false, nlohmann::json::error_handler_t::replace);
}

} // namespace kite::formats
