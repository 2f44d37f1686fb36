#include "live/hearing.h"

#include "live/capture.h"
#include "live/osc_packet.h"

namespace kite::live {

namespace {

constexpr std::int64_t kKept_ns = 30000000000;
/// However much comes: ten times what four sensors and a plate send in half a minute.
constexpr std::size_t kMostKept = 64 << 20;

} // namespace

Hearing::Hearing() = default;

void Hearing::take(const RawRecord& record) {
    last_ns_ = record.time_ns;
    if (writer_ && record.kind != RawRecord::Kind::Note && !writer_->write(record)) {
        counts_.recording_failed = true;
        writer_.reset();
    }
    switch (record.kind) {
    case RawRecord::Kind::Note:
        return;
    case RawRecord::Kind::Tick:
        bay_.tick(record.time_s());
        return;
    case RawRecord::Kind::Packet:
        break;
    }
    ++counts_.packets;
    Packet packet = decode(record.bytes);
    counts_.not_understood += packet.problems.size();
    if (!packet.problems.empty())
        counts_.last_problem = packet.problems.back();
    if (packet.messages.empty()) {
        bay_.tick(record.time_s());
        return;
    }
    // Kept before it is used: what it completes is captured with it.
    kept_.push_back({record.time_ns, std::string(record.bytes)});
    kept_bytes_ += record.bytes.size();
    while (!kept_.empty() &&
           (kept_.front().time_ns < record.time_ns - kKept_ns || kept_bytes_ > kMostKept)) {
        kept_bytes_ -= kept_.front().bytes.size();
        kept_.pop_front();
    }
    for (const Message& message : packet.messages)
        bay_.take(message, record.time_s());
}

void Hearing::note(std::string_view json) {
    if (writer_ && !writer_->write({RawRecord::Kind::Note, last_ns_, json})) {
        counts_.recording_failed = true;
        writer_.reset();
    }
}

void Hearing::finish() {
    bay_.finish();
    if (writer_ && !writer_->flush())
        counts_.recording_failed = true;
}

std::string Hearing::capture(const BaySwing& swing) const {
    constexpr double kPerSecond = 1e9;
    const auto from_ns =
        static_cast<std::int64_t>((swing.heard.cut.range.begin_s - kCaptureBefore_s) * kPerSecond);
    std::string out = raw_head(capture_head(bay_, swing));
    for (const Kept& kept : kept_)
        if (kept.time_ns >= from_ns)
            append(out, {RawRecord::Kind::Packet, kept.time_ns, kept.bytes});
    return out;
}

std::size_t Hearing::memory_bytes() const {
    return bay_.memory_bytes() + kept_bytes_ + kept_.size() * sizeof(Kept);
}

} // namespace kite::live
