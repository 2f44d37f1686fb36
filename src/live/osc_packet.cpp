#include "live/osc_packet.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <lo/lo.h>
#include <memory>

namespace kite::live {

namespace {

constexpr double kUnixEpoch_s = 2208988800.0; ///< 1970 from 1900 (RFC 5905)
constexpr double kFractions = 4294967296.0;   ///< of a second, 2³²
constexpr std::size_t kHead = 16;             ///< "#bundle", zero, time tag
constexpr int kDeepest = 4;
constexpr std::size_t kLongestName = 32;
constexpr std::size_t kMostProblems = 8; ///< of one packet
constexpr double kFastest_deg_s = 20000.0;
constexpr double kHardest_g = 2000.0;
constexpr double kHeaviest_n = 20000.0;
constexpr double kMostRate_hz = 10000.0;

struct FreeMessage {
    void operator()(void* message) const { lo_message_free(message); }
};
using LoMessage = std::unique_ptr<void, FreeMessage>;

std::uint32_t big_endian(std::string_view bytes, std::size_t at) {
    std::uint32_t out = 0;
    for (std::size_t i = 0; i < 4; ++i)
        out = out << 8 | static_cast<unsigned char>(bytes[at + i]);
    return out;
}

/// Text from the network for people: printable, short.
std::string harmless(std::string_view text) {
    constexpr std::size_t kLongest = 40;
    std::string out;
    for (char c : text.substr(0, kLongest))
        out += c >= ' ' && c <= '~' ? c : '?';
    return text.size() > kLongest ? out + "…" : out;
}

bool is_name(std::string_view text) {
    return !text.empty() && text.size() <= kLongestName &&
           std::all_of(text.begin(), text.end(), [](char c) {
               return (c >= '0' && c <= '9') || (c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z') ||
                      c == '-' || c == '_';
           });
}

/// The arguments of a message, by place.
class Arguments {
public:
    explicit Arguments(lo_message message)
        : types_(lo_message_get_types(message)), values_(lo_message_get_argv(message)) {}

    /// Do the types fit "ssff" and so on? Wider numbers serve too.
    bool fit(std::string_view wanted) const {
        const std::string_view here = types_ == nullptr ? "" : types_;
        if (here.size() != wanted.size())
            return false;
        for (std::size_t i = 0; i < wanted.size(); ++i) {
            const bool same = here[i] == wanted[i] || (wanted[i] == 'i' && here[i] == 'h') ||
                              (wanted[i] == 'f' && here[i] == 'd');
            if (!same)
                return false;
        }
        return true;
    }
    double real(std::size_t i) const {
        return types_[i] == 'd' ? value<double>(i) : static_cast<double>(value<float>(i));
    }
    std::int32_t whole(std::size_t i) const {
        return types_[i] == 'h' ? static_cast<std::int32_t>(value<std::int64_t>(i) & 0x7fffffff)
                                : value<std::int32_t>(i);
    }
    std::string text(std::size_t i) const { return static_cast<const char*>(at(i)); }

private:
    const void* at(std::size_t i) const { return values_[i]; }
    /// The library's values lie four bytes apart, whatever their type wants.
    template <class Number>
    Number value(std::size_t i) const {
        Number out{};
        std::memcpy(&out, at(i), sizeof out);
        return out;
    }

    const char* types_;
    lo_arg** values_;
};

bool within(double value, double most) {
    return std::isfinite(value) && std::abs(value) <= most;
}

/// The body of a message; a reason where it has none.
struct Body {
    std::optional<decltype(Message::body)> value;
    std::string problem;
};

Body body_of_about(const Arguments& a) {
    const auto role = find_role(a.text(0));
    if (!role)
        return {{}, "\"" + harmless(a.text(0)) + "\" is no role."};
    const double rate = a.real(2);
    if (!(rate > 0.0) || !within(rate, kMostRate_hz))
        return {{}, "its rate is none"};
    const double battery = a.real(3);
    return {About{*role, harmless(a.text(1)), rate,
                  std::isfinite(battery) ? std::clamp(battery, 0.0, 1.0)
                                         : std::numeric_limits<double>::quiet_NaN()},
            ""};
}

Body body_of_imu(const Arguments& a) {
    Imu imu{a.whole(0), {a.real(1), a.real(2), a.real(3)}, {a.real(4), a.real(5), a.real(6)}};
    if (!within(imu.gyro_deg_s.norm(), kFastest_deg_s) || !within(imu.force_g.norm(), kHardest_g))
        return {{}, "its values are no movement"};
    return {imu, ""};
}

Body body_of_orientation(const Arguments& a) {
    const Eigen::Quaterniond q(a.real(1), a.real(2), a.real(3), a.real(4));
    if (!(std::abs(q.norm() - 1.0) < 0.05))
        return {{}, "it is no rotation"};
    return {Orientation{a.whole(0), q.normalized()}, ""};
}

Body body_of_feet(const Arguments& a) {
    const Feet feet{a.whole(0), a.real(1), a.real(2)};
    if (!within(feet.left_n, kHeaviest_n) || !within(feet.right_n, kHeaviest_n))
        return {{}, "its values are no force"};
    return {feet, ""};
}

Body body_of_shot(const Arguments& a) {
    Shot shot;
    shot.number = a.whole(0);
    LaunchNumbers& launch = shot.numbers;
    launch.club_speed_m_s = a.real(1);
    launch.ball_speed_m_s = a.real(2);
    launch.start_direction_deg = a.real(3);
    launch.curve_m = a.real(4);
    launch.carry_m = a.real(5);
    // What cannot be is not known.
    for (const LaunchField& field : kLaunchFields)
        if (!within(launch.*field.member, field.most))
            launch.*field.member = std::numeric_limits<double>::quiet_NaN();
    return {shot, ""};
}

/// What can be said: a new message is an entry here.
struct Said {
    const char* word;
    const char* types;
    Body (*body)(const Arguments& arguments);
};
constexpr std::array kSaid{
    Said{"about", "ssff", body_of_about}, Said{"imu", "iffffff", body_of_imu},
    Said{"quaternion", "iffff", body_of_orientation}, Said{"plate", "iff", body_of_feet},
    Said{"launch", "ifffff", body_of_shot}};

class Decoder {
public:
    Packet take(std::string_view bytes) {
        element(bytes, std::nullopt, 0);
        return std::move(out_);
    }

private:
    void problem(std::string words) {
        if (out_.problems.size() < kMostProblems)
            out_.problems.push_back(std::move(words));
    }

    void element(std::string_view bytes, std::optional<double> tag_s, int depth) {
        using namespace std::literals;
        if (bytes.size() >= 8 && bytes.substr(0, 8) == "#bundle\0"sv)
            bundle(bytes, depth);
        else
            message(bytes, tag_s);
    }

    void bundle(std::string_view bytes, int depth) {
        if (bytes.size() < kHead || depth >= kDeepest) {
            problem(depth >= kDeepest ? "Bundles within bundles, too deep."
                                      : "A bundle that ends in its head.");
            return;
        }
        const std::uint32_t seconds = big_endian(bytes, 8);
        const std::uint32_t fraction = big_endian(bytes, 12);
        std::optional<double> tag_s;
        if (seconds != 0 || fraction > 1)
            tag_s = static_cast<double>(seconds) - kUnixEpoch_s +
                    static_cast<double>(fraction) / kFractions;
        std::size_t at = kHead;
        while (at < bytes.size()) {
            if (bytes.size() - at < 4) {
                problem("A bundle with bytes left over.");
                return;
            }
            const std::size_t length = big_endian(bytes, at);
            at += 4;
            if (length > bytes.size() - at || length == 0) {
                problem("A bundle whose element is longer than the packet.");
                return;
            }
            element(bytes.substr(at, length), tag_s, depth + 1);
            at += length;
        }
    }

    void message(std::string_view bytes, std::optional<double> tag_s) {
        const std::size_t end = bytes.find('\0');
        if (bytes.empty() || bytes.front() != '/' || end == std::string_view::npos) {
            problem("A packet that is no OSC.");
            return;
        }
        const std::string_view path = bytes.substr(0, end);
        constexpr std::string_view kOurs = "/kite/";
        const std::size_t slash = path.find('/', kOurs.size());
        if (path.substr(0, kOurs.size()) != kOurs || slash == std::string_view::npos) {
            problem("\"" + harmless(path) + "\" is no address of this bay.");
            return;
        }
        const std::string_view name = path.substr(kOurs.size(), slash - kOurs.size());
        const std::string_view word = path.substr(slash + 1);
        const auto said = std::find_if(kSaid.begin(), kSaid.end(),
                                       [&](const Said& entry) { return entry.word == word; });
        if (!is_name(name) || said == kSaid.end()) {
            problem("\"" + harmless(path) + "\" is no address of this bay.");
            return;
        }
        // The library wants bytes that it may write to, at an even place.
        std::string copy(bytes);
        int result = 0;
        const LoMessage message(lo_message_deserialise(copy.data(), copy.size(), &result));
        if (!message) {
            problem("A damaged message to \"" + harmless(path) + "\".");
            return;
        }
        const Arguments arguments(message.get());
        if (!arguments.fit(said->types)) {
            problem("\"" + harmless(path) + "\" with other arguments than " + said->types + ".");
            return;
        }
        Body body = said->body(arguments);
        if (!body.value) {
            problem("\"" + harmless(path) + "\": " + body.problem + ".");
            return;
        }
        out_.messages.push_back({std::string(name), tag_s, std::move(*body.value)});
    }

    Packet out_;
};

/// A message on its way out.
struct Writing {
    lo_message message;

    const char* operator()(const About& about) const {
        lo_message_add_string(message, std::string(key_of(about.role)).c_str());
        lo_message_add_string(message, about.model.c_str());
        floats({about.rate_hz, about.battery});
        return "about";
    }
    const char* operator()(const Imu& imu) const {
        lo_message_add_int32(message, imu.number);
        floats({imu.gyro_deg_s.x(), imu.gyro_deg_s.y(), imu.gyro_deg_s.z(), imu.force_g.x(),
                imu.force_g.y(), imu.force_g.z()});
        return "imu";
    }
    const char* operator()(const Orientation& turn) const {
        const auto& q = turn.q_world_sensor;
        lo_message_add_int32(message, turn.number);
        floats({q.w(), q.x(), q.y(), q.z()});
        return "quaternion";
    }
    const char* operator()(const Feet& feet) const {
        lo_message_add_int32(message, feet.number);
        floats({feet.left_n, feet.right_n});
        return "plate";
    }
    const char* operator()(const Shot& shot) const {
        const LaunchNumbers& of = shot.numbers;
        lo_message_add_int32(message, shot.number);
        floats(
            {of.club_speed_m_s, of.ball_speed_m_s, of.start_direction_deg, of.curve_m, of.carry_m});
        return "launch";
    }
    void floats(std::initializer_list<double> values) const {
        for (double value : values)
            lo_message_add_float(message, static_cast<float>(value));
    }
};

} // namespace

Packet decode(std::string_view bytes) {
    return Decoder().take(bytes);
}

std::string encode(const std::vector<Message>& messages) {
    lo_timetag tag = LO_TT_IMMEDIATE;
    if (!messages.empty() && messages.front().device_s) {
        const double from_1900_s = *messages.front().device_s + kUnixEpoch_s;
        tag.sec = static_cast<std::uint32_t>(std::floor(from_1900_s));
        tag.frac = static_cast<std::uint32_t>((from_1900_s - std::floor(from_1900_s)) * kFractions);
    }
    lo_bundle bundle = lo_bundle_new(tag);
    for (const Message& message : messages) {
        lo_message body = lo_message_new();
        const char* word = std::visit(Writing{body}, message.body);
        lo_bundle_add_message(bundle, ("/kite/" + message.device + "/" + word).c_str(), body);
    }
    std::size_t size = lo_bundle_length(bundle);
    std::string out(size, '\0');
    lo_bundle_serialise(bundle, out.data(), &size);
    lo_bundle_free_recursive(bundle);
    return out;
}

} // namespace kite::live
