#include "shell/jobs.h"

#include <algorithm>

namespace wendrix::app {

namespace {

constexpr int kLanes = static_cast<int>(Jobs::Lane::Reporting) + 1; // the last one

} // namespace

Jobs::Jobs(QObject* parent) : QObject(parent)
{
    pool_.setMaxThreadCount(kLanes); // each lane has its thread; what a job does in parallel is shared out by oneTBB
}

Jobs::~Jobs()
{
    cancelAll();
    waitForDone();
}

Jobs::Job* Jobs::find(int id)
{
    const auto found =
        std::find_if(running_.begin(), running_.end(), [&](const Job& job) { return job.state.id == id; });
    return found == running_.end() ? nullptr : &*found;
}

bool Jobs::isBusy(Lane lane) const
{
    return std::any_of(running_.begin(), running_.end(), [&](const Job& job) { return job.lane == lane; });
}

bool Jobs::run(Lane lane, const QString& what, Work work)
{
    if (isBusy(lane))
        return false;
    const int id = ++lastId_;
    auto progress = std::make_shared<Progress>([this, id](const std::string& step, int percent) {
        QMetaObject::invokeMethod(this, [this, id, step, percent] {
            if (Job* job = find(id)) {
                job->state.words = QString::fromStdString(step);
                job->state.percent = percent;
                emit changed();
            }
        });
    });
    running_.push_back({{id, what, 0}, lane, progress, false});
    emit changed();
    pool_.start([this, id, work = std::move(work), progress] {
        Finish finish;
        try {
            finish = work(*progress);
        } catch (const std::exception& e) {
            finish = [this, why = QString(e.what())] { emit stopped(why); };
        }
        QMetaObject::invokeMethod(this, [this, id, finish = std::move(finish)] {
            const Job* job = find(id);
            const bool isWanted = job != nullptr && !job->isAbandoned;
            std::erase_if(running_, [&](const Job& other) { return other.state.id == id; });
            if (finish && isWanted)
                finish();
            emit changed();
            if (!isBusy())
                emit ended();
        });
    });
    return true;
}

void Jobs::cancel(int id)
{
    if (const Job* job = find(id))
        job->progress->cancel();
}

void Jobs::waitForDone() { pool_.waitForDone(); }

void Jobs::cancelAll()
{
    for (const Job& job : running_)
        job.progress->cancel();
}

void Jobs::abandonAll()
{
    cancelAll();
    for (Job& job : running_)
        job.isAbandoned = true;
}

QVector<Jobs::State> Jobs::states() const
{
    QVector<State> all;
    for (const Job& job : running_)
        all.append(job.state);
    return all;
}

} // namespace wendrix::app
