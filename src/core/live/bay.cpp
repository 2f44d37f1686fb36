#include "core/live/bay.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace kite::live {

namespace {

constexpr double kSilent_s = 0.25;     ///< a device that says nothing for so long is not waited for
constexpr double kPatience_s = 0.6;    ///< nor is any other after so long
constexpr double kWhole_s = 1.2;       ///< after impact, with the finish
constexpr double kSettled_s = 0.35;    ///< after impact no new swing begins for so long
constexpr double kLookBack_s = 8.0;    ///< address and backswing of a swing lie within
constexpr double kDrillReach_s = 20.0; ///< … and of a drill's movement, with its holds
constexpr double kDrillLook_s = 0.15;  ///< how often a drill's movement is looked for
constexpr double kShotLatest_s = 12.0; ///< launch numbers come within
constexpr double kPractised_s = 6.0;   ///< a practice swing with launch numbers was a shot
constexpr double kAsleep_s = 2.0;      ///< a device not heard for so long has no role now

} // namespace

void Bay::set_drill(bool drill) {
    if (drill_ == drill)
        return;
    drill_ = drill;
    candidate_.reset();
    not_before_s_ = std::max(not_before_s_, now_s_);
}

void Bay::set_mounts(Mounts mounts) {
    mounts_ = std::move(mounts);
    up_before_.clear();
}

Device& Bay::device(const std::string& name) {
    const auto known = devices_.find(name);
    if (known != devices_.end())
        return known->second;
    if (devices_.size() >= kMostDevices)
        devices_.erase(
            std::min_element(devices_.begin(), devices_.end(), [](const auto& a, const auto& b) {
                return a.second.heard_at_s() < b.second.heard_at_s();
            }));
    return devices_.emplace(name, Device(name)).first->second;
}

const Device* Bay::device_of(Role role) const {
    const Device* best = nullptr;
    double most = 0.0;
    for (const auto& [name, device] : devices_) {
        if (device.role() != role || device.heard_at_s() < now_s_ - kAsleep_s)
            continue;
        // Of two with the same role, the one that is heard more often.
        const double rate = device.rate_hz();
        if (best == nullptr || rate > most) {
            best = &device;
            most = rate;
        }
    }
    return best;
}

Parts Bay::parts(TimeRange range) const {
    Parts out;
    for (Role role : kRoles)
        if (const auto segment = segment_of(role))
            if (const Device* device = device_of(role)) {
                Samples samples = device->samples(range);
                if (samples.rate_hz > 0.0)
                    out[*segment] = std::move(samples);
            }
    return out;
}

std::vector<DeviceFacts> Bay::devices() const {
    std::vector<DeviceFacts> out;
    for (const auto& [name, device] : devices_)
        out.push_back(device.facts());
    return out;
}

bool Bay::has_launch() const {
    return device_of(Role::Launch) != nullptr;
}

std::size_t Bay::memory_bytes() const {
    std::size_t sum = 0;
    for (const auto& [name, device] : devices_)
        sum += device.memory_bytes();
    return sum;
}

void Bay::take(const Message& message, double arrival_s) {
    now_s_ = std::max(now_s_, arrival_s);
    Device& from = device(message.device);
    const auto t_s = from.take(message, arrival_s);
    if (const auto* shot = std::get_if<Shot>(&message.body)) {
        if (from.is_new_shot(shot->number))
            take_shot(*shot);
    } else if (const auto* imu = std::get_if<Imu>(&message.body); imu != nullptr && t_s) {
        watch(from, *imu, *t_s);
    }
    look();
}

void Bay::look() {
    look_for_mounting();
    if (drill_)
        look_for_movement();
    else
        judge(false);
    give_whole(false);
}

