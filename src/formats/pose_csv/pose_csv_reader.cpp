#include "core/motion/orientation.h"
#include "core/motion/rotation.h"
#include "core/motion/uniform.h"
#include "formats/pose_csv/pose_csv.h"
#include "formats/text/delimited.h"
#include "formats/text/metadata.h"
#include "formats/text/numbers.h"

#include <array>
#include <cmath>
#include <set>

namespace kite::formats {

using Severity = Finding::Severity;

namespace {

class PoseCsvReader {
public:
    PoseCsvReader(DelimitedTable table, const ReadOptions& options)
        : table_(std::move(table)), options_(options) {}

    Outcome<Take> read() {
        if (!check_version() || !read_metadata_and_times())
            return std::move(out_);
        Outcome<TimeBase> base = find_time_base(times_s_, metadata_.rate_hz);
        if (table_.rows() >= kFewestFrames && !read_columns())
            return std::move(out_);
        settle_tremble(out_.value, times_s_, base);
        for (Finding& finding : base.findings) {
            place_in_file(table_, finding);
            out_.add(std::move(finding));
        }
        if (!base.ok())
            return std::move(out_);
        out_.value.contact_s = contact_within(table_, metadata_, times_s_, out_.findings);
        bring_to_time_base(out_.value, times_s_, base.value, out_.findings);
        check_pose_conventions(out_.value, out_.findings);
        if (has_errors(out_.findings))
            return std::move(out_);
        if (out_.value.handed == Handedness::Left)
            mirror_in_place(out_.value);
        check_orientation(out_.value, out_.findings);
        return std::move(out_);
    }

private:
    bool fail(std::string code, std::string what, std::string where, std::string mend) {
        out_.add(
            {Severity::Error, std::move(code), std::move(what), std::move(where), std::move(mend)});
        return false;
    }

    bool check_version() {
        const auto version = table_.find_comment("kite-hinge");
        if (!version)
            return true; // the columns speak for themselves
        if (*version == "pose 1")
            return true;
        return fail("version", "This file says \"" + *version + "\"; pose 1 can be read.",
                    comment_place(table_, "kite-hinge"),
                    "Export it as pose 1, or update the program.");
    }

    bool read_length(std::string_view key, std::optional<double>& value) {
        const auto text = table_.find_comment(key);
        if (!text)
            return true;
        value = parse_number(*text, table_.delimiter != ',');
        if (value && *value > 50.0 && *value < 3000.0) { // nobody's arm is that long in metres
            *value *= 0.001;
            out_.add({Severity::Warning, "unit-mended",
                      "The length is in millimetres, not metres; it was converted.",
                      comment_place(table_, key), "Give it in metres, for instance 0.62."});
        }
        if (!value || !(*value > 0.0) || *value > 10.0)
            return fail("bad-length", "\"" + *text + "\" is not a length in metres.",
                        comment_place(table_, key), "Give it in metres, for instance 0.62.");
        return true;
    }

    bool read_metadata_and_times() {
        Outcome<Metadata> metadata = read_metadata(table_, options_);
        metadata_ = metadata.value;
        out_.findings.insert(out_.findings.end(), metadata.findings.begin(),
                             metadata.findings.end());
        Take& take = out_.value;
        take.handed = metadata_.handed;
        take.handed_said = metadata_.handed_said;
        take.club = metadata_.club;
        take.club_said = metadata_.club_said;
        Outcome<std::vector<double>> times = read_times(table_, metadata_);
        times_s_ = std::move(times.value);
        out_.findings.insert(out_.findings.end(), times.findings.begin(), times.findings.end());
        known_.insert("time_s");
        return out_.ok() && read_length("arm_length_m", take.arm_length_m) &&
               read_length("club_length_m", take.club_length_m) &&
               read_length("hip_joint_width_m", take.hip_joint_width_m);
    }

    /// Columns prefix + each suffix: all there (true), none there (false), or an error.
    enum class Found { None, All, Error };
    template <std::size_t N>
    Found find_columns(const std::string& prefix, const std::array<const char*, N>& suffixes,
                       std::array<const std::vector<double>*, N>& columns) {
        std::size_t there = 0;
        std::string absent;
        for (std::size_t i = 0; i < N; ++i) {
            const std::string name = prefix + suffixes[i];
            known_.insert(name);
            columns[i] = table_.find(name);
            if (columns[i] != nullptr)
                ++there;
            else
                absent += (absent.empty() ? "" : ", ") + name;
        }
        if (there == 0)
            return Found::None;
        if (there == N)
            return Found::All;
        fail("columns-missing", "Columns are missing: " + absent + ".", "header row",
             "Add them, or leave out the others that belong to them.");
        return Found::Error;
    }

