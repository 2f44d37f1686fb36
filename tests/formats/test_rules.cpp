// Rule and school files: what ships, and every way in which a file can be wrong.

#include "core/reading/reading.h"
#include "formats/json/json_lines.h"
#include "formats/rules/rules_json.h"
#include "formats/rules/shipped.h"
#include "simulate/planted_faults.h"
#include "simulate/simulate.h"
#include "support/comma_locale.h"
#include "support/temporary_folder.h"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <map>

using namespace kite;
using namespace kite::formats;
using Json = nlohmann::ordered_json;

namespace {

Analysis analysis_of(const std::string& fault, double strength, double rate_hz = 240.0) {
    simulate::SwingParameters parameters;
    parameters.rate_hz = rate_hz;
    if (!fault.empty())
        simulate::plant(parameters, fault, strength);
    return analyse(simulate::make_take(parameters), {}).value;
}

/// A book with one rule, as small as one can be.
Json small_book() {
    return Json::parse(R"({
  "kite-hinge": "rules 1",
  "limits": {"turn": {"value": 25, "width": 3, "unit": "°", "source": "common practice"}},
  "faults": [
    {"id": "square", "phase": "downswing", "title": "Square", "why": "Open it.",
     "when": {"value": {"quantity": "pelvis_turn", "at": "impact"}, "below": "turn",
              "say": "At impact {1}."}, "leads_to": []}
  ]
})");
}

std::string first_error(const Json& book) {
    const auto read = parse_rule_book(book.dump(2));
    EXPECT_FALSE(read.ok());
    EXPECT_TRUE(read.value.faults.empty()) << "nothing of a wrong file is used";
    return read.findings.empty() ? std::string() : text_of(read.findings.front());
}

Rules with_school(const std::string& id) {
    auto read = rules_with_school(id);
    EXPECT_TRUE(read.ok()) << id;
    return std::move(read.value);
}

} // namespace

TEST(Rules, ShipWithEveryFaultOfTheDiagnosis) {
    const RuleBook& book = shipped_rule_book();
    EXPECT_EQ(std::count_if(book.faults.begin(), book.faults.end(),
                            [](const FaultRule& fault) { return fault.phase != Phase::SetUp; }),
              33); // thirty-two, and the driver's own
    EXPECT_TRUE(find_cycle(book).empty());
    for (const FaultRule& fault : book.faults) {
        // A note on the set-up is there to lead on to a fault of the swing, and none leads back.
        EXPECT_FALSE(fault.phase == Phase::SetUp && fault.leads_to.empty()) << fault.id;
        for (const std::string& next : fault.leads_to)
            EXPECT_NE(book.find(next)->phase, Phase::SetUp) << fault.id;
        EXPECT_FALSE(fault.title.empty()) << fault.id;
        EXPECT_FALSE(fault.why.empty()) << fault.id;
    }
    for (const auto& [name, limit] : book.limits)
        EXPECT_FALSE(limit.source.empty()) << name;
    for (std::string_view id : simulate::plantable_faults())
        EXPECT_NE(book.find(std::string(id)), nullptr) << id;
}

// A process in most of Europe: half milliseconds in one's own rules stay what they are.
TEST(Rules, OffsetsAreReadWhereACommaIsTheDecimalSign) {
    Json book = small_book();
    book["faults"][0]["when"]["value"]["at"] = "impact - 12.5 ms";
    const test::CommaLocale comma;
    ASSERT_TRUE(comma.is_set()) << "the package \"locales\" is missing";
    const auto read = parse_rule_book(book.dump());
    ASSERT_TRUE(read.ok()) << text_of(read.findings.front());
    EXPECT_DOUBLE_EQ(read.value.faults[0].when.term.from.plus_ms, -12.5);
    for (const char* wrong : {"impact - 12,5 ms", "impact -12.5 ms", "impact - -3 ms", "impact - 3",
                              "impact - nan ms", "impact  - 3 ms", "impact - ms"}) {
        book["faults"][0]["when"]["value"]["at"] = wrong;
        EXPECT_FALSE(parse_rule_book(book.dump()).ok()) << wrong;
    }
}

TEST(Rules, AreReadFromASmallFile) {
    const auto read = parse_rule_book(small_book().dump());
    ASSERT_TRUE(read.ok()) << text_of(read.findings.front());
    EXPECT_EQ(read.value.faults.at(0).id, "square");
    EXPECT_DOUBLE_EQ(read.value.limits.at("turn").value, 25.0);
}

