#include "formats/columns/table_take.h"

#include "core/motion/uniform.h"
#include "formats/text/numbers.h"

namespace kite::formats {

using Severity = Finding::Severity;

TableTake::TableTake(const DelimitedTable& table, const ReadOptions& options) : table_(table) {
    Take& take = out_.value;
    const auto comment = [&](std::string_view key) {
        return lower_case(table.find_comment(key).value_or(""));
    };
    take.handed =
        options.handed.value_or(find_handedness(comment("handed")).value_or(Handedness::Right));
    take.club = options.club.value_or(find_club_kind(comment("club")).value_or(ClubKind::Iron));
    const bool decimal_comma = table.delimiter != ',';
    rate_hz_ = parse_number(comment("rate_hz"), decimal_comma);
    if (rate_hz_ && !(*rate_hz_ > 0.0))
        rate_hz_.reset();
    take.contact_s = parse_number(comment("contact_s"), decimal_comma);
}

Outcome<Take> TableTake::finish(const std::string& mend) {
    Take& take = out_.value;
    const auto* time = table_.find("time_s");
    if (time == nullptr) {
        out_.add({Severity::Error, "columns-missing", "The column time_s is missing.", "header row",
                  "Add the time of each row in seconds."});
        return std::move(out_);
    }
    if (take.segments.empty() && take.rates_deg_s.empty()) {
        out_.add({Severity::Error, "no-segments", "No column of this file belongs to a part.",
                  "header row", mend});
        return std::move(out_);
    }
    Outcome<TimeBase> base = find_time_base(*time, rate_hz_);
    if (!settle_time(base))
        return std::move(out_);
    bring_to_time_base(take, *time, base.value, out_.findings);
    return mirrored();
}

Outcome<Take> TableTake::finish_on(Outcome<TimeBase> base) {
    if (!settle_time(base))
        return std::move(out_);
    Take& take = out_.value;
    take.rate_hz = base.value.rate_hz;
    take.frames = base.value.frames;
    if (take.contact_s)
        *take.contact_s -= base.value.start_s;
    return mirrored();
}

bool TableTake::settle_time(Outcome<TimeBase>& base) {
    for (Finding& finding : base.findings) {
        place_in_file(table_, finding);
        out_.add(std::move(finding));
    }
    if (has_errors(out_.findings))
        return false;
    const auto& time = *table_.find("time_s");
    auto& contact = out_.value.contact_s;
    if (contact && !(*contact >= time.front() && *contact <= time.back())) {
        out_.add({Severity::Warning, "contact-outside",
                  "The contact mark lies outside the recording and was not used.", "contact_s",
                  "Give it on the clock of the time_s column."});
        contact.reset();
    }
    return true;
}

Outcome<Take> TableTake::mirrored() {
    if (out_.value.handed == Handedness::Left)
        mirror_in_place(out_.value);
    return std::move(out_);
}

} // namespace kite::formats
