#include "formats/json/analysis_json.h"

#include "core/base/units.h"
#include "core/catalogue/measure.h"
#include "core/reading/words.h"
#include "formats/json/analysis_object.h"

#include <algorithm>
#include <cmath>

namespace kite::formats {

namespace {

/// Where the catalogue's measures stand: an object, by their keys.
struct Place {
    std::string_view name;
    std::vector<const Measure*> measures; ///< straight in it
    std::vector<Place> inner;
    bool is_written = false;

    Place& at(std::string_view inner_name) {
        const auto found = std::find_if(inner.begin(), inner.end(), [&](const Place& place) {
            return place.name == inner_name;
        });
        return found != inner.end() ? *found : inner.emplace_back(Place{inner_name, {}, {}, false});
    }
    bool has(std::string_view measure_name) const {
        return std::any_of(measures.begin(), measures.end(), [&](const Measure* measure) {
            return name_of(*measure) == measure_name;
        });
    }
    /// The last part of its key.
    static std::string_view name_of(const Measure& measure) {
        const std::string_view key = measure.key;
        return key.substr(key.rfind('.') + 1);
    }
};

Place all_places() {
    Place out;
    for (const Measure& measure : all_measures()) {
        const std::string_view key = measure.key;
        Place* at = &out;
        std::size_t begin = 0;
        for (std::size_t dot = key.find('.'); dot != std::string_view::npos;
             dot = key.find('.', begin)) {
            at = &at->at(key.substr(begin, dot - begin));
            begin = dot + 1;
        }
        at->measures.push_back(&measure);
    }
    return out;
}

/// Writes one analysis. Every object ends with the measures whose place it is.
class Writer {
public:
    Writer(const Analysis& analysis, JsonWriter& out) : analysis_(analysis), out_(out) {}

    void write(const std::string* file, const Reading& reading,
               const std::vector<Finding>& findings, Said said);

private:
    template <class Inside>
    void object(std::string_view name, const Inside& inside) {
        Place& outer = *place_;
        place_ = &outer.at(name);
        place_->is_written = true;
        out_.key(name);
        out_.begin_object();
        inside();
        add_measures();
        out_.end_object();
        place_ = &outer;
    }
    void nothing(std::string_view name) {
        place_->at(name).is_written = true;
        out_.key(name);
        out_.null();
    }
    template <class Value>
    void put(std::string_view name, const Value& value) {
        out_.member(name, value);
    }
    /// A value and, where it is known, its uncertainty beside it.
    void put(std::string_view name, const Measured& measured) {
        out_.member(name, measured.value);
        if (std::isfinite(measured.value) && std::isfinite(measured.u))
            out_.member(uncertainty_key(name), measured.u);
    }
    void add_measures() {
        Place& here = *place_;
        for (const Measure* measure : here.measures)
            put(Place::name_of(*measure), measure->of(analysis_));
        for (std::size_t i = 0; i < here.inner.size(); ++i)
            if (!here.inner[i].is_written)
                object(here.inner[i].name, [] {});
    }
    template <class Range>
    void put_keys(std::string_view name, const Range& segments) {
        out_.key(name);
        out_.begin_array();
        for (Segment segment : segments)
            out_.value(key_of(segment));
        out_.end_array();
    }

    void add_events();
    void add_sequence();
    void add_order_by_convention();
    void add_part(Segment segment);
    void add_positions();
    void add_hips();
    void add_launch();
    void add_faults(std::string_view name, const std::vector<Fault>& faults);
    void add_first_fix(const Reading& reading);

