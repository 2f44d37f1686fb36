#include "simulate/bay.h"

#include "core/base/units.h"
#include "core/motion/rotation.h"
#include "core/motion/take.h"
#include "simulate/bay_script.h"

#include <queue>

#include <algorithm>
#include <cmath>
#include <deque>
#include <map>

namespace kite::simulate {

using Eigen::AngleAxisd;
using Eigen::Quaterniond;
using Eigen::Vector3d;
using live::Role;

namespace {

constexpr double kAbout_s = 1.0;
constexpr double kGravity_m_s2 = 9.80665;
constexpr double kGyroNoise_deg_s = 0.15;
constexpr double kForceNoise_g = 0.015;
constexpr double kPlateNoise_n = 2.0;
constexpr double kAsleep_s = 5.0;
constexpr std::int32_t kHighestNumber = 0x7fffffff;

/// Where a sensor sits on its part, in the part's axes.
Vector3d place_of(Segment segment) {
    switch (segment) {
    case Segment::Pelvis:
        return {0.0, 0.12, 0.03};
    case Segment::Torso:
        return {0.0, 0.11, -0.15};
    case Segment::LeadArm:
        return {0.02, 0.03, -0.5};
    default:
        return {0.0, 0.0, -0.12};
    }
}

} // namespace

class BaySender::Bay {
    struct Device {
        Role role = Role::Pelvis;
        std::string name;
        std::string model;
        double rate_hz = 0.0;
        double offset_s = 0.0;
        double drift = 0.0;
        double battery = 1.0;
        std::int32_t number = 0;
        Quaterniond q_segment_sensor = Quaterniond::Identity();
        Vector3d bias_deg_s = Vector3d::Zero();
        double next_s = 0.0;       ///< its next sample
        double next_about_s = 0.0; ///< … and word of itself
        double burst_until_s = -1.0;
    };

    struct Later {
        bool operator()(const BaySent& a, const BaySent& b) const { return a.at_s > b.at_s; }
    };

public:
    explicit Bay(const BayPlan& plan) : plan_(plan), script_(plan), random_(plan.seed + 17) {
        const std::map<Role, std::pair<const char*, const char*>> names{
            {Role::Pelvis, {"hip-1", "sensor"}},  {Role::Torso, {"back-2", "sensor"}},
            {Role::LeadArm, {"arm-3", "sensor"}}, {Role::Club, {"grip-4", "sensor"}},
            {Role::Plate, {"mat-5", "plate"}},    {Role::Launch, {"radar-6", "monitor"}}};
        for (Role role : live::kRoles) {
            if ((role == Role::Plate && plan.plate_hz <= 0.0) ||
                (role == Role::Launch && !plan.launch))
                continue;
            Device device;
            device.role = role;
            device.name = names.at(role).first;
            device.model = plan.makes + " " + names.at(role).second;
            device.rate_hz = role == Role::Plate    ? plan.plate_hz
                             : role == Role::Launch ? 1.0
                                                    : plan.rate_hz;
            device.offset_s = plan.offset_s * uniform(-1.0, 1.0);
            device.drift = 1e-6 * plan.drift_ppm * uniform(-1.0, 1.0);
            device.battery = uniform(0.4, 1.0);
            device.number = static_cast<std::int32_t>(uniform(0.0, 50000.0));
            if (plan.mounting) {
                const Vector3d axis(normal(), normal(), normal());
                device.q_segment_sensor =
                    Quaterniond(AngleAxisd(uniform(0.3, 2.5), axis.normalized()));
            }
            device.bias_deg_s = 0.7 * Vector3d(normal(), normal(), normal());
            device.next_s = uniform(0.0, 1.0) / device.rate_hz;
            device.next_about_s = uniform(0.0, 0.2);
            devices_.push_back(device);
        }
        for (const BayTruth& shot : script_.truth())
            if (!shot.practice)
                shots_.push_back({shot.impact_s + uniform(1.5, 3.5), shot.launch});
    }

    std::optional<BaySent> next() {
        // A packet may be overtaken by one that is made while it is on its way.
        constexpr double kLongestWay_s = 0.5;
        while (made_until_s_ < script_.duration_s() &&
               (on_the_way_.empty() || on_the_way_.top().at_s > made_until_s_ - kLongestWay_s))
            make_until(made_until_s_ + 0.1);
        if (on_the_way_.empty())
            return std::nullopt;
        BaySent out = on_the_way_.top();
        on_the_way_.pop();
        return out;
    }

