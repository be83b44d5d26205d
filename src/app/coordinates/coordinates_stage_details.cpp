#include "coordinates/coordinates_stage.h"

#include "coordinates/lengths.h"
#include "coordinates/residual_plan.h"
#include "core/base/text.h"
#include "core/coordinates/declared.h"

/// The stage's panels: what both files declare, why the member stands wrong, the ways to fit it, and what one leaves.
namespace wendrix::app {

void CoordinatesStage::compareDeclared(const federation::Member& member, const federation::Member& reference)
{
    const auto rows = coordinates::compareDeclared({*reference.model, reference.geometry->bounds()},
                                                   {*member.model, member.geometry->bounds()});
    QVector<QStringList> table;
    QStringList sentences;
    for (const coordinates::Declared& row : rows) {
        const bool isOther = !row.difference.empty();
        table.append({q(row.what), q(row.reference), (isOther ? "≠ " : "") + q(row.moving)});
        if (isOther)
            sentences.append(q(row.what) + ": " + q(row.difference));
    }
    declared_->addHeading(q(member.title()) + " beside the reference");
    declared_->addTable({"", "Reference", q(member.revision)}, table, "declared");
    for (const QString& sentence : sentences)
        declared_->addText(sentence);
    declared_->finish();
}

void CoordinatesStage::showDetails(const federation::Member& member, const federation::Member& reference)
{
    Details& d = at_.details;
    d.clear();
    const federation::Standing& standing = *at_.session.standingOf(member.discipline);
    const project::StoredFit stored = orNothing(at_.session.project().coordinates().fitInUse(member.discipline));
    d.addCaption(stored.isLocked ? "Fit, locked" : "Fit, not locked");
    d.addTitle("Fit " + q(member.delivery()));
    const bool areWaysKnown = ways_ != nullptr && ways_->isOf(reference, member);
    if (!standing.isVerified() && areWaysKnown && !ways_->diagnosis.causes.empty())
        addCauses(d, ways_->diagnosis);
    else if (!standing.isVerified())
        d.addText("Likely cause: " + q(federation::inWords(standing.causes)));
    if (!standing.isVerified() && !stored.isAccepted)
        d.addText("Until it stands right, or somebody says that it is to be tested as it stands, no clash is looked "
                  "for in it.",
                  false);
    if (!areWaysKnown)
        d.addText("Looking for ways to fit it …");
    const WayToFit* way = chosenWay(member, reference);
    const bool isProposal = !stored.isLocked && way != nullptr;
    if (areWaysKnown && !stored.isLocked)
        addWays(d, *ways_, way != nullptr ? way->id : QString(), [this](const QString& id) {
            way_ = id;
            showChosen(false);
        });
    if (areWaysKnown || stored.isLocked)
        addFit(member, reference, isProposal ? way : nullptr, stored);
    if (areWaysKnown && (way != nullptr || stored.isLocked))
        d.addButtons({{"coordinateSheet", "Coordinate sheet for the team…", "", false, true, [this] { askSheet(); }}});
    if (stored.isLocked)
        d.addButtons({{"unlockFit", "Unlock", "", false, true, [this] { unlock(); }},
                      {"writeCorrected", "Write it corrected…", "", false, true, [this] { askCorrected(); }}});
    else
        d.addButtons({{"applyFit", "Apply and lock", "A", true, way != nullptr, [this] { apply(); }},
                      {"acceptAsItStands", "Test it as it stands", "", false,
                       !standing.isVerified() && !stored.isAccepted, [this] { acceptAsItStands(); }}});
    if (stored.isAccepted)
        d.addText("To be tested as it stands, says " + q(stored.by.person) + ", " + q(timeInWords(stored.by.time)) +
                  ".");
    if (stored.isLocked)
        d.addText("Locked by " + q(stored.by.person) + ", " + q(timeInWords(stored.by.time)) +
                  ". The next revision is measured against it before any clash is counted.");
    d.finish();
}

void CoordinatesStage::addFit(const federation::Member& member, const federation::Member& reference,
                              const WayToFit* way, const project::StoredFit& stored)
{
    Details& d = at_.details;
    const federation::Fit& fit = way != nullptr ? way->found->fit : stored.fit;
    d.addHeading(way != nullptr ? way->title : QString("In force"));
    d.addFact("Move", metres(fit.translation.x) + " · " + metres(fit.translation.y) + " · " +
                          metres(fit.translation.z) + QChar(0x00A0) + "m");
    d.addFact("Turn", QString::number(std::round(toDegrees(fit.rotation) * 1e4) / 1e4 + 0.0, 'f', 4) + "°");
    d.addFact("Scale", fit.scale == 1 ? "1 : 1" : QString::number(fit.scale, 'g', 9));
    d.addHeading(way != nullptr ? "Residuals with this fit, mm" : "Residuals, mm");
    const auto residuals = federation::residualsOf(*reference.model, *member.model, fit);
    addResiduals(d, residuals);
    double sum = 0, off = 0;
    const federation::Residual* worst = nullptr;
    for (const federation::Residual& r : residuals) {
        sum += r.distance.value;
        if (worst == nullptr || r.distance > worst->distance)
            worst = &r;
    }
    if (worst != nullptr)
        d.addText(QString("%1 crossings, %2 mm mean, %3 mm worst at %4.")
                      .arg(residuals.size())
                      .arg(sum / static_cast<double>(residuals.size()) * 1000, 0, 'f', 1)
                      .arg(millimetres(worst->distance), q(worst->name())),
                  false);
    else if (way != nullptr && !way->found->left.empty())
        d.addText(QString("No crossing has the same name in both; %1 places that lie on each other leave %2 mm.")
                      .arg(way->found->left.size())
                      .arg(millimetres(way->found->rms)),
                  false);
    else
        d.addText("Nothing that both have checks it.", false);
    const auto heights = coordinates::storeyShift(*reference.model, *member.model, fit.scale);
    if (heights)
        for (const auto& [i, j] : heights->pairs)
            off = std::max(off, std::abs(fit.scale * member.model->storeys()[i].height.value + fit.translation.z -
                                         reference.model->storeys()[j].height.value));
    if (heights)
        d.addText(off < 0.001 ? "Storeys agree." : "Storeys differ by up to " + q(lengthInWords(Metres{off})) + ".",
                  false);
    if (way != nullptr)
        for (const std::string& warning : way->found->warnings)
            d.addText("! " + q(warning), false);
    else if (const WayToFit* tried = ways_ != nullptr && !stored.isLocked ? ways_->find("grids") : nullptr;
             tried != nullptr && !tried->found)
        d.addText(q(tried->found.error().inWords()));
}

} // namespace wendrix::app
