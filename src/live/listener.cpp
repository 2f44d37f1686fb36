#include "live/listener.h"

#include <algorithm>
#include <arpa/inet.h>
#include <array>
#include <cerrno>
#include <cstring>
#include <ctime>
#include <netdb.h>
#include <poll.h>
#include <sys/socket.h>
#include <thread>
#include <unistd.h>

namespace kite::live {

using Severity = Finding::Severity;

namespace {

constexpr std::size_t kAtOnce = 64;
constexpr std::size_t kLongestPacket = 65536;
constexpr int kSystemBuffer = 4 << 20; ///< what may wait while a swing is measured

std::int64_t clock_ns(clockid_t id) {
    timespec now{};
    clock_gettime(id, &now);
    return static_cast<std::int64_t>(now.tv_sec) * 1000000000 + now.tv_nsec;
}

struct Addresses {
    addrinfo* first = nullptr;
    Addresses() = default;
    Addresses(const Addresses&) = delete;
    Addresses& operator=(const Addresses&) = delete;
    ~Addresses() {
        if (first != nullptr)
            freeaddrinfo(first);
    }
};

/// An address in numbers or by name; an error in words.
std::string find_address(const std::string& address, int port, bool numbers_alone, Addresses& out) {
    addrinfo hints{};
    hints.ai_family = AF_UNSPEC;
    hints.ai_socktype = SOCK_DGRAM;
    hints.ai_flags = AI_NUMERICSERV | (numbers_alone ? AI_NUMERICHOST : 0);
    const int failed =
        getaddrinfo(address.c_str(), std::to_string(port).c_str(), &hints, &out.first);
    return failed != 0 ? gai_strerror(failed) : "";
}

bool is_loopback_address(const sockaddr* address) {
    if (address->sa_family == AF_INET) {
        sockaddr_in in{};
        std::memcpy(&in, address, sizeof in);
        return ntohl(in.sin_addr.s_addr) >> 24 == 127;
    }
    sockaddr_in6 in{};
    std::memcpy(&in, address, sizeof in);
    return IN6_IS_ADDR_LOOPBACK(&in.sin6_addr) != 0;
}

} // namespace

std::int64_t now_ns() {
    // Counted on from the start by the clock that nobody sets.
    static const std::int64_t ahead = clock_ns(CLOCK_REALTIME) - clock_ns(CLOCK_MONOTONIC);
    return clock_ns(CLOCK_MONOTONIC) + ahead;
}

struct Listener::Buffers {
    std::array<std::array<char, kLongestPacket>, kAtOnce> bytes;
    std::array<std::array<char, 128>, kAtOnce> control;
    std::array<mmsghdr, kAtOnce> messages{};
    std::array<iovec, kAtOnce> places{};
};

Outcome<std::unique_ptr<Listener>> Listener::open(const std::string& address, int port) {
    Outcome<std::unique_ptr<Listener>> out;
    Addresses found;
    if (const std::string why = find_address(address, port, true, found); !why.empty()) {
        out.add({Severity::Error, "no-address", "\"" + address + "\" is no address: " + why + ".",
                 "", "Give one of this computer's in numbers, for instance 127.0.0.1."});
        return out;
    }
    out.value.reset(new Listener);
    Listener& listener = *out.value;
    const addrinfo& here = *found.first;
    listener.socket_ = socket(here.ai_family, SOCK_DGRAM | SOCK_CLOEXEC, 0);
    const int yes = 1;
    setsockopt(listener.socket_, SOL_SOCKET, SO_TIMESTAMPNS, &yes, sizeof yes);
    setsockopt(listener.socket_, SOL_SOCKET, SO_RCVBUF, &kSystemBuffer, sizeof kSystemBuffer);
    if (bind(listener.socket_, here.ai_addr, here.ai_addrlen) != 0) {
        const int why = errno;
        out.add({Severity::Error, "port-taken",
                 "Port " + std::to_string(port) + " of " + address +
                     " cannot be listened on: " + std::strerror(why) + ".",
                 "",
                 why == EADDRINUSE ? "Another program listens there; close it or choose another "
                                     "port."
                                   : "Choose an address of this computer and a port above 1023."});
        return out;
    }
    sockaddr_storage bound{};
    socklen_t length = sizeof bound;
    getsockname(listener.socket_, reinterpret_cast<sockaddr*>(&bound), &length);
    sockaddr_in in{};
    std::memcpy(&in, &bound, sizeof in); // the port stands at the same place in both families
    listener.port_ = ntohs(in.sin_port);
    listener.loopback_ = is_loopback_address(here.ai_addr);
    listener.buffers_ = std::make_unique<Buffers>();
    return out;
}

Listener::~Listener() {
    if (socket_ >= 0)
        close(socket_);
}

std::size_t
Listener::wait(int most_ms,
               const std::function<void(std::int64_t time_ns, std::string_view bytes)>& use) {
    pollfd ready{socket_, POLLIN, 0};
    if (poll(&ready, 1, most_ms) <= 0)
        return 0;
    Buffers& buffers = *buffers_;
    for (std::size_t i = 0; i < kAtOnce; ++i) {
        buffers.places[i] = {buffers.bytes[i].data(), kLongestPacket};
        msghdr& head = buffers.messages[i].msg_hdr;
        head = {};
        head.msg_iov = &buffers.places[i];
        head.msg_iovlen = 1;
        head.msg_control = buffers.control[i].data();
        head.msg_controllen = buffers.control[i].size();
    }
    const int count = recvmmsg(socket_, buffers.messages.data(), kAtOnce, MSG_DONTWAIT, nullptr);
    if (count <= 0)
        return 0;
    const std::int64_t here_ns = now_ns();
    const std::int64_t system_ns = clock_ns(CLOCK_REALTIME);
    for (std::size_t i = 0; i < static_cast<std::size_t>(count); ++i) {
        msghdr& head = buffers.messages[i].msg_hdr;
        std::int64_t time_ns = here_ns;
        for (cmsghdr* part = CMSG_FIRSTHDR(&head); part != nullptr; part = CMSG_NXTHDR(&head, part))
            if (part->cmsg_level == SOL_SOCKET && part->cmsg_type == SCM_TIMESTAMPNS) {
                timespec stamp{};
                std::memcpy(&stamp, CMSG_DATA(part), sizeof stamp);
                const std::int64_t age_ns =
                    system_ns -
                    (static_cast<std::int64_t>(stamp.tv_sec) * 1000000000 + stamp.tv_nsec);
                // Somebody may have set the system's clock in between.
                constexpr std::int64_t kOldest_ns = 10000000000;
                if (age_ns >= 0 && age_ns < kOldest_ns)
                    time_ns = here_ns - age_ns;
            }
        use(time_ns, {buffers.bytes[i].data(), buffers.messages[i].msg_len});
    }
    return static_cast<std::size_t>(count);
}

Outcome<std::unique_ptr<Sender>> Sender::open(const std::string& address, int port) {
    Outcome<std::unique_ptr<Sender>> out;
    Addresses found;
    std::string why = find_address(address, port, false, found);
    out.value.reset(new Sender);
    if (why.empty()) {
        const addrinfo& there = *found.first;
        out.value->socket_ = socket(there.ai_family, SOCK_DGRAM | SOCK_CLOEXEC, 0);
        if (connect(out.value->socket_, there.ai_addr, there.ai_addrlen) != 0)
            why = std::strerror(errno);
    }
    if (!why.empty())
        out.add({Severity::Error, "no-address",
                 "Nothing can be sent to " + address + ": " + why + ".", "",
                 "Give the address of the computer that listens."});
    return out;
}

Sender::~Sender() {
    if (socket_ >= 0)
        close(socket_);
}

void Sender::send(std::string_view bytes) const {
    // Nobody may be listening; that is no error of the sender's.
    (void)::send(socket_, bytes.data(), bytes.size(), 0);
}

void Sender::send_at(std::chrono::steady_clock::time_point begun, double at_s,
                     std::string_view bytes) const {
    std::this_thread::sleep_until(begun +
                                  std::chrono::duration_cast<std::chrono::steady_clock::duration>(
                                      std::chrono::duration<double>(at_s)));
    send(bytes);
}

} // namespace kite::live
