#pragma once

#include "core/base/findings.h"

#include <Eigen/Core>

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

/// The C3D file format (c3d.org, user guide): 512-byte blocks; a header, a parameter section of
/// groups and parameters, then frames of points and analogue samples.
namespace kite::formats {

/// One parameter: an array of text, integers or reals with up to seven dimensions.
struct C3dParameter {
    enum class Type : std::int8_t { Text = -1, Byte = 1, Integer = 2, Real = 4 };

    Type type = Type::Real;
    std::vector<std::size_t> dimensions;
    std::vector<double> numbers;    ///< Byte, Integer, Real
    std::vector<std::string> texts; ///< Text: one a row, trailing blanks removed
};

/// A C3D file as it stands, lengths still in its own unit and axes.
struct C3dFile {
    std::map<std::string, C3dParameter> parameters; ///< "GROUP:NAME", upper case
    std::size_t frames = 0;
    double rate_hz = 0.0;
    double scale = -1.0; ///< negative: points are stored as reals
    std::string unit;    ///< of the points, as written ("mm")
    std::vector<std::string> labels;
    std::vector<std::vector<Eigen::Vector3d>> points; ///< one a label; invalid points are NaN
    std::size_t first_field = 1; ///< number of the first frame: event times count from frame 1

    struct Event {
        std::string label;
        double t_s = 0.0; ///< from the file's first frame
    };
    std::vector<Event> events;

    /// Force platforms (types 1 to 4): corners in the file's unit and axes, and |Fz| averaged over
    /// the analogue samples of each frame, in the file's unit of force (N).
    struct Platform {
        int type = 0;
        Eigen::Vector3d centre = Eigen::Vector3d::Zero();
        std::vector<double> vertical;
    };
    std::vector<Platform> platforms;

    const C3dParameter* find(const std::string& name) const;
    std::optional<double> find_number(const std::string& name) const;
    std::optional<std::string> find_text(const std::string& name) const;
};

/// Parses the bytes, of any processor type (Intel, DEC, SGI/MIPS), integer or real. Errors name the
/// byte or the parameter: not a C3D, an unknown processor type, sections beyond the file's end,
/// more frames or points claimed than the file holds. Memory is bounded by the file's size: nothing
/// is allocated that the header merely claims.
Outcome<C3dFile> parse_c3d(std::string_view bytes);

} // namespace kite::formats
