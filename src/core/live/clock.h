#pragma once

#include <cstddef>
#include <deque>
#include <optional>

namespace kite::live {

/// A device's clock against the computer's, from time tags and arrival times alone. A packet can
/// only be late, never early, so the fastest packets tell: arrival − tag has a lower edge that runs
/// along the true offset, and its slope is the drift (the convex hull of Moon, Skelly & Towsley
/// 1999). What every packet of a device is late by cannot be seen from here.
class DeviceClock {
public:
    /// `likely_drift`: SD of drifts among such clocks (seconds a second), for as long as little was
    /// heard.
    explicit DeviceClock(double likely_drift = 150e-6);

    /// The line that was found: computer = computer_s + (1 + slope) (device − device_s).
    struct Line {
        double device_s = 0.0;
        double computer_s = 0.0;
        double slope = 0.0;
        double u_s = 0.0;
    };
    Line line() const;
    /// A clock that is known and learns no more.
    static DeviceClock of(const Line& line);

    /// False: the tag does not fit what was heard before and is not used. When such tags go on, the
    /// clock was set anew: it starts again, and `restarts()` counts it.
    bool add(double device_s, double arrival_s);

    bool knows() const { return !edge_.empty(); }
    double to_computer(double device_s) const;
    double offset_s() const;                 ///< device − computer, at the newest arrival
    double drift() const { return -slope_; } ///< device seconds a computer second, less one
    double u_s() const { return u_s_; }      ///< standard uncertainty of to_computer
    std::size_t restarts() const { return restarts_; }

private:
    struct Point {
        double x_s; ///< device time from the first tag
        double y_s; ///< arrival from the first arrival, less x
    };
    struct Odd {
        std::size_t count = 0;
        double first_s = 0.0; ///< device time of the first
        double least_y_s = 0.0;
        double most_y_s = 0.0;
    };

    void start(double device_s, double arrival_s);
    void fit();

    double likely_drift_;
    bool fixed_ = false;
    double first_device_s_ = 0.0;
    double first_arrival_s_ = 0.0;
    double newest_x_s_ = 0.0;
    std::deque<Point> edge_; ///< the fastest packet of every bucket, oldest first
    double intercept_s_ = 0.0;
    double slope_ = 0.0; ///< of y over x
    double u_s_ = 0.0;
    Odd odd_;
    std::size_t restarts_ = 0;
};

} // namespace kite::live
