#pragma once

#include "core/project/issue_exchange.h"
#include "shell/stage.h"

#include <functional>

namespace wendrix::app {

/// What a BCF file brings, topic by topic, before anything of it is taken over: what is new on either side, and what
/// both changed, to be decided field by field with both sides in sight.
class MergePage final : public QObject {
    Q_OBJECT
public:
    MergePage(const StageContext& context, QObject* parent);

    [[nodiscard]] Worklist* list() { return list_; }
    [[nodiscard]] bool isOpen() const { return incoming_ != nullptr; }
    void show(std::shared_ptr<const project::Incoming> incoming);
    /// The chosen topic in the details.
    void showChosen();
    bool press(Qt::Key key);

signals:
    void ended();                                                  ///< taken over, or left
    void topicShown(const wendrix::project::IncomingTopic& topic); ///< what the scene is to show

private:
    void fill();
    void decide(const QString& uuid, std::size_t difference, bool isTheirs);
    void decideAll(bool isTheirs);
    void setLeftOut(const QString& uuid, bool isLeftOut);
    void takeOver();
    [[nodiscard]] std::size_t undecided() const;
    [[nodiscard]] std::size_t undecidedOf(const project::IncomingTopic& topic) const;
    [[nodiscard]] const project::IncomingTopic* chosen() const;

    StageContext at_;
    Worklist* list_;
    QPushButton* take_;
    std::shared_ptr<const project::Incoming> incoming_;
    project::Decisions decisions_;
};

} // namespace wendrix::app
