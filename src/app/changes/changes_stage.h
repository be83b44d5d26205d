#pragma once

#include "shell/stage.h"

namespace wendrix::app {

/// Changes: what the deliveries in use changed against those they replaced, one list over all disciplines.
class ChangesStage final : public ListStage {
    Q_OBJECT
public:
    ChangesStage(const StageContext& context, QObject* parent);

    [[nodiscard]] QString iconName() const override { return "git-compare"; }
    [[nodiscard]] int waiting() const override;
    [[nodiscard]] QMap<QString, int> storeyCounts() const override;
    void setStorey(const QString& storey) override;
    void refresh() override;
    void enter() override;
    bool press(Qt::Key key) override;
    [[nodiscard]] QVector<QPair<QString, QString>> keys() const override;

private:
    void showChosenRow() override { show(true); }
    void read(); ///< the project's changes, where they are not known yet
    void fillList();
    void show(bool movesView);
    void showDetails(const project::ChangeRecord& change);
    void review(const char* word);
    [[nodiscard]] const project::ChangeRecord* chosen() const;
    /// The element in the revision laid under.
    [[nodiscard]] std::optional<view::ElementKey> findBefore(const project::ChangeRecord& change) const;

    bool isStale_ = true; ///< there may be hundreds of thousands: read when somebody looks
    unsigned filter_ = 0; ///< of project::ChangeKind; 0 for all
    std::vector<project::ChangeRecord> changes_;
};

} // namespace wendrix::app
