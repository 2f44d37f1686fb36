#pragma once

#include "core/live/bay.h"
#include "live/raw_file.h"

#include <cstdint>
#include <deque>
#include <memory>
#include <string>
#include <string_view>

namespace kite::live {

/// What was heard beside what could be used.
struct HeardCounts {
    std::uint64_t packets = 0;
    std::uint64_t not_understood = 0;
    std::string last_problem; ///< of those; empty: none
    bool recording_failed = false;
};

/// Packets in, swings out: decodes them, keeps them, gives them to the bay. Whether they come from
/// the network or from a recording makes no difference.
class Hearing {
public:
    Hearing();

    Bay& bay() { return bay_; }
    const Bay& bay() const { return bay_; }

    void take(const RawRecord& record);
    /// From now on all that arrives is written down.
    void record_to(std::unique_ptr<RawWriter> writer) { writer_ = std::move(writer); }
    /// A word of whoever listens, into the recording.
    void note(std::string_view json);
    void finish();

    const HeardCounts& counts() const { return counts_; }
    /// What was heard of a swing, as a file that the readers of swings know.
    std::string capture(const BaySwing& swing) const;
    std::size_t memory_bytes() const;

private:
    struct Kept {
        std::int64_t time_ns;
        std::string bytes;
    };

    Bay bay_;
    HeardCounts counts_;
    std::unique_ptr<RawWriter> writer_;
    std::deque<Kept> kept_;
    std::size_t kept_bytes_ = 0;
    std::int64_t last_ns_ = 0;
};

} // namespace kite::live
