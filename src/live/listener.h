#pragma once

#include "core/base/findings.h"

#include <chrono>
#include <cstdint>
#include <functional>
#include <memory>
#include <string>
#include <string_view>

namespace kite::live {

inline constexpr int kUsualPort = 9130;
inline constexpr const char* kLoopback = "127.0.0.1";

/// The computer's time, ns from 1970; it never goes back while the program runs.
std::int64_t now_ns();

/// A UDP port that is listened on.
class Listener {
public:
    /// Errors: no such address, the port is taken. Port 0: any that is free.
    static Outcome<std::unique_ptr<Listener>> open(const std::string& address, int port);
    ~Listener();
    Listener(const Listener&) = delete;
    Listener& operator=(const Listener&) = delete;

    /// Waits for packets for so long and hands on those that are there, with the time at which the
    /// system got them. Returns how many.
    std::size_t wait(int most_ms,
                     const std::function<void(std::int64_t time_ns, std::string_view bytes)>& use);
    int port() const { return port_; }
    bool is_loopback() const { return loopback_; }

private:
    Listener() = default;
    int socket_ = -1;
    int port_ = 0;
    bool loopback_ = true;
    struct Buffers;
    std::unique_ptr<Buffers> buffers_;
};

/// Sends packets to one address.
class Sender {
public:
    static Outcome<std::unique_ptr<Sender>> open(const std::string& address, int port);
    ~Sender();
    Sender(const Sender&) = delete;
    Sender& operator=(const Sender&) = delete;
    void send(std::string_view bytes) const;
    /// Waits until so long after `begun` on the clock that nobody sets, and sends.
    void send_at(std::chrono::steady_clock::time_point begun, double at_s,
                 std::string_view bytes) const;

private:
    Sender() = default;
    int socket_ = -1;
};

} // namespace kite::live
