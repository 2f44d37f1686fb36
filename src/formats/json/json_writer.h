#pragma once

#include <string>
#include <string_view>

namespace kite::formats {

/// JSON on one line, written as it comes: for what is written so often that a tree of it first
/// would be most of the work. Who calls it closes what was opened.
class JsonWriter {
public:
    void begin_object() { open('{'); }
    void end_object() { close('}'); }
    void begin_array() { open('['); }
    void end_array() { close(']'); }
    /// The name of the next value in an object.
    void key(std::string_view name);
    /// With as few digits as give the same number again; null where it is not known.
    void value(double number);
    void value(bool yes);
    /// Bytes that are not UTF-8 are replaced, never fatal.
    void value(std::string_view text);
    void value(const char* text) { value(std::string_view(text)); }
    /// What another library wrote.
    void value_as_is(std::string_view json);
    void null();

    template <class Value>
    void member(std::string_view name, const Value& its_value) {
        key(name);
        value(its_value);
    }
    const std::string& text() const { return text_; }

private:
    void open(char bracket);
    void close(char bracket);
    /// The comma before a value or a name, where one belongs.
    void separate();
    void add_text(std::string_view text);
    std::string text_;
    bool is_first_ = true;   ///< of an object or an array
    bool after_key_ = false; ///< a value has its comma before its name
};

} // namespace kite::formats
