#include "core/measures/said.h"

#include "core/base/number.h"
#include "core/motion/plausible.h"

#include <algorithm>
#include <cmath>

namespace kite {

using Severity = Finding::Severity;

namespace {

std::string seconds_text(double t_s) {
    return fixed(t_s, 2) + " s";
}

} // namespace

void name_missing_parts(const Take& take, std::vector<Finding>& findings) {
    std::string missing;
    for (Segment segment : kSequence) {
        if (take.find(segment) != nullptr)
            continue;
        missing += (missing.empty() ? "" : ", ") + std::string(name_of(segment));
    }
    if (!missing.empty())
        findings.push_back({Severity::Warning, "parts-missing",
                            "This take has no " + missing +
                                "; what depends on it is not available from this source.",
                            "", "Record it too for the full sequence."});
}

void name_odd_tempo(const Take& take, const Analysis& analysis, std::vector<Finding>& findings) {
    // Full swings take 0.2 to 0.35 s from the top to impact (common practice, no source).
    constexpr double kShortest_s = 0.16;
    constexpr double kLongest_s = 0.42;
    const double downswing_s = analysis.tempo.downswing_s;
    const bool has_club =
        take.find(Segment::Club) != nullptr || take.rates_deg_s.count(Segment::Club) > 0;
    const bool said_already =
        std::any_of(findings.begin(), findings.end(),
                    [](const Finding& finding) { return finding.code == "film-clock"; });
    if (!has_club || said_already || !std::isfinite(downswing_s) ||
        (downswing_s >= kShortest_s && downswing_s <= kLongest_s))
        return;
    const bool is_long = downswing_s > kLongest_s;
    findings.push_back(
        {Severity::Warning, "odd-tempo",
         "The downswing lasts " + seconds_text(downswing_s) +
             (is_long ? ", longer than that of any full swing: a slow drill, or the rate is said "
                        "as less than it was, and then all times are too long and all speeds too "
                        "low."
                      : ", shorter than that of any swing: the rate is probably said as more than "
                        "it was, and then all times are too short and all speeds too high."),
         "", "Check at how many frames a second it was taken; a slow drill is right as it is."});
}

void name_film_clock(const Take& take, const Analysis& analysis, std::vector<Finding>& findings) {
    if (take.source != Source::Film || take.find(Segment::Club) == nullptr)
        return; // without a club nothing in it is fast
    // Top to impact, from the fastest hitters to a slow half swing (common practice, no source).
    constexpr double kShortest_s = 0.15;
    constexpr double kLongest_s = 0.6;
    const double downswing_s = analysis.tempo.downswing_s;
    const bool no_swing = std::any_of(findings.begin(), findings.end(), [](const Finding& finding) {
        return finding.code == "no-swing";
    });
    if (!no_swing &&
        !(std::isfinite(downswing_s) && (downswing_s < kShortest_s || downswing_s > kLongest_s)))
        return;
    const std::string what =
        (no_swing
             ? "Nothing in this film is as fast as a swing"
             : "The downswing would last " + seconds_text(downswing_s) + ", which no swing does") +
        std::string(": the times are probably those at which the film plays, not those at which it "
                    "was taken.");
    findings.push_back({Severity::Warning, "film-clock", what, "capture_rate_hz",
                        "Say at how many pictures a second it was taken."});
}

void name_slow_rate(double rate_hz, std::vector<Finding>& findings) {
    if (rate_hz >= 100.0)
        return;
    findings.push_back({Severity::Warning, "slow-frame-rate",
                        "At " + std::to_string(static_cast<int>(std::lround(rate_hz))) +
                            " frames a second peaks closer than about " +
                            std::to_string(static_cast<int>(std::lround(1000.0 / rate_hz))) +
                            " ms cannot be put in order.",
                        "", "Record at 120 frames a second or more."});
}

void name_unseen(const Take& take, const Analysis& analysis, std::vector<Finding>& findings) {
    const double takeaway_s = analysis.moments.time_s(Moment::Takeaway);
    const double top_s = analysis.moments.time_s(Moment::Top);
    const double begin_s = std::isfinite(takeaway_s) ? takeaway_s : top_s - 0.8;
    const double end_s = analysis.moments.window_end_s + kPlaceReach_s;
    for (Segment segment : kSequence) {
        const SegmentMotion* motion = analysis.find_motion(segment);
        if (motion == nullptr)
            continue;
        std::string stretches;
        std::string address;
        for (const TimeRange& stretch : unseen_stretches(*motion)) {
            if (stretch.end_s < begin_s || stretch.begin_s > end_s)
                continue;
            stretches += (stretches.empty() ? "from " : ", from ") + seconds_text(stretch.begin_s) +
                         " to " + seconds_text(stretch.end_s);
        }
        if (!stretches.empty())
            findings.push_back(
                {Severity::Warning, "part-unseen",
                 "The " + std::string(name_of(segment)) + " was not seen " + stretches +
                     "; what lies there is missing, what lies beside it less sure.",
                 std::string(key_of(segment)), "Check whether it was hidden from the cameras."});
    }
    std::string peaks;
    std::string reversals;
    for (Segment segment : kSequence) {
        const SegmentSequence* part = analysis.sequence.find(segment);
        if (part == nullptr)
            continue;
        const std::string name(name_of(segment));
        if (!std::isfinite(part->peak_t_s) || !std::isfinite(part->peak_deg_s))
            peaks += (peaks.empty() ? "" : ", ") + name;
        if (!std::isfinite(part->reversal_t_s))
            reversals += (reversals.empty() ? "" : ", ") + name;
    }
    if (!peaks.empty())
        findings.push_back({Severity::Warning, "peak-untold",
                            "The peak cannot be told, or not its speed: " + peaks +
                                " (hidden, too flat, or still rising where it was last seen).",
                            "", ""});
    if (!reversals.empty())
        findings.push_back({Severity::Warning, "reversal-untold",
                            "The reversal cannot be told: " + reversals +
                                " (hidden, too slow, or before the take begins).",
                            "", ""});
    for (Segment segment : {Segment::Pelvis, Segment::Torso}) {
        const auto curves = analysis.trunk.find(segment);
        const PoseSeries* raw = take.find(segment);
        if (curves == analysis.trunk.end() || raw == nullptr || !raw->has_positions() ||
            !analysis.moments[Moment::Address])
            continue;
        if (!std::isfinite(curves->second.rest_m.sum()))
            findings.push_back(
                {Severity::Warning, "address-unseen",
                 "The " + std::string(name_of(segment)) +
                     " was not seen at address, so its sway, depth and lift cannot be "
                     "told.",
                 std::string(key_of(segment)), "Check that the cameras see it at address."});
    }
}

void compare_separations(const Analysis& analysis, std::vector<Finding>& findings) {
    constexpr double kWorthSaying_deg = 5.0;
    const TimeRange swing{analysis.moments.time_s(Moment::Top),
                          analysis.moments.time_s(Moment::Impact)};
    double largest = 0.0;
    for (std::size_t i = 0; i < analysis.separation_deg.size(); ++i) {
        if (!swing.contains(analysis.separation_deg.time_of(i)))
            continue;
        const double difference =
            analysis.separation_deg.values()[i] - analysis.other_separation_deg.values()[i];
        if (std::abs(difference) > std::abs(largest))
            largest = difference;
    }
    if (std::abs(largest) > kWorthSaying_deg)
        findings.push_back(
            {Severity::Note, "separation-methods",
             "Between top and impact the two ways to take separation differ by up to " +
                 std::to_string(static_cast<int>(std::lround(std::abs(largest)))) + "°.",
             "", "Compare separations by one method only."});
}

void drop_impossible_separation(Analysis& analysis, std::vector<Finding>& findings) {
    const Separation& found = *analysis.separation;
    double most_deg = 0.0;
    for (double value : {found.at_top_deg, found.max_deg, found.at_impact_deg})
        if (std::isfinite(value) && std::abs(value) > std::abs(most_deg))
            most_deg = value;
    if (std::abs(most_deg) <= plausible::kMostSeparation_deg)
        return;
    findings.push_back({Severity::Warning, "separation-impossible",
                        "The separation comes out at " + std::to_string(std::lround(most_deg)) +
                            "\xC2\xB0, which no body can do. It is not given; the turns of pelvis "
                            "and torso are in doubt too.",
                        "",
                        "Check the labels of the pelvis' and torso's markers, or which way round "
                        "the sensors sit."});
    analysis.separation.reset();
    analysis.separation_deg = {};
    analysis.other_separation_deg = {};
}

void compare_with_launch(const Analysis& analysis, std::vector<Finding>& findings) {
    constexpr double kWorthSaying = 0.10;
    if (!analysis.launch)
        return;
    const double launch_m_s = analysis.launch->club_speed_m_s;
    const double motion_m_s = analysis.speed.club_head_m_s;
    if (!(std::abs(motion_m_s - launch_m_s) > kWorthSaying * launch_m_s))
        return;
    findings.push_back({Severity::Warning, "launch-speed",
                        "The launch numbers give a club-head speed of " + fixed(launch_m_s, 1) +
                            " m/s, the motion " + fixed(motion_m_s, 1) + " m/s.",
                        "", "Check that the numbers belong to this swing, and the club's length."});
}

} // namespace kite