    const Analysis& analysis_;
    JsonWriter& out_;
    Place places_ = all_places();
    Place* place_ = &places_;
};

void Writer::add_events() {
    object("events", [&] {
        for (Moment moment : kAllMoments) {
            const auto& at = analysis_.moments[moment];
            if (!at) {
                nothing(key_of(moment));
                continue;
            }
            object(key_of(moment), [&] {
                put("t", at->t_s);
                put("u", at->u_s);
                put("moved", at->moved);
                if (moment == Moment::Impact)
                    put("source", key_of(analysis_.moments.impact_source));
            });
        }
    });
}

void Writer::add_order_by_convention() {
    object("order_by_convention", [&] {
        for (auto convention :
             {RateConvention::Axis, RateConvention::Resultant, RateConvention::Plane}) {
            const auto& order = analysis_.order_by_convention[static_cast<std::size_t>(convention)];
            if (order.empty())
                nothing(key_of(convention));
            else
                put_keys(key_of(convention), order);
        }
    });
}

void Writer::add_part(Segment segment) {
    const SegmentSequence* part = analysis_.sequence.find(segment);
    if (part == nullptr)
        return nothing(key_of(segment));
    object(key_of(segment), [&] {
        put("reversal_t", part->reversal_t_s);
        put("reversal_u", part->reversal_u_s);
        put("peak_t", part->peak_t_s);
        put("peak_t_u", part->peak_t_u_s);
        // Of the club, whose peak is told against the ball itself, no measure.
        if (!place_->has("before_impact_ms"))
            put("before_impact_ms", part->before_impact_ms);
        put("at_impact_deg_s", part->at_impact_deg_s);
        // Beside its measure where it is known.
        if (!std::isfinite(part->slowdown_pct) || !std::isfinite(part->slowdown_u_pct))
            put("slowdown_u_pct", kMissing);
        put("gain", part->gain);
        put("max_accel_deg_s2", part->max_accel_deg_s2);
        put("cutoff_hz", part->cutoff_hz);
    });
}

void Writer::add_sequence() {
    const Sequence& sequence = analysis_.sequence;
    object("sequence", [&] {
        put_keys("order", sequence.order);
        out_.key("tied");
        out_.begin_array();
        for (const auto& [a, b] : sequence.tied) {
            out_.begin_array();
            out_.value(key_of(a));
            out_.value(key_of(b));
            out_.end_array();
        }
        out_.end_array();
        put("order_certainty", sequence.order_certainty);
        add_order_by_convention();
        object("segments", [&] {
            for (Segment segment : kSequence)
                add_part(segment);
        });
    });
}

void Writer::add_positions() {
    object("positions", [&] {
        for (Moment moment : kAllMoments)
            object(key_of(moment), [&] {
                for (const Quantity& quantity : all_quantities()) {
                    if (place_->has(quantity.file_key))
                        continue; // a measure, and written as one
                    const Measured at = at_moment(quantity, analysis_, moment);
                    put(quantity.file_key,
                        Measured{at.value * quantity.per_file_unit, at.u * quantity.per_file_unit});
                }
            });
    });
}

void Writer::add_hips() {
    const auto side = [&](const HipCurves& curves) {
        for (Moment moment : kAllMoments)
            object(key_of(moment), [&] {
                const HipPosition at = position_at(curves, analysis_.moments.time_s(moment));
                put("depth_cm", cm_from_m(at.depth_m));
                put("lift_cm", cm_from_m(at.lift_m));
                put("beyond_ankle_cm", cm_from_m(at.beyond_ankle_m));
            });
    };
    object("hips", [&] {
        object("lead", [&] { side(analysis_.hips.lead); });
        object("trail", [&] { side(analysis_.hips.trail); });
    });
}

void Writer::add_launch() {
    const auto& launch = analysis_.launch;
    if (!launch)
        return nothing("launch");
    object("launch", [&] {
        for (const LaunchField& field : kLaunchFields)
            put(field.key, (*launch).*field.member);
    });
}

void Writer::add_faults(std::string_view name, const std::vector<Fault>& faults) {
    out_.key(name);
    out_.begin_array();
    for (const Fault& fault : faults) {
        if (!fault.is_present())
            continue;
        out_.begin_object();
        put("id", fault.id);
        put("phase", key_of(fault.phase));
        put("evidence", *fault.evidence);
        out_.key("because");
        out_.begin_array();
        for (const Because& because : fault.because)
            out_.value(sentence(because));
        out_.end_array();
        out_.key("leads_to");
        out_.begin_array();
        for (const auto& id : fault.leads_to)
            out_.value(id);
        out_.end_array();
        if (!fault.counts())
            put("does_not_count", fault.does_not_count);
        out_.end_object();
    }
    out_.end_array();
}

void Writer::add_first_fix(const Reading& reading) {
    if (!reading.first_fix)
        return nothing("first_fix");
    const ReadingWords words = write_words(analysis_, reading);
    std::string why = words.fix_title + ".";
    for (const std::string& because : words.because)
        why += " " + because;
    object("first_fix", [&] {
        put("id", *reading.first_fix);
        put("why", why);
    });
}

void Writer::write(const std::string* file, const Reading& reading,
                   const std::vector<Finding>& findings, Said said) {
    if (file != nullptr)
        put("file", *file);
    else
        nothing("file");
    put("rate_hz", analysis_.rate_hz);
    put("handed", key_of(analysis_.handed));
    put("handed_said", analysis_.handed_said);
    put("club", key_of(analysis_.club));
    put("club_said", analysis_.club_said);
    put("convention", key_of(analysis_.options.convention));
    add_events();
    add_sequence();
    object("transition", [&] {
        put_keys("reversal_order", analysis_.transition.reversal_order);
        put("lead_hip_drop_min_cm", analysis_.transition.lead_hip_drop_min_cm);
    });
    object("separation", [&] {
        const Separation separation = analysis_.separation.value_or(Separation{});
        put("method", key_of(analysis_.options.separation));
        put("max_t", separation.max_t_s);
        put("max_t_u", separation.max_t_u_s);
        put("stretch_pct", separation.stretch_pct);
        put("closing_deg_s", separation.closing_deg_s);
    });
    add_positions();
    object("hinge_path", [&] {
        const auto behind = [&](const char* name, const HingePath::Median& of) {
            object(name, [&] { put("behind_cm", cm_from_m(of.behind_m)); });
        };
        behind("backswing", analysis_.hinge_path.backswing);
        behind("downswing", analysis_.hinge_path.downswing);
    });
    add_hips();
    object("legs", [&] {
        put("lead_knee_straightening_t", analysis_.legs.straightening_t_s);
        put("plant_to_straighten_ms", analysis_.legs.plant_to_straighten_ms);
    });
    object("pressure", [&] {
        put("lead_min_t", analysis_.pressure.lead_min_t_s);
        put("lead_half_t", analysis_.pressure.lead_half_t_s);
        put("peak_total_t", analysis_.pressure.peak_total_t_s);
    });
    object("plane", [&] {
        // Where no club was measured the plane is a stand-in and no plane of the club head.
        const auto& plane = analysis_.moments.plane;
        const bool real = plane && analysis_.find_motion(Segment::Club) != nullptr;
        put("inclination_deg", real ? plane->inclination_deg() : kMissing);
        put("rms_cm", real ? cm_from_m(plane->rms_m) : kMissing);
        put("club_head_direction_deg", analysis_.speed.club_head_direction_deg);
    });
    object("wrist", [&] {
        put("max_deg", analysis_.wrist.max_deg);
        put("release_t", analysis_.wrist.release_t_s);
    });
    object("speed", [&] { put("ratio", analysis_.speed.ratio); });
    object("takeaway", [&] { put_keys("order", analysis_.takeaway.order); });
    add_measures();
    add_launch();
    add_faults("set_up", reading.set_up);
    add_faults("faults", reading.faults);
    add_first_fix(reading);
    out_.key("warnings");
    out_.begin_array();
    for (const Finding& finding : findings)
        if (finding.severity != Finding::Severity::Error)
            out_.value(text_of(finding));
    for (const Finding& finding : findings)
        if (finding.severity == Finding::Severity::Error && said == Said::ErrorsToo)
            out_.value(text_of(finding));
    out_.end_array();
}

} // namespace

void add_analysis(const std::string* file, const Analysis& analysis, const Reading& reading,
                  const std::vector<Finding>& findings, Said said, JsonWriter& out) {
    Writer(analysis, out).write(file, reading, findings, said);
}

std::string to_json(const std::string& file, const Analysis& analysis, const Reading& reading,
                    const std::vector<Finding>& findings) {
    JsonWriter out;
    out.begin_object();
    add_analysis(&file, analysis, reading, findings, Said::Warnings, out);
    out.end_object();
    return out.text();
}

} // namespace kite::formats
