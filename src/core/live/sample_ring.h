#pragma once

#include <array>
#include <cstddef>
#include <cstdint>
#include <deque>
#include <optional>

namespace kite::live {

/// The last half minute of one device's numbered samples, in their order however they arrived.
class SampleRing {
public:
    static constexpr double kKept_s = 30.0;
    /// However fast a device is: 30 s at 1,200 Hz.
    static constexpr std::size_t kMost = 36000;

    struct Sample {
        bool there = false;
        double device_s = 0.0; ///< on the device's clock; without one, number over nominal rate
        std::array<double, 6> values{};
    };

    enum class Added { New, Doubled, Odd, Restarted };
    /// `number` wraps at 2³¹. A number far from the others is not used; when such numbers go on,
    /// the device has started again and so does the ring.
    Added add(std::int32_t number, double device_s, const std::array<double, 6>& values);
    void clear();
    /// Drops what is older than kKept_s before the newest.
    void trim();

    bool empty() const { return samples_.empty(); }
    std::size_t size() const { return samples_.size(); }
    const Sample& at(std::size_t i) const { return samples_[i]; }
    /// Running number of the i-th, without wrapping.
    std::int64_t number(std::size_t i) const { return first_ + static_cast<std::int64_t>(i); }
    const Sample* newest() const; ///< the highest number; nullptr: none
    /// The number as it counts on past the wrap, next to what is held.
    std::int64_t unwrapped(std::int32_t number) const;

    /// Of those held, that did not come; the very last may still be on their way.
    double lost_share() const;
    std::size_t doubled() const { return doubled_; }
    /// By numbers and device times of what is held; 0: not known.
    double rate_hz() const;

private:
    std::deque<Sample> samples_;
    std::int64_t first_ = 0;
    std::size_t doubled_ = 0;
    std::size_t odd_ = 0;
    std::int64_t odd_number_ = 0;
};

} // namespace kite::live
