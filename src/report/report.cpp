#include "report/report.h"

#include "core/base/normal.h"
#include "core/catalogue/measure.h"
#include "core/reading/set_reading.h"
#include "core/reading/why.h"
#include "core/reading/words.h"
#include "core/sets/comparison_words.h"
#include "report/day_words.h"
#include "report/pictures/drawings.h"

#include <algorithm>
#include <boost/date_time/gregorian/gregorian_types.hpp>
#include <cmath>

namespace kite::report {

namespace {

/// Makes a report's parts with what they all need at hand.
class Writer {
public:
    explicit Writer(const Told& told) : told_(told), set_(read_set(copies(told.readings))) {}

    Report write() const {
        Report out;
        out.title = told_.title.empty() ? say(KITE_TR("Your swing")) : told_.title;
        out.subtitle = told_.subtitle;
        out.accent = told_.accent.empty() ? kUsualAccent : told_.accent;
        out.page_words = say(KITE_TR("page {1} of {2}"));
        out.pages = {for_golfer(), numbers()};
        if (!told_.stills.empty())
            out.pages.push_back(film());
        return out;
    }

private:
    using Blocks = std::vector<Block>;

    static std::vector<Reading> copies(const std::vector<const Reading*>& readings) {
        std::vector<Reading> out;
        out.reserve(readings.size());
        for (const Reading* reading : readings)
            out.push_back(*reading);
        return out;
    }
    std::string say(const std::string& text) const { return told_.language.translate(text); }
    std::string fill(const std::string& text, const std::vector<std::string>& values) const {
        return filled(text, values, told_.language);
    }
    std::string number(double value, int decimals) const {
        return std::isfinite(value) ? written(value, decimals, told_.language) : std::string("–");
    }
    const Analysis& example() const { return *told_.swings[set_.example]; }
    const Reading& reading() const { return set_.reading; }
    const Fault* first_fix() const {
        return reading().first_fix ? reading().find(*reading().first_fix) : nullptr;
    }

    static void add(Blocks& to, const std::string& text,
                    Paragraph::Tone tone = Paragraph::Tone::Plain) {
        if (!text.empty())
            to.push_back({Paragraph{text, tone}});
    }
    void head(Blocks& to, const std::string& text) const { to.push_back({Heading{say(text)}}); }

    /// The fault that the plan was made for, where what is found first is another by now.
    const Fault* fault_of_older_plan() const {
        const Fault* fix = first_fix();
        return told_.plan && fix != nullptr && told_.plan->fault != fix->id
                   ? reading().find(told_.plan->fault)
                   : nullptr;
    }

    const Drill* main_drill() const {
        if (told_.drills == nullptr)
            return nullptr;
        if (told_.plan)
            return main_drill_of(*told_.plan, *told_.drills);
        const Fault* fix = first_fix();
        if (fix == nullptr)
            return nullptr;
        DrillWish wish;
        wish.fault = fix->id;
        if (told_.school != nullptr)
            wish.preferred = told_.school->drills;
        const auto found = find_drills(*told_.drills, wish);
        return found.empty() ? nullptr : found.front();
    }

    // ---- for the golfer

    Page for_golfer() const {
        Page out;
        Blocks thing;
        head(thing, KITE_TR("The one thing"));
        add_one_thing(thing);
        const Drill* drill = main_drill();
        Blocks picture;
        picture.push_back(kites());
        out.blocks.push_back({Columns{{thing, picture}, {0.56, 0.44}}});
        head(out.blocks, KITE_TR("In which order your parts were fastest"));
        out.blocks.push_back({stair_drawing(example(), reading(), kWide_mm, 52.0, told_.language)});
        add(out.blocks, order_in_plain_words(), Paragraph::Tone::Soft);
        Blocks work;
        add_drill(work, drill);
        Blocks plan;
        add_plan(plan);
        if (plan.empty())
            out.blocks.insert(out.blocks.end(), work.begin(), work.end());
        else if (work.empty())
            out.blocks.insert(out.blocks.end(), plan.begin(), plan.end());
        else
            out.blocks.push_back({Columns{{work, plan}, {0.56, 0.44}}});
        add_cautions(out.blocks, drill);
        return out;
    }

