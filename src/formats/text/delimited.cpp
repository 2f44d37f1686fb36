#include "formats/text/delimited.h"

#include "formats/text/numbers.h"

#include <algorithm>
#include <array>
#include <csv.h>
#include <limits>
#include <set>

namespace kite::formats {

using Severity = Finding::Severity;

namespace {

/// Splits lines into fields with libcsv, a line at a time so that every row knows its line.
class FieldSplitter {
public:
    explicit FieldSplitter(char delimiter) {
        csv_init(&parser_, 0);
        csv_set_delim(&parser_, static_cast<unsigned char>(delimiter));
        // A tab that separates fields is not a blank to be trimmed.
        csv_set_space_func(&parser_, delimiter == '\t' ? only_space : nullptr);
    }
    FieldSplitter(const FieldSplitter&) = delete;
    FieldSplitter& operator=(const FieldSplitter&) = delete;
    ~FieldSplitter() { csv_free(&parser_); }

    /// Feeds one line with its end. True when a row is complete; its fields are then in `fields`.
    bool feed(std::string_view line) {
        if (complete_)
            fields.clear();
        complete_ = false;
        csv_parse(&parser_, line.data(), line.size(), on_field, on_row, this);
        return complete_;
    }
    std::vector<std::string> fields;

private:
    static int only_space(unsigned char c) { return c == ' ' ? 1 : 0; }
    static void on_field(void* text, std::size_t size, void* self) {
        static_cast<FieldSplitter*>(self)->fields.emplace_back(static_cast<const char*>(text),
                                                               size);
    }
    static void on_row(int /*end*/, void* self) {
        static_cast<FieldSplitter*>(self)->complete_ = true;
    }

    csv_parser parser_{};
    bool complete_ = false;
};

char find_delimiter(std::string_view header) {
    constexpr std::array kDelimiters{',', ';', '\t'};
    const auto count = [&](char c) { return std::count(header.begin(), header.end(), c); };
    return *std::max_element(kDelimiters.begin(), kDelimiters.end(),
                             [&](char a, char b) { return count(a) < count(b); });
}

std::string place(std::size_t line) {
    return "line " + std::to_string(line);
}

/// At most a few characters of a field, made safe to show.
std::string shown(std::string_view text) {
    constexpr std::size_t kMost = 24;
    std::string out;
    for (char c : text.substr(0, kMost))
        out += static_cast<unsigned char>(c) < 0x20 ? '?' : c;
    return text.size() > kMost ? out + "\u2026" : out;
}

class TableReader {
public:
    TableReader(std::string_view text, std::size_t lines_before, OtherText other)
        : rest_(text), line_(lines_before), other_(other) {}

    Outcome<DelimitedTable> read() {
        if (!read_comments())
            return std::move(out_);
        read_rows();
        return std::move(out_);
    }

private:
    bool fail(std::string code, std::string what, std::string where, std::string mend) {
        out_.add(
            {Severity::Error, std::move(code), std::move(what), std::move(where), std::move(mend)});
        return false;
    }

    /// The next line with its end; empty at the end of the text.
    std::string_view next_line() {
        const auto end = rest_.find('\n');
        std::string_view line =
            rest_.substr(0, end == std::string_view::npos ? rest_.size() : end + 1);
        rest_.remove_prefix(line.size());
        ++line_;
        return line;
    }

    /// Up to the header, which stays in header_line_.
    bool read_comments() {
        while (!rest_.empty()) {
            const std::string_view line = trimmed(next_line());
            if (line.empty())
                continue;
            if (line.front() != '#') {
                header_line_ = line;
                return read_header();
            }
            const std::string_view text = trimmed(line.substr(1));
            const auto colon = text.find(':');
            if (colon == std::string_view::npos)
                continue; // a free remark
            out_.value.comments.emplace_back(lower_case(trimmed(text.substr(0, colon))),
                                             std::string(trimmed(text.substr(colon + 1))));
            out_.value.comment_lines.push_back(line_);
        }
        return fail("no-header", "There is no header row.", place(std::max<std::size_t>(1, line_)),
                    "The first row after the comments must name the columns.");
    }

    bool read_header() {
        DelimitedTable& table = out_.value;
        table.delimiter = find_delimiter(header_line_);
        FieldSplitter splitter(table.delimiter);
        // A quotation mark that is not closed takes the line's end for text: no row is complete
        // then.
        if (!splitter.feed(std::string(header_line_) + "\n") || splitter.fields.empty())
            return fail("header-broken", "The header row cannot be read.", place(line_),
                        "Check its quotation marks.");
        for (const std::string& field : splitter.fields)
            table.header.push_back(lower_case(trimmed(field)));
        while (!table.header.empty() && table.header.back().empty())
            table.header.pop_back();
        const bool decimal_comma = table.delimiter != ',';
        const bool numbers =
            !table.header.empty() &&
            std::all_of(table.header.begin(), table.header.end(), [&](const std::string& name) {
                return is_missing_text(name) || parse_number(name, decimal_comma).has_value();
            });
        if (numbers)
            return fail("no-header",
                        "There is no header row: the first row holds numbers where the columns "
                        "should be named.",
                        place(line_), "Put a row with the names of the columns before the data.");
        std::set<std::string_view> seen;
        for (const std::string& name : table.header)
            if (!name.empty() && !seen.insert(name).second)
                return fail("column-twice", "The column \"" + shown(name) + "\" stands twice.",
                            place(line_), "Keep one of them.");
        table.columns.resize(table.header.size());
        return true;
    }