void Bay::look_for_mounting() {
    constexpr double kOften_s = 0.4;
    constexpr double kReach_s = 28.0;
    constexpr double kStraight_deg = 30.0; // nearer than this, sensors sit as they say
    if (!guide_ || now_s_ - guided_s_ < kOften_s)
        return;
    guided_s_ = now_s_;
    if (count_ > 0 || !mounts_.empty()) {
        guide_.reset();
        return;
    }
    guide_->look(parts(recent(kReach_s)), now_s_);
    if (guide_->step() == MountGuide::Step::Failed) {
        watch_for_mounting();
    } else if (guide_->step() == MountGuide::Step::Done) {
        const Mounts shown = guide_->result().value.mounts;
        guide_.reset();
        if (std::any_of(shown.begin(), shown.end(), [&](const auto& mount) {
                return mount.second.angularDistance(Eigen::Quaterniond::Identity()) >
                       rad_from_deg(kStraight_deg);
            })) {
            set_mounts(shown);
            if (on_mounted)
                on_mounted();
        }
    }
}

void Bay::tick(double now_s) {
    now_s_ = std::max(now_s_, now_s);
    look();
}

void Bay::finish() {
    if (!drill_)
        judge(true);
    give_whole(true);
}

void Bay::watch(const Device& device, const Imu& imu, double t_s) {
    const auto segment = device.role() ? segment_of(*device.role()) : std::nullopt;
    if (!segment)
        return;
    if (on_sample)
        on_sample(*segment, t_s, imu);
    if (drill_)
        return;
    // The leader among those that are heard.
    for (Role role : {Role::Club, Role::LeadArm, Role::Torso, Role::Pelvis}) {
        const Device* leader = device_of(role);
        if (leader == nullptr)
            continue;
        if (leader != &device)
            return;
        break;
    }
    const double speed = imu.gyro_deg_s.norm();
    if (speed < least_speed_deg_s(*segment) || t_s < not_before_s_ + kSettled_s)
        return;
    if (!candidate_ || speed > candidate_->speed_deg_s)
        candidate_ = Candidate{t_s, speed, t_s + kNeededAfter_s};
}

bool Bay::all_heard(double until_s) const {
    if (now_s_ > until_s + kPatience_s)
        return true;
    for (Role role : kRoles) {
        if (role == Role::Launch)
            continue;
        const Device* device = device_of(role);
        if (device != nullptr && device->heard_at_s() > now_s_ - kSilent_s &&
            device->newest_s() < until_s)
            return false;
    }
    return true;
}

void Bay::judge(bool at_once) {
    if (!candidate_ || (!at_once && !all_heard(candidate_->needs_until_s)))
        return;
    const auto cut = find_swing(parts(recent(kLookBack_s)), candidate_->t_s, not_before_s_);
    if (!cut) {
        candidate_.reset();
        return;
    }
    // The blow may have come after the fastest moment.
    if (!at_once && !all_heard(cut->range.end_s)) {
        candidate_->needs_until_s = cut->range.end_s;
        return;
    }
    candidate_.reset();
    seen_handed_ = cut->counter_clockwise ? Handedness::Right : Handedness::Left;
    found(*cut, false);
}

void Bay::look_for_movement() {
    if (now_s_ - looked_s_ < kDrillLook_s)
        return;
    looked_s_ = now_s_;
    const double begin_s = std::max(not_before_s_, now_s_ - kDrillReach_s);
    if (const auto cut = find_movement(parts({begin_s, now_s_}), not_before_s_,
                                       handed_ ? handed_ : seen_handed_))
        found(*cut, false);
}

void Bay::found(Cut cut, bool by_hand) {
    BaySwing out;
    out.number = ++count_;
    out.practice = cut.is_practice();
    out.by_hand = by_hand;
    out.known_at_s = now_s_;
    out.heard = heard_in(cut);
    out.devices = devices();
    const auto up = up_at_address(out.heard);
    out.findings = check_mounts(up, up_before_);
    for (const auto& [segment, direction] : up)
        up_before_.emplace(segment, direction);
    not_before_s_ = cut.range.end_s;
    constexpr std::size_t kRemembered = 20;
    past_.push_back({out.number, cut.reference_s(), out.practice, false});
    if (past_.size() > kRemembered)
        past_.pop_front();
    give_whole(true); // of the swing before
    BaySwing whole = out;
    whole.heard.cut.range.end_s =
        std::max(cut.range.end_s, cut.reference_s() + (drill_ ? 0.0 : kWhole_s));
    unfinished_ = std::move(whole);
    if (on_swing)
        on_swing(std::move(out));
}

