#include "live/capture.h"

#include "live/osc_packet.h"
#include "live/raw_file.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace kite::live {

using Json = nlohmann::ordered_json;
using Severity = Finding::Severity;

namespace {

// The head's JSON: {"swing": {…}, "devices": {"NAME": {…}}}.

Json json_of(const DeviceClock::Line& line) {
    return {{"device_s", line.device_s},
            {"computer_s", line.computer_s},
            {"slope", line.slope},
            {"u_s", line.u_s}};
}

/// A number of the head; throws what nlohmann throws, and where it is none.
double real(const Json& from, const char* key) {
    const double value = from.at(key).get<double>();
    if (!std::isfinite(value))
        throw std::invalid_argument(key);
    return value;
}

struct UsedDevice {
    Role role = Role::Pelvis;
    bool has_tags = true;
    double nominal_hz = 0.0;
    DeviceClock::Line line;
    Eigen::Quaterniond mount = Eigen::Quaterniond::Identity();
};

UsedDevice used_from(const Json& json) {
    UsedDevice out;
    const auto role = find_role(json.at("role").get<std::string>());
    if (!role)
        throw std::invalid_argument("role");
    out.role = *role;
    out.has_tags = json.at("has_tags").get<bool>();
    out.nominal_hz = real(json, "nominal_hz");
    const Json& clock = json.at("clock");
    out.line = {real(clock, "device_s"), real(clock, "computer_s"), real(clock, "slope"),
                real(clock, "u_s")};
    const auto mount = json.at("mount").get<std::vector<double>>();
    if (mount.size() != 4)
        throw std::invalid_argument("mount");
    out.mount = Eigen::Quaterniond(mount[0], mount[1], mount[2], mount[3]);
    if (!(std::abs(out.mount.norm() - 1.0) < 1e-6))
        throw std::invalid_argument("mount");
    return out;
}

struct Head {
    Heard heard;
    std::map<std::string, UsedDevice> devices;
};

Head head_from(const std::string& text) {
    const Json json = Json::parse(text);
    const Json& swing = json.at("swing");
    Head out;
    Cut& cut = out.heard.cut;
    cut.range = {real(swing, "begin_s"), real(swing, "end_s")};
    constexpr double kLongest_s = 60.0;
    if (!(cut.range.duration_s() > 0.0 && cut.range.duration_s() < kLongest_s))
        throw std::invalid_argument("end_s");
    cut.fastest_s = real(swing, "fastest_s");
    if (!swing.at("impact_s").is_null())
        cut.impact_s = real(swing, "impact_s");
    cut.counter_clockwise = swing.at("counter_clockwise").get<bool>();
    if (swing.contains("handed"))
        out.heard.handed = find_handedness(swing.at("handed").get<std::string>());
    if (swing.contains("club"))
        out.heard.club = find_club_kind(swing.at("club").get<std::string>());
    out.heard.is_made_up = swing.value("made_up", false);
    if (swing.contains("launch")) {
        LaunchNumbers& launch = out.heard.launch.emplace();
        for (const LaunchField& field : kLaunchFields)
            if (const auto value = swing.at("launch").find(field.key);
                value != swing.at("launch").end() && value->is_number())
                launch.*field.member = value->get<double>();
    }
    for (const auto& [name, device] : json.at("devices").items())
        out.devices.emplace(name, used_from(device));
    return out;
}

} // namespace

