#include "core/motion/uniform.h"

#include "core/base/median.h"
#include "core/base/number.h"
#include "core/motion/gaps.h"
#include "core/motion/rotation.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace kite {

namespace {

using Severity = Finding::Severity;

/// Stamps up to this many frames apart are neighbours; beyond that something is missing.
constexpr double kJoinedFrames = 2.2;

/// The step to which the stamps were rounded: the largest power of ten of which all are multiples.
double rounding_of(const std::vector<double>& times_s) {
    for (double step : {0.01, 0.001, 0.0001})
        if (std::all_of(times_s.begin(), times_s.end(), [step](double t) {
                return std::abs(t - step * std::round(t / step)) < 1e-9;
            }))
            return step;
    return 0.0;
}

Eigen::MatrixXd matrix_of(const std::vector<Eigen::Quaterniond>& q) {
    Eigen::MatrixXd out(static_cast<Eigen::Index>(q.size()), 4);
    for (std::size_t i = 0; i < q.size(); ++i)
        out.row(static_cast<Eigen::Index>(i)) = q[i].coeffs().transpose();
    return out;
}

Eigen::MatrixXd matrix_of(const std::vector<Eigen::Vector3d>& p) {
    Eigen::MatrixXd out(static_cast<Eigen::Index>(p.size()), 3);
    for (std::size_t i = 0; i < p.size(); ++i)
        out.row(static_cast<Eigen::Index>(i)) = p[i].transpose();
    return out;
}

std::vector<Eigen::Vector3d> points_of(const Eigen::MatrixXd& rows) {
    std::vector<Eigen::Vector3d> out(static_cast<std::size_t>(rows.rows()));
    for (std::size_t i = 0; i < out.size(); ++i)
        out[i] = rows.row(static_cast<Eigen::Index>(i)).transpose();
    return out;
}

} // namespace

std::vector<double> TimeBase::times_s() const {
    std::vector<double> out(frames);
    for (std::size_t i = 0; i < frames; ++i)
        out[i] = start_s + static_cast<double>(i) / rate_hz;
    return out;
}

namespace {

/// From one time to the next, s.
Outcome<std::vector<double>> steps_of(const std::vector<double>& times_s) {
    Outcome<std::vector<double>> out;
    out.value.reserve(times_s.size());
    for (std::size_t i = 0; i < times_s.size(); ++i) {
        const std::string row = "data row " + std::to_string(i + 1);
        if (!std::isfinite(times_s[i])) {
            out.add({Severity::Error, "time-missing", "The time is missing.", row,
                     "Every row needs its time in seconds."});
            return out;
        }
        if (i == 0)
            continue;
        const double step = times_s[i] - times_s[i - 1];
        if (!(step > 0.0)) {
            out.add({Severity::Error, step < 0.0 ? "time-backwards" : "time-repeats",
                     step < 0.0 ? "The time goes backwards (" + digits(times_s[i - 1], 7) +
                                      " s, then " + digits(times_s[i], 7) + " s)."
                                : "The time " + digits(times_s[i], 7) + " s stands twice.",
                     row, "Put the rows in order of time, or export the recording again."});
            return out;
        }
        out.value.push_back(step);
    }
    return out;
}

} // namespace

