#pragma once

#include "shell/stage.h"

#include "core/project/change_list.h"

namespace wendrix::app {

/// Changes: what the deliveries in use changed against those they replaced, one list over all disciplines.
class ChangesStage final : public ListStage {
    Q_OBJECT
public:
    ChangesStage(const StageContext& context, QObject* parent);

    [[nodiscard]] QString iconName() const override { return "git-compare"; }
    [[nodiscard]] unsigned books() const override;
    [[nodiscard]] Counting waiting() const override;
    [[nodiscard]] QMap<QString, int> storeyCounts() const override;
    void setStorey(const QString& storey) override;
    void enter() override;
    [[nodiscard]] bool showsWhenRead() const override { return true; }
    bool press(Qt::Key key) override;
    [[nodiscard]] QVector<QPair<QString, QString>> keys() const override;

private:
    void refresh() override;
    void showChosenRow() override { show(true); }
    void fillList();
    void show(bool movesView);
    void showDetails(const project::ChangeRecord& change);
    void review(const char* word);
    [[nodiscard]] std::optional<project::ChangeRecord> chosen() const;
    /// Several changes in the colours of their kinds; one also with what it was before.
    [[nodiscard]] view::Subject subjectOf(const std::vector<project::ChangeRecord>& changes, bool isOne) const;
    /// The element in the revision laid under.
    [[nodiscard]] std::optional<view::ElementKey> findBefore(const project::ChangeRecord& change) const;

    unsigned filter_ = 0; ///< of project::ChangeKind; 0 for all
    std::shared_ptr<const project::ChangeList> changes_ = std::make_shared<project::ChangeList>();
};

} // namespace wendrix::app
