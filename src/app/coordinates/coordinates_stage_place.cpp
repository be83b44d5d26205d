#include "coordinates/coordinates_stage.h"

#include "coordinates/lengths.h"
#include "coordinates/sheet_export.h"
#include "core/base/number.h"
#include "core/base/text.h"
#include "core/coordinates/place_sheet.h"
#include "shell/form.h"
#include "shell/theme.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QLineEdit>

#include <set>

/// The stage's coordinates of the project: what they are and whose, whether every member agrees, taken over from
/// another one.
namespace wendrix::app {

namespace {

constexpr double kFar = 2000; // metres from the building, beyond which a point is not drawn
const QColor kPointColour{0x2B, 0x7A, 0x84};

/// Has something to take over.
bool declaresAPlace(const ifc::Georeference& g)
{
    return (g.eastings && g.northings) || (g.latitudeDegrees && g.longitudeDegrees) || g.trueNorth;
}

QString onMapInWords(const Point3& at) { return "E " + metres(at.x) + " N " + metres(at.y) + " H " + metres(at.z); }

} // namespace

void CoordinatesStage::showPlace()
{
    const federation::Member* reference = at_.session.reference();
    if (reference == nullptr)
        return;
    const coordinates::ProjectPlace place = at_.session.place();
    const auto agreed = orNothing(at_.session.project().coordinates().place());
    showPlacePoints(place, *reference);
    Details& d = at_.details;
    d.clear();
    d.setOwner(kPlacePanel);
    d.addCaption("Coordinates of the project");
    d.addTitle(agreed ? "As " + q(agreed->from) + " declares" : "As " + q(reference->title()) + " declares");
    if (agreed)
        d.addText("Taken over by " + q(agreed->by.person) + ", " + q(timeInWords(agreed->by.time)) + ".");
    for (const auto& [what, value] : coordinates::saidInWords(place.declared()))
        d.addFact(q(what), q(value));
    d.addHeading("Points in the scene");
    const auto onMap = place.onMap({});
    d.addFact("Base point", "0 · 0 · 0 m", onMap ? onMapInWords(*onMap) : QString("no map conversion says where"));
    const Point3 site = place.siteOrigin();
    const auto onEarth = place.onEarth(site);
    d.addFact("Survey point", metres(site.x) + " · " + metres(site.y) + " · " + metres(site.z) + " m",
              onEarth ? q(coordinates::inWords(*onEarth)) : QString("no latitude and longitude says where"));
    d.addHeading("Does every member agree?");
    QVector<Details::Button> buttons;
    std::set<std::string> offered;
    for (const federation::Member& m : at_.session.workspace().members) {
        const auto agreement = agreementOf(m);
        d.addFact(q(m.title()),
                  agreement.agrees()     ? "✓ agrees"
                  : agreement.isDeclared ? "≠ differs"
                                         : "– does not say",
                  q(agreement.words));
        if (declaresAPlace(m.model->georeference()) && (!agreed || agreed->from != m.title()) &&
            offered.insert(m.title()).second)
            buttons.append({"takeOver-" + q(m.title()), "From " + q(m.title()) + "…", "", false, true,
                            [this, title = m.title()] { askTakeOver(title); }});
    }
    if (!buttons.isEmpty()) {
        d.addHeading("Take over");
        d.addText("Latitude, longitude, elevation, true north and map conversion of a member become the project's.");
        d.addButtons(buttons);
    }
    d.addButtons({{"placeSheet", "Check sheet…", "", false, true, [this] { askPlaceSheet(); }},
                  {"placeBack", "Back", "", false, true, [this] { endForm(); }}});
    d.finish();
}

coordinates::Agreement CoordinatesStage::agreementOf(const federation::Member& m) const
{
    const Point3 middle = m.geometry->bounds().isEmpty() ? Point3{} : m.geometry->bounds().centre();
    return coordinates::agreementOf(at_.session.place().declared(), m.model->georeference(), m.fit,
                                    m.fit.transform().apply(middle));
}

void CoordinatesStage::showPlacePoints(const coordinates::ProjectPlace& place, const federation::Member& reference)
{
    view::Subject subject;
    subject.grid = gridOn(storey_);
    const Box3 box = reference.geometry->bounds();
    const double high = box.isEmpty() ? 3 : std::max(3.0, box.size().z * 0.4);
    const auto point = [&](Point3 at, const QString& words) {
        if (!box.isEmpty() && length(at - box.centre()) > kFar)
            return; // it is in the details; the view would lose the building
        subject.arrows.push_back({at + Vector3{0, 0, high}, at, words.toStdString(), toColour(kPointColour)});
    };
    const auto onMap = place.onMap({});
    point({}, "Base point" + (onMap ? " · " + onMapInWords(*onMap) : QString()));
    const Point3 site = place.siteOrigin();
    if (const auto onEarth = place.onEarth(site))
        point(site + Vector3{0, 0, length(site) < 1 ? high * 0.6 : 0},
              "Survey point · " + q(coordinates::inWords(*onEarth)));
    at_.scene.change([&](view::Scene& scene) { scene.show(std::move(subject)); });
}

void CoordinatesStage::askTakeOver(const std::string& title)
{
    const auto& members = at_.session.workspace().members;
    const auto member = std::find_if(members.begin(), members.end(), [&](const auto& m) { return m.title() == title; });
    if (member == members.end())
        return;
    project::AgreedPlace wanted;
    wanted.from = title;
    wanted.says = coordinates::seenFromReference(member->model->georeference(), member->fit);
    Details& d = at_.details;
    d.clear();
    d.setOwner(kCoordinatesForm);
    d.addTitle("Take over the coordinates of " + q(title));
    d.addText("Told of the reference's frame, through the fit of " + q(title) + ".");
    const auto before = coordinates::saidInWords(at_.session.place().declared()),
               after = coordinates::saidInWords(wanted.says);
    QVector<QStringList> rows;
    for (std::size_t i = 0; i < before.size(); ++i)
        rows.append({q(before[i].first), q(before[i].second),
                     (before[i].second != after[i].second ? "≠ " : "") + q(after[i].second)});
    d.addTable({"", "Before", "After"}, rows, "takeOver");
    if (const auto* standing = at_.session.standingOf(member->discipline);
        standing != nullptr && !standing->isVerified())
        d.addText("It does not stand right on the reference yet; what is taken over would be as far off.", false);
    d.addButtons({{"takeOverIt", "Take over", "", true, true,
                   [this, wanted] {
                       at_.session.write(
                           [wanted, who = at_.session.now()](project::Project& p) {
                               return Session::saying(p.coordinates().setPlace(wanted, who),
                                                      "The project has the coordinates of " + wanted.from + ".");
                           },
                           [this](bool isDone) {
                               if (isDone && isFront())
                                   showPlace();
                           });
                   }},
                  {"takeOverNot", "Back", "", false, true, [this] { showPlace(); }}});
    d.finish();
}

void CoordinatesStage::askPlaceSheet()
{
    const federation::Member* reference = at_.session.reference();
    if (reference == nullptr)
        return;
    const QString file = QFileDialog::getSaveFileName(list_, "Write the check sheet",
                                                      q(at_.session.project().name()) + " coordinates.pdf",
                                                      "PDF (*.pdf);;HTML (*.html)");
    if (file.isEmpty())
        return;
    const auto agreed = orNothing(at_.session.project().coordinates().place());
    const WhoAndWhen now = at_.session.now();
    coordinates::PlaceSheet sheet;
    sheet.project = at_.session.project().name();
    sheet.from = agreed ? agreed->from : reference->title();
    sheet.person = now.person;
    sheet.time = now.time;
    sheet.place = at_.session.place();
    for (const federation::Member& m : at_.session.workspace().members) {
        const project::StoredFit fit = orNothing(at_.session.project().coordinates().fitInUse(m.discipline));
        sheet.members.push_back({m.title(), m.model->georeference().crs.value_or("none"), agreementOf(m),
                                 m.discipline == reference->discipline ? "reference"
                                 : fit.method.empty()                  ? "as delivered"
                                                      : "by " + fit.method + (fit.isLocked ? ", locked" : "")});
    }
    const auto written = writePage("Coordinates of " + q(sheet.project), q(coordinates::toHtml(sheet)), file);
    if (written)
        at_.session.say("The check sheet is written to " + QFileInfo(*written).fileName() + ".");
    else
        at_.session.fail(written.error());
}

void CoordinatesStage::askLimit()
{
    Details& d = at_.details;
    d.clear();
    d.setOwner(kCoordinatesForm);
    d.addTitle("What stands right");
    d.addText("A member stands right where no shared grid crossing and no storey is farther off than this. What does "
              "not stand right is not tested. It holds for the whole project.");
    auto* form = new Form;
    auto* limit = form->line("standsRight", "Up to, mm", q(plainNumber(toMillimetres(at_.session.standsRight()))));
    d.addWidget(form);
    const auto keep = [this, limit] {
        const auto mm = numberIn(limit->text().toStdString());
        if (!mm)
            return at_.session.fail({project::kOddLimit, "Write a number of millimetres, as 5."});
        at_.session.write(
            [metres = Metres{*mm / 1000}, who = at_.session.now()](project::Project& p) {
                return Session::saying(p.coordinates().setStandsRight(metres, who),
                                       "A member stands right up to " + lengthInWords(metres) + ".");
            },
            [this](bool isDone) {
                if (isDone && isFront())
                    endForm();
            });
    };
    connect(limit, &QLineEdit::returnPressed, this, keep, Qt::QueuedConnection);
    d.addButtons(
        {{"keepLimit", "Keep", "", true, true, keep}, {"keepNoLimit", "Back", "", false, true, [this] { endForm(); }}});
    d.finish();
    limit->setFocus();
    limit->selectAll();
}

} // namespace wendrix::app
