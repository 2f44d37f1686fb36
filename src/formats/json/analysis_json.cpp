#include "formats/json/analysis_json.h"

#include "core/base/units.h"
#include "core/reading/words.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace kite::formats {

using Json = nlohmann::ordered_json;

namespace {

Json number(double value) {
    return std::isfinite(value) ? Json(value) : Json(nullptr);
}

template <class Range>
Json keys_of(const Range& segments) {
    Json out = Json::array();
    for (Segment segment : segments)
        out.push_back(key_of(segment));
    return out;
}

Json events_of(const Analysis& analysis) {
    Json out = Json::object();
    for (Moment moment : kAllMoments) {
        const auto& at = analysis.moments[moment];
        Json& entry = out[std::string(key_of(moment))];
        if (!at)
            continue; // null
        entry = Json::object();
        entry["t"] = number(at->t_s);
        entry["u"] = number(at->u_s);
        entry["moved"] = at->moved;
        if (moment == Moment::Impact)
            entry["source"] = key_of(analysis.moments.impact_source);
    }
    return out;
}

Json sequence_of(const Analysis& analysis) {
    const Sequence& sequence = analysis.sequence;
    Json out = Json::object();
    out["order"] = keys_of(sequence.order);
    out["tied"] = Json::array();
    for (const auto& [a, b] : sequence.tied)
        out["tied"].push_back(Json::array({key_of(a), key_of(b)}));
    out["order_certainty"] = number(sequence.order_certainty);
    out["fastest_at_ball_ms"] = number(sequence.fastest_at_ball_ms);
    for (Segment segment : kSequence) {
        Json& entry = out["segments"][std::string(key_of(segment))];
        const SegmentSequence* part = sequence.find(segment);
        if (part == nullptr)
            continue; // null
        entry = Json::object();
        entry["reversal_t"] = number(part->reversal_t_s);
        entry["peak_deg_s"] = number(part->peak_deg_s);
        entry["peak_t"] = number(part->peak_t_s);
        entry["peak_t_u"] = number(part->peak_t_u_s);
        entry["before_impact_ms"] = number(part->before_impact_ms);
        entry["at_impact_deg_s"] = number(part->at_impact_deg_s);
        entry["slowdown_pct"] = number(part->slowdown_pct);
        entry["gain"] = number(part->gain);
        entry["max_accel_deg_s2"] = number(part->max_accel_deg_s2);
        entry["cutoff_hz"] = number(part->cutoff_hz);
    }
    return out;
}

Json transition_of(const Analysis& analysis) {
    const Transition& transition = analysis.transition;
    Json out = Json::object();
    out["reversal_order"] = keys_of(transition.reversal_order);
    out["pelvis_lead_ms"] = number(transition.pelvis_lead_ms);
    out["torso_lead_ms"] = number(transition.torso_lead_ms);
    out["arm_lead_ms"] = number(transition.arm_lead_ms);
    out["recentre_lead_ms"] = number(transition.recentre_lead_ms);
    out["lead_hip_drop_top_cm"] = number(transition.lead_hip_drop_top_cm);
    out["lead_hip_drop_min_cm"] = number(transition.lead_hip_drop_min_cm);
    out["pelvis_drop_cm"] = number(transition.pelvis_drop_cm);
    return out;
}

Json separation_of(const Analysis& analysis) {
    const Separation separation = analysis.separation.value_or(Separation{});
    Json out = Json::object();
    out["method"] = key_of(analysis.options.separation);
    out["at_top_deg"] = number(separation.at_top_deg);
    out["max_deg"] = number(separation.max_deg);
    out["max_t"] = number(separation.max_t_s);
    out["stretch_deg"] = number(separation.stretch_deg);
    out["stretch_pct"] = number(separation.stretch_pct);
    out["at_impact_deg"] = number(separation.at_impact_deg);
    out["closing_deg_s"] = number(separation.closing_deg_s);
    return out;
}

void add_position(Json& out, const std::string& part, const TrunkPosition& position) {
    out[part + "_turn_deg"] = number(position.turn_deg);
    out[part + "_side_tilt_deg"] = number(position.side_tilt_deg);
    out[part + "_forward_bend_deg"] = number(position.forward_bend_deg);
    out[part + "_sway_cm"] = number(cm_from_m(position.sway_m));
    out[part + "_depth_cm"] = number(cm_from_m(position.depth_m));
    out[part + "_lift_cm"] = number(cm_from_m(position.lift_m));
}

Json positions_of(const Analysis& analysis) {
    Json out = Json::object();
    for (Moment moment : kAllMoments) {
        Json& entry = out[std::string(key_of(moment))];
        entry = Json::object();
        add_position(entry, "pelvis", analysis.position(Segment::Pelvis, moment));
        add_position(entry, "torso", analysis.position(Segment::Torso, moment));
        for (const char* key : {"hinge_deg", "lead_knee_flex_deg", "lead_pressure_pct"})
            entry[key] = nullptr; // not computed yet
    }
    return out;
}

/// An object whose values are not computed yet.
Json nulls(std::initializer_list<const char*> keys) {
    Json out = Json::object();
    for (const char* key : keys)
        out[key] = nullptr;
    return out;
}

void add_reading(Json& out, const Analysis& analysis, const Reading& reading) {
    out["faults"] = Json::array();
    for (const Fault& fault : reading.faults) {
        if (!fault.is_present())
            continue;
        Json entry = Json::object();
        entry["id"] = fault.id;
        entry["phase"] = key_of(fault.phase);
        entry["evidence"] = *fault.evidence;
        entry["because"] = Json::array();
        for (const Because& because : fault.because)
            entry["because"].push_back(sentence(because));
        entry["leads_to"] = fault.leads_to;
        out["faults"].push_back(std::move(entry));
    }
    if (!reading.first_fix) {
        out["first_fix"] = nullptr;
        return;
    }
    const ReadingWords words = write_words(analysis, reading);
    std::string why = words.fix_title + ".";
    for (const std::string& because : words.because)
        why += " " + because;
    out["first_fix"] = {{"id", *reading.first_fix}, {"why", why}};
}

} // namespace

