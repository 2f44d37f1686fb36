#include "formats/practice/plan_json.h"

#include "formats/json/strict_json.h"
#include "formats/text/bytes.h"

#include <array>
#include <cmath>

namespace kite::formats {

namespace {

using Json = StrictJson::Json;
using Node = StrictJson::Node;

constexpr const char* kPlanVersion = "plan 1";
constexpr std::array<const char*, 7> kDays{"mon", "tue", "wed", "thu", "fri", "sat", "sun"};

class PlanReader : public StrictJson {
public:
    using StrictJson::StrictJson;

    Plan read(const Node& root) {
        only(root, {"kite-hinge", "golfer", "fault", "title", "why", "main_drill", "helper",
                    "upkeep", "wish", "pass", "days", "counts"});
        Plan out;
        out.golfer = text(root, "golfer");
        out.fault = needed_text(root, "fault");
        out.title = needed_text(root, "title");
        out.why = text(root, "why");
        out.main_drill = needed_text(root, "main_drill");
        out.helper = text(root, "helper");
        out.upkeep = texts(root, "upkeep");
        if (const auto wish = member(root, "wish"))
            out.wish = read_wish(*wish);
        else
            fail(root, "\"wish\" is missing.", "Say what days and minutes there are.");
        if (const auto pass = member(root, "pass")) {
            only(*pass, {"share_pct", "swings"});
            out.pass_share_pct = whole(*pass, "share_pct", 1, 100);
            out.pass_swings = whole(*pass, "swings", 1, 1000);
        }
        for (const Node& at : list(root, "days"))
            out.days.push_back(read_day(at));
        for (const Node& at : list(root, "counts"))
            out.counts.push_back(read_count(at));
        return out;
    }

private:
    Date date(const Node& at, const char* key) {
        if (const auto found = find_date(needed_text(at, key)))
            return *found;
        fail(member(at, key).value_or(at), "This is no date.", "Write it as 2026-11-27.");
        return {};
    }
    int whole(const Node& at, const char* key, int least, int most) {
        const double value = number(at, key);
        if (std::isfinite(value) && value == std::round(value) && value >= least && value <= most)
            return static_cast<int>(value);
        fail(member(at, key).value_or(at),
             std::string("\"") + key + "\" must be a whole number from " + std::to_string(least) +
                 " to " + std::to_string(most) + ".",
             "Mend it.");
        return least;
    }

    PlanWish read_wish(const Node& at) {
        only(at, {"first_day", "days", "minutes", "next_lesson", "place", "limits"});
        PlanWish out;
        out.first_day = date(at, "first_day");
        out.practises.fill(false);
        for (const std::string& day : texts(at, "days")) {
            bool known = false;
            for (std::size_t i = 0; i < kDays.size(); ++i)
                if (day == kDays[i])
                    known = out.practises[i] = true;
            if (!known)
                fail(*member(at, "days"), "There is no day \"" + day + "\".",
                     "It is mon, tue, wed, thu, fri, sat or sun.");
        }
        out.minutes = whole(at, "minutes", 5, 240);
        if (member(at, "next_lesson"))
            out.next_lesson = date(at, "next_lesson");
        if (const auto place = find_practice_place(needed_text(at, "place")))
            out.place = *place;
        else
            fail(at, "There is no such place.", "It is indoors or range.");
        out.limits = texts(at, "limits");
        return out;
    }

    PlanDay read_day(const Node& at) {
        only(at, {"date", "kind", "items", "done", "note"});
        PlanDay out;
        out.date = date(at, "date");
        if (const auto kind = find_plan_day_kind(needed_text(at, "kind")))
            out.kind = *kind;
        else
            fail(at, "There is no such kind of day.", "It is practice, rest, measure or lesson.");
        out.done = flag(at, "done");
        out.note = text(at, "note");
        for (const Node& one : list(at, "items")) {
            only(one, {"drill", "tempo", "sets", "repetitions"});
            PlanItem item;
            item.drill = needed_text(one, "drill");
            if (const auto tempo = find_plan_tempo(needed_text(one, "tempo")))
                item.tempo = *tempo;
            else
                fail(one, "There is no such tempo.", "It is slow, fluid or ball.");
            item.sets = whole(one, "sets", 1, 20);
            item.repetitions = whole(one, "repetitions", 1, 200);
            out.items.push_back(item);
        }
        return out;
    }