Outcome<TimeBase> find_time_base(const std::vector<double>& times_s,
                                 std::optional<double> declared_rate_hz) {
    Outcome<TimeBase> out;
    if (times_s.size() < kFewestFrames) {
        out.add({Severity::Error, "too-few-frames",
                 times_s.empty()
                     ? "There are no frames of data."
                     : "There are too few frames of data (" + std::to_string(times_s.size()) + ").",
                 "", "A swing needs some seconds of recording; check that the file is complete."});
        return out;
    }
    Outcome<std::vector<double>> steps = steps_of(times_s);
    if (!steps.ok()) {
        out.findings = std::move(steps.findings);
        return out;
    }
    const double span = times_s.back() - times_s.front();
    const double mean = span / static_cast<double>(steps.value.size());

    TimeBase& base = out.value;
    base.start_s = times_s.front();
    // Even: every stamp sits where the mean step puts it, within 2 % of a step or the stamps' own
    // rounding.
    double farthest = 0.0;
    for (std::size_t i = 0; i < times_s.size(); ++i)
        farthest = std::max(farthest,
                            std::abs(times_s[i] - times_s.front() - mean * static_cast<double>(i)));
    const double allowed = std::max(0.02 * mean, rounding_of(times_s));
    if (farthest <= std::min(allowed, 0.4 * mean)) {
        base.rate_hz = 1.0 / mean;
        // A declared rate is free of the stamps' rounding.
        if (declared_rate_hz && std::abs(*declared_rate_hz * mean - 1.0) < 2e-3)
            base.rate_hz = *declared_rate_hz;
        base.frames = times_s.size();
    } else {
        base.rate_hz = 1.0 / median_of(steps.value);
        base.resampled = true;
        const double frames = std::floor(span * base.rate_hz + 1e-6) + 1.0;
        if (frames > 4.0 * static_cast<double>(times_s.size())) {
            out.add({Severity::Error, "time-jumps",
                     "The rows are too far apart in time: most frames would have to be invented.",
                     "", "Cut the file to the swing, or export the recording again."});
            return out;
        }
        base.frames = static_cast<std::size_t>(frames);
        out.add(
            {Severity::Warning, "time-irregular",
             "The time stamps are irregular or frames were dropped; the motion was brought to a "
             "uniform " +
                 digits(base.rate_hz, 4) + " Hz.",
             "", ""});
    }
    if (!(base.rate_hz >= 10.0)) {
        out.add({Severity::Error, "rate-too-low",
                 "The recording has only " + digits(base.rate_hz, 4) + " frames a second.", "",
                 "Check that the time column is in seconds; a swing needs 60 frames a second or "
                 "more."});
        return out;
    }
    if (base.rate_hz > 20000.0) {
        out.add({Severity::Error, "rate-too-high",
                 "The time stamps say " + digits(base.rate_hz, 4) + " frames a second.", "",
                 "Check that the time column is in seconds."});
        return out;
    }
    if (declared_rate_hz && std::abs(*declared_rate_hz / base.rate_hz - 1.0) > 0.02)
        out.add({Severity::Warning, "rate-differs",
                 "The file says " + digits(*declared_rate_hz, 4) + " Hz, its time stamps say " +
                     digits(base.rate_hz, 4) + " Hz; the time stamps were used.",
                 "", "Correct rate_hz if the time stamps are right."});
    return out;
}

