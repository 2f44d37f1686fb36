#include "core/live/device.h"

#include "core/base/median.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

namespace kite::live {

namespace {

template <class... Parts>
struct Overloaded : Parts... {
    using Parts::operator()...;
};
template <class... Parts>
Overloaded(Parts...) -> Overloaded<Parts...>;

/// Samples are kept at even times where their tags only tremble about such; where the tags step
/// away from them (a sensor that stopped counting for a while) the tags hold. Returns the rate by
/// numbers and tags; 0 where there are too few.
double even_out(std::vector<double>& times_s, const std::vector<double>& numbers) {
    const std::size_t n = times_s.size();
    if (n < 20)
        return 0.0;
    double mean_number = 0.0;
    double mean_s = 0.0;
    for (std::size_t i = 0; i < n; ++i) {
        mean_number += numbers[i] / static_cast<double>(n);
        mean_s += times_s[i] / static_cast<double>(n);
    }
    double across = 0.0;
    double along = 0.0;
    for (std::size_t i = 0; i < n; ++i) {
        across += (numbers[i] - mean_number) * (times_s[i] - mean_s);
        along += (numbers[i] - mean_number) * (numbers[i] - mean_number);
    }
    if (!(along > 0.0 && across > 0.0))
        return 0.0;
    const double slope = across / along;
    const auto even = [&](std::size_t i) { return mean_s + slope * (numbers[i] - mean_number); };
    constexpr std::size_t kBlock = 25;
    for (std::size_t begin = 0; begin < n; begin += kBlock) {
        std::vector<double> off;
        for (std::size_t i = begin; i < std::min(n, begin + kBlock); ++i)
            off.push_back(times_s[i] - even(i));
        if (off.size() >= kBlock / 2 && std::abs(median_of(off)) > std::max(0.75 * slope, 0.001))
            return 1.0 / slope;
    }
    for (std::size_t i = 0; i < n; ++i)
        times_s[i] = even(i);
    return 1.0 / slope;
}

} // namespace

std::optional<double> Device::take(const Message& message, double arrival_s) {
    heard_at_s_ = std::max(heard_at_s_, arrival_s);
    return std::visit(
        Overloaded{[&](const About& about) -> std::optional<double> {
                       if (about.rate_hz != about_.rate_hz && !has_tags_) {
                           // Numbers count at another pace than was thought.
                           numbers_ = DeviceClock(kLikelyNumberDrift);
                           ring_.clear();
                           orientations_.clear();
                       }
                       about_ = about;
                       role_ = about.role;
                       if (message.device_s)
                           has_tags_ = tags_.add(*message.device_s, arrival_s) || has_tags_;
                       return std::nullopt;
                   },
                   [&](const Imu& imu) {
                       return add(ring_, imu.number, message, arrival_s,
                                  {imu.gyro_deg_s.x(), imu.gyro_deg_s.y(), imu.gyro_deg_s.z(),
                                   imu.force_g.x(), imu.force_g.y(), imu.force_g.z()});
                   },
                   [&](const Orientation& turn) -> std::optional<double> {
                       const auto& q = turn.q_world_sensor;
                       add(orientations_, turn.number, message, arrival_s,
                           {q.w(), q.x(), q.y(), q.z(), 0.0, 0.0});
                       return std::nullopt;
                   },
                   [&](const Feet& feet) {
                       return add(ring_, feet.number, message, arrival_s,
                                  {feet.left_n, feet.right_n, 0.0, 0.0, 0.0, 0.0});
                   },
                   [&](const Shot&) -> std::optional<double> { return std::nullopt; }},
        message.body);
}

std::optional<double> Device::add(SampleRing& ring, std::int32_t number, const Message& message,
                                  double arrival_s, const std::array<double, 6>& values) {
    double device_s = 0.0;
    if (message.device_s) {
        device_s = *message.device_s;
        const std::size_t restarts = tags_.restarts();
        if (!tags_.add(device_s, arrival_s))
            return std::nullopt;
        if (tags_.restarts() != restarts || !has_tags_) {
            // What is held lies on another clock.
            ring_.clear();
            orientations_.clear();
        }
        has_tags_ = true;
    } else {
        if (has_tags_)
            return std::nullopt; // a device with a clock that says nothing this once
        device_s = static_cast<double>(ring.unwrapped(number)) / number_rate_hz();
        const std::size_t restarts = numbers_.restarts();
        if (!numbers_.add(device_s, arrival_s))
            return std::nullopt;
        if (numbers_.restarts() != restarts)
            ring.clear();
    }
    const SampleRing::Added added = ring.add(number, device_s, values);
    if (added == SampleRing::Added::Doubled || added == SampleRing::Added::Odd)
        return std::nullopt;
    ring.trim();
    return clock().to_computer(device_s);
}

void Device::fix_clock(const DeviceClock& clock, bool has_tags, double nominal_hz) {
    has_tags_ = has_tags;
    about_.rate_hz = nominal_hz;
    (has_tags ? tags_ : numbers_) = clock;
}

DeviceClock::Line Device::line_from(double t_s) const {
    DeviceClock::Line out = clock().line();
    if (has_tags_)
        return out;
    constexpr std::int64_t kWrap = std::int64_t{1} << 31;
    for (std::size_t i = 0; i < ring_.size(); ++i)
        if (ring_.at(i).there && clock().to_computer(ring_.at(i).device_s) >= t_s) {
            const std::int64_t wraps = ring_.number(i) / kWrap;
            out.device_s -= static_cast<double>(wraps * kWrap) / number_rate_hz();
            break;
        }
    return out;
}

double Device::number_rate_hz() const {
    constexpr double kUsual_hz = 500.0;
    return about_.rate_hz > 0.0 ? about_.rate_hz : kUsual_hz;
}

bool Device::is_new_shot(std::int32_t number) {
    return std::exchange(last_shot_, number) != number;
}

double Device::newest_s() const {
    const SampleRing::Sample* newest = ring_.newest();
    return newest == nullptr ? -std::numeric_limits<double>::infinity()
                             : clock().to_computer(newest->device_s);
}

DeviceFacts Device::facts() const {
    constexpr double kPerMillion = 1e6;
    DeviceFacts out;
    out.name = name_;
    out.role = role_;
    out.model = about_.model;
    out.nominal_hz = about_.rate_hz;
    out.rate_hz = ring_.rate_hz();
    out.lost_pct = 100.0 * ring_.lost_share();
    out.doubled = ring_.doubled() + orientations_.doubled();
    out.has_clock = has_tags_;
    if (clock().knows()) {
        out.clock_offset_ms = 1000.0 * clock().offset_s();
        out.clock_u_ms = 1000.0 * clock().u_s();
        out.drift_ppm = kPerMillion * clock().drift();
    }
    out.battery = about_.battery;
    out.heard_at_s = heard_at_s_;
    return out;
}

Samples Device::samples_of(const SampleRing& ring, TimeRange range) const {
    Samples out;
    std::vector<double> numbers;
    constexpr double kAskew_s = 1.0; // neighbours in number are neighbours in time, to this much
    std::size_t begin = ring.size();
    for (; begin > 0; --begin) {
        const SampleRing::Sample& sample = ring.at(begin - 1);
        if (sample.there && clock().to_computer(sample.device_s) < range.begin_s - kAskew_s)
            break;
    }
    for (std::size_t i = begin; i < ring.size(); ++i) {
        const SampleRing::Sample& sample = ring.at(i);
        if (!sample.there)
            continue;
        const double t_s = clock().to_computer(sample.device_s);
        if (!range.contains(t_s))
            continue;
        out.times_s.push_back(t_s);
        out.values.push_back(sample.values);
        numbers.push_back(static_cast<double>(ring.number(i)));
    }
    out.rate_hz = even_out(out.times_s, numbers);
    // Tags that tremble or lie may go backwards; time does not.
    std::size_t kept = 0;
    for (std::size_t i = 0; i < out.times_s.size(); ++i)
        if (kept == 0 || out.times_s[i] > out.times_s[kept - 1]) {
            out.times_s[kept] = out.times_s[i];
            out.values[kept++] = out.values[i];
        }
    out.times_s.resize(kept);
    out.values.resize(kept);
    return out;
}

Samples Device::samples(TimeRange range) const {
    return samples_of(ring_, range);
}

Samples Device::orientations(TimeRange range) const {
    return samples_of(orientations_, range);
}

std::size_t Device::memory_bytes() const {
    return (ring_.size() + orientations_.size()) * sizeof(SampleRing::Sample);
}

} // namespace kite::live
