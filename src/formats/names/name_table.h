#pragma once

#include "core/base/findings.h"

#include <filesystem>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace kite::formats {

/// Other names of markers, joints and columns → ours. Names are compared without case, blanks,
/// underscores and a `subject:` prefix. The user's own table is laid over the shipped one.
///
/// The user's file (JSON): {"markers": {"PelvisFrontLeft": "LASI"}, "joints": {"hip_l":
/// "left_hip"}, "columns": {"Ball (mph)": "ball_speed_mph"}}.
class NameTable {
public:
    /// The shipped table: docs/markers.md lists it.
    static NameTable shipped();
    /// The shipped table with the user's names; findings name what is wrong with the file.
    static Outcome<NameTable> with_user_names(const std::filesystem::path& path);
    /// Where the user's table is looked for: $XDG_CONFIG_HOME/kite-hinge/names.json.
    static std::filesystem::path user_path();

    /// Another marker name, for this table alone; an empty one of ours: it is none.
    void add_marker(std::string_view theirs, const std::string& ours);

    /// Adds markers (their name → ours) to the user's file, which keeps what else it holds. A
    /// broken file is an error and is left alone.
    static std::vector<Finding> add_user_markers(const std::filesystem::path& path,
                                                 const std::map<std::string, std::string>& markers);

    /// Our marker names, for somebody to choose from: "LASI", "RASI", …
    static std::vector<std::string> our_markers();

    /// Our marker name ("LASI"), if the label is known; a label that is ours is its own name.
    std::optional<std::string> find_marker(std::string_view label) const;
    /// Our joint name ("hips", "left_hip", …).
    std::optional<std::string> find_joint(std::string_view name) const;
    /// Our name of a column of launch numbers or forces, if the user gave one.
    std::optional<std::string> find_column(std::string_view name) const;

private:
    std::map<std::string, std::string> markers_;
    std::map<std::string, std::string> joints_;
    std::map<std::string, std::string> columns_;
};

} // namespace kite::formats