// Each kind of mistake, with its line and what to do.
TEST(Rules, NameTheirMistakesWithPlaceAndMend) {
    const auto with = [](const std::string& pointer, const Json& value) {
        Json book = small_book();
        book[Json::json_pointer(pointer)] = value;
        return first_error(book);
    };
    EXPECT_NE(with("/faults/0/when/value/quantity", "pelvis_twirl").find("pelvis_twirl"),
              std::string::npos);
    EXPECT_NE(with("/faults/0/when/value/at", "teatime").find("teatime"), std::string::npos);
    EXPECT_NE(with("/faults/0/when/below", "turnip").find("no limit \"turnip\""),
              std::string::npos);
    EXPECT_NE(with("/faults/0/leads_to", Json{"nowhere"}).find("no fault \"nowhere\""),
              std::string::npos);
    EXPECT_NE(with("/faults/0/phase", "teeing-up").find("no such phase"), std::string::npos);
    EXPECT_NE(with("/limits/turn/width", 0).find("width"), std::string::npos);
    EXPECT_NE(with("/limits/turn/value", "many").find("must be a number"), std::string::npos);
    EXPECT_NE(with("/faults/0/wen", 1).find("wen"), std::string::npos);
    EXPECT_NE(with("/faults/0/leads_to", Json{"square"}).find("circle"), std::string::npos);
    EXPECT_NE(with("/faults", Json::array()).find("no faults"), std::string::npos);
    EXPECT_NE(with("/kite-hinge", "rules 9").find("rules 1"), std::string::npos);
    const std::string placed = with("/faults/0/when/value/at", "teatime");
    EXPECT_NE(placed.find("line "), std::string::npos);
    EXPECT_NE(placed.find("/faults/0/when/value/at"), std::string::npos);
}

// Whatever is done to the bytes, it ends in words and never in a crash.
TEST(Rules, SurviveEveryDamage) {
    const std::string whole(shipped_rules_bytes());
    for (std::size_t cut = 0; cut < whole.size(); cut += 997)
        EXPECT_FALSE(parse_rule_book(whole.substr(0, cut)).ok()) << cut;
    for (std::size_t at = 11; at < whole.size(); at += 1201)
        for (char instead : {'{', '"', '9', '\0', '\xff'}) {
            std::string bytes = whole;
            bytes[at] = instead;
            const auto read = parse_rule_book(bytes);
            EXPECT_EQ(read.ok(), !read.value.faults.empty());
        }
    EXPECT_FALSE(parse_rule_book("").ok());
    EXPECT_FALSE(parse_rule_book("[]").ok());
    EXPECT_FALSE(parse_rule_book("{\"kite-hinge\": \"rules 1\", \"faults\": 1e999}").ok());
}

TEST(JsonLines, FindTheLineOfAPointer) {
    const std::string text =
        "{\n \"a\": [1,\n  {\"b/c\": \"x,}\",\n   \"d\": null}],\n \"e\": 2\n}";
    EXPECT_EQ(line_of(text, "/a/0"), 2U);
    EXPECT_EQ(line_of(text, "/a/1/b~1c"), 3U);
    EXPECT_EQ(line_of(text, "/a/1/d"), 4U);
    EXPECT_EQ(line_of(text, "/e"), 5U);
    EXPECT_EQ(line_of(text, "/a/1/nothing"), 3U); // as far as it leads
    // RFC 6901: ~1 is a slash, ~0 a tilde; a lone one at the end is taken as it stands.
    const std::string escaped = "{\n \"b/c\": 1,\n \"~\": 2,\n \"d~e\": 3,\n \"f\": 4\n}";
    EXPECT_EQ(line_of(escaped, "/b~1c"), 2U);
    EXPECT_EQ(line_of(escaped, "/~0"), 3U);
    EXPECT_EQ(line_of(escaped, "/~"), 3U);
    EXPECT_EQ(line_of(escaped, "/d~0e"), 4U);
    EXPECT_EQ(line_of(escaped, "/f"), 5U);
}

TEST(Rules, FaultsThatLeadRoundInACircleAreFound) {
    const auto book_of = [](const std::map<std::string, std::vector<std::string>>& leads) {
        RuleBook out;
        for (const auto& [id, next] : leads) {
            FaultRule fault;
            fault.id = id;
            fault.leads_to = next;
            out.faults.push_back(fault);
        }
        return out;
    };
    using Way = std::vector<std::string>;
    EXPECT_EQ(find_cycle(book_of({{"a", {"b"}}, {"b", {"c"}}, {"c", {"a"}}})),
              (Way{"a", "b", "c", "a"}));
    EXPECT_EQ(find_cycle(book_of({{"a", {"a"}}})), (Way{"a", "a"}));
    // Two ways to the same fault are no circle, nor is one that leads to what nobody knows.
    EXPECT_TRUE(
        find_cycle(book_of({{"a", {"b", "c"}}, {"b", {"d"}}, {"c", {"d"}}, {"d", {"else"}}}))
            .empty());
    // The way into the circle is not part of it.
    EXPECT_EQ(find_cycle(book_of({{"a", {"b"}}, {"b", {"c"}}, {"c", {"b"}}})),
              (Way{"b", "c", "b"}));
}

