#pragma once

#include "shell/stage.h"

#include "core/federation/standing.h"

namespace wendrix::app {

/// Coordinates: how each member stands on the reference, the fit that would bring it there, residuals at every
/// crossing; applied and locked.
class CoordinatesStage final : public ListStage {
    Q_OBJECT
public:
    CoordinatesStage(const StageContext& context, QObject* parent);

    [[nodiscard]] QString iconName() const override { return "compass"; }
    [[nodiscard]] unsigned books() const override;
    [[nodiscard]] Counting waiting() const override;
    void enter() override;
    bool press(Qt::Key key) override;
    [[nodiscard]] QVector<QPair<QString, QString>> keys() const override;
    [[nodiscard]] QString helpPage() const override { return "clashes.md"; }

private:
    void refresh() override;
    void showChosenRow() override { showChosen(true); }
    void fillList();
    void showChosen(bool movesView);
    void showDetails(const federation::Member& member, const federation::Member& reference);
    void compareDeclared(const federation::Member& member, const federation::Member& reference);
    void apply();
    void unlock();
    void acceptAsItStands();
    /// The worst model of a discipline: what is wrong with any is wrong with the delivery.
    [[nodiscard]] const federation::Member* find(const std::string& discipline) const;

    Details* declared_;
};

} // namespace wendrix::app