    const BayScript& script() const { return script_; }
    const Device& device(Role role) const {
        return *std::find_if(devices_.begin(), devices_.end(),
                             [&](const Device& device) { return device.role == role; });
    }
    Quaterniond mount(Segment segment) const {
        for (const Device& device : devices_)
            if (live::segment_of(device.role) == segment)
                return device.q_segment_sensor;
        return Quaterniond::Identity();
    }
    double device_s(Role role, double t_s) const {
        const Device& of = device(role);
        return of.offset_s + (1.0 + of.drift) * t_s;
    }

private:
    double uniform(double from, double to) {
        return std::uniform_real_distribution<double>(from, to)(random_);
    }
    double normal() { return normal_(random_); }

    void make_until(double end_s) {
        for (Device& device : devices_) {
            for (; device.next_about_s < end_s; device.next_about_s += kAbout_s) {
                device.battery =
                    std::max(0.0, device.battery - plan_.battery_a_minute * kAbout_s / 60.0);
                send(device, device.next_about_s,
                     live::About{device.role, device.model, device.rate_hz, device.battery});
            }
            if (device.role == Role::Launch)
                continue;
            // The device samples by its own clock.
            for (; device.next_s < end_s;
                 device.next_s += 1.0 / (device.rate_hz * (1.0 + device.drift))) {
                if (asleep(device, device.next_s))
                    continue;
                sample(device, device.next_s);
                device.number = device.number == kHighestNumber ? 0 : device.number + 1;
            }
        }
        for (; shots_sent_ < shots_.size() && shots_[shots_sent_].first < end_s; ++shots_sent_)
            for (Device& device : devices_)
                if (device.role == Role::Launch)
                    tell_shot(device);
        made_until_s_ = end_s;
    }

    /// Three times under one number: a packet may be lost.
    void tell_shot(Device& device) {
        for (double later_s : {0.0, 0.1, 0.2})
            send(
                device, shots_[shots_sent_].first + later_s,
                live::Shot{static_cast<std::int32_t>(shots_sent_ + 1), shots_[shots_sent_].second});
    }

    bool asleep(const Device& device, double t_s) const {
        if (plan_.sleeps_at <= 0 || device.role != Role::Pelvis)
            return false;
        const double from_s = script_.ready_s(plan_.sleeps_at);
        return t_s >= from_s - kAsleep_s && t_s < from_s;
    }

    void sample(Device& device, double t_s) {
        const auto segment = live::segment_of(device.role);
        if (!segment) {
            const bool left_leads = plan_.handed == Handedness::Right;
            const BayScript::Feet feet = script_.feet_n(t_s);
            const double lead_n = feet.lead_n + kPlateNoise_n * normal();
            const double trail_n = feet.trail_n + kPlateNoise_n * normal();
            send(device, t_s,
                 live::Feet{device.number, left_leads ? lead_n : trail_n,
                            left_leads ? trail_n : lead_n});
            return;
        }
        Quaterniond mount = device.q_segment_sensor;
        if (plan_.slips_at > 0 && device.role == Role::Torso &&
            t_s > script_.ready_s(plan_.slips_at))
            mount = Quaterniond(AngleAxisd(rad_from_deg(25.0), Vector3d::UnitX())) * mount;
        // Rate and acceleration from places a little before and after.
        constexpr double kStep_s = 0.0005;
        const SwingModel::Pose before = pose(*segment, t_s - kStep_s);
        const SwingModel::Pose here = pose(*segment, t_s);
        const SwingModel::Pose after = pose(*segment, t_s + kStep_s);
        const Vector3d place = place_of(*segment);
        const auto where = [&](const SwingModel::Pose& at) -> Vector3d {
            return at.p_lab_m + at.q_lab_segment * place;
        };
        const Vector3d acceleration =
            (where(after) - 2.0 * where(here) + where(before)) / (kStep_s * kStep_s);
        const Vector3d omega =
            log_of(before.q_lab_segment.conjugate() * after.q_lab_segment) / (2.0 * kStep_s);
        const Vector3d force_g = (acceleration + Vector3d(0.0, 0.0, kGravity_m_s2)) / kGravity_m_s2;
        const Quaterniond to_sensor = mount.conjugate();
        live::Imu imu;
        imu.number = device.number;
        imu.gyro_deg_s = to_sensor * (deg_from_rad(1.0) * omega) + device.bias_deg_s +
                         kGyroNoise_deg_s * Vector3d(normal(), normal(), normal());
        imu.force_g =
            to_sensor * (here.q_lab_segment.conjugate() * force_g + shock_g(*segment, t_s)) +
            kForceNoise_g * Vector3d(normal(), normal(), normal());
        send(device, t_s, imu);
        if (plan_.orientations)
            send(device, t_s,
                 live::Orientation{device.number, Quaterniond(AngleAxisd(0.7, Vector3d::UnitZ())) *
                                                      here.q_lab_segment * mount});
    }

