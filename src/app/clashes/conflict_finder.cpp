#include "clashes/conflict_finder.h"

#include <chrono>
#include <future>
#include <utility>

namespace wendrix::app {

ConflictFinder::ConflictFinder(Session& session, QObject* parent) : QObject(parent), session_(session)
{
    pool_.setMaxThreadCount(1);
    pool_.setThreadPriority(QThread::LowPriority);
}

ConflictFinder::~ConflictFinder()
{
    forget();
    pool_.waitForDone();
}

void ConflictFinder::forget()
{
    ++*latest_;
    awaited_.reset();
    then_ = {};
}

void ConflictFinder::ask(ConflictOrder order, Answer then)
{
    constexpr auto kBlink = std::chrono::milliseconds(12);
    const int number = ++*latest_;
    awaited_ = session_.awaiting();
    then_ = std::move(then);
    auto found = std::make_shared<std::promise<std::vector<clash::Conflict>>>();
    auto answer = found->get_future();
    pool_.start([this, number, latest = latest_, order = std::move(order), found] {
        const auto isVoid = [&] { return *latest != number; };
        std::vector<clash::Conflict> conflicts = conflictsOf(order, isVoid);
        found->set_value(conflicts);
        if (isVoid())
            return;
        QMetaObject::invokeMethod(
            this, [this, number, conflicts = std::move(conflicts)] { give(number, conflicts); }, Qt::QueuedConnection);
    });
    if (answer.wait_for(kBlink) == std::future_status::ready)
        give(number, answer.get());
}

void ConflictFinder::give(int number, const std::vector<clash::Conflict>& conflicts)
{
    if (*latest_ != number || !then_)
        return; // another question, or given already
    const auto awaited = std::move(awaited_);
    const Answer then = std::exchange(then_, {});
    then(conflicts);
}

} // namespace wendrix::app
