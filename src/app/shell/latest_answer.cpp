#include "shell/latest_answer.h"

#include <chrono>
#include <future>
#include <utility>

namespace wendrix::app {

LatestAnswer::LatestAnswer(Session& session, QObject* parent) : QObject(parent), session_(session)
{
    pool_.setMaxThreadCount(1);
    pool_.setThreadPriority(QThread::LowPriority);
}

LatestAnswer::~LatestAnswer()
{
    forget();
    pool_.waitForDone();
}

void LatestAnswer::forget()
{
    ++*latest_;
    awaited_.reset();
}

void LatestAnswer::ask(Work work)
{
    constexpr auto kBlink = std::chrono::milliseconds(12);
    const int number = ++*latest_;
    awaited_ = session_.awaiting();
    isGiven_ = false;
    auto found = std::make_shared<std::promise<std::function<void()>>>();
    auto answer = found->get_future();
    pool_.start([this, number, latest = latest_, work = std::move(work), found] {
        const auto isVoid = [&] { return *latest != number; };
        std::function<void()> then;
        try {
            then = work(isVoid);
        } catch (const std::exception& e) {
            then = [this, why = std::string(e.what())] {
                session_.fail({project::kStoreFailed, "It could not be worked out: " + why});
            };
        }
        found->set_value(then);
        if (!isVoid())
            QMetaObject::invokeMethod(
                this, [this, number, then] { give(number, then); }, Qt::QueuedConnection);
    });
    if (answer.wait_for(kBlink) == std::future_status::ready)
        give(number, answer.get());
}

void LatestAnswer::give(int number, const std::function<void()>& then)
{
    if (*latest_ != number || std::exchange(isGiven_, true))
        return; // another question, or given already
    const auto awaited = std::exchange(awaited_, {});
    then();
}

} // namespace wendrix::app
