#include "formats/json/live_json.h"

#include "formats/json/analysis_object.h"

#include <nlohmann/json.hpp>

namespace kite::formats {

namespace {

using Json = nlohmann::ordered_json;

Json device_of(const live::DeviceFacts& facts) {
    const bool has_clock = facts.has_clock;
    return {{"role", facts.role ? Json(key_of(*facts.role)) : Json()},
            {"rate_hz", facts.rate_hz > 0.0 ? Json(facts.rate_hz) : Json()},
            {"lost_pct", facts.lost_pct},
            {"doubled", facts.doubled},
            {"clock_offset_ms", has_clock ? Json(facts.clock_offset_ms) : Json()},
            {"clock_u_ms", facts.clock_u_ms},
            {"drift_ppm", has_clock ? Json(facts.drift_ppm) : Json()},
            {"battery", facts.role ? Json(facts.battery) : Json()}};
}

} // namespace

std::string to_json(const LiveSwing& live) {
    JsonWriter out;
    out.begin_object();
    add_analysis(nullptr, live.analysis, live.reading, live.findings, Said::ErrorsToo, out);
    Json of = {{"number", live.swing.number},
               {"practice", live.swing.practice},
               {"latency_ms", live.latency_ms ? Json(*live.latency_ms) : Json()},
               {"impact_clock_s", live.swing.heard.cut.reference_s()},
               {"devices", Json::object()}};
    for (const live::DeviceFacts& device : live.swing.devices)
        of["devices"][device.name] = device_of(device);
    out.key("live");
    out.value_as_is(of.dump(-1, ' ', false, Json::error_handler_t::replace));
    out.end_object();
    return out.text();
}

} // namespace kite::formats
