#pragma once

#include <algorithm>
#include <chrono>
#include <future>
#include <vector>

#include <sys/resource.h>
#include <unistd.h>

namespace wendrix::app {

/// A value that is worked out on a thread of its own while the interface goes on. Beginning another leaves the one
/// before to end unseen; only going away waits for all of them.
template <class T>
class Ahead {
public:
    template <class Work>
    void begin(Work work)
    {
        std::erase_if(left_, [](const auto& one) { return isOver(one); });
        if (now_.valid())
            left_.push_back(std::move(now_));
        now_ = std::async(std::launch::async, [work = std::move(work)]() mutable {
            // Whoever clicks comes first, also where there are few cores. On Linux each thread has a niceness of its
            // own.
            ::setpriority(PRIO_PROCESS, static_cast<id_t>(::gettid()), kNiceness);
            return work();
        });
    }
    [[nodiscard]] bool isBegun() const { return now_.valid(); }
    [[nodiscard]] bool isReady() const { return now_.valid() && isOver(now_); }
    /// Waits if it has to; afterwards none is begun.
    [[nodiscard]] T take() { return now_.get(); }

private:
    static constexpr int kNiceness = 10;
    static bool isOver(const std::future<T>& one)
    {
        return one.wait_for(std::chrono::seconds(0)) == std::future_status::ready;
    }
    std::future<T> now_;
    std::vector<std::future<T>> left_;
};

} // namespace wendrix::app
