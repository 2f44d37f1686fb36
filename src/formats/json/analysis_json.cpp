#include "formats/json/analysis_json.h"

#include "core/base/units.h"
#include "core/catalogue/measure.h"
#include "core/reading/words.h"
#include "formats/json/analysis_object.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace kite::formats {

using Json = nlohmann::ordered_json;

Json number(double value) {
    return std::isfinite(value) ? Json(value) : Json(nullptr);
}

namespace {

/// An object that grows beyond its room is copied with all that is in it: its names cannot be
/// moved.
Json roomy_object(std::size_t most) {
    Json out = Json::object();
    out.get_ref<Json::object_t&>().reserve(most);
    return out;
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
    out["order_by_convention"] = Json::object();
    for (auto convention :
         {RateConvention::Axis, RateConvention::Resultant, RateConvention::Plane}) {
        const auto& order = analysis.order_by_convention[static_cast<std::size_t>(convention)];
        out["order_by_convention"][std::string(key_of(convention))] =
            order.empty() ? Json(nullptr) : keys_of(order);
    }
    for (Segment segment : kSequence) {
        Json& entry = out["segments"][std::string(key_of(segment))];
        const SegmentSequence* part = sequence.find(segment);
        if (part == nullptr)
            continue; // null
        entry = Json::object();
        entry["reversal_t"] = number(part->reversal_t_s);
        entry["reversal_u"] = number(part->reversal_u_s);
        entry["peak_t"] = number(part->peak_t_s);
        entry["peak_t_u"] = number(part->peak_t_u_s);
        entry["before_impact_ms"] = number(part->before_impact_ms);
        entry["at_impact_deg_s"] = number(part->at_impact_deg_s);
        entry["slowdown_pct"] = number(part->slowdown_pct);
        entry["slowdown_u_pct"] = number(part->slowdown_u_pct);
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
    out["lead_hip_drop_min_cm"] = number(transition.lead_hip_drop_min_cm);
    return out;
}

Json separation_of(const Analysis& analysis) {
    const Separation separation = analysis.separation.value_or(Separation{});
    Json out = Json::object();
    out["method"] = key_of(analysis.options.separation);
    out["max_t"] = number(separation.max_t_s);
    out["max_t_u"] = number(separation.max_t_u_s);
    out["stretch_pct"] = number(separation.stretch_pct);
    out["closing_deg_s"] = number(separation.closing_deg_s);
    return out;
}

/// An object that is given many keys, each once: it does not look for them, nor grow for each.
class ManyKeys {
public:
    explicit ManyKeys(Json& object, std::size_t most) {
        object = Json::object();
        members_ = object.get_ptr<Json::object_t*>();
        members_->reserve(most);
    }
    void put(std::string key, const Measured& measured) {
        const bool known = std::isfinite(measured.value) && std::isfinite(measured.u);
        std::string beside = known ? uncertainty_key(key) : std::string();
        members_->emplace_back(std::move(key), number(measured.value));
        if (known)
            members_->emplace_back(std::move(beside), measured.u);
    }

private:
    Json::object_t* members_ = nullptr;
};

/// A value and, where it is known, its uncertainty beside it.
void put(Json& out, const std::string& key, const Measured& measured) {
    out[key] = number(measured.value);
    if (std::isfinite(measured.value) && std::isfinite(measured.u))
        out[uncertainty_key(key)] = measured.u;
}

Json positions_of(const Analysis& analysis) {
    Json out = roomy_object(kAllMoments.size());
    for (Moment moment : kAllMoments) {
        ManyKeys entry(out[std::string(key_of(moment))], 2 * all_quantities().size());
        for (const Quantity& quantity : all_quantities()) {
            const Measured at = at_moment(quantity, analysis, moment);
            entry.put(quantity.file_key,
                      {at.value * quantity.per_file_unit, at.u * quantity.per_file_unit});
        }
    }
    return out;
}

/// Every measure of the catalogue at its place; none in what is null as a whole.
void put_measures(Json& out, const Analysis& analysis) {
    for (const Measure& measure : all_measures()) {
        const std::string_view key = measure.key;
        Json* at = &out;
        std::size_t begin = 0;
        for (std::size_t dot = key.find('.'); dot != std::string_view::npos && !at->is_null();
             dot = key.find('.', begin)) {
            const std::string name(key.substr(begin, dot - begin));
            if (!at->contains(name))
                (*at)[name] = Json::object();
            Json& next = (*at)[name];
            at = &next;
            begin = dot + 1;
        }
        if (!at->is_null())
            put(*at, std::string(key.substr(begin)), measure.of(analysis));
    }
}

Json hips_of(const Analysis& analysis) {
    const auto side = [&](const HipCurves& curves) {
        Json out = roomy_object(kAllMoments.size());
        for (Moment moment : kAllMoments) {
            const HipPosition at = position_at(curves, analysis.moments.time_s(moment));
            ManyKeys entry(out[std::string(key_of(moment))], 3);
            entry.put("depth_cm", {cm_from_m(at.depth_m), kMissing});
            entry.put("lift_cm", {cm_from_m(at.lift_m), kMissing});
            entry.put("beyond_ankle_cm", {cm_from_m(at.beyond_ankle_m), kMissing});
        }
        return out;
    };
    return {{"lead", side(analysis.hips.lead)}, {"trail", side(analysis.hips.trail)}};
}

Json hinge_path_of(const HingePath& path) {
    const auto median = [](const HingePath::Median& of) {
        return Json{{"along", number(of.along)}, {"behind_cm", number(cm_from_m(of.behind_m))}};
    };
    return {{"backswing", median(path.backswing)}, {"downswing", median(path.downswing)}};
}

Json plane_of(const Analysis& analysis) {
    const auto& plane = analysis.moments.plane;
    // Where no club was measured the plane is a stand-in and no plane of the club head.
    const bool real = plane && analysis.find_motion(Segment::Club) != nullptr;
    return {{"inclination_deg", number(real ? plane->inclination_deg() : kMissing)},
            {"rms_cm", number(real ? cm_from_m(plane->rms_m) : kMissing)},
            {"club_head_direction_deg", number(analysis.speed.club_head_direction_deg)}};
}

Json present_of(const std::vector<Fault>& faults) {
    Json out = Json::array();
    for (const Fault& fault : faults) {
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
        if (!fault.counts())
            entry["does_not_count"] = fault.does_not_count;
        out.push_back(std::move(entry));
    }
    return out;
}

void add_reading(Json& out, const Analysis& analysis, const Reading& reading) {
    out["set_up"] = present_of(reading.set_up);
    out["faults"] = present_of(reading.faults);
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

nlohmann::ordered_json analysis_object(const Analysis& analysis, const Reading& reading,
                                       const std::vector<Finding>& findings) {
    constexpr std::size_t kMostTopics = 48;
    Json out = roomy_object(kMostTopics);
    out["file"] = nullptr;
    out["rate_hz"] = number(analysis.rate_hz);
    out["handed"] = key_of(analysis.handed);
    out["handed_said"] = analysis.handed_said;
    out["club"] = key_of(analysis.club);
    out["club_said"] = analysis.club_said;
    out["convention"] = key_of(analysis.options.convention);
    out["events"] = events_of(analysis);
    out["sequence"] = sequence_of(analysis);
    out["transition"] = transition_of(analysis);
    out["separation"] = separation_of(analysis);
    out["positions"] = positions_of(analysis);
    out["hinge_path"] = hinge_path_of(analysis.hinge_path);
    out["hips"] = hips_of(analysis);
    out["legs"] = {{"lead_knee_straightening_t", number(analysis.legs.straightening_t_s)},
                   {"plant_to_straighten_ms", number(analysis.legs.plant_to_straighten_ms)}};
    const Pressure& pressure = analysis.pressure;
    out["pressure"] = {{"lead_min_t", number(pressure.lead_min_t_s)},
                       {"lead_half_t", number(pressure.lead_half_t_s)},
                       {"peak_total_t", number(pressure.peak_total_t_s)}};
    out["plane"] = plane_of(analysis);
    out["wrist"] = {{"max_deg", number(analysis.wrist.max_deg)},
                    {"release_t", number(analysis.wrist.release_t_s)}};
    out["speed"] = {{"ratio", number(analysis.speed.ratio)}};
    out["delivery"] = Json::object();
    out["takeaway"] = {{"order", keys_of(analysis.takeaway.order)}};
    out["address"] = Json::object();
    out["tempo"] = Json::object();
    put_measures(out, analysis);
    out["launch"] = nullptr;
    if (const auto& launch = analysis.launch)
        for (const LaunchField& field : kLaunchFields)
            out["launch"][field.key] = number((*launch).*field.member);
    add_reading(out, analysis, reading);
    out["warnings"] = Json::array();
    for (const Finding& finding : findings)
        if (finding.severity != Finding::Severity::Error)
            out["warnings"].push_back(text_of(finding));
    return out;
}

std::string to_json(const std::string& file, const Analysis& analysis, const Reading& reading,
                    const std::vector<Finding>& findings) {
    Json out = analysis_object(analysis, reading, findings);
    out["file"] = file;
    // File names and labels may hold bytes that are not UTF-8; they are replaced, never fatal.
    return out.dump(-1, ' ', false, Json::error_handler_t::replace);
}

} // namespace kite::formats
