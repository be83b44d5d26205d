#include "coordinates/ways_to_fit.h"

#include "coordinates/residual_plan.h"
#include "core/base/text.h"
#include "shell/details.h"

#include <cmath>

namespace wendrix::app {

namespace {

const QString kStoreys = "storeys";

QString q(const std::string& text) { return QString::fromStdString(text); }

} // namespace

std::shared_ptr<const WaysToFit> WaysToFit::of(const federation::Member& reference, const federation::Member& member)
{
    auto ways = std::make_shared<WaysToFit>();
    ways->reference = reference.model;
    ways->member = member.model;
    const ifc::Model &r = *reference.model, &m = *member.model;
    ways->all = {{"grids", "Grids, by name", coordinates::alignByGrids(r, m)},
                 {"pattern", "Grids, by spacing", coordinates::alignByPattern(r, m)},
                 {"georeference", "As declared", coordinates::alignByGeoreference(r, m)},
                 {kStoreys, "Storeys, height alone", coordinates::alignByStoreys(r, m)}};
    ways->diagnosis = coordinates::diagnose({r, reference.geometry->bounds()}, {m, member.geometry->bounds()});
    return ways;
}

const WayToFit* WaysToFit::find(const QString& id) const
{
    const auto found = std::find_if(all.begin(), all.end(), [&](const WayToFit& way) { return way.id == id; });
    return found == all.end() ? nullptr : &*found;
}

const WayToFit* WaysToFit::best() const
{
    const auto found = std::find_if(all.begin(), all.end(), [](const WayToFit& way) {
        return way.found.has_value() && !way.found->isDoubtful && way.id != kStoreys;
    });
    return found == all.end() ? nullptr : &*found;
}

WayToFit handWay(const federation::Member& reference, const federation::Member& member,
                 const std::vector<coordinates::HandPair>& pairs, federation::Scale scale)
{
    const QString title = "By hand, " + q(counted(pairs.size(), "pair", "pairs"));
    auto hand = coordinates::fitByHand(pairs, member.fit, scale);
    if (!hand)
        return {kHandWay, title, fail(hand.error())};
    coordinates::Alignment& a = hand->alignment;
    if (!hand->tellsHeight)
        if (const auto storeys = coordinates::storeyShift(*reference.model, *member.model, a.fit.scale)) {
            a.fit.translation.z = storeys->by.value;
            a.warnings.pop_back(); // that nothing tells the height
            a.warnings.emplace_back("Height by storeys.");
            hand->tellsHeight = true;
        }
    const bool isProven = hand->tellsTurn && hand->tellsPlace && hand->tellsHeight;
    return {kHandWay, title, std::move(a), isProven};
}

void addCauses(Details& d, const coordinates::Diagnosis& diagnosis)
{
    if (!diagnosis.contradictions.empty())
        d.addHeading("Declarations that contradict each other");
    for (const coordinates::Cause& one : diagnosis.contradictions) {
        d.addText(q(one.sentence), false);
        d.addText(q(one.remedy));
    }
    if (diagnosis.causes.empty())
        return;
    d.addHeading("Why");
    for (const coordinates::Cause& cause : diagnosis.causes)
        if (cause.confidence >= coordinates::kLikelyEnough) {
            d.addText(q(cause.sentence), false);
            d.addText(q(cause.remedy));
        }
    for (const coordinates::Cause& cause : diagnosis.causes)
        if (cause.confidence < coordinates::kLikelyEnough)
            d.addText("Less likely: " + q(cause.sentence));
}

void addWays(Details& d, const QVector<const WayToFit*>& ways, const QString& chosen,
             const std::function<void(const QString& id)>& choose)
{
    d.addHeading("Ways to fit, side by side");
    QVector<QStringList> rows;
    QVector<Details::Button> buttons;
    for (const WayToFit* each : ways) {
        const WayToFit& way = *each;
        if (!way.found) {
            rows.append({way.title, "–", "–", "–"});
            continue;
        }
        const coordinates::Alignment& a = *way.found;
        double worst = 0;
        for (const coordinates::Left& left : a.left)
            worst = std::max(worst, left.distance.value);
        const Vector3 t = a.fit.translation;
        rows.append({way.id == chosen ? way.title + " ◂" : way.title,
                     QString::number(std::round(toDegrees(a.fit.rotation) * 100) / 100 + 0.0, 'f', 2) + "°",
                     q(lengthInWords(Metres{length(t)})),
                     a.left.empty() ? QString("unchecked") : residualInWords(Metres{worst})});
        buttons.append(
            {"way-" + way.id, way.title, "", false, way.id != chosen, [choose, id = way.id] { choose(id); }});
    }
    d.addTable({"", "Turn", "Move", "Worst, mm"}, rows, "waysToFit");
    if (!buttons.isEmpty())
        d.addButtons(buttons);
}

} // namespace wendrix::app
