#pragma once

#include "shell/stage.h"

#include "core/clash/grouping.h"

namespace wendrix::app {

/// Clashes: groups and pairs with both counts; choosing one brings the view there; deciding settles it.
class ClashesStage final : public ListStage {
    Q_OBJECT
public:
    ClashesStage(const StageContext& context, QObject* parent);

    [[nodiscard]] QString iconName() const override { return "scan"; }
    [[nodiscard]] int waiting() const override;
    [[nodiscard]] QMap<QString, int> storeyCounts() const override;
    void setStorey(const QString& storey) override;
    void refresh() override;
    void enter() override;
    bool press(Qt::Key key) override;
    [[nodiscard]] QVector<QPair<QString, QString>> keys() const override;

private:
    void showChosenRow() override { show(true); }
    /// Pairs that share an element, as the list shows them.
    struct Group {
        QString id, title, test;
        std::vector<std::size_t> pairs; ///< into pairs_
        bool isLeft = true;             ///< the side of the shared element
    };
    void fillList();
    void regroup();
    void show(bool movesView);
    void showDetails();
    void decide(const QString& decision);
    void makeIssue();
    [[nodiscard]] bool isWanted(const project::Pair& pair) const;
    [[nodiscard]] std::vector<std::size_t> chosenPairs() const;
    [[nodiscard]] const Group* chosenGroup() const;
    [[nodiscard]] std::vector<project::Pair> pairsAt(const std::vector<std::size_t>& chosen) const;
    [[nodiscard]] QString titleOf(const std::vector<std::size_t>& chosen) const;
    [[nodiscard]] issues::Viewpoint viewpoint(const std::vector<std::size_t>& pairs);

    QString filter_ = "undecided";
    std::vector<project::Pair> pairs_;
    std::vector<Group> groups_;
};

} // namespace wendrix::app