TEST(Schools, ShipAllSix) {
    std::vector<std::string> ids;
    for (const School& school : shipped_schools()) {
        ids.push_back(school.id);
        EXPECT_FALSE(school.believes.empty()) << school.id;
    }
    EXPECT_EQ(ids, (std::vector<std::string>{"none", "stretch", "depth-first", "own-pivot",
                                             "shift-then-turn", "finish-first"}));
    EXPECT_FALSE(rules_with_school("handstand").ok());
}

// A fault that the school does not count is still listed, with the reason, and never mended first.
TEST(Schools, DoNotCountWhatTheyWant) {
    const Analysis analysis = analysis_of("over-separation", 1.5);
    const Reading plain = read_swing(analysis, plain_rules());
    ASSERT_TRUE(plain.find("over-separation")->is_present());
    EXPECT_EQ(plain.first_fix, "over-separation");
    const Rules stretch = with_school("stretch");
    const Reading read = read_swing(analysis, stretch);
    EXPECT_TRUE(read.find("over-separation")->is_present());
    EXPECT_FALSE(read.find("over-separation")->counts());
    EXPECT_NE(read.first_fix, "over-separation");
}

TEST(Schools, OfTheOwnPivotKnowNoRangesOfOtherPeople) {
    const Rules rules = with_school("own-pivot");
    const Reading read = read_swing(analysis_of("square-hips", 1.5), rules);
    EXPECT_FALSE(read.find("square-hips")->evidence);
    EXPECT_FALSE(read.find("square-hips")->applies);
    ASSERT_NE(read.find("pivot-on-lead-hip"), nullptr);
    EXPECT_TRUE(read.find("pivot-on-lead-hip")->evidence);
}

TEST(Schools, MayLetTheFinishComeFirst) {
    const Rules rules = with_school("finish-first");
    const Analysis analysis = analysis_of("short-finish", 1.5);
    const Reading read = read_swing(analysis, rules);
    EXPECT_EQ(read.first_fix, "short-finish");
    EXPECT_DOUBLE_EQ(read.find("short-finish")->weight, 2.0);
}

TEST(Schools, ComeFromAFileAndAreRefusedInWords) {
    test::TemporaryFolder folder;
    Json school = Json::parse(shipped_school_bytes().at(1));
    school["id"] = "mine";
    school["weights"]["flip"] = 3;
    const auto good = folder.write("mine.json", school.dump(2));
    const auto read = rules_with_school(good.string());
    ASSERT_TRUE(read.ok()) << text_of(read.findings.front());
    EXPECT_DOUBLE_EQ(read.value.school.weights.at("flip"), 3.0);
    school["weights"]["flop"] = 3;
    const auto bad = folder.write("bad.json", school.dump(2));
    const auto refused = rules_with_school(bad.string());
    ASSERT_FALSE(refused.ok());
    EXPECT_NE(text_of(refused.findings.front()).find("no fault \"flop\""), std::string::npos);
}

