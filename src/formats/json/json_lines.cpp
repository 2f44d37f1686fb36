#include "formats/json/json_lines.h"

#include <algorithm>
#include <cctype>

namespace kite::formats {

namespace {

/// Walks a valid JSON text as far as a pointer leads.
class Walker {
public:
    explicit Walker(std::string_view text) : text_(text) {}

    std::size_t find(std::string_view pointer) {
        skip_blanks();
        while (!pointer.empty()) {
            pointer.remove_prefix(1);
            const auto slash = std::min(pointer.find('/'), pointer.size());
            if (!enter(unescaped(pointer.substr(0, slash))))
                break;
            pointer.remove_prefix(slash);
        }
        return at_;
    }

private:
    static std::string unescaped(std::string_view part) {
        std::string out;
        for (std::size_t i = 0; i < part.size(); ++i) {
            if (part[i] != '~' || i + 1 == part.size()) {
                out += part[i];
                continue;
            }
            out += part[++i] == '1' ? '/' : '~';
        }
        return out;
    }
    char now() const { return at_ < text_.size() ? text_[at_] : '\0'; }
    void skip_blanks() {
        while (at_ < text_.size() && std::isspace(static_cast<unsigned char>(text_[at_])) != 0)
            ++at_;
    }
    std::string_view take_text() {
        const std::size_t begin = ++at_;
        while (at_ < text_.size() && text_[at_] != '"')
            at_ += text_[at_] == '\\' ? 2 : 1;
        const std::size_t end = std::min(at_, text_.size());
        ++at_;
        return text_.substr(begin, end - begin);
    }
    void skip_value() {
        skip_blanks();
        int depth = 0;
        do {
            if (now() == '"') {
                take_text();
            } else {
                depth += now() == '{' || now() == '[' ? 1 : now() == '}' || now() == ']' ? -1 : 0;
                ++at_;
            }
            // A number or a word ends where something else begins.
            while (depth == 0 && at_ < text_.size() &&
                   (std::isalnum(static_cast<unsigned char>(now())) != 0 || now() == '.' ||
                    now() == '-' || now() == '+'))
                ++at_;
        } while (depth > 0 && at_ < text_.size());
    }
    /// Into the member or element of the value that begins here; false: it is not there.
    bool enter(const std::string& part) {
        const std::size_t begin = at_;
        const bool object = now() == '{';
        if (!object && now() != '[')
            return false;
        ++at_;
        for (std::size_t index = 0; at_ < text_.size(); ++index) {
            skip_blanks();
            if (now() == '}' || now() == ']')
                break;
            std::string name = std::to_string(index);
            if (object) {
                name = std::string(take_text());
                skip_blanks();
                ++at_; // the colon
                skip_blanks();
            }
            if (name == part)
                return true;
            skip_value();
            skip_blanks();
            if (now() == ',')
                ++at_;
        }
        at_ = begin;
        return false;
    }

    std::string_view text_;
    std::size_t at_ = 0;
};

} // namespace

std::size_t line_of_byte(std::string_view text, std::size_t byte) {
    const auto end = text.begin() + static_cast<std::ptrdiff_t>(std::min(byte, text.size()));
    return 1 + static_cast<std::size_t>(std::count(text.begin(), end, '\n'));
}

std::size_t line_of(std::string_view json, std::string_view pointer) {
    return line_of_byte(json, Walker(json).find(pointer));
}

} // namespace kite::formats
