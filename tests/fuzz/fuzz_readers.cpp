// libFuzzer: any bytes, as a file of a format (KITE_FUZZ_NAME chooses its extension, for instance
// x.c3d; launch and force are those beside a motion; columns is a table of strange names, mappings
// what is remembered of them; packets is a recording of a bay, or one packet; rules is any of rule,
// school, drill and plan files), read and, where that works, analysed and written. Built by ./kite
// fuzz with clang's address and undefined-behaviour sanitizers.

#include "core/measures/analyse.h"
#include "formats/beside/force_csv.h"
#include "formats/beside/launch_csv.h"
#include "formats/json/analysis_json.h"
#include "formats/json/lesson_json.h"
#include "formats/mapping/column_mapping.h"
#include "formats/names/name_table.h"
#include "formats/practice/drills_json.h"
#include "formats/practice/plan_calendar.h"
#include "formats/practice/plan_json.h"
#include "formats/reader.h"
#include "formats/rules/rules_json.h"
#include "formats/rules/school_edit.h"
#include "live/hearing.h"

#include <cstddef>
#include <cstdint>
#include <cstdlib>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const char* const name = [] {
        const char* given = std::getenv("KITE_FUZZ_NAME");
        return given != nullptr ? given : "fuzz";
    }();
    const std::string_view bytes(reinterpret_cast<const char*>(data), size);
    static const kite::formats::NameTable names = kite::formats::NameTable::shipped();
    if (std::string_view(name) == "launch") {
        kite::formats::read_launch_csv(bytes, names);
        return 0;
    }
    if (std::string_view(name) == "force") {
        kite::Take take;
        take.rate_hz = 100.0;
        take.frames = 50;
        std::vector<kite::Finding> findings;
        const auto record = kite::formats::read_force_csv(bytes, kite::Handedness::Right, names);
        if (record.ok())
            kite::attach_forces(take, record.value, findings);
        return 0;
    }
    if (std::string_view(name) == "columns") {
        const auto table = kite::formats::read_foreign_table(bytes);
        auto mapping = kite::formats::guess_mapping(table.value.header);
        mapping.rows_hz = 100.0;
        const auto text = kite::formats::map_table(bytes, mapping);
        if (text.ok())
            kite::formats::read_take(text.value, "columns.csv", {});
        return 0;
    }
    if (std::string_view(name) == "lesson") {
        const auto lesson = kite::formats::parse_lesson(bytes, "folder/lesson.json");
        for (const auto& swing : lesson.value.swings)
            if (swing.file.lexically_normal().string().rfind("folder/", 0) != 0)
                std::abort(); // it reaches outside its folder
        return 0;
    }
    if (std::string_view(name) == "mappings") {
        const auto store = kite::formats::MappingStore::parse(bytes);
        store.value.find_for(bytes);
        store.value.find_for("hip;chest\n1;2\n");
        return 0;
    }
    if (std::string_view(name) == "packets") {
        // All that a network can send, as a recording has it.
        kite::live::Hearing hearing;
        auto file = kite::live::open_raw(bytes);
        if (!file.ok())
            hearing.take({kite::live::RawRecord::Kind::Packet, 0, bytes.substr(0, 65000)});
        while (const auto record = kite::live::next_record(file.value.records))
            hearing.take(*record);
        hearing.finish();
        return 0;
    }
    // One target for the files that a person writes: their parser is the same, and any of them can
    // be tried as any other.
    if (std::string_view(name) == "rules") {
        kite::formats::parse_rule_book(bytes);
        kite::formats::parse_drill_book(bytes, kite::formats::shipped_rule_book());
        const auto school = kite::formats::parse_school(bytes, kite::formats::shipped_rule_book());
        if (school.ok()) {
            // What is a school stays one when it is changed in one place.
            const std::string changed = kite::formats::with_weight(bytes, "slide", 2.0);
            if (!kite::formats::parse_school(changed, kite::formats::shipped_rule_book()).ok())
                std::abort();
        }
        const auto plan = kite::formats::parse_plan(bytes);
        if (plan.ok()) {
            if (!kite::formats::parse_plan(kite::formats::to_json(plan.value)).ok())
                std::abort();
            kite::formats::to_calendar(plan.value, kite::formats::shipped_drills(),
                                       "20261127T101500Z");
        }
        return 0;
    }
    const auto take = kite::formats::read_take(bytes, name, {});
    kite::formats::read_markers(bytes, name, {});
    // Analysing every survivor would spend the time on the same arithmetic: short ones do.
    if (!take.ok() || take.value.frames > 400)
        return 0;
    const auto result = kite::analyse(take.value, {});
    kite::formats::to_json(name, result.value, {}, result.findings);
    return 0;
}