std::string to_json(const std::string& file, const Analysis& analysis, const Reading& reading,
                    const std::vector<Finding>& findings) {
    Json out = Json::object();
    out["file"] = file;
    out["rate_hz"] = number(analysis.rate_hz);
    out["handed"] = key_of(analysis.handed);
    out["club"] = key_of(analysis.club);
    out["convention"] = key_of(analysis.options.convention);
    out["events"] = events_of(analysis);
    out["sequence"] = sequence_of(analysis);
    out["transition"] = transition_of(analysis);
    out["separation"] = separation_of(analysis);
    out["positions"] = positions_of(analysis);
    out["hinge_path"] = {{"backswing", nulls({"along", "behind_cm"})},
                         {"downswing", nulls({"along", "behind_cm"})}};
    out["hips"] = nulls({"lead", "trail"});
    out["legs"] = nulls({"lead_knee_straightening_t", "plant_to_straighten_ms"});
    out["pressure"] =
        nulls({"lead_min_pct", "lead_min_t", "lead_half_t", "peak_total_bw", "peak_total_t"});
    Json& plane = out["plane"];
    plane = nulls({"inclination_deg", "rms_cm", "club_head_direction_deg"});
    if (analysis.moments.plane) {
        plane["inclination_deg"] = number(analysis.moments.plane->inclination_deg());
        plane["rms_cm"] = number(cm_from_m(analysis.moments.plane->rms_m));
    }
    out["wrist"] = nulls({"top_deg", "max_deg", "release_t", "kept_pct"});
    out["speed"] = nulls({"hands_m_s", "club_head_m_s", "ratio"});
    out["tempo"] = {{"backswing_s", number(analysis.tempo.backswing_s)},
                    {"downswing_s", number(analysis.tempo.downswing_s)},
                    {"ratio", number(analysis.tempo.ratio)}};
    add_reading(out, analysis, reading);
    out["warnings"] = Json::array();
    for (const Finding& finding : findings)
        if (finding.severity != Finding::Severity::Error)
            out["warnings"].push_back(text_of(finding));
    // File names and labels may hold bytes that are not UTF-8; they are replaced, never fatal.
    return out.dump(-1, ' ', false, Json::error_handler_t::replace);
}

} // namespace kite::formats