    void add_one_thing(Blocks& to) const {
        const Fault* fix = first_fix();
        if (!told_.one_thing.empty()) {
            add(to, told_.one_thing, Paragraph::Tone::Large);
            if (fix != nullptr)
                add(to, fill(KITE_TR("Measured: {1}. {2}"), {say(fix->title), say(fix->why)}));
        } else if (fix != nullptr) {
            add(to, say(fix->title), Paragraph::Tone::Large);
            add(to, say(fix->why));
        } else {
            add(to, say(KITE_TR("Nothing to mend was found.")), Paragraph::Tone::Large);
            add(to, say(KITE_TR("What you do is good: keep it, and practise it.")));
        }
        if (fix != nullptr && !fix->ball.empty())
            add(to, say(fix->ball));
        const ReadingWords words = write_words(example(), reading(), told_.language);
        if (!words.good.empty()) {
            add(to, say(KITE_TR("What is good already:")));
            to.push_back({Items{words.good, false}});
        }
    }

    Block kites() const {
        const Take none;
        const Take& take = told_.example_take != nullptr ? *told_.example_take : none;
        const MeasuredSwing swing{take, example()};
        Columns out;
        for (const auto& [moment, words] : {std::pair(Moment::Top, KITE_TR("At the top")),
                                            std::pair(Moment::Impact, KITE_TR("At impact"))}) {
            const double t_s = moment == Moment::Impact ? example().moments.reference_s()
                                                        : example().moments.time_s(moment);
            if (!std::isfinite(t_s))
                continue;
            out.columns.push_back(
                {{kite_drawing(swing, t_s, say(words), 37.0, 49.5, told_.language)}});
        }
        if (out.columns.empty())
            return {Paragraph{say(KITE_TR("Top and impact could not be found.")),
                              Paragraph::Tone::Soft}};
        out.shares.assign(out.columns.size(), 1.0 / static_cast<double>(out.columns.size()));
        return {out};
    }

    std::string order_in_plain_words() const {
        return say(
            KITE_TR("From the ground up: pelvis first, then chest, arm and club is what most "
                    "good swings show. Tied: too close together to tell apart."));
    }

    void add_drill(Blocks& to, const Drill* drill) const {
        if (drill == nullptr)
            return;
        head(to, KITE_TR("Your drill"));
        add(to, say(drill->title), Paragraph::Tone::Large);
        if (const Fault* older = fault_of_older_plan())
            add(to, fill(KITE_TR("This drill and its days are of the plan for: {1}. What was found "
                                 "first in these swings is another; agree which of the two is "
                                 "worked on."),
                         {say(older->title)}));
        Drawing picture = drill_drawing(drill->figure, 84.0, 34.0);
        picture.says = say(drill->purpose);
        to.push_back({picture});
        if (!drill->needs.empty()) {
            std::string needs;
            for (const std::string& one : drill->needs)
                needs += (needs.empty() ? "" : ", ") + say(one);
            add(to, fill(KITE_TR("Needed: {1}."), {needs}));
        }
        add(to, say(drill->set_up));
        Items steps;
        steps.numbered = true;
        for (const std::string& step : drill->steps)
            steps.items.push_back(say(step));
        to.push_back({steps});
        add(to, fill(KITE_TR("To feel: {1}"), {say(drill->feel)}));
        add(to, fill(KITE_TR("It is right when: {1}"), {say(drill->check)}));
    }

    void add_plan(Blocks& to) const {
        if (!told_.homework.empty()) {
            head(to, KITE_TR("Homework"));
            add(to, told_.homework);
        }
        if (!told_.plan || told_.drills == nullptr)
            return;
        head(to, KITE_TR("Your plan"));
        Table days;
        days.head = {say(KITE_TR("Days")), say(KITE_TR("Work")), say(KITE_TR("Done"))};
        days.left = {true, true, true};
        days.shares = {0.26, 0.58, 0.16};
        // Days with the same work share a row, and work that stands above is not said again: a
        // plan is one glance, not a calendar.
        std::string last;
        std::string first_day;
        std::vector<std::string> known;
        for (const PlanDay& day : told_.plan->days) {
            const auto lines = lines_of_day(*told_.plan, day, *told_.drills, told_.language);
            std::string work;
            for (const std::string& line : lines)
                work += (work.empty() ? "" : " ") + line;
            // Letters of the shipped font.
            const std::string done = day.done ? "●" : "□";
            if (!days.rows.empty() && work == last) {
                std::string& span = days.rows.back()[0];
                span = span.substr(0, span.find(" –")) + " – " + date_words(day.date);
                days.rows.back()[2] += " " + done;
                continue;
            }
            last = work;
            if (day.kind == PlanDayKind::Practice && known.empty()) {
                known = lines;
                first_day = date_words(day.date);
            } else if (day.kind != PlanDayKind::Rest && lines.size() >= known.size() &&
                       !known.empty() && std::equal(known.begin(), known.end(), lines.begin())) {
                work = fill(KITE_TR("As on {1}."), {first_day});
                for (std::size_t i = known.size(); i < lines.size(); ++i)
                    work += " " + lines[i];
            }
            days.rows.push_back(
                {date_words(day.date), work, day.kind == PlanDayKind::Rest ? "" : done});
        }
        to.push_back({days});
    }