std::string capture_head(const Bay& bay, const BaySwing& swing) {
    const Cut& cut = swing.heard.cut;
    Json json;
    Json& of = json["swing"];
    of = {{"number", swing.number},
          {"practice", swing.practice},
          {"begin_s", cut.range.begin_s},
          {"end_s", cut.range.end_s},
          {"fastest_s", cut.fastest_s},
          {"impact_s", cut.impact_s ? Json(*cut.impact_s) : Json()},
          {"counter_clockwise", cut.counter_clockwise}};
    if (swing.heard.is_made_up)
        of["made_up"] = true;
    if (swing.heard.handed)
        of["handed"] = key_of(*swing.heard.handed);
    if (swing.heard.club)
        of["club"] = key_of(*swing.heard.club);
    json["devices"] = Json::object();
    const double from_s = cut.range.begin_s - kCaptureBefore_s;
    for (Role role : kRoles) {
        const Device* device = bay.device_of(role);
        if (device == nullptr || role == Role::Launch || !device->clock().knows())
            continue;
        Eigen::Quaterniond mount = Eigen::Quaterniond::Identity();
        if (const auto segment = segment_of(role))
            if (const auto found = bay.mounts().find(*segment); found != bay.mounts().end())
                mount = found->second;
        json["devices"][device->name()] = {{"role", key_of(role)},
                                           {"has_tags", device->has_tags()},
                                           {"nominal_hz", device->facts().nominal_hz},
                                           {"clock", json_of(device->line_from(from_s))},
                                           {"mount", {mount.w(), mount.x(), mount.y(), mount.z()}}};
    }
    return json.dump(-1, ' ', false, Json::error_handler_t::replace);
}

std::string with_launch(std::string_view capture, const LaunchNumbers& launch) {
    const Outcome<RawFile> file = open_raw(capture);
    Json json = Json::parse(file.value.json, nullptr, false);
    if (!file.ok() || !json.is_object() || !json.contains("swing"))
        return std::string(capture);
    Json& told = json["swing"]["launch"];
    told = Json::object();
    for (const LaunchField& field : kLaunchFields)
        if (std::isfinite(launch.*field.member))
            told[field.key] = launch.*field.member;
    json["swing"]["practice"] = false;
    return raw_head(json.dump()) + std::string(file.value.records);
}

bool is_raw(std::string_view bytes) {
    return bytes.substr(0, kRawMagic.size()) == kRawMagic;
}

Outcome<Heard> read_capture(std::string_view bytes) {
    Outcome<Heard> out;
    Outcome<RawFile> file = open_raw(bytes);
    if (!file.ok()) {
        out.findings = std::move(file.findings);
        return out;
    }
    Head head;
    try {
        head = head_from(file.value.json);
    } catch (const std::exception& reason) {
        const bool session = file.value.json == "{}";
        out.add({Severity::Error, session ? "whole-session" : "bad-capture",
                 session ? "This is the recording of a whole session, not of one swing."
                         : "What the capture says of its swing cannot be read (" +
                               std::string(reason.what()) + ").",
                 "line 2",
                 session ? "Play it again in the Bay, or with live --replay."
                         : "Take the file from a backup."});
        return out;
    }
    std::map<std::string, Device> devices;
    for (const auto& [name, used] : head.devices) {
        Device& device = devices.emplace(name, Device(name)).first->second;
        device.fix_clock(DeviceClock::of(used.line), used.has_tags, used.nominal_hz);
    }
    while (const auto record = next_record(file.value.records)) {
        if (record->kind != RawRecord::Kind::Packet)
            continue;
        for (const Message& message : decode(record->bytes).messages)
            if (const auto device = devices.find(message.device); device != devices.end())
                device->second.take(message, record->time_s());
    }
    if (!file.value.records.empty())
        out.add({Severity::Warning, "cut-short",
                 "The capture ends in the middle of a packet; what came before it is used.", "",
                 "Take the file from a backup."});
    out.value = std::move(head.heard);
    for (const auto& [name, used] : head.devices) {
        const Device& device = devices.at(name);
        Samples samples = device.samples(out.value.cut.range);
        if (const auto segment = segment_of(used.role)) {
            if (samples.rate_hz > 0.0)
                out.value.sensors[*segment] = {std::move(samples),
                                               device.orientations(out.value.cut.range),
                                               used.line.u_s, used.mount};
        } else {
            out.value.feet = std::move(samples);
            out.value.feet_u_s = used.line.u_s;
        }
    }
    return out;
}

} // namespace kite::live
