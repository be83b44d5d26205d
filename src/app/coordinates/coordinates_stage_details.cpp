#include "coordinates/coordinates_stage.h"

#include "coordinates/lengths.h"
#include "coordinates/residual_plan.h"
#include "core/base/text.h"
#include "core/coordinates/declared.h"

/// The stage's panels: what both files declare, why the member stands wrong, the ways to fit it, and what one leaves.
namespace wendrix::app {

namespace {

/// Who unlocked the fit and why, where that was the last thing done with it.
QString whyUnlocked(const project::Project& project, const std::string& discipline)
{
    const auto lines = orNothing(project.log().of(project::CoordinatesBook::subjectOf(discipline)));
    const std::string start = "Unlocked: " + discipline + ": ";
    return !lines.empty() && lines[0].what.starts_with(start)
               ? "Unlocked by " + q(lines[0].by.person) + ", " + q(timeInWords(lines[0].by.time)) + ": " +
                     q(lines[0].what.substr(start.size()))
               : QString();
}

} // namespace

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
    const federation::Standing& standing = this->standingOf(member);
    const project::StoredFit stored = orNothing(at_.session.project().coordinates().fitInUse(member.discipline));
    d.addCaption(stored.isLocked ? "Fit, locked" : "Fit, not locked");
    d.addTitle("Fit " + q(member.title()));
    const bool isKnown = areWaysKnown(member, reference);
    if (!standing.isVerified() && isKnown && !ways_->diagnosis.causes.empty())
        addCauses(d, ways_->diagnosis);
    else if (!standing.isVerified())
        d.addText("It does not stand right: " + q(federation::whyNotVerified(standing)) + ".", false);
    else if (isKnown && !ways_->diagnosis.contradictions.empty())
        addCauses(d, ways_->diagnosis);
    if (!standing.isVerified() && !stored.isAccepted)
        d.addText("Until it stands right, or somebody says that it is to be tested as it stands, no clash is looked "
                  "for in it.",
                  false);
    if (!isKnown)
        d.addText("Looking for ways to fit it …");
    const WayToFit* way = chosenWay(member, reference);
    const bool isProposal = !stored.isLocked && way != nullptr;
    if (isKnown && !stored.isLocked)
        addWays(d, allWays(), way != nullptr ? way->id : QString(), [this](const QString& id) { chooseWay(id); });
    if (stored.isLocked)
        d.addButtons({{"unlockFit", "Unlock…", "", false, true, [this] { askUnlock(); }},
                      {"writeCorrected", "Write it corrected…", "", false, true, [this] { askCorrected(); }},
                      {"acceptAsItStands", "Test it as it stands", "", false,
                       !standing.isVerified() && !stored.isAccepted, [this] { acceptAsItStands(); }}});
    else
        d.addButtons({{"applyFit", "Apply and lock", "A", true, way != nullptr, [this] { apply(); }},
                      {"acceptAsItStands", "Test it as it stands", "", false,
                       !standing.isVerified() && !stored.isAccepted, [this] { acceptAsItStands(); }}});
    if (isKnown && !stored.isLocked)
        addHand();
    if (isKnown || stored.isLocked)
        addFit(member, reference, isProposal ? way : nullptr, stored);
    if (isKnown && (way != nullptr || stored.isLocked))
        d.addButtons({{"coordinateSheet", "Coordinate sheet for the team…", "", false, true, [this] { askSheet(); }}});
    if (!stored.pairs.empty()) {
        d.addHeading("Taken by hand");
        int number = 0;
        for (const coordinates::Left& left : coordinates::leftAtPairs(stored.pairs, stored.fit))
            d.addFact(QString::number(++number), q(left.at), residualInWords(left.distance) + " mm");
    }
    if (stored.isAccepted && stored.pairs.empty())
        d.addText("To be tested as it stands, says " + q(stored.by.person) + ", " + q(timeInWords(stored.by.time)) +
                  ".");
    if (const QString why = whyUnlocked(at_.session.project(), member.discipline); !stored.isLocked && !why.isEmpty())
        d.addText(why);
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
    addResiduals(d, residuals, at_.session.standsRight());
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
    if (const double stretch = arrowStretch(residuals); stretch > 1)
        d.addText(QString("The arrows in the scene are %1 times as long.").arg(q(plainNumber(stretch))));
    if (worst == nullptr && way != nullptr && !way->found->left.empty())
        d.addText(QString("No crossing has the same name in both; %1 places that lie on each other leave %2 mm.")
                      .arg(way->found->left.size())
                      .arg(millimetres(way->found->rms)),
                  false);
    else if (worst == nullptr)
        d.addText("Nothing that both have checks it.", false);
    d.addButtons({{"askLimit", "Stands right up to " + q(lengthInWords(at_.session.standsRight())) + "…", "", false,
                   true, [this] { askLimit(); }}});
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