namespace {

/// How far samples lie off the cubic through their four neighbours, were they taken at these times;
/// the mean square over the fastest tenth of the rows, where times matter.
double unevenness(const Eigen::MatrixXd& rows, const std::vector<double>& t) {
    const Eigen::Index n = rows.rows();
    std::vector<std::pair<double, double>> found; // speed, square
    for (Eigen::Index i = 2; i + 2 < n; ++i) {
        if (!rows.middleRows(i - 2, 5).allFinite())
            continue;
        Eigen::RowVectorXd between = Eigen::RowVectorXd::Zero(rows.cols());
        const auto at = [&](Eigen::Index k) { return t[static_cast<std::size_t>(k)]; };
        bool apart = true;
        for (Eigen::Index a : {i - 2, i - 1, i + 1, i + 2}) {
            double weight = 1.0;
            for (Eigen::Index b : {i - 2, i - 1, i + 1, i + 2})
                if (a != b) {
                    apart = apart && at(a) != at(b);
                    weight *= (at(i) - at(b)) / (at(a) - at(b));
                }
            between += weight * rows.row(a);
        }
        if (apart)
            found.emplace_back((rows.row(i + 2) - rows.row(i - 2)).norm(),
                               (rows.row(i) - between).squaredNorm());
    }
    if (found.size() < 20)
        return std::numeric_limits<double>::quiet_NaN();
    std::sort(found.begin(), found.end(),
              [](const auto& a, const auto& b) { return a.first > b.first; });
    found.resize(std::max<std::size_t>(20, found.size() / 10));
    std::vector<double> squares;
    for (const auto& entry : found)
        squares.push_back(entry.second);
    return median_of(squares);
}

void settle_tremble(const std::vector<Eigen::MatrixXd>& series, const std::vector<double>& times_s,
                    Outcome<TimeBase>& base) {
    const std::size_t n = times_s.size();
    const bool backwards =
        !base.ok() && std::any_of(base.findings.begin(), base.findings.end(), [](const Finding& f) {
            return f.code == "time-backwards" || f.code == "time-repeats";
        });
    if (n < 3 * kFewestFrames || !(base.value.resampled || backwards))
        return;
    if (std::any_of(times_s.begin(), times_s.end(), [](double t) { return !std::isfinite(t); }))
        return;
    // The straight line through the stamps; a stamp more than a frame and a half off it was dropped
    // or jumped, not trembling.
    double sum_i = 0.0;
    double sum_t = 0.0;
    double sum_ii = 0.0;
    double sum_it = 0.0;
    for (std::size_t i = 0; i < n; ++i) {
        const auto x = static_cast<double>(i);
        sum_i += x;
        sum_t += times_s[i];
        sum_ii += x * x;
        sum_it += x * times_s[i];
    }
    const auto count = static_cast<double>(n);
    const double step = (count * sum_it - sum_i * sum_t) / (count * sum_ii - sum_i * sum_i);
    const double start = (sum_t - step * sum_i) / count;
    if (!(step > 0.0))
        return;
    std::vector<double> even(n);
    double farthest = 0.0;
    for (std::size_t i = 0; i < n; ++i) {
        even[i] = start + step * static_cast<double>(i);
        farthest = std::max(farthest, std::abs(times_s[i] - even[i]));
    }
    if (farthest > 1.5 * step)
        return;
    double by_stamps = 0.0;
    double by_even = 0.0;
    for (const Eigen::MatrixXd& rows : series) {
        const double a = unevenness(rows, times_s);
        const double b = unevenness(rows, even);
        if (!std::isfinite(b))
            continue;
        by_even += b;
        by_stamps += std::isfinite(a) ? a : 1e6 * b;
    }
    // Stamps that go backwards cannot be true; others must be clearly worse.
    if (!(by_even < 0.5 * by_stamps) && !(backwards && by_even <= by_stamps))
        return;
    base = {};
    base.value.start_s = start;
    base.value.rate_hz = 1.0 / step;
    base.value.frames = n;
    base.add({Severity::Note, "time-trembles",
              "The time stamps tremble by up to " + digits(1000.0 * farthest, 2) +
                  " ms while the samples are even; the rows were taken as even at " +
                  digits(1.0 / step, 4) + " Hz.",
              "column time_s", ""});
}

} // namespace

void settle_tremble(const Take& take, const std::vector<double>& times_s, Outcome<TimeBase>& base) {
    std::vector<Eigen::MatrixXd> series;
    for (Segment segment : {Segment::Club, Segment::LeadArm, Segment::Torso, Segment::Pelvis}) {
        if (const PoseSeries* part = take.find(segment)) {
            std::vector<Eigen::Quaterniond> q = part->q_lab_segment;
            make_continuous(q);
            series.push_back(matrix_of(q));
        } else if (const auto rate = take.rates_deg_s.find(segment);
                   rate != take.rates_deg_s.end()) {
            series.emplace_back(Eigen::Map<const Eigen::VectorXd>(
                rate->second.data(), static_cast<Eigen::Index>(rate->second.size())));
        }
    }
    settle_tremble(series, times_s, base);
}

