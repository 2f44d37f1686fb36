#include "formats/names/name_table.h"

#include "formats/text/bytes.h"
#include "formats/text/numbers.h"

#include <nlohmann/json.hpp>

#include <array>
#include <cctype>
#include <cstdlib>

namespace kite::formats {

using Severity = Finding::Severity;

namespace {

/// Without prefix, case, blanks and joining signs.
std::string plain(std::string_view name) {
    const auto colon = name.rfind(':');
    if (colon != std::string_view::npos)
        name.remove_prefix(colon + 1);
    std::string out;
    for (char c : name)
        if (std::isalnum(static_cast<unsigned char>(c)) != 0)
            out += static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
    return out;
}

/// Markers that have a left and a right one, by what follows L or R.
constexpr std::array kSided{"ASI", "PSI", "SHO", "ELB", "WRA", "WRB", "KNE", "ANK", "FHD", "BHD"};
constexpr std::array kSingle{"C7", "T10", "CLAV", "STRN", "CLB1", "CLB2", "CLB3"};

struct Other {
    const char* name;
    const char* ours;
};
/// "?" stands for L or R, and for "Left" or "Right" where it is spelt out.
constexpr std::array kSidedOthers{
    Other{"?ASIS", "?ASI"},     Other{"ASIS?", "?ASI"},     Other{"?IAS", "?ASI"},
    Other{"?PSIS", "?PSI"},     Other{"PSIS?", "?PSI"},     Other{"?IPS", "?PSI"},
    Other{"?SHOULDER", "?SHO"}, Other{"?ACR", "?SHO"},      Other{"?ACROMION", "?SHO"},
    Other{"?ELBOW", "?ELB"},    Other{"?LEL", "?ELB"},      Other{"?ELBOWLAT", "?ELB"},
    Other{"?RSP", "?WRA"},      Other{"?WRISTRAD", "?WRA"}, Other{"?WRISTTHUMB", "?WRA"},
    Other{"?USP", "?WRB"},      Other{"?WRISTULN", "?WRB"}, Other{"?WRISTPINKY", "?WRB"},
    Other{"?KNEE", "?KNE"},     Other{"?LFE", "?KNE"},      Other{"?KNEELAT", "?KNE"},
    Other{"?ANKLE", "?ANK"},    Other{"?LM", "?ANK"},       Other{"?ANKLELAT", "?ANK"},
};
constexpr std::array kSingleOthers{
    Other{"CV7", "C7"},          Other{"NECK7", "C7"},        Other{"TV10", "T10"},
    Other{"SJN", "CLAV"},        Other{"JUGULAR", "CLAV"},    Other{"SUPRASTERNALE", "CLAV"},
    Other{"SXS", "STRN"},        Other{"XIPHOID", "STRN"},    Other{"STERNUM", "STRN"},
    Other{"CLUB1", "CLB1"},      Other{"CLUB2", "CLB2"},      Other{"CLUB3", "CLB3"},
    Other{"SHAFTUPPER", "CLB1"}, Other{"SHAFTLOWER", "CLB2"}, Other{"CLUBHEAD", "CLB3"},
};
/// Joints: ours are hips, spine, chest, neck, head, and left_/right_ hip, knee, ankle, shoulder,
/// elbow, wrist; club.
constexpr std::array kJoints{
    Other{"HIPS", "hips"},    Other{"HIP", "hips"},        Other{"PELVIS", "hips"},
    Other{"ROOT", "hips"},    Other{"LOWERBACK", "spine"}, Other{"SPINE", "spine"},
    Other{"SPINE1", "chest"}, Other{"SPINE2", "chest"},    Other{"CHEST", "chest"},
    Other{"THORAX", "chest"}, Other{"NECK", "neck"},       Other{"NECK1", "neck"},
    Other{"HEAD", "head"},    Other{"CLUB", "club"},
};
constexpr std::array kSidedJoints{
    Other{"?UPLEG", "hip"},     Other{"?THIGH", "hip"},      Other{"?HIP", "hip"},
    Other{"?LEG", "knee"},      Other{"?SHIN", "knee"},      Other{"?KNEE", "knee"},
    Other{"?LOWLEG", "knee"},   Other{"?FOOT", "ankle"},     Other{"?ANKLE", "ankle"},
    Other{"?ARM", "shoulder"},  Other{"?UPARM", "shoulder"}, Other{"?UPPERARM", "shoulder"},
    Other{"?FOREARM", "elbow"}, Other{"?LOWARM", "elbow"},   Other{"?ELBOW", "elbow"},
    Other{"?HAND", "wrist"},    Other{"?WRIST", "wrist"},
};

std::string with(std::string pattern, const std::string& side) {
    const auto at = pattern.find('?');
    if (at != std::string::npos)
        pattern.replace(at, 1, side);
    return pattern;
}

} // namespace

NameTable NameTable::shipped() {
    NameTable out;
    for (const auto& [letter, word] : {std::pair("L", "LEFT"), std::pair("R", "RIGHT")}) {
        for (const char* rest : kSided)
            out.markers_[letter + std::string(rest)] = letter + std::string(rest);
        for (const Other& other : kSidedOthers)
            for (const char* side : {letter, word})
                out.markers_.emplace(with(other.name, side), with(other.ours, letter));
        for (const Other& other : kSidedJoints)
            for (const char* side : {letter, word})
                out.joints_.emplace(with(other.name, side),
                                    lower_case(word) + "_" + std::string(other.ours));
    }
    for (const char* name : kSingle)
        out.markers_[name] = name;
    for (const Other& other : kSingleOthers)
        out.markers_.emplace(other.name, other.ours);
    for (const Other& other : kJoints)
        out.joints_.emplace(other.name, other.ours);
    return out;
}

Outcome<NameTable> NameTable::with_user_names(const std::filesystem::path& path) {
    Outcome<NameTable> out;
    out.value = shipped();
    const Outcome<std::string> bytes = read_bytes(path);
    if (!bytes.ok()) {
        out.findings = bytes.findings;
        return out;
    }
    const auto json = nlohmann::json::parse(bytes.value, nullptr, false);
    if (json.is_discarded() || !json.is_object()) {
        out.add({Severity::Error, "names-broken", "The table of names is not valid JSON.", "",
                 R"(Write {"markers": {"their name": "LASI"}, "joints": {}}.)"});
        return out;
    }
    for (const auto& [key, table] :
         {std::pair("markers", &out.value.markers_), std::pair("joints", &out.value.joints_),
          std::pair("columns", &out.value.columns_)}) {
        const auto found = json.find(key);
        if (found == json.end() || !found->is_object())
            continue;
        for (const auto& [theirs, ours] : found->items()) {
            if (!ours.is_string() || plain(theirs).empty()) {
                out.add({Severity::Warning, "name-broken",
                         "The name \"" + theirs + "\" has no text beside it and was left out.",
                         std::string(key), "Give it one of our names in quotation marks."});
                continue;
            }
            (*table)[plain(theirs)] = ours.get<std::string>();
        }
    }
    return out;
}

std::filesystem::path NameTable::user_path() {
    const char* config = std::getenv("XDG_CONFIG_HOME");
    const char* home = std::getenv("HOME");
    std::filesystem::path folder = config != nullptr && *config != '\0' ? config
                                   : home != nullptr ? std::filesystem::path(home) / ".config"
                                                     : std::filesystem::path(".");
    return folder / "kite-hinge" / "names.json";
}

void NameTable::add_marker(std::string_view theirs, const std::string& ours) {
    markers_[plain(theirs)] = ours;
}

std::vector<Finding>
NameTable::add_user_markers(const std::filesystem::path& path,
                            const std::map<std::string, std::string>& markers) {
    nlohmann::json json = nlohmann::json::object();
    std::error_code ignored;
    if (std::filesystem::exists(path, ignored)) {
        const Outcome<std::string> bytes = read_bytes(path);
        if (!bytes.ok())
            return bytes.findings;
        json = nlohmann::json::parse(bytes.value, nullptr, false);
        if (!json.is_object() || (json.contains("markers") && !json["markers"].is_object()))
            return {{Severity::Error, "names-broken",
                     "The table of names is not JSON with a list of markers.", path.string(),
                     "Mend it with an editor, or move it away."}};
    }
    for (const auto& [theirs, ours] : markers)
        json["markers"][theirs] = ours;
    std::filesystem::create_directories(path.parent_path(), ignored);
    return write_bytes(path, json.dump(2, ' ', false, nlohmann::json::error_handler_t::replace));
}

std::vector<std::string> NameTable::our_markers() {
    std::vector<std::string> out;
    for (const char* rest : kSided)
        for (const char* side : {"L", "R"})
            out.push_back(side + std::string(rest));
    out.insert(out.end(), kSingle.begin(), kSingle.end());
    return out;
}

namespace {

std::optional<std::string> find_in(const std::map<std::string, std::string>& table,
                                   std::string_view name) {
    const auto found = table.find(plain(name));
    // An empty name takes one of the shipped ones away.
    return found == table.end() || found->second.empty() ? std::nullopt
                                                         : std::optional(found->second);
}

} // namespace

std::optional<std::string> NameTable::find_marker(std::string_view label) const {
    return find_in(markers_, label);
}

std::optional<std::string> NameTable::find_joint(std::string_view name) const {
    return find_in(joints_, name);
}

std::optional<std::string> NameTable::find_column(std::string_view name) const {
    return find_in(columns_, name);
}

} // namespace kite::formats
