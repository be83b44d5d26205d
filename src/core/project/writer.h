#pragma once

#include "core/project/project.h"

#include <condition_variable>
#include <deque>
#include <mutex>
#include <thread>

namespace wendrix::project {

/// The one queue through which a program writes to its project: commands are done in their order, on a thread of their
/// own.
///
/// Whoever asks never waits for a lock: it is told when its command is done. Safe to use from any thread.
class Writer {
public:
    /// @param project  open for writing; the writer's from now on
    explicit Writer(std::unique_ptr<Project> project);
    /// Does what is still queued.
    ~Writer();
    Writer(const Writer&) = delete;
    Writer& operator=(const Writer&) = delete;

    using Command = std::function<Result<void>(Project&)>;
    struct Done {
        Result<void> result;
        Changed changed; ///< nothing where it failed
    };
    /// @param then  called on the writer's thread
    void post(Command command, std::function<void(const Done&)> then);
    /// The same for a thread that may wait.
    [[nodiscard]] Done wait(Command command);

private:
    struct Order {
        Command command;
        std::function<void(const Done&)> then;
    };
    void work();
    std::unique_ptr<Project> project_;
    std::mutex mutex_;
    std::condition_variable isWanted_;
    std::deque<Order> queue_;
    bool isEnding_ = false;
    std::thread thread_; ///< last: starts when all is there
};

} // namespace wendrix::project
