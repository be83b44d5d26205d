#include "deliveries/deliveries_stage.h"

#include "coordinates/lengths.h"
#include "coordinates/residual_plan.h"
#include "core/base/text.h"

namespace wendrix::app {

namespace {

constexpr std::size_t kMostHistory = 8;

QString inNumbers(const federation::Fit& fit)
{
    return QString::number(std::round(toDegrees(fit.rotation) * 1e4) / 1e4 + 0.0, 'f', 4) + "° · " +
           metres(fit.translation.x) + " · " + metres(fit.translation.y) + " · " + metres(fit.translation.z) + " m";
}

QString worstOf(Metres worst, bool isChecked) { return isChecked ? residualInWords(worst) : QString("unchecked"); }

} // namespace

void DeliveriesStage::showDetails()
{
    if (form_ != Form::None || !isFront() || !at_.session.hasProject())
        return; // what is being written stays
    Details& d = at_.details;
    d.clear();
    const auto delivery = orNothing(at_.session.project().deliveries().find(register_->chosen()));
    if (!delivery) {
        d.addText("No deliveries yet. Drop the IFC files that came in onto the register, or use Add files; they wait "
                  "here until you take them in.");
        d.finish();
        return;
    }
    const project::Delivery& x = *delivery;
    d.addTitle(q(x.name()) + " · " + q(x.title));
    d.addCaption(q(x.sender) + " · " + q(timeInWords(x.time)) + " · " + q(x.schema) + " · " +
                 q(counted(x.elements, "element", "elements")));
    addState(x);
    d.addHeading("Delivery");
    if (!x.suitability.empty())
        d.addFact("Suitability", q(x.suitability), q(project::suitabilityInWords(x.suitability)));
    if (!x.note.empty())
        d.addFact("Note", q(x.note));
    d.addFact("Looked at", x.lookedAt.person.empty() ? QString("by nobody yet") : q(x.lookedAt.person),
              x.lookedAt.person.empty() ? QString() : q(timeInWords(x.lookedAt.time)));
    for (const project::ModelFile& model : x.models())
        d.addFact("Model", q(model.fileName),
                  q(counted(model.elements, "element", "elements")) + " · SHA-256 " + q(model.sha256.substr(0, 12)) +
                      "…");
    for (const project::Document& document : orNothing(at_.session.project().deliveries().documentsOf(x.id)))
        d.addFact("Document", q(document.fileName));
    addHistory(x);
    d.addButtons({{"describe", "Describe", {}, false, true, [this] { showForm(Form::Describe); }},
                  {"leaveOut", "Leave out classes", {}, false, x.isUsed() && !at_.session.pastCycle(), [this] {
                       showForm(Form::LeaveOut);
                   }}});
    // The one before it, or the next where it is the first.
    const project::Delivery* other = nullptr;
    const auto all = orNothing(at_.session.project().deliveries().all());
    for (const project::Delivery& one : all)
        if (one.discipline == x.discipline && one.id != x.id &&
            (other == nullptr ||
             (one.id < x.id ? one.id > other->id || other->id > x.id : other->id > x.id && one.id < other->id)))
            other = &one;
    if (other != nullptr)
        d.addButtons({{"compareDelivery",
                       "Compare with " + q(other->revision),
                       {},
                       false,
                       !at_.session.pastCycle(),
                       [this, from = std::min(x.id, other->id), to = std::max(x.id, other->id)] {
                           emit compareWanted(from, to);
                       }}});
    d.finish();
}

void DeliveriesStage::addState(const project::Delivery& x)
{
    Details& d = at_.details;
    const auto used = orNothing(at_.session.project().deliveries().inUse(x.discipline));
    const Details::Button look{
        "lookInside", "Look inside", "Enter", false, !at_.session.isComposing() && !at_.session.pastCycle(), [this] {
            lookInside();
        }};
    switch (x.state) {
    case project::DeliveryState::Waiting:
        if (const project::MovedPlace* moved = movedOf(x)) {
            addMoved(*moved, x);
            break;
        }
        d.addText(used ? "The federation is on " + q(used->revision) +
                             ". Taking in compares the two, verifies the fit and runs the tests again."
                       : "Nothing of this discipline is in use yet.",
                  false);
        d.addButtons(
            {{"takeIn", "Take in " + q(x.revision), "T", true, !at_.session.isComposing(), [this] { takeIn(); }},
             look,
             {"decline", "Decline with a reason", "", false, true, [this] { decline(); }}});
        break;
    case project::DeliveryState::Held:
    case project::DeliveryState::InUse: {
        if (const auto held =
                orNothing(at_.session.project().deliveries().hold(x.discipline, at_.session.now().time))) {
            d.addText("Held" +
                          (held->until.empty() ? QString(" until it is released")
                                               : " until " + q(dayInWords(held->until + "T12:00:00Z"))) +
                          " by " + q(held->by.person) + (held->reason.empty() ? "." : ": " + q(held->reason)),
                      false);
            d.addButtons({{"release",
                           "Release: follow the latest again",
                           {},
                           false,
                           true,
                           [this, discipline = x.discipline] {
                               at_.session.write([discipline, who = at_.session.now()](project::Project& p) {
                                   return Session::saying(p.deliveries().release(discipline, who),
                                                          "Released: it follows the latest again.");
                               });
                           }},
                          look});
        } else {
            d.addText("In use: this is what the federation shows.", false);
            d.addButtons(
                {look, {"hold", "Hold at " + q(x.revision), {}, false, true, [this] { showForm(Form::Hold); }}});
        }
        const auto comparisons = orNothing(at_.session.project().changes().comparisonsOf(x.id));
        const auto counts = comparisons.empty()
                                ? std::map<project::ChangeKind, std::size_t>()
                                : orNothing(at_.session.project().changes().countsOf(comparisons[0].id));
        if (!counts.empty()) {
            d.addHeading("Against the delivery before");
            QVector<QStringList> rows;
            for (const auto& [kind, n] : counts)
                rows.append({QString("%1 %2").arg(changeLook(kind).sign, changeLook(kind).words), q(grouped(n))});
            d.addTable({}, rows, "changeCounts");
        }
        break;
    }
    case project::DeliveryState::Replaced:
        d.addText("Replaced by " + (used ? q(used->revision) : QString("a newer one")) + ".", false);
        d.addButtons({look});
        break;
    case project::DeliveryState::Declined:
        if (const project::MovedPlace* moved = movedOf(x)) {
            addMoved(*moved, x);
            break;
        }
        d.addText("Declined: " + q(x.declined), false);
        d.addButtons(
            {look, {"takeIn", "Take in after all", "T", false, !at_.session.isComposing(), [this] { takeIn(); }}});
        break;
    }
}

const project::MovedPlace* DeliveriesStage::movedOf(const project::Delivery& x) const
{
    const auto& moved = at_.session.moved();
    return moved && moved->delivery == x.id ? &*moved : nullptr;
}

void DeliveriesStage::addMoved(const project::MovedPlace& moved, const project::Delivery& x)
{
    Details& d = at_.details;
    d.addHeading("Taking in stopped: it no longer stands right");
    // What the fit in force takes care of is no news; what moved is.
    const bool hasMoved = std::any_of(moved.causes.begin(), moved.causes.end(),
                                      [](const auto& c) { return c.kind == coordinates::CauseKind::OriginMoved; });
    for (const coordinates::Cause& cause : moved.causes)
        if (cause.confidence >= coordinates::kLikelyEnough &&
            (!hasMoved || cause.kind == coordinates::CauseKind::OriginMoved)) {
            d.addText(q(cause.sentence), false);
            d.addText(q(cause.remedy));
        }
    if (!moved.standing.empty())
        d.addText(q(moved.title) + " with the fit in force: " + q(moved.standing) + ".", false);
    if (!moved.proposed && !moved.isReference)
        d.addText("No fit was found that brings more of it into place. Ask its team whether it is meant.");
    if (moved.isReference)
        d.addText("It is the reference: taken in so, every other member would be " + q(lengthInWords(moved.worst)) +
                      " off it, and every fit has to be made anew.",
                  false);
    const bool canGo = !at_.session.isComposing();
    QVector<Details::Button> buttons;
    if (moved.proposed)
        buttons.append(
            {"takeInFitted", "Take in with the proposed fit", "T", true, canGo, [this] { takeInMoved(true); }});
    buttons.append({"takeInMoved", "Take in where it stands", "", false, canGo, [this] { takeInMoved(false); }});
    if (x.state != project::DeliveryState::Declined)
        buttons.append({"decline", "Decline with a reason", "", false, true, [this] { decline(); }});
    d.addButtons(buttons);
    d.addText("Nothing was compared or tested yet.");
    if (moved.isReference)
        return;
    d.addHeading("Fit");
    QVector<QStringList> rows{{"In force", inNumbers(moved.inForce.fit), worstOf(moved.worst, moved.worst.value > 0)}};
    if (moved.proposed)
        rows.append({"Proposed", inNumbers(moved.proposed->fit),
                     worstOf(Metres{moved.proposed->worst}, !moved.proposed->residuals.empty())});
    d.addTable({"", "Turn, then move", "Worst, mm"}, rows, "movedFits");
    d.addText(!moved.proposed
                  ? QString("No other fit brings it closer. Taken in where it stands it is not tested until "
                            "somebody says so under Coordinates.")
              : moved.proposed->method == "revision"
                  ? QString("The proposed one puts what both revisions have where it stood.")
                  : QString("The proposed one is by ") + q(moved.proposed->method) + ".");
}

void DeliveriesStage::addHistory(const project::Delivery& x)
{
    auto lines = orNothing(at_.session.project().log().of(project::DeliveriesBook::subjectOf(x.id)));
    const std::size_t all = lines.size();
    if (all > kMostHistory)
        lines.resize(kMostHistory);
    at_.details.addHeading("What was done with it");
    for (const project::HistoryLine& line : lines) {
        QString what = q(line.what);
        at_.details.addFact(q(timeInWords(line.by.time)), what.remove(": " + q(x.name())), "by " + q(line.by.person));
    }
    if (all > lines.size())
        at_.details.addText(QString("and %1 earlier steps, in the project's history").arg(all - lines.size()));
}

} // namespace wendrix::app
