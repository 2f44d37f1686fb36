#pragma once

#include "simulate/bay.h"

#include <QString>

#include <atomic>
#include <thread>

namespace kite::app {

/// Sends what sensors, plate and launch monitor would, to this computer, as kite-hinge-bay does.
class BayStandIn {
public:
    BayStandIn() = default;
    ~BayStandIn();
    BayStandIn(const BayStandIn&) = delete;
    BayStandIn& operator=(const BayStandIn&) = delete;

    void start(const simulate::BayPlan& plan, int port);
    void stop();
    bool is_sending() const { return sending_; }

private:
    std::thread thread_;
    std::atomic<bool> stop_{false};
    std::atomic<bool> sending_{false};
};

} // namespace kite::app
