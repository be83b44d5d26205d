#pragma once

#include <atomic>
#include <cstdint>
#include <functional>
#include <mutex>
#include <string>
#include <string_view>

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
    /// In real terms: the listener is told "Building x.ifc: 12 000 of 100 000 elements".
    /// @param unit  what is counted, in the plural
    void report(const std::string& what, std::uint64_t done, std::uint64_t total, std::string_view unit);
    /// Bytes, told as megabytes.
    void reportBytes(const std::string& what, std::uint64_t done, std::uint64_t total);
    /// What another token has told already, passed on as it is.
    void tell(const std::string& words, int percent) const;
    void cancel() { cancelled_.store(true, std::memory_order_relaxed); }
    [[nodiscard]] bool isCancelled() const { return cancelled_.load(std::memory_order_relaxed); }

private:
    /// True if the listener is to be told; then `what_` and `percent_` are the new ones.
    bool isNews(const std::string& what, double done);

    Listener listener_;
    std::mutex mutex_;
    std::string what_;
    int percent_ = -1;
    std::atomic<bool> cancelled_{false};
};

} // namespace wendrix