    SwingModel::Pose pose(Segment segment, double t_s) const {
        SwingModel::Pose out = script_.pose(t_s)[index_of(segment)];
        if (plan_.handed == Handedness::Left) {
            out.q_lab_segment = mirrored(out.q_lab_segment);
            out.p_lab_m = mirrored(out.p_lab_m);
        }
        return out;
    }

    /// The blow of the ball: a short ringing, hardest in the club.
    Vector3d shock_g(Segment segment, double t_s) const {
        const double size_g = segment == Segment::Club      ? 45.0
                              : segment == Segment::LeadArm ? 9.0
                                                            : 0.0;
        if (size_g == 0.0)
            return Vector3d::Zero();
        constexpr double kFades_s = 0.003;
        constexpr double kRings_hz = 170.0;
        for (const BayTruth& shot : script_.truth()) {
            const double since_s = t_s - shot.impact_s;
            if (!shot.practice && since_s >= 0.0 && since_s < 10.0 * kFades_s)
                return size_g * std::exp(-since_s / kFades_s) *
                       std::cos(2.0 * kPi * kRings_hz * since_s) *
                       Vector3d(-0.8, 0.2, 0.56).normalized();
        }
        return Vector3d::Zero();
    }

    void send(Device& device, double t_s, decltype(live::Message::body) body) {
        if (t_s < device.burst_until_s)
            return;
        const double rate_hz = device.rate_hz;
        if (rate_hz > 1.0 && uniform(0.0, 1.0) < plan_.bursts_a_minute / 60.0 / rate_hz) {
            device.burst_until_s = t_s + uniform(0.01, 0.06);
            return;
        }
        if (uniform(0.0, 100.0) < plan_.lost_pct)
            return;
        BaySent sent;
        sent.message.device = device.name;
        if (plan_.clocks)
            sent.message.device_s = device.offset_s + (1.0 + device.drift) * t_s;
        sent.message.body = std::move(body);
        const int copies = uniform(0.0, 100.0) < plan_.doubled_pct ? 2 : 1;
        for (int i = 0; i < copies; ++i) {
            const double delay_s = plan_.jitter_ms > 0.0
                                       ? 1e-3 * plan_.jitter_ms * -std::log(uniform(1e-9, 1.0))
                                       : 0.0;
            sent.at_s = t_s + kShortestWay_s + std::min(delay_s, 0.3);
            on_the_way_.push(sent);
        }
    }

    BayPlan plan_;
    BayScript script_;
    std::mt19937 random_;
    std::normal_distribution<double> normal_;
    std::vector<Device> devices_;
    std::vector<std::pair<double, LaunchNumbers>> shots_; ///< when they are sent
    std::size_t shots_sent_ = 0;
    double made_until_s_ = 0.0;
    std::priority_queue<BaySent, std::vector<BaySent>, Later> on_the_way_;
};

BaySender::BaySender(const BayPlan& plan) : bay_(std::make_unique<Bay>(plan)) {}
BaySender::~BaySender() = default;
BaySender::BaySender(BaySender&&) noexcept = default;

std::optional<BaySent> BaySender::next() {
    return bay_->next();
}

double BaySender::duration_s() const {
    return bay_->script().duration_s();
}

const std::vector<BayTruth>& BaySender::truth() const {
    return bay_->script().truth();
}

Quaterniond BaySender::mount(Segment segment) const {
    return bay_->mount(segment);
}

double BaySender::device_s(live::Role role, double t_s) const {
    return bay_->device_s(role, t_s);
}

} // namespace kite::simulate