    std::string date_words(const Date& date) const { return weekday_words(date, told_.language); }

    void add_cautions(Blocks& to, const Drill* drill) const {
        if (told_.drills == nullptr)
            return;
        std::vector<std::string> all;
        const auto gather = [&](const Drill& one) {
            for (const std::string& caution : cautions_of(*told_.drills, one))
                if (std::find(all.begin(), all.end(), say(caution)) == all.end())
                    all.push_back(say(caution));
        };
        gather(drill != nullptr ? *drill : Drill());
        if (told_.plan)
            if (const Drill* helper = told_.drills->find(told_.plan->helper))
                gather(*helper);
        head(to, KITE_TR("Take care"));
        to.push_back({Items{all, false}});
    }

    // ---- film

    /// Side by side, three in a row.
    Page film() const {
        constexpr std::size_t kInARow = 3;
        Page out;
        out.name = say(KITE_TR("Film"));
        head(out.blocks, KITE_TR("From the film"));
        for (std::size_t from = 0; from < told_.stills.size(); from += kInARow) {
            Columns row;
            for (std::size_t i = from; i < std::min(from + kInARow, told_.stills.size()); ++i)
                row.columns.push_back({{told_.stills[i]}});
            // A lone picture is no larger than one of three.
            while (row.columns.size() < kInARow)
                row.columns.emplace_back();
            row.shares.assign(kInARow, 1.0 / static_cast<double>(kInARow));
            out.blocks.push_back({row});
        }
        return out;
    }

    // ---- numbers

    Page numbers() const {
        Page out;
        out.name = say(KITE_TR("Numbers"));
        head(out.blocks, KITE_TR("The reading"));
        const ReadingWords words = write_words(example(), reading(), told_.language);
        add(out.blocks, words.order, Paragraph::Tone::Large);
        if (told_.swings.size() > 1)
            add(out.blocks,
                fill(KITE_TR("{1} swings, read as one set; reasons quote swing {2}, "
                             "which shows it best."),
                     {std::to_string(told_.swings.size()), std::to_string(set_.example + 1)}),
                Paragraph::Tone::Soft);
        add(out.blocks, words.fix_title + (words.fix_why.empty() ? "" : ". " + words.fix_why));
        if (!words.because.empty())
            out.blocks.push_back({Items{words.because, false}});
        if (!words.leads_to.empty())
            add(out.blocks, fill(KITE_TR("It leads to: {1}."), {words.leads_to}));
        if (!words.set_up.empty()) {
            add(out.blocks, say(KITE_TR("At address:")));
            out.blocks.push_back({Items{words.set_up, false}});
        }
        add(out.blocks, words.certainty);
        add(out.blocks, words.given, Paragraph::Tone::Soft);
        add_faults(out.blocks);
        add_sequence(out.blocks);
        add_measures(out.blocks);
        add_changes(out.blocks);
        if (!told_.note.empty()) {
            head(out.blocks, KITE_TR("Note"));
            add(out.blocks, told_.note);
        }
        return out;
    }

    void add_faults(Blocks& to) const {
        const auto listed = listed_faults(reading());
        if (listed.size() < 2)
            return;
        Table table;
        table.caption = say(KITE_TR("Everything that was found"));
        table.head = {say(KITE_TR("What")), say(KITE_TR("Phase")), say(KITE_TR("Evidence"))};
        table.left = {true, true, false};
        table.shares = {0.6, 0.22, 0.18};
        for (const Fault* fault : listed)
            table.rows.push_back({say(fault->title), say(std::string(key_of(fault->phase))),
                                  fault->evidence ? number(*fault->evidence, 2) : "–"});
        to.push_back({table});
    }