    void read_rows() {
        DelimitedTable& table = out_.value;
        const bool decimal_comma = table.delimiter != ',';
        FieldSplitter splitter(table.delimiter);
        std::size_t first_line = 0;
        while (!rest_.empty()) {
            const std::string_view raw = next_line();
            const bool last = rest_.empty();
            if (first_line == 0 && trimmed(raw).empty())
                continue;
            if (first_line == 0)
                first_line = line_;
            const bool ended = raw.back() == '\n' || raw.back() == '\r';
            if (!splitter.feed(ended ? raw : std::string(raw) + "\n") && !last)
                continue; // a quoted field goes on in the next line
            if (!add_row(splitter.fields, first_line, decimal_comma, last && !ended))
                return;
            first_line = 0;
        }
    }

    bool add_row(std::vector<std::string>& fields, std::size_t line, bool decimal_comma,
                 bool cut_short) {
        DelimitedTable& table = out_.value;
        while (fields.size() > table.header.size() && trimmed(fields.back()).empty())
            fields.pop_back();
        if (fields.size() != table.header.size()) {
            if (cut_short) {
                out_.add({Severity::Warning, "row-cut",
                          "The last row is cut short and was left out.", place(line),
                          "Export the recording again if something is missing."});
                return false;
            }
            return fail("field-count",
                        "There are " + std::to_string(fields.size()) +
                            " values where the header names " +
                            std::to_string(table.header.size()) + " columns.",
                        place(line), "Check for a missing or extra separator.");
        }
        row_.clear();
        for (std::size_t i = 0; i < fields.size(); ++i) {
            const std::string_view text = trimmed(fields[i]);
            double value = std::numeric_limits<double>::quiet_NaN();
            if (!is_missing_text(text)) {
                const auto number = parse_number(text, decimal_comma);
                if (!number && other_ == OtherText::IsAnError)
                    return fail("not-a-number", "\"" + shown(text) + "\" is not a number.",
                                place(line) + ", column " + shown(table.header[i]),
                                "Put a number there, or leave it empty if it is missing.");
                value = number.value_or(value);
                if (!number && other_ == OtherText::IsClock)
                    value = parse_clock(text).value_or(value);
            }
            row_.push_back(value);
        }
        for (std::size_t i = 0; i < row_.size(); ++i)
            table.columns[i].push_back(row_[i]);
        table.row_lines.push_back(line);
        return true;
    }

    std::string_view rest_;
    std::string_view header_line_;
    std::size_t line_ = 0;
    OtherText other_;
    std::vector<double> row_;
    Outcome<DelimitedTable> out_;
};

} // namespace

std::optional<std::string> DelimitedTable::find_comment(std::string_view key) const {
    for (const auto& [name, value] : comments)
        if (name == key)
            return value;
    return std::nullopt;
}

const std::vector<double>* DelimitedTable::find(std::string_view column) const {
    for (std::size_t i = 0; i < header.size(); ++i)
        if (header[i] == column)
            return &columns[i];
    return nullptr;
}

std::string_view without_mark(std::string_view bytes) {
    constexpr std::string_view kMark = "\xEF\xBB\xBF";
    return bytes.substr(0, kMark.size()) == kMark ? bytes.substr(kMark.size()) : bytes;
}

Outcome<DelimitedTable> read_delimited(std::string_view bytes, std::size_t lines_before,
                                       OtherText other) {
    const std::string_view text = without_mark(bytes);
    const auto zero = text.find('\0');
    if (zero != std::string_view::npos) {
        Outcome<DelimitedTable> out;
        out.add({Severity::Error, "binary", "This is binary data, not a text table.",
                 "byte " + std::to_string(zero + (bytes.size() - text.size())),
                 "Export the recording as text, or open it under its own format."});
        return out;
    }
    return TableReader(text, lines_before, other).read();
}

void place_in_file(const DelimitedTable& table, Finding& finding) {
    constexpr std::string_view kRow = "data row ";
    if (finding.where.rfind(kRow, 0) != 0)
        return;
    const std::size_t row = std::stoul(finding.where.substr(kRow.size()));
    if (row >= 1 && row <= table.rows())
        finding.where = "line " + std::to_string(table.row_lines[row - 1]) + ", column time_s";
}

} // namespace kite::formats
