#pragma once

#include <QObject>
#include <QString>
#include <QThreadPool>
#include <QVector>

#include "core/base/progress.h"

#include <functional>
#include <memory>
#include <vector>

namespace wendrix::app {

/// Long work beside the interface thread: several jobs side by side, each with its progress and its own cancel.
///
/// Jobs of one lane exclude each other, since they end by putting the same thing in place.
class Jobs final : public QObject {
    Q_OBJECT
public:
    enum class Lane { Opening, Composition, Tests, Inside, Before, Comparing, Receiving, Checking, Reporting };
    explicit Jobs(QObject* parent = nullptr);
    ~Jobs() override;

    /// What is then done on the interface thread.
    using Finish = std::function<void()>;
    /// Works on values, on another thread.
    using Work = std::function<Finish(Progress&)>;
    /// @return false where its lane is taken; then nothing was begun
    bool run(Lane lane, const QString& what, Work work);
    [[nodiscard]] bool isBusy(Lane lane) const;
    [[nodiscard]] bool isBusy() const { return !running_.empty(); }
    void cancel(int id);
    void cancelAll();
    /// Cancels all, and nothing of what they then would have done is done: what it was for is no longer there.
    void abandonAll();
    void waitForDone(); ///< until no thread of it works any more

    struct State {
        int id = 0;
        QString words; ///< what is being done
        int percent = 0;
    };
    [[nodiscard]] QVector<State> states() const; ///< oldest first

signals:
    void changed();                   ///< one began, went on or ended
    void ended();                     ///< the last one that ran did
    void stopped(const QString& why); ///< one broke off by a fault of ours

private:
    struct Job {
        State state;
        Lane lane;
        std::shared_ptr<Progress> progress;
        bool isAbandoned = false;
    };
    [[nodiscard]] Job* find(int id);
    std::vector<Job> running_;
    QThreadPool pool_; ///< of its own: other work beside the interface thread must not wait for a job to end
    int lastId_ = 0;
};

} // namespace wendrix::app