    PlanCount read_count(const Node& at) {
        only(at, {"date", "drill", "rung", "swings", "passed", "measured", "mean"});
        PlanCount out;
        out.date = date(at, "date");
        out.drill = needed_text(at, "drill");
        out.rung = whole(at, "rung", kFirstRung, kLastRung);
        out.swings = whole(at, "swings", 0, 10000);
        out.passed = whole(at, "passed", 0, 10000);
        if (out.passed > out.swings)
            fail(at, "More swings passed than were made.", "Mend \"passed\" or \"swings\".");
        out.measured = flag(at, "measured");
        if (member(at, "mean"))
            out.mean = number(at, "mean");
        return out;
    }
};

Json json_of(const PlanWish& wish) {
    Json days = Json::array();
    for (std::size_t i = 0; i < kDays.size(); ++i)
        if (wish.practises[i])
            days.push_back(kDays[i]);
    Json out{{"first_day", text_of(wish.first_day)},
             {"days", days},
             {"minutes", wish.minutes},
             {"place", key_of(wish.place)},
             {"limits", wish.limits}};
    if (wish.next_lesson)
        out["next_lesson"] = text_of(*wish.next_lesson);
    return out;
}

Json json_of(const PlanDay& day) {
    Json out{{"date", text_of(day.date)}, {"kind", key_of(day.kind)}};
    if (!day.items.empty())
        out["items"] = Json::array();
    for (const PlanItem& item : day.items)
        out["items"].push_back({{"drill", item.drill},
                                {"tempo", key_of(item.tempo)},
                                {"sets", item.sets},
                                {"repetitions", item.repetitions}});
    if (day.done)
        out["done"] = true;
    if (!day.note.empty())
        out["note"] = day.note;
    return out;
}

Json json_of(const PlanCount& count) {
    Json out{{"date", text_of(count.date)}, {"drill", count.drill},   {"rung", count.rung},
             {"swings", count.swings},      {"passed", count.passed}, {"measured", count.measured}};
    if (std::isfinite(count.mean))
        out["mean"] = count.mean;
    return out;
}

} // namespace

Outcome<Plan> parse_plan(std::string_view bytes) {
    Outcome<Plan> out;
    PlanReader reader(bytes);
    if (const auto root = reader.open(kPlanVersion, "a practice plan"))
        out.value = reader.read(*root);
    out.findings = std::move(reader.findings);
    if (!out.ok())
        out.value = {};
    return out;
}

Outcome<Plan> read_plan(const std::filesystem::path& path) {
    const Outcome<std::string> bytes = read_bytes(path);
    if (!bytes.ok()) {
        Outcome<Plan> out;
        out.findings = bytes.findings;
        return out;
    }
    return parse_plan(bytes.value);
}

std::string to_json(const Plan& plan) {
    Json out{{"kite-hinge", kPlanVersion}, {"golfer", plan.golfer}, {"fault", plan.fault},
             {"title", plan.title},        {"why", plan.why},       {"main_drill", plan.main_drill},
             {"helper", plan.helper},      {"upkeep", plan.upkeep}, {"wish", json_of(plan.wish)}};
    out["pass"] = {{"share_pct", plan.pass_share_pct}, {"swings", plan.pass_swings}};
    out["days"] = Json::array();
    for (const PlanDay& day : plan.days)
        out["days"].push_back(json_of(day));
    out["counts"] = Json::array();
    for (const PlanCount& count : plan.counts)
        out["counts"].push_back(json_of(count));
    return out.dump(1, ' ', false, Json::error_handler_t::replace) + "\n";
}

std::vector<Finding> write_plan(const std::filesystem::path& path, const Plan& plan, Old old) {
    return write_bytes(path, to_json(plan), old);
}

} // namespace kite::formats
