#include "shell/composition_chips.h"

#include "core/base/text.h"
#include "shell/stage.h"

namespace wendrix::app {

QVector<CompositionBar::Chip> chipsOf(const Session& session)
{
    QVector<CompositionBar::Chip> chips;
    const bool isPast = session.pastCycle().has_value();
    const auto federations = orNothing(session.project().setup().federations());
    const project::Workspace& workspace = session.workspace();
    for (const project::Discipline& d : orNothing(session.project().setup().disciplines())) {
        std::optional<project::Delivery> used;
        if (!isPast)
            used = orNothing(session.project().deliveries().inUse(d.name));
        else if (const auto there = workspace.allOf(d.name); !there.empty())
            used = orNothing(session.project().deliveries().find(workspace.deliveries[there[0]]));
        const bool isMember = std::all_of(federations.begin(), federations.end(), [&](const auto& f) {
            return f.name != session.federation() || f.has(d.name);
        });
        if (!used || !isMember)
            continue;
        const std::size_t behind = isPast ? 0 : orNothing(session.project().deliveries().waitingBehind(d.name));
        const project::StoredFit fit = orNothing(session.project().coordinates().fitOf(*used));
        // What is measured counts, not who said what: a member that stands right as delivered is aligned.
        const federation::Standing* standing = session.standingOf(d.name);
        const bool isAligned = d.isReference || (standing != nullptr ? standing->isVerified() : fit.isLocked);
        const bool isHeld = !isPast && used->state == project::DeliveryState::Held;
        CompositionBar::Chip chip;
        chip.discipline = q(d.name);
        chip.revision = q(used->revision);
        const auto missing = std::find_if(workspace.missing.begin(), workspace.missing.end(),
                                          [&](const project::RunMember& m) { return m.delivery == used->id; });
        const bool isWhollyMissing = missing != workspace.missing.end() && workspace.find(d.name) == nullptr;
        if (missing != workspace.missing.end() && !isWhollyMissing)
            chip.states += "not all there";
        if (isWhollyMissing) {
            chip.states += "not there";
            chip.signs += "!";
            chip.isLoud = true;
            chip.tip = "Not shown and not tested: " + q(missing->why) + ".";
            chip.colour = QColor(q(d.colour));
            chips.append(chip);
            continue;
        }
        if (!isAligned) {
            chip.states += fit.isAccepted ? "as it stands" : "not aligned";
            chip.signs += "≠";
        }
        const QString count = QString::number(behind);
        if (behind > 0)
            chip.states += isHeld ? "held, " + count + " behind" : count + " newer";
        else if (isHeld)
            chip.states += "held";
        if (isHeld || behind > 0)
            chip.signs += (isHeld ? "■" : "◆") + (behind > 0 ? count : QString());
        chip.isLoud = isHeld || (!isAligned && !fit.isAccepted);
        chip.isLocked = fit.isLocked && !d.isReference;
        chip.tip =
            (d.isReference ? QString("The reference. ")
             : isAligned   ? (fit.isLocked ? QString("Aligned and locked. ") : QString("Stands right as delivered. "))
             : fit.isAccepted ? "Not aligned; tested as it stands, says " + q(fit.by.person) + ". "
                              : "Not aligned yet, so not tested. ") +
            (d.leftOut.empty() ? QString() : q(counted(d.leftOut.size(), "class is", "classes are")) + " left out. ") +
            "Click to show or hide it.";
        if (missing != workspace.missing.end()) {
            chip.isLoud = true;
            chip.tip.prepend("One of its models is not shown and not tested: " + q(missing->why) + ". ");
        }
        chip.colour = QColor(q(d.colour));
        chips.append(chip);
    }
    return chips;
}

} // namespace wendrix::app
