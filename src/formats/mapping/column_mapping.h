#pragma once

#include "core/base/findings.h"

#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace kite::formats {

/// A column that a swing can be read from: its name here, and the units somebody may have it in.
struct OurColumn {
    struct Unit {
        std::string name;
        double factor; ///< ours = theirs × factor
    };
    std::string key;         ///< "pelvis_turn_deg"
    std::string words;       ///< "pelvis turn"
    std::vector<Unit> units; ///< ours first
};
/// Time, angles, rotation speeds, and the places of the parts.
const std::vector<OurColumn>& our_columns();
const OurColumn* find_our_column(std::string_view key);

/// One column of somebody's table as one of ours.
struct ColumnUse {
    std::string theirs; ///< as in the header, lower case
    std::string ours;   ///< key of our column
    double factor = 1.0;

    bool operator==(const ColumnUse& other) const {
        return theirs == other.theirs && ours == other.ours && factor == other.factor;
    }
};

/// How a whole table is read. Without a column for the time the rows are `rows_hz` a second.
struct ColumnMapping {
    std::string name; ///< what it is remembered under
    std::vector<ColumnUse> uses;
    std::optional<double> rows_hz;

    /// Is every column of it in the header?
    bool fits(const std::vector<std::string>& header) const;
};

/// The columns of a text table, for somebody to say what they are. Fields that are no numbers are
/// missing values.
struct ForeignTable {
    std::vector<std::string> header;
    std::vector<std::vector<double>> columns;
};
Outcome<ForeignTable> read_foreign_table(std::string_view bytes);

/// A first guess by the words in the header: part, quantity and unit. What it cannot tell is left
/// out; nothing is used twice.
ColumnMapping guess_mapping(const std::vector<std::string>& header);

/// The table in our columns and units, as a text that the readers know. Comments stay.
Outcome<std::string> map_table(std::string_view bytes, const ColumnMapping& mapping);

/// The mappings that the user gave, as a JSON file.
class MappingStore {
public:
    /// An absent file holds none; a broken one says so and is not written over.
    static Outcome<MappingStore> load(const std::filesystem::path& path);
    static Outcome<MappingStore> parse(std::string_view bytes);
    /// $XDG_CONFIG_HOME/kite-hinge/mappings.json
    static std::filesystem::path user_path();

    const std::vector<ColumnMapping>& mappings() const { return mappings_; }
    /// The mapping for a text's header, the one with most columns first; nullptr: none fits.
    const ColumnMapping* find_for(std::string_view bytes) const;
    /// One of the same name gives way.
    void put(ColumnMapping mapping);
    std::vector<Finding> save(const std::filesystem::path& path) const;

private:
    std::vector<ColumnMapping> mappings_;
};

} // namespace kite::formats
