#include "formats/columns/table_take.h"

#include "core/motion/orientation.h"
#include "formats/text/numbers.h"

namespace kite::formats {

using Severity = Finding::Severity;

TableTake::TableTake(const DelimitedTable& table, const ReadOptions& options) : table_(table) {
    Outcome<Metadata> metadata = read_metadata(table, options);
    metadata_ = metadata.value;
    out_.findings = std::move(metadata.findings);
    Outcome<std::vector<double>> times = read_times(table, metadata_);
    times_s_ = std::move(times.value);
    out_.findings.insert(out_.findings.end(), times.findings.begin(), times.findings.end());
    Take& take = out_.value;
    take.handed = metadata_.handed;
    take.handed_said = metadata_.handed_said;
    take.club = metadata_.club;
    take.club_said = metadata_.club_said;
}

Outcome<Take> TableTake::finish(const std::string& mend) {
    Take& take = out_.value;
    if (!usable())
        return std::move(out_);
    if (take.segments.empty() && take.rates_deg_s.empty()) {
        out_.add({Severity::Error, "no-segments", "No column of this file belongs to a part.",
                  "header row", mend});
        return std::move(out_);
    }
    Outcome<TimeBase> base = find_time_base(times_s_, metadata_.rate_hz);
    settle_tremble(take, times_s_, base);
    if (!settle_time(base))
        return std::move(out_);
    bring_to_time_base(take, times_s_, base.value, out_.findings);
    return oriented();
}

Outcome<Take> TableTake::finish_on(Outcome<TimeBase> base) {
    if (!settle_time(base))
        return std::move(out_);
    Take& take = out_.value;
    take.rate_hz = base.value.rate_hz;
    take.frames = base.value.frames;
    if (take.contact_s)
        *take.contact_s -= base.value.start_s;
    return oriented();
}

bool TableTake::settle_time(Outcome<TimeBase>& base) {
    for (Finding& finding : base.findings) {
        place_in_file(table_, finding);
        out_.add(std::move(finding));
    }
    if (has_errors(out_.findings))
        return false;
    out_.value.contact_s = contact_within(table_, metadata_, times_s_, out_.findings);
    return true;
}

Outcome<Take> TableTake::oriented() {
    if (out_.value.handed == Handedness::Left)
        mirror_in_place(out_.value);
    check_orientation(out_.value, out_.findings);
    return std::move(out_);
}

} // namespace kite::formats