Heard Bay::heard_in(const Cut& cut) const {
    Heard heard;
    heard.cut = cut;
    heard.handed = handed_;
    heard.club = club_;
    for (Role role : kRoles)
        if (const Device* device = device_of(role))
            heard.is_made_up = heard.is_made_up ||
                               device->facts().model.compare(0, kStandIn.size(), kStandIn) == 0;
    for (Role role : kRoles) {
        const Device* device = device_of(role);
        if (device == nullptr)
            continue;
        if (const auto segment = segment_of(role)) {
            SensorHeard sensor;
            sensor.samples = device->samples(cut.range);
            sensor.orientations = device->orientations(cut.range);
            sensor.clock_u_s = device->clock().u_s();
            if (const auto mount = mounts_.find(*segment); mount != mounts_.end())
                sensor.q_segment_sensor = mount->second;
            if (sensor.samples.rate_hz > 0.0)
                heard.sensors[*segment] = std::move(sensor);
        } else if (role == Role::Plate) {
            heard.feet = device->samples(cut.range);
            heard.feet_u_s = device->clock().u_s();
        }
    }
    return heard;
}

void Bay::give_whole(bool at_once) {
    if (!unfinished_ || (!at_once && !all_heard(unfinished_->heard.cut.range.end_s)))
        return;
    BaySwing whole = std::move(*unfinished_);
    unfinished_.reset();
    whole.heard = heard_in(whole.heard.cut);
    if (on_whole)
        on_whole(std::move(whole));
}

void Bay::take_shot(const Shot& shot) {
    const auto fits = [&](const Past& past, double latest_s) {
        return !past.has_launch && now_s_ - past.reference_s < latest_s &&
               now_s_ > past.reference_s;
    };
    Past* best = nullptr;
    for (Past& past : past_)
        if (!past.practice && fits(past, kShotLatest_s))
            best = &past;
    if (best == nullptr)
        for (Past& past : past_)
            if (past.practice && fits(past, kPractised_s))
                best = &past;
    if (best == nullptr)
        return;
    best->has_launch = true;
    best->practice = false;
    if (on_shot)
        on_shot({best->number, shot.numbers});
}

bool Bay::keep_by_hand() {
    const Parts all = parts(recent(SampleRing::kKept_s));
    const auto leader = leader_of(all);
    if (!leader)
        return false;
    constexpr double kReach_s = 0.5;
    const Samples& samples = all.at(*leader);
    std::optional<double> fastest_s;
    double most = 0.0;
    for (std::size_t i = 0; i < samples.times_s.size(); ++i) {
        const double t_s = samples.times_s[i];
        const bool known = std::any_of(past_.begin(), past_.end(), [&](const Past& past) {
            return std::abs(past.reference_s - t_s) < 2.0 * kReach_s;
        });
        const auto& v = samples.values[i];
        const double speed = std::sqrt(v[0] * v[0] + v[1] * v[1] + v[2] * v[2]);
        if (!known && speed > most) {
            most = speed;
            fastest_s = t_s;
        }
    }
    if (!fastest_s)
        return false;
    Cut cut;
    cut.fastest_s = *fastest_s;
    if (const auto judged = find_swing(all, *fastest_s, *fastest_s - kLookBack_s))
        cut = *judged;
    else {
        cut.impact_s = find_struck_s(samples, {*fastest_s - 0.12, *fastest_s + 0.12});
        const TimeRange rest = find_rest(all, {*fastest_s - 4.0, *fastest_s - 0.6});
        cut.range = {rest.begin_s - kReach_s, *fastest_s + kReach_s};
        cut.counter_clockwise = handed_.value_or(Handedness::Right) == Handedness::Right;
    }
    const double before_s = not_before_s_;
    found(cut, true);
    not_before_s_ = std::max(before_s, not_before_s_);
    return true;
}

} // namespace kite::live
