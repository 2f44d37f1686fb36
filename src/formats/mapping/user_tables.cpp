#include "formats/mapping/user_tables.h"

#include "formats/mapping/column_mapping.h"
#include "formats/names/name_table.h"

namespace kite::formats {

Outcome<ReadOptions> read_options_of_user() {
    Outcome<ReadOptions> out;
    std::error_code ignored;
    if (std::filesystem::exists(NameTable::user_path(), ignored)) {
        Outcome<NameTable> names = NameTable::with_user_names(NameTable::user_path());
        out.value.names = std::make_shared<const NameTable>(std::move(names.value));
        out.findings = std::move(names.findings);
    }
    Outcome<MappingStore> mappings = MappingStore::load(MappingStore::user_path());
    if (!mappings.value.mappings().empty())
        out.value.mappings = std::make_shared<const MappingStore>(std::move(mappings.value));
    out.findings.insert(out.findings.end(), mappings.findings.begin(), mappings.findings.end());
    return out;
}

} // namespace kite::formats
