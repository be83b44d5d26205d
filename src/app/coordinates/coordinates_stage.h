#pragma once

#include "coordinates/hand_tool.h"
#include "coordinates/ways_to_fit.h"
#include "shell/stage.h"

#include "core/federation/standing.h"

class QButtonGroup;

namespace wendrix::app {

inline const QString kHandTool = "fitByHand", kPlacePanel = "projectPlace";
/// What is being written in the details stays until it is settled.
inline const QString kCoordinatesForm = "coordinatesForm";

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
    void choose(const QString& id) override; ///< a discipline, or one of its models
    [[nodiscard]] QVector<QPair<QString, QString>> keys() const override;
    [[nodiscard]] QString helpPage() const override { return "coordinates.md"; }
    [[nodiscard]] QVector<ToolEntry> tools() override;
    [[nodiscard]] HandTool& hand() { return *hand_; }

private:
    void refresh() override;
    void showChosenRow() override { showChosen(true); }
    void fillList();
    void showChosen(bool movesView);
    /// Both grids, what is left at their crossings, and the member where it is to be shown.
    void showScene(const federation::Member& member, const federation::Member& reference);
    /// The fit that is looked at: a way that is proposed, else the one in force.
    [[nodiscard]] federation::Fit fitLookedAt(const federation::Member& member,
                                              const federation::Member& reference) const;
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
    [[nodiscard]] bool areWaysKnown(const federation::Member& member, const federation::Member& reference) const
    {
        return ways_ != nullptr && ways_->isOf(reference, member);
    }
    /// Those by hand and by numbers first, then those worked out.
    [[nodiscard]] QVector<const WayToFit*> allWays() const;
    void nextWay();
    void chooseWay(const QString& id);
    void apply();
    void sayNothingFits(const WaysToFit& ways); ///< why none of them is proposed
    void lock(const federation::Member& member, const federation::Member& reference, const WayToFit& way);
    void askCorrected();
    /// The page that tells the member's team what to mend.
    void askSheet();
    void askUnlock();
    void acceptAsItStands();
    /// The model that is chosen in the list; null where none is.
    [[nodiscard]] const federation::Member* chosenMember() const;
    [[nodiscard]] const federation::Standing& standingOf(const federation::Member& member) const;
    [[nodiscard]] bool isLocked(const federation::Member& member) const;

    // By hand
    enum class Placement { AsItStands, Fitted, Beside };
    void leave() override;
    QWidget* handRow();
    void setPlacement(Placement placement);
    /// Where a member is shown: as it stands, with the fit that is looked at, or beside the reference.
    [[nodiscard]] federation::Fit shownFit(const federation::Member& m, const federation::Member& member,
                                           const federation::Member& reference) const;
    [[nodiscard]] federation::Fit fitInForce(const federation::Member& m) const;
    void placeMembers();
    void fitByHand();
    void addHand();
    void askPair();
    void askNumbers();
    void endForm();

    // The project's own coordinates
    void showPlace();
    void showPlacePoints(const coordinates::ProjectPlace& place, const federation::Member& reference);
    [[nodiscard]] coordinates::Agreement agreementOf(const federation::Member& member) const;
    void askTakeOver(const std::string& title); ///< with before and after side by side
    void askPlaceSheet();
    void askLimit(); ///< up to where a member stands right

    Details* declared_;
    std::shared_ptr<const WaysToFit> ways_; ///< of the member that is chosen, once they are known
    QVector<WayToFit> own_;                 ///< by hand and by numbers, of the same
    QString way_;                           ///< the one that a person chose
    HandTool* hand_;
    QButtonGroup* places_ = nullptr;
    Placement placement_ = Placement::AsItStands;
    /// Where it stands beside the reference.
    mutable std::optional<std::pair<std::shared_ptr<const ifc::Model>, federation::Fit>> beside_;
    bool isScaleFree_ = false;
};

/// How many times as long as they are residuals are drawn, so that they can be seen: a round number.
[[nodiscard]] double arrowStretch(const std::vector<federation::Residual>& residuals);

} // namespace wendrix::app