    /// "417 ± 3", with the 95 % interval; of a set "417 ± 12", with the standard deviation.
    std::string with_u(const Measured& value, int decimals) const {
        if (!std::isfinite(value.value))
            return "–";
        std::string out = number(value.value, decimals);
        if (std::isfinite(value.u))
            out += " ± " + number(kCover95 * value.u, std::max(decimals, decimals_of(value.u)));
        return out;
    }
    static int decimals_of(double u) { return kCover95 * u < 0.95 ? 1 : 0; }

    void add_sequence(Blocks& to) const {
        Table table;
        table.caption = fill(KITE_TR("The parts of swing {1}, each ± its 95 % interval"),
                             {std::to_string(set_.example + 1)});
        table.head = {
            say(KITE_TR("Part")), say(KITE_TR("Peak, °/s")), say(KITE_TR("Peak, ms before impact")),
            say(KITE_TR("Turns back, ms before impact")), say(KITE_TR("Slowed at impact, %"))};
        table.shares = {0.2, 0.2, 0.2, 0.22, 0.18};
        const double impact = example().moments.reference_s();
        for (Segment segment : kSequence) {
            const SegmentSequence* part = example().sequence.find(segment);
            if (part == nullptr) {
                table.rows.push_back({say(std::string(name_of(segment))), "–", "–", "–", "–"});
                continue;
            }
            table.rows.push_back(
                {say(std::string(name_of(segment))),
                 with_u({part->peak_deg_s, part->peak_u_deg_s}, 0),
                 with_u({1e3 * (impact - part->peak_t_s), 1e3 * part->peak_t_u_s}, 0),
                 with_u({1e3 * (impact - part->reversal_t_s), 1e3 * part->reversal_u_s}, 0),
                 number(part->slowdown_pct, 0)});
        }
        to.push_back({table});
    }

    std::pair<double, std::string> unit_of(const Measure& measure) const {
        return told_.shown_unit ? told_.shown_unit(measure.unit)
                                : std::pair(1.0, std::string(measure.unit));
    }
    std::string with_unit(const Measure& measure) const {
        const std::string unit = say(unit_of(measure).second);
        return say(measure.name) + (unit.empty() ? "" : ", " + unit);
    }

    std::vector<std::string> row_of(const Measure& measure) const {
        const std::string name = with_unit(measure);
        const double factor = unit_of(measure).first;
        if (told_.swings.size() == 1) {
            Measured value = measure.of(example());
            value.value *= factor;
            value.u *= factor;
            return std::isfinite(value.value)
                       ? std::vector<std::string>{name, with_u(value, measure.decimals)}
                       : std::vector<std::string>{};
        }
        std::vector<double> values;
        for (const Analysis* swing : told_.swings)
            values.push_back(factor * measure.of(*swing).value);
        const Summary summary = summarise(values);
        return summary.count > 0
                   ? std::vector<std::string>{name, number(summary.mean, measure.decimals),
                                              number(summary.sd, measure.decimals + 1),
                                              std::to_string(summary.count)}
                   : std::vector<std::string>{};
    }

    /// In two halves side by side: it is long and narrow.
    void add_measures(Blocks& to) const {
        const bool one = told_.swings.size() == 1;
        std::vector<std::vector<std::string>> rows;
        for (const Measure& measure : all_measures())
            if (auto row = row_of(measure); !row.empty())
                rows.push_back(std::move(row));
        Columns halves;
        halves.shares = {0.5, 0.5};
        const std::size_t half = (rows.size() + 1) / 2;
        for (std::size_t begin : {std::size_t{0}, half}) {
            Table table;
            table.caption = begin > 0 ? say(KITE_TR("and further"))
                            : one     ? say(KITE_TR("Measures, each ± its 95 % interval"))
                                      : say(KITE_TR("Measures over the set"));
            table.head =
                one ? std::vector<std::string>{say(KITE_TR("Measure")), say(KITE_TR("Value"))}
                    : std::vector<std::string>{say(KITE_TR("Measure")), say(KITE_TR("Mean")),
                                               say(KITE_TR("SD")), say(KITE_TR("Swings"))};
            table.shares =
                one ? std::vector<double>{0.66, 0.34} : std::vector<double>{0.54, 0.16, 0.14, 0.16};
            const auto from = rows.begin() + static_cast<std::ptrdiff_t>(begin);
            table.rows.assign(from,
                              begin > 0 ? rows.end() : from + static_cast<std::ptrdiff_t>(half));
            if (!table.rows.empty())
                halves.columns.push_back({{table}});
        }
        if (!halves.columns.empty())
            to.push_back({halves});
    }