void settle_tremble(const std::vector<std::vector<Eigen::Vector3d>>& tracks,
                    const std::vector<double>& times_s, Outcome<TimeBase>& base) {
    std::vector<Eigen::MatrixXd> series;
    series.reserve(tracks.size());
    for (const auto& track : tracks)
        series.push_back(matrix_of(track));
    settle_tremble(series, times_s, base);
}

void bring_to_time_base(Take& take, const std::vector<double>& times_s, const TimeBase& base,
                        std::vector<Finding>& findings) {
    std::vector<double> targets = base.times_s();
    std::vector<double> stamps = times_s;
    if (!base.resampled)
        stamps = targets; // rounding of the stamps is not motion
    take.rate_hz = base.rate_hz;
    take.frames = base.frames;
    if (take.contact_s)
        *take.contact_s -= base.start_s;

    // Stamps between which the motion was only sampled are joined; a gap stays one.
    const double joined_s = base.resampled ? kJoinedFrames / base.rate_hz : 0.0;
    const auto name_gaps = [&](std::string_view what, const GapReport& report) {
        if (report.filled_frames > 0 && !base.resampled)
            findings.push_back({Severity::Note, "gap-filled",
                                std::to_string(report.filled_frames) +
                                    " missing frames were bridged from both sides.",
                                std::string(what), ""});
        if (report.open_frames > 0)
            findings.push_back(
                {Severity::Warning, "gap-open",
                 std::to_string(report.open_frames) + " frames are missing, the longest gap " +
                     digits(report.longest_open_s, 2) + " s from " +
                     digits(report.longest_open_at_s - base.start_s, 3) +
                     " s; it is too long to fill and was left open.",
                 std::string(what), "Check whether this part was hidden from the cameras."});
    };
    for (auto& [segment, series] : take.segments) {
        GapReport report;
        make_continuous(series.q_lab_segment);
        const Eigen::MatrixXd q =
            fill_to_times(stamps, matrix_of(series.q_lab_segment), targets, report, joined_s);
        series.q_lab_segment.resize(base.frames);
        for (std::size_t i = 0; i < base.frames; ++i) {
            Eigen::Quaterniond& now = series.q_lab_segment[i];
            now.coeffs() = q.row(static_cast<Eigen::Index>(i)).transpose();
            if (is_finite(now))
                now.normalize();
        }
        if (series.has_positions())
            series.p_lab_m = points_of(
                fill_to_times(stamps, matrix_of(series.p_lab_m), targets, report, joined_s));
        name_gaps(key_of(segment), report);
    }
    for (auto& [point, track] : take.points_lab_m) {
        GapReport report;
        track = points_of(fill_to_times(stamps, matrix_of(track), targets, report, joined_s));
        name_gaps(key_of(point), report);
    }
    const auto fill_column = [&](std::vector<double>& values, std::string_view name) {
        if (values.empty())
            return;
        GapReport report;
        const Eigen::MatrixXd column =
            Eigen::Map<Eigen::VectorXd>(values.data(), static_cast<Eigen::Index>(values.size()));
        const Eigen::MatrixXd filled = fill_to_times(stamps, column, targets, report, joined_s);
        values.assign(filled.data(), filled.data() + filled.size());
        name_gaps(name, report);
    };
    for (auto& [segment, rate] : take.rates_deg_s)
        fill_column(rate, key_of(segment));
    fill_column(take.lead_force_n, "lead_force_n");
    fill_column(take.trail_force_n, "trail_force_n");
}

void resample_tracks(std::vector<std::vector<Eigen::Vector3d>>& tracks,
                     const std::vector<double>& times_s, const TimeBase& base) {
    const std::vector<double> targets = base.times_s();
    for (auto& track : tracks) {
        GapReport report;
        track = points_of(fill_to_times(times_s, matrix_of(track), targets, report,
                                        base.resampled ? kJoinedFrames / base.rate_hz : 0.0));
    }
}

} // namespace kite
