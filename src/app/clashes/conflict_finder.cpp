#include "clashes/conflict_finder.h"

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
}

void ConflictFinder::ask(ConflictOrder order, Answer then)
{
    const int number = ++*latest_;
    awaited_ = session_.awaiting();
    pool_.start([this, number, latest = latest_, order = std::move(order), then = std::move(then)] {
        const auto isVoid = [&] { return *latest != number; };
        auto conflicts = std::make_shared<std::vector<clash::Conflict>>(conflictsOf(order, isVoid));
        if (isVoid())
            return;
        QMetaObject::invokeMethod(
            this,
            [this, number, conflicts, then] {
                if (*latest_ != number)
                    return;
                const auto awaited = std::move(awaited_);
                then(*conflicts);
            },
            Qt::QueuedConnection);
    });
}

} // namespace wendrix::app
