#include "formats/rules/shipped.h"

#define KITE_FILE(name)                                                                            \
    extern "C" const char kite_rules_##name;                                                       \
    extern "C" const char kite_rules_##name##_end;
KITE_FILE(faults)
KITE_FILE(drills)
KITE_FILE(none)
KITE_FILE(stretch)
KITE_FILE(depth_first)
KITE_FILE(own_pivot)
KITE_FILE(shift_then_turn)
KITE_FILE(finish_first)
#undef KITE_FILE

namespace kite::formats {

namespace {

std::string_view between(const char* begin, const char* end) {
    return {begin, static_cast<std::size_t>(end - begin)};
}

} // namespace

std::string_view shipped_rules_bytes() {
    return between(&kite_rules_faults, &kite_rules_faults_end);
}

std::string_view shipped_drill_bytes() {
    return between(&kite_rules_drills, &kite_rules_drills_end);
}

std::vector<std::string_view> shipped_school_bytes() {
    return {between(&kite_rules_none, &kite_rules_none_end),
            between(&kite_rules_stretch, &kite_rules_stretch_end),
            between(&kite_rules_depth_first, &kite_rules_depth_first_end),
            between(&kite_rules_own_pivot, &kite_rules_own_pivot_end),
            between(&kite_rules_shift_then_turn, &kite_rules_shift_then_turn_end),
            between(&kite_rules_finish_first, &kite_rules_finish_first_end)};
}

} // namespace kite::formats
