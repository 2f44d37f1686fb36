#pragma once

#include "core/base/findings.h"

#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace kite::formats {

/// A table of text with a header row: comma, semicolon or tab; quoted fields; a decimal comma
/// where the fields are not separated by commas; byte-order mark, CRLF and trailing blanks allowed.
/// Comment lines "# key: value" may stand before the header.
struct DelimitedTable {
    std::vector<std::pair<std::string, std::string>> comments; ///< key in lower case, value
    std::vector<std::size_t> comment_lines;                    ///< line of each comment, from 1
    std::vector<std::string> header;                           ///< trimmed, lower case
    std::vector<std::vector<double>> columns;                  ///< a value a row; NaN: missing
    std::vector<std::size_t> row_lines;                        ///< line in the file, from 1
    char delimiter = ',';

    std::optional<std::string> find_comment(std::string_view key) const;
    const std::vector<double>* find(std::string_view column) const;
    std::size_t rows() const { return row_lines.size(); }
};

/// What a field that is neither a number nor empty means.
enum class OtherText {
    IsAnError,
    IsMissing,
    IsClock ///< a time of day, in seconds (parse_clock); everything else is missing
};

/// Reads the table. Errors name line and column: binary data, no header, a row with too few or too
/// many fields, a field that is not a number. A last row cut short is left out with a warning.
/// `lines_before`: lines of the file that stand before these bytes.
Outcome<DelimitedTable> read_delimited(std::string_view bytes, std::size_t lines_before = 0,
                                       OtherText other = OtherText::IsAnError);

/// Turns "data row N" of a finding into the line of the file.
void place_in_file(const DelimitedTable& table, Finding& finding);

/// The first bytes of a text without its byte-order mark.
std::string_view without_mark(std::string_view bytes);

} // namespace kite::formats
