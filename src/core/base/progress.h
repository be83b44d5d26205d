#pragma once

#include <atomic>
#include <functional>
#include <mutex>
#include <string>

namespace wendrix {

/// The one token through every long call: the work reports, whoever waits may cancel.
///
/// Thread-safe. The listener is called on the working thread, at most once for each per cent.
class Progress {
public:
    using Listener = std::function<void(const std::string& what, int percent)>;

    Progress() = default;
    explicit Progress(Listener listener) : listener_(std::move(listener)) {}

    /// @param done  0 to 1 of the step that `what` names
    void report(const std::string& what, double done);
    void cancel() { cancelled_.store(true, std::memory_order_relaxed); }
    [[nodiscard]] bool isCancelled() const { return cancelled_.load(std::memory_order_relaxed); }

private:
    Listener listener_;
    std::mutex mutex_;
    std::string what_;
    int percent_ = -1;
    std::atomic<bool> cancelled_{false};
};

} // namespace wendrix
