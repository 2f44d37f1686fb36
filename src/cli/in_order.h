#pragma once

#include <algorithm>
#include <condition_variable>
#include <mutex>
#include <optional>
#include <thread>
#include <vector>

namespace kite::cli {

/// Calls make(i) for 0 … count-1 on all cores and use(i, result) in their order, one at a time, on
/// the calling thread; few results are held at once. `make` must not throw. `use` returns false to
/// stop: what is begun is finished and thrown away. `ahead_each`: results a core may be ahead by.
template <class Result, class Make, class Use>
void in_order(std::size_t count, const Make& make, const Use& use, std::size_t ahead_each = 2) {
    const std::size_t workers =
        std::clamp<std::size_t>(count, 1, std::max(1U, std::thread::hardware_concurrency()));
    const std::size_t ahead = ahead_each * workers; // results that may wait for their turn
    std::mutex mutex;
    std::condition_variable changed;
    std::vector<std::optional<Result>> waiting(ahead);
    std::size_t next = 0;
    std::size_t used = 0;
    std::size_t end = count;
    const auto work = [&] {
        for (;;) {
            std::size_t index = 0;
            {
                std::unique_lock lock(mutex);
                changed.wait(lock, [&] { return next >= end || next < used + ahead; });
                if (next >= end)
                    return;
                index = next++;
            }
            Result result = make(index);
            const std::lock_guard lock(mutex);
            waiting[index % ahead] = std::move(result);
            changed.notify_all();
        }
    };
    std::vector<std::thread> threads;
    threads.reserve(workers);
    for (std::size_t i = 0; i < workers; ++i)
        threads.emplace_back(work);
    for (std::size_t i = 0; i < count; ++i) {
        Result result;
        {
            std::unique_lock lock(mutex);
            changed.wait(lock, [&] { return waiting[i % ahead].has_value(); });
            result = std::move(*waiting[i % ahead]);
            waiting[i % ahead].reset();
            ++used;
            changed.notify_all();
        }
        if (use(i, std::move(result)))
            continue;
        const std::lock_guard lock(mutex);
        end = 0;
        changed.notify_all();
        break;
    }
    for (std::thread& thread : threads)
        thread.join();
}

} // namespace kite::cli