// A shut face needs 45° of opening, an open one 12° (common practice, no source).
// The limits as practitioners have them (common practice, no source): typed here, not taken from
// the file.
TEST(Rules, HaveTheLimitsOfTheTrade) {
    const std::map<std::string, double> trade{{"shallow-hip-load.turn", -30.0},
                                              {"shallow-hip-load.hip-back", 4.0},
                                              {"backswing-slide.sway", -5.0},
                                              {"reverse-tilt.ahead", 3.0},
                                              {"short-torso-turn.turn", -75.0},
                                              {"over-hinge.hinge", 115.0},
                                              {"late-pelvis-start.lead", 20.0},
                                              {"upper-body-first.turn", 5.0},
                                              {"no-recentre.lead", 0.0},
                                              {"no-recentre.sway", -4.0},
                                              {"no-recentre.pressure", 50.0},
                                              {"no-drop.drop", -1.0},
                                              {"no-stretch.stretch", 2.0},
                                              {"over-separation.max", 60.0},
                                              {"over-separation.stretch", 20.0},
                                              {"spin-out.sway", 3.0},
                                              {"spin-out.depth", -1.5},
                                              {"slide.sway", 18.0},
                                              {"slide.turn", 30.0},
                                              {"cast.kept", 55.0},
                                              {"early-rise.torso", 3.0},
                                              {"early-extension.depth", -2.5},
                                              {"early-extension.lean", -12.0},
                                              {"outside-path.path", -4.0},
                                              {"arms-behind.across", 58.0},
                                              {"flip.lean", 2.0},
                                              {"bunched-peaks.apart", 10.0},
                                              {"bunched-peaks.separation", 5.0},
                                              {"no-slow-down.pelvis", 20.0},
                                              {"no-slow-down.torso", 15.0},
                                              {"no-slow-down.lead-arm", 15.0},
                                              {"square-hips.turn", 25.0},
                                              {"over-open.turn", 58.0},
                                              {"hang-back.sway", 6.0},
                                              {"hang-back.pressure", 65.0},
                                              {"no-push.rise", 2.0},
                                              {"no-push.knee", 10.0},
                                              {"early-club-peak.time", -12.0},
                                              {"late-club.gain", 3.0},
                                              {"late-club.time", 5.0},
                                              {"short-finish.pelvis", 75.0},
                                              {"short-finish.torso", 75.0},
                                              {"hips-ahead.pelvis", 16.0}};
    for (const auto& [name, value] : trade) {
        const auto limit = plain_rules().limit(name, ClubKind::Iron);
        ASSERT_TRUE(limit) << name;
        EXPECT_DOUBLE_EQ(limit->value, value) << name;
        EXPECT_GT(limit->width, 0.0) << name;
    }
    // A driver, a shut and an open face shift some of them.
    EXPECT_DOUBLE_EQ(plain_rules().limit("flip.lean", ClubKind::Driver)->value, -6.0);
    EXPECT_DOUBLE_EQ(plain_rules().limit("hang-back.sway", ClubKind::Driver)->value, 4.0);
    Rules rules = plain_rules();
    rules.face = FaceHabit::Shut;
    EXPECT_DOUBLE_EQ(rules.limit("square-hips.turn", ClubKind::Iron)->value, 45.0);
    EXPECT_DOUBLE_EQ(rules.limit("over-open.turn", ClubKind::Iron)->value, 75.0);
    rules.face = FaceHabit::Open;
    EXPECT_DOUBLE_EQ(rules.limit("square-hips.turn", ClubKind::Iron)->value, 12.0);
    EXPECT_DOUBLE_EQ(rules.limit("over-open.turn", ClubKind::Iron)->value, 45.0);
}

// What each school weighs double and what it does not count (common practice, no source).
TEST(Schools, WeighAsTheySay) {
    const std::map<std::string, std::vector<std::string>> doubled{
        {"stretch", {"no-stretch"}},
        {"depth-first", {"over-separation", "no-drop", "spin-out"}},
        {"own-pivot", {"early-extension", "shallow-hip-load"}},
        {"shift-then-turn", {"no-recentre", "slide", "hang-back", "no-push"}},
        {"finish-first", {"short-finish"}}};
    for (const auto& [id, faults] : doubled) {
        const Rules rules = with_school(id);
        for (const std::string& fault : faults)
            EXPECT_DOUBLE_EQ(rules.weight(*rules.find(fault), ClubKind::Iron), 2.0)
                << id << " " << fault;
        EXPECT_DOUBLE_EQ(rules.weight(*rules.find("cast"), ClubKind::Iron), 1.0) << id;
    }
    EXPECT_EQ(with_school("stretch").school.no_fault.count("over-separation"), 1U);
    EXPECT_EQ(with_school("depth-first").school.no_fault.count("no-stretch"), 1U);
    EXPECT_DOUBLE_EQ(with_school("depth-first").limit("over-separation.max", ClubKind::Iron)->value,
                     50.0);
    EXPECT_DOUBLE_EQ(
        with_school("depth-first").limit("over-separation.stretch", ClubKind::Iron)->value, 12.0);
}

// Every fault is found by every school that counts it, and none invents one in a good swing.
TEST(Schools, AllReadEveryPlantedFault) {
    for (const char* fault : {"early-extension", "slide", "short-finish", "cast", "outside-path"}) {
        const Analysis analysis = analysis_of(fault, 1.2);
        for (const School& school : shipped_schools()) {
            const Rules rules = with_school(school.id);
            const Reading reading = read_swing(analysis, rules);
            const Fault* found = reading.find(fault);
            ASSERT_NE(found, nullptr);
            // Without a baseline one school knows no ranges of other people.
            if (school.own_baseline)
                EXPECT_FALSE(found->evidence) << school.id << " " << fault;
            else
                EXPECT_TRUE(found->is_present()) << school.id << " " << fault;
        }
    }
    const Analysis good = analysis_of("", 0.0);
    for (const School& school : shipped_schools()) {
        const Rules rules = with_school(school.id);
        EXPECT_FALSE(read_swing(good, rules).first_fix) << school.id;
    }
}

