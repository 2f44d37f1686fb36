#include "app/session/bay_stand_in.h"

#include "live/listener.h"
#include "live/osc_packet.h"

#include <chrono>

namespace kite::app {

BayStandIn::~BayStandIn() {
    stop();
}

void BayStandIn::start(const simulate::BayPlan& plan, int port) {
    stop();
    stop_ = false;
    sending_ = true;
    thread_ = std::thread([this, plan, port] {
        const auto sender = live::Sender::open(live::kLoopback, port);
        simulate::BaySender bay(plan);
        const auto begun = std::chrono::steady_clock::now();
        while (!stop_ && sender.ok()) {
            const auto sent = bay.next();
            if (!sent)
                break;
            sender.value->send_at(begun, sent->at_s, live::encode({sent->message}));
        }
        sending_ = false;
    });
}

void BayStandIn::stop() {
    stop_ = true;
    if (thread_.joinable())
        thread_.join();
}

} // namespace kite::app
