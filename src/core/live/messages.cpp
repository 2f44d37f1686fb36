#include "core/live/messages.h"

namespace kite::live {

namespace {

struct RoleEntry {
    const char* key;
    const char* name;
    std::optional<Segment> segment;
};
constexpr std::array<RoleEntry, kRoles.size()> kEntries{
    {{"pelvis", KITE_TR("pelvis"), Segment::Pelvis},
     {"torso", KITE_TR("torso"), Segment::Torso},
     {"lead_arm", KITE_TR("lead arm"), Segment::LeadArm},
     {"club", KITE_TR("club"), Segment::Club},
     {"plate", KITE_TR("pressure plate"), std::nullopt},
     {"launch", KITE_TR("launch monitor"), std::nullopt}}};

const RoleEntry& entry_of(Role role) {
    return kEntries[static_cast<std::size_t>(role)];
}

} // namespace

std::string_view key_of(Role role) {
    return entry_of(role).key;
}

std::string_view name_of(Role role) {
    return entry_of(role).name;
}

std::optional<Role> find_role(std::string_view key) {
    for (Role role : kRoles)
        if (key_of(role) == key)
            return role;
    return std::nullopt;
}

std::optional<Segment> segment_of(Role role) {
    return entry_of(role).segment;
}

} // namespace kite::live
