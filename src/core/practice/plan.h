#pragma once

#include "core/practice/drill.h"
#include "core/reading/reading.h"

#include <array>
#include <boost/date_time/gregorian/greg_date.hpp>
#include <optional>
#include <string>
#include <vector>

namespace kite {

using Date = boost::gregorian::date;
/// "2026-11-27"; empty where it is no such day.
std::optional<Date> find_date(std::string_view text);
std::string text_of(const Date& date);

/// What the golfer has.
struct PlanWish {
    Date first_day;
    std::array<bool, 7> practises{{true, true, true, true, true, true, false}}; ///< Monday first
    int minutes = 20;                                                           ///< a day
    std::optional<Date> next_lesson; ///< empty: two weeks are planned
    PracticePlace place = PracticePlace::Indoors;
    std::vector<std::string> limits; ///< keys of the drill book
};

enum class PlanTempo { Slow, Fluid, Ball };
std::string_view key_of(PlanTempo tempo);
std::optional<PlanTempo> find_plan_tempo(std::string_view key);

/// Some repetitions of one drill. On which rung is told by what was counted before.
struct PlanItem {
    std::string drill;
    PlanTempo tempo = PlanTempo::Slow;
    int sets = 1;
    int repetitions = 12; ///< a set
};

enum class PlanDayKind { Practice, Rest, Measure, Lesson };
std::string_view key_of(PlanDayKind kind);
std::optional<PlanDayKind> find_plan_day_kind(std::string_view key);

struct PlanDay {
    Date date;
    PlanDayKind kind = PlanDayKind::Practice;
    std::vector<PlanItem> items;
    bool done = false;
    std::string note;
};

/// Swings of one session that were counted on one rung.
struct PlanCount {
    Date date;
    std::string drill;
    int rung = kFirstRung;
    int swings = 0;
    int passed = 0;
    bool measured = false;  ///< against the drill's band; else counted by the golfer
    double mean = kMissing; ///< of the measure, where it was measured
};

struct Plan {
    std::string golfer;
    std::string fault; ///< id
    std::string title; ///< of the fault, English
    std::string why;
    std::string main_drill;
    std::string helper;              ///< empty: none
    std::vector<std::string> upkeep; ///< learned before; brief, then gone
    PlanWish wish;
    int pass_share_pct = 80; ///< of the counted swings …
    int pass_swings = 10;    ///< … of which there are at least so many
    std::vector<PlanDay> days;
    std::vector<PlanCount> counts; ///< in the order they were made
};

/// A plan for the first fix of a reading. `preferred`: drills of the school, first choice first. An
/// error where nothing is to mend, or where no drill is left for place and limits.
Outcome<Plan> make_plan(const Reading& reading, const DrillBook& book,
                        const std::vector<std::string>& preferred, const PlanWish& wish);

/// The same days for the same wish, with what was done kept on the days that stay.
void plan_days(Plan& plan, const DrillBook& book);

/// How long it takes, s: 10 s a slow repetition, 7 s a fluid one, 30 s a ball with its rehearsal,
/// and half a minute between sets (common practice, no source).
double duration_s(const PlanItem& item);

/// Where a drill stands.
struct RungState {
    int rung = kFirstRung; ///< the next swings are made on it
    bool learned = false;  ///< its last rung was passed in two sessions
};
/// After what was counted up to a day. A count passes with enough swings of which enough passed,
/// and the next swings are one rung higher; with less than half passed they are one lower. Too few
/// swings change nothing. A session on a later day starts one rung lower than the last one ended.
RungState rung_on(const Plan& plan, const Drill& drill, const Date& day);
/// Where it stood when the day began.
RungState rung_before(const Plan& plan, const Drill& drill, const Date& day);
bool passes(const Plan& plan, const PlanCount& count);

/// One swing against a drill's band.
struct PlanCheck {
    Measured value;             ///< in the unit of the measure
    std::optional<bool> passed; ///< empty: not measured
    bool rehearsal = false;     ///< slow and exaggerated; else a full swing
};
/// `reading`: where it has the plan's fault the swing does not pass, whatever the band says.
PlanCheck check_swing(const Drill& drill, const Analysis& analysis, bool rehearsal,
                      const Reading* reading = nullptr, const std::string& fault = {});
/// The plan's drill, as its swings are counted against the plan's fault; nullptr: it is not known.
const Drill* main_drill_of(const Plan& plan, const DrillBook& book);
/// Does such a swing count on this rung? A full swing is none of those without a club or a ball.
bool counts_on(int rung, const PlanCheck& check);
/// Counts the swings that could be measured and count on the rung that holds that day.
PlanCount count_swings(const Plan& plan, const Drill& drill, const std::vector<PlanCheck>& checks,
                       const Date& day);

/// The plan in lines, English or as the language has it; the cautions are always there.
std::vector<std::string> lines_of(const Plan& plan, const DrillBook& book, const Date& today,
                                  const Language& language = {});
/// One day's work in a line: "3 × 12 slow, 2 × 8 fluid: Chair behind the hips (rung 2: club, no
/// ball)".
std::vector<std::string> lines_of_day(const Plan& plan, const PlanDay& day, const DrillBook& book,
                                      const Language& language = {});
/// A band with the unit of the measure: "from −1.5 cm".
std::string text_of(const DrillBand& band, const Term& measure, const Language& language = {});

} // namespace kite