TEST(Rules, FollowTheFaceHabit) {
    const Analysis analysis = analysis_of("", 0.0);
    const double turn_deg = analysis.position(Segment::Pelvis, Moment::Impact).turn_deg;
    ASSERT_NEAR(turn_deg, 48.0, 6.0);
    Rules rules = plain_rules();
    rules.face = FaceHabit::Open;
    EXPECT_TRUE(read_swing(analysis, rules).find("over-open")->evidence.value() > 0.5);
    EXPECT_LT(*read_swing(analysis, plain_rules()).find("over-open")->evidence, 0.1);
    EXPECT_DOUBLE_EQ(plain_rules().limit("square-hips.turn", ClubKind::Iron)->value, 25.0);
    EXPECT_DOUBLE_EQ(rules.limit("square-hips.turn", ClubKind::Iron)->value, 12.0);
    EXPECT_DOUBLE_EQ(plain_rules().limit("flip.lean", ClubKind::Driver)->value, -6.0);
}

// Terms by hand: what each takes is what the analysis says at these places.
TEST(Terms, TakeWhatTheySay) {
    const Analysis a = analysis_of("", 0.0);
    const auto term = [](Term::Kind kind, const char* key, std::optional<Moment> from,
                         std::optional<Moment> to) {
        Term out;
        out.kind = kind;
        out.key = key;
        out.from.moment = from;
        out.to.moment = to;
        return out;
    };
    const Term at = term(Term::Kind::At, "pelvis_sway", Moment::Impact, {});
    EXPECT_NEAR(value_of(at, a).value, 100.0 * a.position(Segment::Pelvis, Moment::Impact).sway_m,
                1e-9);
    EXPECT_EQ(name_of(at), "pelvis sway at impact");
    EXPECT_EQ(unit_of(at), "cm");
    const Term growth = term(Term::Kind::Growth, "pelvis_turn", Moment::Top, Moment::Impact);
    EXPECT_NEAR(value_of(growth, a).value,
                a.position(Segment::Pelvis, Moment::Impact).turn_deg -
                    a.position(Segment::Pelvis, Moment::Top).turn_deg,
                1e-9);
    const Term lowest = term(Term::Kind::Lowest, "pelvis_lift", Moment::Top, Moment::Impact);
    const auto least =
        a.trunk.at(Segment::Pelvis)
            .lift_m.find_min({a.moments.time_s(Moment::Top), a.moments.time_s(Moment::Impact)});
    EXPECT_NEAR(value_of(lowest, a).value, 100.0 * least->value, 1e-9);
    EXPECT_NEAR(place_of(lowest, a), least->t_s, 1e-9);
    Term reversal;
    reversal.kind = Term::Kind::Reversal;
    reversal.part = Segment::Torso;
    Term other = reversal;
    other.part = Segment::Pelvis;
    Term apart;
    apart.kind = Term::Kind::Difference;
    apart.of = {reversal, other};
    const auto& torso = *a.sequence.find(Segment::Torso);
    const auto& pelvis = *a.sequence.find(Segment::Pelvis);
    EXPECT_NEAR(value_of(apart, a).value, 1000.0 * (torso.reversal_t_s - pelvis.reversal_t_s),
                1e-9);
    EXPECT_NEAR(value_of(apart, a).u, 1000.0 * std::hypot(torso.reversal_u_s, pelvis.reversal_u_s),
                1e-9);
    EXPECT_FALSE(std::isfinite(
        value_of(term(Term::Kind::At, "pressure", Moment::Finish, {}), Analysis{}).value));
}

// What would change the verdict is the way to the limit.
TEST(Judged, SaysWhatWouldClearIt) {
    const Analysis analysis = analysis_of("square-hips", 1.0);
    const Reading read = read_swing(analysis, plain_rules());
    const Fault& fault = *read.find("square-hips");
    ASSERT_TRUE(fault.is_present());
    const double turn_deg = analysis.position(Segment::Pelvis, Moment::Impact).turn_deg;
    EXPECT_NEAR(fault.judged.to_clear(), 25.0 - turn_deg, 1e-9);
    EXPECT_NEAR(fault.judged.value.value, turn_deg, 1e-9);
}
