#include "formats/results/analysis_table.h"

#include "core/base/units.h"
#include "core/reading/words.h"
#include "formats/text/numbers.h"

#include <cmath>

namespace kite::formats {

namespace {

/// Right-aligned in `width` characters; "–" for a missing value.
std::string cell(double value, int decimals, std::size_t width) {
    const bool missing = !std::isfinite(value);
    const std::string text = missing ? "–" : fixed(value, decimals);
    const std::size_t size = missing ? 1 : text.size();
    return std::string(size < width ? width - size : 1, ' ') + text;
}

std::string left(std::string_view text, std::size_t width) {
    std::string out(text);
    out.resize(std::max(width, out.size()), ' ');
    return out;
}

std::string open_or_closed(double turn_deg) {
    if (!std::isfinite(turn_deg))
        return "–";
    const double size = std::round(std::abs(turn_deg));
    if (size == 0.0)
        return "square";
    return fixed(size, 0) + "° " + (turn_deg > 0.0 ? "open" : "closed");
}

} // namespace

std::string to_table(const std::string& file, const Analysis& analysis, const Reading& reading,
                     const std::vector<Finding>& findings) {
    const ReadingWords words = write_words(analysis, reading);
    const double impact = analysis.moments.time_s(Moment::Impact);
    std::string out = file + "\n";
    out += "  " + fixed(analysis.rate_hz, 0) + " Hz, " + std::string(key_of(analysis.handed)) +
           "-handed" + (analysis.handed_said ? "" : " (from the motion)") + ", " +
           (analysis.club_said ? std::string(key_of(analysis.club)) : "club not said") +
           ", rates by the " + std::string(key_of(analysis.options.convention)) + " convention\n\n";
    out += "  Order of the peaks  " + words.order + "\n\n";
    out += "  part       reversal    peak at   ±95 %       peak  at impact  slow-down\n";
    out += "             ms to impact    ms      ms        °/s        °/s          %\n";
    for (Segment segment : kSequence) {
        const SegmentSequence part = analysis.sequence.find(segment) == nullptr
                                         ? SegmentSequence{}
                                         : *analysis.sequence.find(segment);
        out += "  " + left(name_of(segment), 9) +
               cell(ms_from_s(part.reversal_t_s - impact), 0, 10) +
               cell(-part.before_impact_ms, 1, 11) + cell(ms_from_s(2.0 * part.peak_t_u_s), 1, 8) +
               cell(part.peak_deg_s, 0, 11) + cell(part.at_impact_deg_s, 0, 11) +
               cell(part.slowdown_pct, 0, 11) + "\n";
    }
    out += "\n  moment                    time s  pelvis turn    torso turn    pelvis sway  depth  "
           " lift cm\n";
    for (Moment moment : kAllMoments) {
        const auto& at = analysis.moments[moment];
        if (!at)
            continue;
        const TrunkPosition pelvis = analysis.position(Segment::Pelvis, moment);
        const TrunkPosition torso = analysis.position(Segment::Torso, moment);
        const auto turn = [](const TrunkPosition& position) {
            std::string text = "  " + open_or_closed(position.turn_deg);
            // "°" and "–" take more bytes than columns.
            const std::size_t extra = text.find("°") != std::string::npos   ? 1
                                      : text.find("–") != std::string::npos ? 2
                                                                            : 0;
            text.resize(std::max(text.size(), 14 + extra), ' ');
            return text;
        };
        out += "  " + left(name_of(moment), 24) + cell(at->t_s, 3, 8) + turn(pelvis) + turn(torso) +
               cell(cm_from_m(pelvis.sway_m), 1, 11) + cell(cm_from_m(pelvis.depth_m), 1, 7) +
               cell(cm_from_m(pelvis.lift_m), 1, 7) + "\n";
    }
    if (analysis.separation) {
        const Separation& separation = *analysis.separation;
        out += "\n  Separation (" + std::string(key_of(analysis.options.separation)) + ")  top" +
               cell(separation.at_top_deg, 1, 6) + "°  most" + cell(separation.max_deg, 1, 6) +
               "°  stretch" + cell(separation.stretch_deg, 1, 5) + "°  impact" +
               cell(separation.at_impact_deg, 1, 6) + "°\n";
    }
    out += "  Tempo  " + fixed(analysis.tempo.backswing_s, 2) + " s back, " +
           fixed(analysis.tempo.downswing_s, 2) + " s down, " + fixed(analysis.tempo.ratio, 1) +
           " to 1\n\n";
    out += "  " + words.fix_title + ". " + words.fix_why + "\n";
    for (const std::string& because : words.because)
        out += "    because  " + because + "\n";
    for (const std::string& good : words.good)
        out += "    good     " + good + "\n";
    out += "  " + words.certainty + "\n  " + words.given + "\n";
    for (const Finding& finding : findings)
        if (finding.severity != Finding::Severity::Error)
            out += "  note: " + kite::text_of(finding) + "\n";
    return out;
}

} // namespace kite::formats
