#include "core/motion/markers.h"

#include "core/base/findings.h"
#include "core/base/median.h"
#include "core/base/units.h"
#include "core/motion/marker_names.h"
#include "core/motion/plausible.h"
#include "core/motion/rotation.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <limits>
#include <utility>

namespace kite {

using Eigen::Matrix3d;
using Eigen::Vector3d;

namespace {

/// Compares without a `subject:` prefix, case and blanks.
bool same_label(std::string_view a, std::string_view b) {
    const auto without_subject = [](std::string_view label) {
        const auto colon = label.rfind(':');
        return colon == std::string_view::npos ? label : label.substr(colon + 1);
    };
    a = without_subject(a);
    b = without_subject(b);
    std::size_t i = 0;
    std::size_t j = 0;
    const auto skip_blanks = [](std::string_view text, std::size_t& at) {
        while (at < text.size() && std::isspace(static_cast<unsigned char>(text[at])) != 0)
            ++at;
    };
    for (;;) {
        skip_blanks(a, i);
        skip_blanks(b, j);
        if (i == a.size() || j == b.size())
            return i == a.size() && j == b.size();
        if (std::toupper(static_cast<unsigned char>(a[i++])) !=
            std::toupper(static_cast<unsigned char>(b[j++])))
            return false;
    }
}

} // namespace

const std::vector<Vector3d>* MarkerTake::find(std::string_view label) const {
    // As it is written first: most files do.
    auto found = std::find(labels.begin(), labels.end(), label);
    if (found == labels.end())
        found = std::find_if(labels.begin(), labels.end(),
                             [&](const std::string& own) { return same_label(own, label); });
    if (found == labels.end())
        return nullptr;
    return &tracks_m[static_cast<std::size_t>(found - labels.begin())];
}

std::vector<Vector3d>* MarkerTake::find(std::string_view label) {
    return const_cast<std::vector<Vector3d>*>(std::as_const(*this).find(label));
}

Vector3d mean_in(const std::vector<Vector3d>& track, FrameRange frames) {
    Vector3d sum = Vector3d::Zero();
    int count = 0;
    for (std::size_t i = frames.begin; i < std::min(frames.end, track.size()); ++i)
        if (track[i].allFinite()) {
            sum += track[i];
            ++count;
        }
    return count > 0 ? Vector3d(sum / count) : missing_point();
}

Vector3d mean_in(const MarkerTake& markers, std::initializer_list<const char*> labels,
                 FrameRange frames) {
    Vector3d sum = Vector3d::Zero();
    int count = 0;
    for (const char* label : labels) {
        const std::vector<Vector3d>* track = markers.find(label);
        const Vector3d p = track == nullptr ? missing_point() : mean_in(*track, frames);
        if (p.allFinite()) {
            sum += p;
            ++count;
        }
    }
    return count > 0 ? Vector3d(sum / count) : missing_point();
}

void check_unit(MarkerTake& markers, std::vector<Finding>& findings) {
    struct Size {
        const char* a;
        const char* b;
        plausible::Span span;
    };
    constexpr std::array<Size, 7> kSizes{{{"LASI", "RASI", plausible::kPelvisWidth_m},
                                          {"LPSI", "C7", plausible::kTrunk_m},
                                          {"RPSI", "C7", plausible::kTrunk_m},
                                          {"LSHO", "LWRA", plausible::kArm_m},
                                          {"RSHO", "RWRA", plausible::kArm_m},
                                          {"LKNE", "LANK", plausible::kShank_m},
                                          {"RKNE", "RANK", plausible::kShank_m}}};
    std::vector<std::pair<double, plausible::Span>> sizes;
    for (const Size& size : kSizes) {
        const auto* a = markers.find(size.a);
        const auto* b = markers.find(size.b);
        std::vector<double> d;
        // Every so many frames are enough for what is usual.
        const std::size_t step = std::max<std::size_t>(1, markers.frames / 100);
        if (a != nullptr && b != nullptr)
            for (std::size_t i = 0; i < markers.frames; i += step)
                if (const double x = ((*a)[i] - (*b)[i]).norm(); std::isfinite(x))
                    d.push_back(x);
        if (d.empty())
            continue;
        sizes.emplace_back(median_of(d), size.span);
    }
    // Labels may be wrong here and there: most sizes must fit.
    const auto fits = [&](double factor) {
        std::size_t held = 0;
        for (const auto& [size, span] : sizes)
            held += span.holds(size * factor) ? 1 : 0;
        return 2 * held > sizes.size();
    };
    if (sizes.size() < 2 || fits(1.0))
        return;
    struct Unit {
        double factor;
        const char* words;
    };
    constexpr std::array<Unit, 8> kUnits{{{1e-3, "a thousandth"},
                                          {1e-2, "a hundredth"},
                                          {0.1, "a tenth"},
                                          {10.0, "ten times"},
                                          {100.0, "a hundred times"},
                                          {1000.0, "a thousand times"},
                                          {0.0254, "1 / 39.37"},
                                          {25.4, "25.4 times"}}};
    const Unit* found = nullptr;
    for (const Unit& unit : kUnits)
        if (found == nullptr && fits(unit.factor))
            found = &unit;
    if (found == nullptr) {
        findings.push_back({Finding::Severity::Error, "size-impossible",
                            "No golfer has these sizes, in this unit or any usual one.",
                            "unit of length", "Check the markers' names and the file's unit."});
        return;
    }
    for (auto& track : markers.tracks_m)
        for (Vector3d& p : track)
            p *= found->factor;
    for (ForcePlate& plate : markers.plates)
        plate.centre_m *= found->factor;
    findings.push_back({Finding::Severity::Warning, "unit-mended",
                        std::string("The file's unit of length is wrong: a golfer has ") +
                            found->words + " these sizes; lengths were converted.",
                        "unit of length", "Export with the right unit."});
}

Matrix3d R_lab_from_file(const LabAxes& axes) {
    const Vector3d x = axes.target_vector();
    const Vector3d z = axes.up.vector();
    Matrix3d R_lab_file;
    R_lab_file << x.transpose(), z.cross(x).transpose(), z.transpose();
    return R_lab_file;
}

void rotate_to_lab(MarkerTake& markers, const LabAxes& axes) {
    const Matrix3d R_lab_file = R_lab_from_file(axes);
    if (R_lab_file.isIdentity(1e-12))
        return;
    for (auto& track : markers.tracks_m)
        for (auto& p : track)
            p = R_lab_file * p;
    for (ForcePlate& plate : markers.plates)
        plate.centre_m = R_lab_file * plate.centre_m;
}

HipJointCentres calc_hip_joint_centres(double pelvis_width_m, double pelvis_depth_m) {
    const double width_mm = mm_from_m(pelvis_width_m);
    const double depth_mm = mm_from_m(pelvis_depth_m);
    const double back_m = m_from_mm(0.24 * depth_mm + 9.9);
    const double down_m = m_from_mm(0.30 * width_mm + 10.9);
    const double side_m = m_from_mm(0.33 * width_mm + 7.3);
    return {{side_m, back_m, -down_m}, {-side_m, back_m, -down_m}};
}

std::string missing_markers(const MarkerTake& markers) {
    const Sides sides(markers.handed);
    const auto has = [&](const std::string& label) { return markers.find(label) != nullptr; };
    std::vector<std::string> parts;
    const auto ask = [&](const std::string& part, const std::vector<std::string>& labels) {
        std::vector<std::string> absent;
        for (const auto& label : labels)
            if (!has(label))
                absent.push_back(label);
        if (!absent.empty())
            parts.push_back(part + " (" + listed(absent) + ")");
    };
    ask("pelvis", pelvis_labels(sides));
    ask("torso", torso_labels());
    ask("lead arm", {sides.lead_of("SHO"), sides.lead_of("WRA"), sides.lead_of("WRB")});
    const int club = static_cast<int>(has("CLB1")) + static_cast<int>(has("CLB2")) +
                     static_cast<int>(has("CLB3"));
    if (club < 2)
        ask("club", {"CLB1", "CLB2", "CLB3"});
    return listed(parts);
}

void mirror_markers(MarkerTake& markers) {
    if (markers.handed != Handedness::Left)
        return;
    for (auto& track : markers.tracks_m)
        for (auto& p : track)
            p = mirrored(p);
}

} // namespace kite
