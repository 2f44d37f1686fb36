#include "core/motion/rotation.h"
#include "core/motion/uniform.h"
#include "formats/pose_csv/pose_csv.h"
#include "formats/text/delimited.h"
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
        if (!check_version() || !read_metadata() || !check_time_column())
            return std::move(out_);
        Outcome<TimeBase> base = find_time_base(*table_.find("time_s"), rate_hz_);
        for (Finding& finding : base.findings) {
            place_in_file(table_, finding);
            out_.add(std::move(finding));
        }
        if (!base.ok() || !read_columns())
            return std::move(out_);
        check_contact();
        std::vector<Finding> findings;
        bring_to_time_base(out_.value, *table_.find("time_s"), base.value, findings);
        for (Finding& finding : findings)
            out_.add(std::move(finding));
        if (out_.value.handed == Handedness::Left)
            mirror_in_place(out_.value);
        return std::move(out_);
    }

private:
    bool fail(std::string code, std::string what, std::string where, std::string mend) {
        out_.add(
            {Severity::Error, std::move(code), std::move(what), std::move(where), std::move(mend)});
        return false;
    }

    std::string comment_place(std::string_view key) const {
        for (std::size_t i = 0; i < table_.comments.size(); ++i)
            if (table_.comments[i].first == key)
                return "line " + std::to_string(table_.comment_lines[i]) + ", " + std::string(key);
        return std::string(key);
    }

    bool check_version() {
        const auto version = table_.find_comment("kite-hinge");
        if (!version)
            return true; // the columns speak for themselves
        if (*version == "pose 1")
            return true;
        return fail("version", "This file says \"" + *version + "\"; pose 1 can be read.",
                    comment_place("kite-hinge"), "Export it as pose 1, or update the program.");
    }

    bool read_length(std::string_view key, std::optional<double>& value) {
        const auto text = table_.find_comment(key);
        if (!text)
            return true;
        value = parse_number(*text, table_.delimiter != ',');
        if (!value || !(*value > 0.0) || *value > 10.0)
            return fail("bad-length", "\"" + *text + "\" is not a length in metres.",
                        comment_place(key), "Give it in metres, for instance 0.62.");
        return true;
    }

    bool read_metadata() {
        Take& take = out_.value;
        if (const auto text = table_.find_comment("handed")) {
            const auto handed = find_handedness(lower_case(*text));
            if (!handed)
                return fail("bad-handed", "\"" + *text + "\" is neither right nor left.",
                            comment_place("handed"), "Write right or left.");
            take.handed = *handed;
        }
        if (const auto text = table_.find_comment("club")) {
            const auto club = find_club_kind(lower_case(*text));
            if (!club)
                return fail("bad-club", "\"" + *text + "\" is not a kind of club.",
                            comment_place("club"), "Write driver, wood, iron or wedge.");
            take.club = *club;
        }
        take.handed = options_.handed.value_or(take.handed);
        take.club = options_.club.value_or(take.club);
        if (const auto text = table_.find_comment("rate_hz")) {
            rate_hz_ = parse_number(*text, table_.delimiter != ',');
            if (!rate_hz_ || !(*rate_hz_ > 0.0))
                return fail("bad-rate", "\"" + *text + "\" is not a rate in frames a second.",
                            comment_place("rate_hz"), "Give a number, for instance 240.");
        }
        if (const auto text = table_.find_comment("contact_s")) {
            take.contact_s = parse_number(*text, table_.delimiter != ',');
            if (!take.contact_s)
                return fail("bad-contact", "\"" + *text + "\" is not a time in seconds.",
                            comment_place("contact_s"), "Give the time of contact in seconds.");
        }
        return read_length("arm_length_m", take.arm_length_m) &&
               read_length("club_length_m", take.club_length_m) &&
               read_length("hip_joint_width_m", take.hip_joint_width_m);
    }

    void check_contact() {
        const std::vector<double>& time = *table_.find("time_s");
        auto& contact = out_.value.contact_s;
        if (!contact || (*contact >= time.front() && *contact <= time.back()))
            return;
        out_.add({Severity::Warning, "contact-outside",
                  "The contact mark lies outside the recording and was not used.",
                  comment_place("contact_s"), "Give it on the clock of the time_s column."});
        contact.reset();
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
        for (std::size_t i = 0; i < table_.rows(); ++i) {
            Eigen::Quaterniond now((*q[0])[i], (*q[1])[i], (*q[2])[i], (*q[3])[i]);
            if (!is_finite(now)) {
                series.q_lab_segment[i] = missing_rotation();
                continue;
            }
            // Rounded files keep the norm within a few thousandths.
            if (std::abs(now.norm() - 1.0) > 0.05)
                return fail("not-unit",
                            "The quaternion of " + prefix + " has length " +
                                format_fixed(now.norm(), 3) + " where it should have 1.",
                            "line " + std::to_string(table_.row_lines[i]) + ", column " + prefix +
                                "_qw",
                            "Check the order of the columns (w, x, y, z) and their scale.");
            any = true;
            series.q_lab_segment[i] = now.normalized();
        }
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

    bool check_time_column() {
        known_.insert("time_s");
        return table_.find("time_s") != nullptr ||
               fail("columns-missing", "The column time_s is missing.", "header row",
                    "Add the time of each row in seconds.");
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
    std::optional<double> rate_hz_;
    std::set<std::string> known_;
    Outcome<Take> out_;
};

} // namespace

int pose_csv_sureness(std::string_view bytes, const std::filesystem::path& path) {
    const std::string_view head = without_mark(bytes).substr(0, 65536);
    if (lower_case(head).find("kite-hinge: pose") != std::string::npos)
        return 95;
    if (head.find("_qw") != std::string_view::npos && head.find("time_s") != std::string_view::npos)
        return 80;
    const std::string extension = lower_case(path.extension().string());
    return extension == ".csv" || extension == ".txt" ? 20 : 1;
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
