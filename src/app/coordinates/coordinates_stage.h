#pragma once

#include "shell/stage.h"

#include "core/federation/standing.h"

namespace wendrix::app {

/// Coordinates: how each member stands on the reference, the fit that would bring it there, residuals at every
/// crossing; applied and locked.
class CoordinatesStage final : public Stage {
    Q_OBJECT
public:
    CoordinatesStage(const StageContext& context, QObject* parent);

    [[nodiscard]] QString title() const override { return "Coordinates"; }
    [[nodiscard]] QString iconName() const override { return "compass"; }
    [[nodiscard]] QWidget* list() override { return list_; }
    [[nodiscard]] int waiting() const override;
    void refresh() override;
    void enter() override;
    bool press(Qt::Key key) override;
    void step(int by) override { list_->step(by); }
    [[nodiscard]] QVector<QPair<QString, QString>> keys() const override;

private:
    void fillList();
    void showChosen(bool movesView);
    void showDetails(const federation::Member& member, const federation::Member& reference);
    void compareDeclared(const federation::Member& member, const federation::Member& reference);
    void apply();
    void unlock();

    Worklist* list_;
    Details* declared_;
    std::map<std::string, federation::Standing> standings_; ///< by discipline
};

} // namespace wendrix::app