    bool read_segment(Segment segment) {
        const std::string prefix(key_of(segment));
        std::array<const std::vector<double>*, 4> q{};
        std::array<const std::vector<double>*, 3> p{};
        const Found has_q = find_columns(prefix, std::array{"_qw", "_qx", "_qy", "_qz"}, q);
        const Found has_p = find_columns(prefix, std::array{"_x_m", "_y_m", "_z_m"}, p);
        if (has_q == Found::Error || has_p == Found::Error)
            return false;
        if (has_q == Found::None) {
            if (has_p == Found::All)
                return fail("columns-missing",
                            "There are positions of " + prefix + " but no orientation.",
                            "header row", "Add " + prefix + "_qw, _qx, _qy and _qz.");
            return true;
        }
        PoseSeries series;
        series.q_lab_segment.resize(table_.rows());
        bool any = false;
        std::size_t broken = 0;
        std::size_t first_broken = 0;
        for (std::size_t i = 0; i < table_.rows(); ++i) {
            Eigen::Quaterniond now((*q[0])[i], (*q[1])[i], (*q[2])[i], (*q[3])[i]);
            if (!is_finite(now)) {
                series.q_lab_segment[i] = missing_rotation();
                continue;
            }
            // Rounded files keep the norm within a few thousandths; a few broken rows cost only
            // themselves.
            if (std::abs(now.norm() - 1.0) > 0.05 && ++broken <= table_.rows() / 50 + 1 &&
                table_.rows() > 50) {
                if (broken == 1)
                    first_broken = i;
                series.q_lab_segment[i] = missing_rotation();
                continue;
            }
            if (std::abs(now.norm() - 1.0) > 0.05)
                return fail("not-unit",
                            "The quaternion of " + prefix + " has length " + fixed(now.norm(), 3) +
                                " where it should have 1.",
                            "line " + std::to_string(table_.row_lines[i]) + ", column " + prefix +
                                "_qw",
                            "Check the order of the columns (w, x, y, z) and their scale.");
            any = true;
            series.q_lab_segment[i] = now.normalized();
        }
        if (broken > 0)
            out_.add({Severity::Warning, "not-unit",
                      std::to_string(broken) + " quaternions of " + prefix +
                          " do not have length 1 and were not used.",
                      "line " + std::to_string(table_.row_lines[first_broken]) + ", column " +
                          prefix + "_qw",
                      "Check these rows."});
        if (has_p == Found::All)
            series.p_lab_m = points_of(p);
        if (any)
            out_.value.segments[segment] = std::move(series);
        else
            out_.add({Severity::Warning, "segment-empty",
                      "All values of " + prefix + " are missing.", "column " + prefix + "_qw", ""});
        return true;
    }

    std::vector<Eigen::Vector3d>
    points_of(const std::array<const std::vector<double>*, 3>& p) const {
        std::vector<Eigen::Vector3d> out(table_.rows());
        for (std::size_t i = 0; i < out.size(); ++i) {
            out[i] = {(*p[0])[i], (*p[1])[i], (*p[2])[i]};
            if (!out[i].allFinite())
                out[i] = missing_point();
        }
        return out;
    }

    bool read_columns() {
        Take& take = out_.value;
        for (Segment segment : kAllSegments)
            if (!read_segment(segment))
                return false;
        for (BodyPoint point : kAllPoints) {
            std::array<const std::vector<double>*, 3> p{};
            const Found found =
                find_columns(std::string(key_of(point)), std::array{"_x_m", "_y_m", "_z_m"}, p);
            if (found == Found::Error)
                return false;
            if (found == Found::All)
                take.points_lab_m[point] = points_of(p);
        }
        known_.insert({"lead_force_n", "trail_force_n"});
        if (const auto* force = table_.find("lead_force_n"))
            take.lead_force_n = *force;
        if (const auto* force = table_.find("trail_force_n"))
            take.trail_force_n = *force;
        for (const std::string& name : table_.header)
            if (!name.empty() && known_.count(name) == 0)
                out_.add({Severity::Note, "column-unknown",
                          "The column is not known and was not used.", "column " + name, ""});
        if (take.segments.empty())
            return fail("no-segments", "There are no pose columns in this file.", "header row",
                        "Name them pelvis_qw, pelvis_qx and so on; see docs/pose-csv.md.");
        return true;
    }

    DelimitedTable table_;
    ReadOptions options_;
    Metadata metadata_;
    std::vector<double> times_s_;
    std::set<std::string> known_;
    Outcome<Take> out_;
};

} // namespace

int pose_csv_sureness(std::string_view bytes, const std::filesystem::path& path) {
    const std::string_view head = without_mark(bytes).substr(0, 65536);
    // A text has no zero bytes: binary files are not searched at length.
    const bool is_text = head.substr(0, 512).find('\0') == std::string_view::npos;
    if (is_text && lower_case(head).find("kite-hinge: pose") != std::string::npos)
        return 95;
    if (is_text && head.find("_qw") != std::string_view::npos &&
        head.find("time_s") != std::string_view::npos)
        return 80;
    const std::string extension = lower_case(path.extension().string());
    // Any text may be a table without its head; what is neither is not ours.
    return extension == ".csv" || extension == ".txt" ? 20 : is_text ? 1 : 0;
}

Outcome<Take> read_pose_csv(std::string_view bytes, const ReadOptions& options) {
    Outcome<DelimitedTable> table = read_delimited(bytes);
    if (!table.ok()) {
        Outcome<Take> out;
        out.findings = std::move(table.findings);
        return out;
    }
    Outcome<Take> out = PoseCsvReader(std::move(table.value), options).read();
    out.findings.insert(out.findings.begin(), table.findings.begin(), table.findings.end());
    return out;
}

} // namespace kite::formats
