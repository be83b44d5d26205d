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
    [[nodiscard]] int waiting() const override;
    void refresh() override;
    void enter() override;
    bool press(Qt::Key key) override;
    [[nodiscard]] QVector<QPair<QString, QString>> keys() const override;

private:
    void showChosenRow() override { showChosen(true); }
    void fillList();
    void showChosen(bool movesView);
    void showDetails(const federation::Member& member, const federation::Member& reference);
    void compareDeclared(const federation::Member& member, const federation::Member& reference);
    void apply();
    void unlock();

    Details* declared_;
    std::map<std::string, federation::Standing> standings_; ///< by discipline
};

} // namespace wendrix::app
