#pragma once

#include "core/base/range.h"
#include "core/live/clock.h"
#include "core/live/messages.h"
#include "core/live/sample_ring.h"

#include <vector>

namespace kite::live {

/// How well a device is heard.
struct DeviceFacts {
    std::string name;
    std::optional<Role> role; ///< empty: it has not said yet
    std::string model;
    double nominal_hz = 0.0;
    double rate_hz = 0.0; ///< as measured; 0: not known
    double lost_pct = 0.0;
    std::size_t doubled = 0;
    bool has_clock = false;       ///< else its samples are placed by their arrival
    double clock_offset_ms = 0.0; ///< the device's time less the computer's
    double clock_u_ms = 0.0;      ///< standard uncertainty of where its samples lie in time
    double drift_ppm = 0.0;
    double battery = 0.0;    ///< 0 to 1
    double heard_at_s = 0.0; ///< when last, on the computer's clock
};

/// Samples of one device at the computer's times, ascending.
struct Samples {
    std::vector<double> times_s;
    std::vector<std::array<double, 6>> values;
    double rate_hz = 0.0;
};

/// One device: who it is, its clock, its last half minute.
class Device {
public:
    explicit Device(std::string name) : name_(std::move(name)) {}

    /// What came, and when, on the computer's clock. Returns the computer's time of a new sample;
    /// empty for anything else.
    std::optional<double> take(const Message& message, double arrival_s);

    /// What is taken from now on lies on this clock, found before.
    void fix_clock(const DeviceClock& clock, bool has_tags, double nominal_hz);
    /// The clock's line as one that begins to hear at that time has it: sample numbers that serve
    /// as a clock count from their last wrap.
    DeviceClock::Line line_from(double t_s) const;
    const DeviceClock& clock() const { return has_tags_ ? tags_ : numbers_; }
    bool has_tags() const { return has_tags_; }

    /// False: the same shot told once more.
    bool is_new_shot(std::int32_t number);

    const std::string& name() const { return name_; }
    std::optional<Role> role() const { return role_; }
    double heard_at_s() const { return heard_at_s_; }
    double newest_s() const; ///< computer's time of its newest sample; −∞: none
    double rate_hz() const { return ring_.rate_hz(); } ///< as measured; 0: not known
    DeviceFacts facts() const;
    Samples samples(TimeRange range) const;
    /// Its own orientation, w x y z; empty where it sends none.
    Samples orientations(TimeRange range) const;
    std::size_t memory_bytes() const;

private:
    double number_rate_hz() const; ///< of the clock that sample numbers are
    std::optional<double> add(SampleRing& ring, std::int32_t number, const Message& message,
                              double arrival_s, const std::array<double, 6>& values);
    Samples samples_of(const SampleRing& ring, TimeRange range) const;

    std::string name_;
    std::optional<Role> role_;
    About about_;
    bool has_tags_ = false;
    DeviceClock tags_;
    /// Sample numbers serve as a clock where there is none; rates are not kept to better than this.
    static constexpr double kLikelyNumberDrift = 0.01;
    DeviceClock numbers_{kLikelyNumberDrift};
    SampleRing ring_;
    SampleRing orientations_;
    double heard_at_s_ = 0.0;
    std::optional<std::int32_t> last_shot_;
};

} // namespace kite::live
