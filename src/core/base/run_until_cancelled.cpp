#include "core/base/run_until_cancelled.h"

#include <condition_variable>
#include <exception>
#include <list>
#include <thread>

namespace wendrix {

namespace {

constexpr std::chrono::milliseconds kLook{10};

/// What the worker and the waiting thread share.
struct Run {
    std::mutex mutex;
    std::condition_variable ended;
    bool isDone = false, isLeft = false;
    std::exception_ptr failure;
};

/// Threads whose work was left, until they have wound down.
class LeftThreads {
public:
    ~LeftThreads()
    {
        for (auto& [run, thread] : threads_)
            thread.join();
    }

    void add(std::shared_ptr<Run> run, std::thread thread)
    {
        const std::lock_guard lock(mutex_);
        threads_.remove_if([](auto& left) {
            const std::lock_guard runLock(left.first->mutex);
            if (left.first->isDone)
                left.second.join();
            return left.first->isDone;
        });
        threads_.emplace_back(std::move(run), std::move(thread));
    }

private:
    std::mutex mutex_;
    std::list<std::pair<std::shared_ptr<Run>, std::thread>> threads_;
};

} // namespace

bool runUntilCancelled(Progress& progress, std::function<void(Progress&)> work)
{
    if (progress.isCancelled()) // work of a moment would be done before the first look
        return false;
    static LeftThreads left;
    const auto run = std::make_shared<Run>();
    const auto own = std::make_shared<Progress>([run, &progress](const std::string& what, int percent) {
        const std::lock_guard lock(run->mutex);
        if (!run->isLeft) // afterwards the caller's token may be gone
            progress.tell(what, percent);
    });
    std::thread thread([run, own, work = std::move(work)]() mutable {
        std::exception_ptr failure;
        try {
            work(*own);
        } catch (...) {
            failure = std::current_exception();
        }
        work = nullptr; // what it owns is freed here, before the run counts as done
        const std::lock_guard lock(run->mutex);
        run->failure = failure;
        run->isDone = true;
        run->ended.notify_all();
    });
    std::unique_lock lock(run->mutex);
    while (!run->ended.wait_for(lock, kLook, [&] { return run->isDone; })) {
        if (!progress.isCancelled())
            continue;
        own->cancel();
        run->isLeft = true;
        lock.unlock();
        left.add(run, std::move(thread));
        return false;
    }
    lock.unlock();
    thread.join();
    if (run->failure)
        std::rethrow_exception(run->failure);
    return true;
}

} // namespace wendrix
