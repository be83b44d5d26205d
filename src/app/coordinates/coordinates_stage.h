#pragma once

#include "coordinates/ways_to_fit.h"
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
    [[nodiscard]] QString helpPage() const override { return "coordinates.md"; }

private:
    void refresh() override;
    void showChosenRow() override { showChosen(true); }
    void fillList();
    void showChosen(bool movesView);
    void showDetails(const federation::Member& member, const federation::Member& reference);
    /// A fit in numbers with what it leaves: of a way that is proposed, else the one in force.
    void addFit(const federation::Member& member, const federation::Member& reference, const WayToFit* way,
                const project::StoredFit& stored);
    void compareDeclared(const federation::Member& member, const federation::Member& reference);
    /// Works out the ways to fit beside the interface thread, then shows them.
    void findWays(const federation::Member& member, const federation::Member& reference);
    /// The way that is chosen for the member, or the best; null where none is known or none found a fit.
    [[nodiscard]] const WayToFit* chosenWay(const federation::Member& member,
                                            const federation::Member& reference) const;
    void apply();
    void askCorrected();
    /// The page that tells the member's team what to mend.
    void askSheet();
    void unlock();
    void acceptAsItStands();
    /// The worst model of a discipline: what is wrong with any is wrong with the delivery.
    [[nodiscard]] const federation::Member* find(const std::string& discipline) const;

    Details* declared_;
    std::shared_ptr<const WaysToFit> ways_; ///< of the member that is chosen, once they are known
    QString way_;                           ///< the one that a person chose
    bool isApplyWanted_ = false;            ///< as soon as they are known
};

} // namespace wendrix::app
