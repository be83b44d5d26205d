#include "core/project/writer.h"

#include <future>

namespace wendrix::project {

Writer::Writer(std::unique_ptr<Project> project) : project_(std::move(project)), thread_([this] { work(); }) {}

Writer::~Writer()
{
    {
        const std::lock_guard lock(mutex_);
        isEnding_ = true;
    }
    isWanted_.notify_one();
    thread_.join();
}

void Writer::post(Command command, std::function<void(const Done&)> then)
{
    {
        const std::lock_guard lock(mutex_);
        queue_.push_back({std::move(command), std::move(then)});
    }
    isWanted_.notify_one();
}

Writer::Done Writer::wait(Command command)
{
    std::promise<Done> promise;
    post(std::move(command), [&promise](const Done& done) { promise.set_value(done); });
    return promise.get_future().get();
}

void Writer::work()
{
    for (;;) {
        Order order;
        {
            std::unique_lock lock(mutex_);
            isWanted_.wait(lock, [this] { return isEnding_ || !queue_.empty(); });
            if (queue_.empty())
                return;
            order = std::move(queue_.front());
            queue_.pop_front();
        }
        Done done;
        try {
            done.result = order.command(*project_);
        } catch (const std::exception& e) { // a broken promise of ours must not take what is queued behind it along
            done.result =
                fail({kStoreFailed, std::string("The command stopped: ") + e.what() + ". Nothing was changed."});
        }
        done.changed = project_->takeChanged();
        if (order.then)
            order.then(done);
    }
}

} // namespace wendrix::project
