#pragma once

#include "shell/session.h"

#include <QObject>
#include <QThreadPool>

#include <atomic>
#include <functional>
#include <memory>

namespace wendrix::app {

/// Works something out beside the interface thread, for what is looked at now: a later question makes an earlier one
/// void. What takes no longer than a blink is answered at once, so that it is in the first picture already.
class LatestAnswer final : public QObject {
    Q_OBJECT
public:
    explicit LatestAnswer(Session& session, QObject* parent = nullptr);
    ~LatestAnswer() override;

    using IsVoid = std::function<bool()>;
    /// Works on values, on another thread; gives what is then done here.
    using Work = std::function<std::function<void()>(const IsVoid& isVoid)>;
    void ask(Work work);
    void forget(); ///< nobody is answered any more

private:
    void give(int number, const std::function<void()>& then);

    Session& session_;
    std::shared_ptr<std::atomic<int>> latest_ = std::make_shared<std::atomic<int>>(0);
    std::shared_ptr<void> awaited_; ///< while an answer is
    bool isGiven_ = true;
    QThreadPool pool_;
};

} // namespace wendrix::app
