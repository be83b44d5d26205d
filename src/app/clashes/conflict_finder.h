#pragma once

#include "clashes/clash_view.h"
#include "shell/session.h"

#include <QObject>
#include <QThreadPool>

#include <atomic>
#include <memory>

namespace wendrix::app {

/// Works out what there is to be seen of pairs, beside the interface thread. A later question makes an earlier one
/// void.
/// What takes no longer than a blink is answered at once, so that it is in the first picture already.
class ConflictFinder final : public QObject {
    Q_OBJECT
public:
    explicit ConflictFinder(Session& session, QObject* parent = nullptr);
    ~ConflictFinder() override;

    using Answer = std::function<void(const std::vector<clash::Conflict>&)>;
    void ask(ConflictOrder order, Answer then);
    void forget(); ///< nobody is answered any more

private:
    Session& session_;
    void give(int number, const std::vector<clash::Conflict>& conflicts);

    std::shared_ptr<std::atomic<int>> latest_ = std::make_shared<std::atomic<int>>(0);
    std::shared_ptr<void> awaited_; ///< while an answer is
    Answer then_;
    QThreadPool pool_;
};

} // namespace wendrix::app
