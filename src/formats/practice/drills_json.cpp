#include "formats/practice/drills_json.h"

#include "formats/rules/rule_reader.h"
#include "formats/rules/rules_json.h"
#include "formats/rules/shipped.h"

#include <algorithm>
#include <cmath>
#include <stdexcept>

namespace kite::formats {

namespace {

using Node = StrictJson::Node;

class DrillReader : public RuleReader {
public:
    using RuleReader::RuleReader;

    Drill read_drill(const Node& at) {
        only(at, {"id", "title", "purpose", "faults", "needs", "places", "set_up", "steps", "feel",
                  "check", "measure", "rehearsal", "swing", "rungs", "sides", "part_swing",
                  "cautions", "not_for", "figure"});
        Drill out;
        out.id = needed_text(at, "id");
        out.title = needed_text(at, "title");
        out.purpose = needed_text(at, "purpose");
        out.set_up = needed_text(at, "set_up");
        out.feel = needed_text(at, "feel");
        out.check = needed_text(at, "check");
        out.sides = text(at, "sides");
        out.part_swing = text(at, "part_swing");
        out.faults = some(at, "faults");
        out.needs = texts(at, "needs");
        out.steps = some(at, "steps");
        out.cautions = texts(at, "cautions");
        out.not_for = texts(at, "not_for");
        for (const std::string& place : some(at, "places")) {
            if (const auto found = find_practice_place(place))
                out.places.push_back(*found);
            else
                fail(*member(at, "places"), "There is no place \"" + place + "\".",
                     "It is indoors or range.");
        }
        if (const auto measure = member(at, "measure"))
            out.measure = read_term(*measure);
        else
            fail(at, "\"measure\" is missing.", "Say what shows that the drill works.");
        out.rehearsal = read_band(at, "rehearsal");
        out.swing = read_band(at, "swing");
        read_rungs(at, out);
        if (const auto figure = member(at, "figure"))
            out.figure = read_figure(*figure);
        return out;
    }

    /// What decides a fault.
    DrillBook::Deciding read_deciding(const Node& at) {
        only(at, {"measure", "rehearsal", "swing"});
        DrillBook::Deciding out;
        if (const auto measure = member(at, "measure"))
            out.measure = read_term(*measure);
        else
            fail(at, "\"measure\" is missing.", "Say what decides the fault.");
        out.rehearsal = read_band(at, "rehearsal");
        out.swing = read_band(at, "swing");
        return out;
    }

private:
    std::vector<std::string> some(const Node& at, const char* key) {
        std::vector<std::string> out = texts(at, key);
        if (out.empty())
            fail(at, std::string("\"") + key + "\" must hold something.", "Add it as a list.");
        return out;
    }
    double number_or(const Node& at, const char* key, double usual) {
        return member(at, key) ? number(at, key) : usual;
    }

    DrillBand read_band(const Node& at, const char* key) {
        const auto band = member(at, key);
        if (!band) {
            fail(at, std::string("\"") + key + "\" is missing.",
                 "Give it \"from\", \"to\" or both.");
            return {};
        }
        only(*band, {"from", "to"});
        const DrillBand out{number_or(*band, "from", kMissing), number_or(*band, "to", kMissing)};
        if (!std::isfinite(out.from) && !std::isfinite(out.to))
            fail(*band, "A band has an end.", "Give it \"from\", \"to\" or both.");
        if (out.from > out.to)
            fail(*band, "This band is upside down.", "\"from\" is the smaller one.");
        return out;
    }

    void read_rungs(const Node& at, Drill& out) {
        const auto rungs = list(at, "rungs");
        const auto is_rung = [](const Node& one) {
            return one.json->is_number_integer() && *one.json >= kFirstRung &&
                   *one.json <= kLastRung;
        };
        if (rungs.size() != 2 || !is_rung(rungs[0]) || !is_rung(rungs[1]) ||
            *rungs[0].json > *rungs[1].json) {
            fail(member(at, "rungs").value_or(at),
                 "\"rungs\" must be the first and the last one, of 1 to 6.", "Such as [1, 6].");
            return;
        }
        out.first_rung = rungs[0].json->get<int>();
        out.last_rung = rungs[1].json->get<int>();
    }

    DrillFigure read_figure(const Node& at) {
        only(at, {"view", "poses", "props"});
        DrillFigure out;
        const std::string view = needed_text(at, "view");
        if (view == "down-the-line")
            out.view = DrillFigure::View::DownTheLine;
        else if (view != "face-on")
            fail(at, "A drawing is seen face-on or down-the-line.", "Mend \"view\".");
        for (const Node& pose : list(at, "poses"))
            out.poses.push_back(read_pose(pose));
        constexpr std::size_t kMostPoses = 3;
        if (out.poses.empty() || out.poses.size() > kMostPoses)
            fail(at, "A drawing has one to three poses.", "Mend \"poses\".");
        for (const Node& prop : list(at, "props"))
            out.props.push_back(read_prop(prop));
        return out;
    }

