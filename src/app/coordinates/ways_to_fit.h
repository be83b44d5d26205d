#pragma once

#include "core/coordinates/diagnosis.h"
#include "core/coordinates/hand_fit.h"
#include "core/federation/grid_fit.h"
#include "core/federation/member.h"

#include <QString>
#include <QVector>

#include <functional>
#include <memory>

namespace wendrix::app {

class Details;

/// One way to bring a member onto the reference, with what it leaves or why it can not.
struct WayToFit {
    QString id;    ///< as the fit is kept with: "grids"
    QString title; ///< "Grids, by name"
    Result<coordinates::Alignment> found;
    bool isProven = false; ///< by hand: what was taken tells turn, place and height
};
inline const QString kHandWay = "hand";

/// All of them side by side, and why the member does not stand right as it was delivered. Worked out once for a pair of
/// models, on any thread.
struct WaysToFit {
    std::shared_ptr<const ifc::Model> reference, member;
    QVector<WayToFit> all; ///< the surest first
    coordinates::Diagnosis diagnosis;

    [[nodiscard]] static std::shared_ptr<const WaysToFit> of(const federation::Member& reference,
                                                             const federation::Member& member);
    [[nodiscard]] bool isOf(const federation::Member& r, const federation::Member& m) const
    {
        return r.model == reference && m.model == member;
    }
    [[nodiscard]] const WayToFit* find(const QString& id) const;
    /// The first that found a fit in plan, too; null where none did.
    [[nodiscard]] const WayToFit* best() const;
};

/// By what was taken by hand, from where the member stands now; where nothing of it tells the height, the storeys do.
[[nodiscard]] WayToFit handWay(const federation::Member& reference, const federation::Member& member,
                               const std::vector<coordinates::HandPair>& pairs, federation::Scale scale);

/// The causes as sentences with what to do; what is only guessed stands last and says so.
void addCauses(Details& details, const coordinates::Diagnosis& diagnosis);
/// A table of the ways, and a button for each that found a fit.
void addWays(Details& details, const QVector<const WayToFit*>& ways, const QString& chosen,
             const std::function<void(const QString& id)>& choose);

} // namespace wendrix::app