    void add_changes(Blocks& to) const {
        if (told_.before.empty())
            return;
        Table table;
        table.caption = told_.before_name.empty()
                            ? say(KITE_TR("What changed"))
                            : fill(KITE_TR("What changed since {1}"), {told_.before_name});
        table.head = {say(KITE_TR("Measure")), say(KITE_TR("Before")),   say(KITE_TR("Now")),
                      say(KITE_TR("Change")),  say(KITE_TR("Interval")), say(KITE_TR("Verdict"))};
        table.left = {true, false, false, false, false, true};
        table.shares = {0.28, 0.1, 0.1, 0.1, 0.16, 0.26};
        const Comparison comparison = compare_sets(told_.before, told_.swings, told_.comparing);
        constexpr int kUndecided = 4; // of those that did not change
        int others = 0;
        for (const MeasureChange& change : most_changed_first(comparison.measures)) {
            if (change.verdict != Verdict::Changed && !change.is_question && ++others > kUndecided)
                continue;
            const ShownChange shown = as_shown(change, unit_of(*change.measure).first);
            table.rows.push_back(
                {with_unit(*change.measure), number(shown.before, shown.decimals),
                 number(shown.after, shown.decimals), number(shown.difference, shown.decimals),
                 std::isfinite(shown.low)
                     ? fill(KITE_TR("{1} to {2}"),
                            {number(shown.low, shown.decimals), number(shown.high, shown.decimals)})
                     : "–",
                 verdict_words(change, told_.language)});
        }
        if (table.rows.empty())
            return;
        to.push_back({table});
        const ComparisonWords said = write_words(comparison, told_.language, [&](const char* unit) {
            return told_.shown_unit ? told_.shown_unit(unit) : std::pair(1.0, std::string(unit));
        });
        if (!said.answer.empty())
            add(to, said.answer, Paragraph::Tone::Plain);
        std::string words = said.others;
        for (const std::string& caution : said.cautions)
            words += " " + caution;
        if (others > kUndecided)
            words += " " + fill(KITE_TR("Of {1} further measures no change is shown."),
                                {std::to_string(others - kUndecided)});
        add(to, words, Paragraph::Tone::Soft);
    }

    static constexpr double kWide_mm = 178.0;
    const Told& told_;
    SetReading set_;
};

double luminance_of(unsigned channel) {
    const double c = channel / 255.0;
    return c <= 0.04045 ? c / 12.92 : std::pow((c + 0.055) / 1.055, 2.4);
}

} // namespace

Outcome<std::string> paper_colour(const std::string& text) {
    Outcome<std::string> out;
    std::string colour;
    for (char letter : text)
        colour += letter >= 'A' && letter <= 'F' ? static_cast<char>(letter - 'A' + 'a') : letter;
    constexpr std::size_t kLength = 7;
    if (colour.size() != kLength || colour.front() != '#' ||
        colour.find_first_not_of("0123456789abcdef", 1) != std::string::npos) {
        out.add({Finding::Severity::Error, "no-colour", "\"" + text + "\" is no colour.", "",
                 "Write it as #1f5f8b: red, green and blue in two digits each."});
        return out;
    }
    // Relative luminance and contrast: WCAG 2.1.
    const auto channel = [&](std::size_t at) {
        return luminance_of(static_cast<unsigned>(std::stoul(colour.substr(at, 2), nullptr, 16)));
    };
    const double luminance = 0.2126 * channel(1) + 0.7152 * channel(3) + 0.0722 * channel(5);
    if (1.05 / (luminance + 0.05) < 4.5) {
        out.add({Finding::Severity::Error, "too-light", text + " is too light to be read on paper.",
                 "", "Choose a darker colour."});
        return out;
    }
    out.value = colour;
    return out;
}

Report make_report(const Told& told) {
    return Writer(told).write();
}

} // namespace kite::report