    DrillPose read_pose(const Node& at) {
        only(at,
             {"turn", "chest", "bend", "tilt", "sway", "depth", "lift", "feet", "arms", "hinge"});
        DrillPose out;
        out.pelvis_turn_deg = number_or(at, "turn", 0.0);
        out.torso_turn_deg = number_or(at, "chest", out.pelvis_turn_deg);
        out.forward_bend_deg = number_or(at, "bend", out.forward_bend_deg);
        out.side_tilt_deg = number_or(at, "tilt", 0.0);
        out.sway_cm = number_or(at, "sway", 0.0);
        out.depth_cm = number_or(at, "depth", 0.0);
        out.lift_cm = number_or(at, "lift", 0.0);
        const auto feet = numbers(at, "feet", 2);
        if (feet.size() == 2) {
            out.lead_foot_cm = feet[0];
            out.trail_foot_cm = feet[1];
        }
        const auto arms = member(at, "arms");
        out.arms_crossed = arms && arms->json->is_string() && *arms->json == "crossed";
        if (!out.arms_crossed)
            out.arms_deg = number_or(at, "arms", 0.0);
        if (member(at, "hinge"))
            out.hinge_deg = number(at, "hinge");
        return out;
    }

    DrillProp read_prop(const Node& at) {
        only(at, {"shape", "at", "to"});
        DrillProp out;
        const std::string shape = needed_text(at, "shape");
        if (shape == "block")
            out.shape = DrillProp::Shape::Block;
        else if (shape == "ball")
            out.shape = DrillProp::Shape::Ball;
        else if (shape != "line")
            fail(at, "There is no shape \"" + shape + "\".", "It is line, block or ball.");
        const auto from = numbers(at, "at", 3);
        const auto to = member(at, "to") ? numbers(at, "to", 3) : from;
        if (from.size() == 3 && to.size() == 3) {
            std::copy(from.begin(), from.end(), out.at_cm.begin());
            std::copy(to.begin(), to.end(), out.to_cm.begin());
        } else {
            fail(at, "A thing has a place of three numbers, in cm.", "Such as \"at\": [0, 20, 0].");
        }
        return out;
    }

    std::vector<double> numbers(const Node& at, const char* key, std::size_t wanted) {
        std::vector<double> out;
        for (const Node& one : list(at, key))
            if (one.json->is_number() && std::isfinite(one.json->get<double>()))
                out.push_back(one.json->get<double>());
        if (!out.empty() && out.size() != wanted)
            fail(*member(at, key), "This must be " + std::to_string(wanted) + " numbers.",
                 "Mend it.");
        return out;
    }
};

void check(DrillReader& reader, const std::vector<Node>& nodes, const DrillBook& book,
           const RuleBook& rules) {
    for (std::size_t i = 0; i < book.drills.size(); ++i) {
        const Drill& drill = book.drills[i];
        for (const std::string& fault : drill.faults)
            if (rules.find(fault) == nullptr)
                reader.fail(nodes[i], "There is no fault \"" + fault + "\".", "Mend its spelling.");
        for (const std::string& caution : drill.cautions)
            if (book.cautions.count(caution) == 0)
                reader.fail(nodes[i], "There is no caution \"" + caution + "\".",
                            "Add it under cautions.");
        for (const std::string& limit : drill.not_for)
            if (book.limits.count(limit) == 0)
                reader.fail(nodes[i], "There is no limit \"" + limit + "\".",
                            "Add it under limits.");
        for (std::size_t k = 0; k < i; ++k)
            if (book.drills[k].id == drill.id)
                reader.fail(nodes[i], "The drill \"" + drill.id + "\" stands twice.",
                            "Take one out.");
    }
}

} // namespace

Outcome<DrillBook> parse_drill_book(std::string_view bytes, const RuleBook& rules) {
    Outcome<DrillBook> out;
    DrillReader reader(bytes);
    if (const auto root = reader.open("drills 1", "a file of drills")) {
        reader.only(*root, {"kite-hinge", "cautions", "limits", "counts", "drills"});
        const auto read_texts = [&](const char* key, std::map<std::string, std::string>& into) {
            reader.each(*root, key, [&](const std::string& name, const Node& at) {
                if (at.json->is_string())
                    into[name] = at.json->get<std::string>();
                else
                    reader.fail(at, "This must be a text.", "Put it in quotes.");
            });
        };
        read_texts("cautions", out.value.cautions);
        read_texts("limits", out.value.limits);
        reader.each(*root, "counts", [&](const std::string& fault, const Node& at) {
            if (rules.find(fault) == nullptr)
                reader.fail(at, "There is no fault \"" + fault + "\".", "Name one of the rules.");
            out.value.counts[fault] = reader.read_deciding(at);
        });
        const auto nodes = reader.list(*root, "drills");
        for (const Node& at : nodes)
            out.value.drills.push_back(reader.read_drill(at));
        if (out.value.drills.empty())
            reader.fail(*root, "There are no drills in it.", "Add some, or restore the file.");
        check(reader, nodes, out.value, rules);
        out.value.settle();
    }
    out.findings = std::move(reader.findings);
    if (!out.ok())
        out.value = {};
    return out;
}

const DrillBook& shipped_drills() {
    static const DrillBook kBook = [] {
        auto read = parse_drill_book(shipped_drill_bytes(), shipped_rule_book());
        if (!read.ok())
            throw std::logic_error("shipped drills: " + text_of(read.findings.front()));
        return std::move(read.value);
    }();
    return kBook;
}

} // namespace kite::formats
