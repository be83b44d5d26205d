#pragma once

#include "shell/stage.h"

#include "core/project/clash_list.h"

namespace wendrix::app {

/// Clashes: groups and pairs with both counts; choosing one brings the view there; deciding settles it.
class ClashesStage final : public ListStage {
    Q_OBJECT
public:
    ClashesStage(const StageContext& context, QObject* parent);

    [[nodiscard]] QString iconName() const override { return "scan"; }
    [[nodiscard]] unsigned books() const override;
    [[nodiscard]] Counting waiting() const override;
    [[nodiscard]] std::optional<int> waitingInList() const override
    {
        return static_cast<int>(pairs_->counts().undecided);
    }
    [[nodiscard]] QMap<QString, int> storeyCounts() const override;
    void setStorey(const QString& storey) override;
    void enter() override;
    [[nodiscard]] bool showsWhenRead() const override { return true; }
    void choose(const QString& id) override;
    bool press(Qt::Key key) override;
    [[nodiscard]] QVector<QPair<QString, QString>> keys() const override;
    [[nodiscard]] QString helpPage() const override { return "clashes.md"; }

private:
    void refresh() override;
    bool follow(const project::Changed& what) override;
    void showChosenRow() override { show(true); }
    struct Read {
        std::shared_ptr<const project::ClashList> list;
        std::optional<project::Run> lastRun;
    };
    void ask(std::function<Read(const project::Project&)> question);
    void fillList();
    void show(bool movesView);
    void showDetails(const std::vector<project::Pair>& pairs);
    void decide(const QString& decision);
    void makeIssue();
    [[nodiscard]] std::vector<project::PairId> chosenPairs() const;
    [[nodiscard]] QString titleOf(const std::vector<project::Pair>& pairs) const;
    [[nodiscard]] issues::Viewpoint viewpoint(const std::vector<project::Pair>& pairs);

    QString filter_ = "undecided", wanted_; ///< wanted: the row to choose once it is there
    std::shared_ptr<const project::ClashList> pairs_ = std::make_shared<project::ClashList>();
    std::optional<project::Run> lastRun_;
    bool isAwaited_ = false;    ///< a list that is asked for
    bool isNextWanted_ = false; ///< what was decided leaves the list: on to the next
};

} // namespace wendrix::app
