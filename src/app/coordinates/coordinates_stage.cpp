#include "coordinates/coordinates_stage.h"

#include "coordinates/lengths.h"
#include "coordinates/sheet_export.h"
#include "core/base/text.h"
#include "core/coordinates/correction.h"
#include "core/coordinates/declared.h"
#include "shell/theme.h"

#include <QFileDialog>
#include <QFileInfo>

namespace wendrix::app {

CoordinatesStage::CoordinatesStage(const StageContext& context, QObject* parent)
    : ListStage("Coordinates", context, parent)
{
    declared_ = new Details;
    declared_->setFixedHeight(400);
    list_->setFooter(declared_);
}

unsigned CoordinatesStage::books() const
{
    return app::books(project::Book::Coordinates, project::Book::Deliveries, project::Book::Setup);
}

Stage::Counting CoordinatesStage::waiting() const
{
    std::vector<std::string> open;
    for (const federation::Member& member : at_.session.workspace().members)
        if (const auto* standing = at_.session.standingOf(member.discipline);
            standing != nullptr && !standing->isVerified() && (open.empty() || open.back() != member.discipline))
            open.push_back(member.discipline);
    return [open](const project::Project& p) {
        return static_cast<int>(std::count_if(open.begin(), open.end(), [&](const std::string& d) {
            return !orNothing(p.coordinates().fitInUse(d)).isAccepted;
        }));
    };
}

const federation::Member* CoordinatesStage::find(const std::string& discipline) const
{
    const auto* worst = at_.session.standingOf(discipline);
    return worst == nullptr
               ? nullptr
               : &at_.session.workspace().members[static_cast<std::size_t>(worst - at_.session.standings().data())];
}

void CoordinatesStage::refresh() { fillList(); }

void CoordinatesStage::fillList()
{
    QVector<Row> rows;
    const federation::Member* reference = at_.session.reference();
    if (reference != nullptr) {
        const ifc::Georeference& g = reference->model->georeference();
        QString text = "Reference: <b>" + q(reference->delivery()).toHtmlEscaped() + "</b>";
        if (g.eastings)
            text += " · " + q(*g.crs).toHtmlEscaped() + " · E " + metres(*g.eastings) + " N " + metres(*g.northings) +
                    " · " + q(elevationInWords(Metres{*g.height})) + " m";
        if (g.trueNorth)
            text += " · true north " + QString::number(toDegrees(*g.trueNorth), 'f', 2) + "°";
        list_->setText(text);
        for (const project::Discipline& d : orNothing(at_.session.project().setup().disciplines())) {
            const federation::Member* member = find(d.name);
            if (member == nullptr || d.isReference)
                continue;
            const federation::Standing& s = *at_.session.standingOf(d.name);
            const project::StoredFit fit = orNothing(at_.session.project().coordinates().fitInUse(d.name));
            Row row;
            row.id = q(d.name);
            row.mark = Mark::Swatch;
            row.markColour = QColor(q(d.colour));
            row.title = q(member->delivery());
            if (s.residuals.empty()) {
                row.right = "no shared grid";
            } else if (s.worst > federation::kStandsRight) {
                row.right = "off by " + q(lengthInWords(s.worst));
            } else {
                row.right = millimetres(s.worst) + " mm" + (fit.isLocked ? " · locked" : "");
            }
            row.subtitle =
                fit.method.empty() ? "as delivered" : "by " + q(fit.method) + ", " + q(dayInWords(fit.by.time));
            if (fit.isAccepted)
                row.subtitle = "to be tested as it stands, " + q(fit.by.person) + ", " + q(dayInWords(fit.by.time));
            else if (!s.isVerified())
                row.loud = s.residuals.empty() || s.worst <= federation::kStandsRight
                               ? "not tested: " + q(federation::whyNotVerified(s))
                               : QString("so not tested"); // how far off stands above
            rows.append(row);
        }
    }
    list_->setEmptyText("Members appear here once the reference and another delivery are taken in.");
    list_->setRows(rows);
    if (list_->chosen().isEmpty() && !rows.isEmpty())
        list_->choose(rows[0].id);
}

void CoordinatesStage::enter() { showChosen(false); }

void CoordinatesStage::showChosen(bool movesView)
{
    const federation::Member* reference = at_.session.reference();
    const federation::Member* member = find(list_->chosen().toStdString());
    declared_->clear();
    if (reference == nullptr || member == nullptr) {
        showPlain();
        at_.details.clear();
        at_.details.addText("Choose a member on the left to see how it stands on the reference.");
        at_.details.finish();
        return;
    }
    auto lines = gridLinesOf(*reference, QColor(0x5F, 0x6B, 0x70, 170), true, storey_);
    const auto theirs = gridLinesOf(*member, QColor(0xC2, 0x3B, 0x72, 230), false, storey_);
    lines.insert(lines.end(), theirs.begin(), theirs.end());
    view::Subject subject;
    subject.grid = std::move(lines);
    const double theirHeight = theirs.empty() ? 0 : theirs[0].start.z;
    for (const federation::Residual& r : at_.session.standingOf(member->discipline)->residuals) {
        Point3 at = r.fitted;
        at.z = theirHeight;
        subject.markers.push_back({at, "", toColour(theme::kPanel), toColour(theme::kMoved), true});
    }
    // Once it stands right, what matters is whether axis lies on axis: the model steps back.
    subject.isRestFaded = at_.session.standingOf(member->discipline)->isVerified();
    at_.scene.change([&](view::Scene& scene) { scene.show(std::move(subject)); });
    if (ways_ == nullptr || !ways_->isOf(*reference, *member))
        findWays(*member, *reference);
    showDetails(*member, *reference);
    compareDeclared(*member, *reference);
    if (movesView) {
        Box3 box = reference->fit.transform().apply(reference->geometry->bounds());
        box.add(member->fit.transform().apply(member->geometry->bounds()));
        at_.scene.setCamera(view::fitted(at_.scene.camera(), box, at_.scene.viewport().aspect()), true);
    }
}

void CoordinatesStage::findWays(const federation::Member& member, const federation::Member& reference)
{
    ways_.reset();
    way_.clear();
    isApplyWanted_ = false;
    at_.session.ask<std::shared_ptr<const WaysToFit>>(
        this, [reference, member](const project::Project&) { return WaysToFit::of(reference, member); },
        [this](std::shared_ptr<const WaysToFit> found) {
            ways_ = std::move(found);
            const federation::Member* onto = at_.session.reference();
            const federation::Member* chosen = find(list_->chosen().toStdString());
            if (isFront() && onto != nullptr && chosen != nullptr && ways_->isOf(*onto, *chosen))
                showDetails(*chosen, *onto);
            if (std::exchange(isApplyWanted_, false) && isFront())
                apply();
        });
}

const WayToFit* CoordinatesStage::chosenWay(const federation::Member& member, const federation::Member& reference) const
{
    if (ways_ == nullptr || !ways_->isOf(reference, member))
        return nullptr;
    const WayToFit* chosen = ways_->find(way_);
    return chosen != nullptr && chosen->found ? chosen : ways_->best();
}

void CoordinatesStage::apply()
{
    const federation::Member* reference = at_.session.reference();
    const federation::Member* member = find(list_->chosen().toStdString());
    if (reference == nullptr || member == nullptr ||
        orNothing(at_.session.project().coordinates().fitInUse(member->discipline)).isLocked)
        return;
    const WayToFit* way = chosenWay(*member, *reference);
    if (way == nullptr) {
        if (ways_ != nullptr && ways_->isOf(*reference, *member))
            at_.session.fail(ways_->all.front().found.error());
        else
            isApplyWanted_ = true; // who is fast is not made to press it twice
        return;
    }
    project::StoredFit stored;
    stored.fit = way->found->fit;
    stored.isLocked = true;
    stored.method = way->id.toStdString();
    for (const coordinates::Left& left : way->found->left)
        stored.worst = std::max(stored.worst, left.distance.value);
    stored.residuals = federation::residualsOf(*reference->model, *member->model, stored.fit);
    at_.session.write(
        [discipline = member->discipline, stored, who = at_.session.now(),
         words = member->delivery() + " fitted and locked: worst residual " +
                 millimetres(Metres{stored.worst}).toStdString() + " mm"](project::Project& p) {
            return Session::saying(p.coordinates().setFit(discipline, stored, who), words);
        },
        [this](bool isDone) {
            if (isDone)
                showChosen(true);
        });
}

void CoordinatesStage::askCorrected()
{
    const federation::Member* reference = at_.session.reference();
    const federation::Member* member = find(list_->chosen().toStdString());
    if (reference == nullptr || member == nullptr)
        return;
    const QString name = q(member->model->source().file().header().name);
    QString file = QFileDialog::getSaveFileName(
        list_, "Write " + q(member->delivery()) + " corrected",
        (name.endsWith(".ifc") ? name.chopped(4) : q(member->discipline)) + "-corrected.ifc", "IFC (*.ifc)");
    if (file.isEmpty())
        return;
    if (!file.endsWith(".ifc"))
        file += ".ifc";
    at_.session.run(Jobs::Lane::Checking, "Writing " + q(member->delivery()) + " corrected",
                    [this, file, onto = reference->model, model = member->model, fit = member->fit,
                     title = member->delivery()](Progress& progress) -> Jobs::Finish {
                        const auto done = coordinates::writeCorrected(*onto, *model, fit, file.toStdString(), progress);
                        return [this, done, file, title] {
                            if (!done)
                                return at_.session.fail(done.error());
                            QString words = q(title) + " is written corrected to " + QFileInfo(file).fileName() +
                                            "; read again it needs no fit.";
                            for (const std::string& warning : done->warnings)
                                words += " " + q(warning);
                            at_.session.say(words);
                        };
                    });
}

void CoordinatesStage::askSheet()
{
    const federation::Member* reference = at_.session.reference();
    const federation::Member* member = find(list_->chosen().toStdString());
    if (reference == nullptr || member == nullptr || ways_ == nullptr || !ways_->isOf(*reference, *member))
        return;
    const QString file =
        QFileDialog::getSaveFileName(list_, "Write the coordinate sheet of " + q(member->delivery()),
                                     q(member->delivery()) + " coordinates.pdf", "PDF (*.pdf);;HTML (*.html)");
    if (file.isEmpty())
        return;
    const project::StoredFit stored = orNothing(at_.session.project().coordinates().fitInUse(member->discipline));
    const WayToFit* way = chosenWay(*member, *reference);
    const WhoAndWhen now = at_.session.now();
    coordinates::Sheet sheet{at_.session.project().name(),
                             reference->title(),
                             member->title(),
                             now.person,
                             now.time,
                             reference->model.get(),
                             member->model.get(),
                             ways_->diagnosis.causes,
                             stored.isLocked || way == nullptr ? stored.fit : way->found->fit,
                             stored.isLocked || way == nullptr ? "by " + stored.method
                                                               : way->title.toLower().toStdString(),
                             {},
                             {}};
    sheet.left = coordinates::leftAt(*reference->model, *member->model, sheet.fit);
    sheet.declared = coordinates::compareDeclared({*reference->model, reference->geometry->bounds()},
                                                  {*member->model, member->geometry->bounds()});
    const auto written = writeSheet(sheet, file);
    if (written)
        at_.session.say("The coordinate sheet of " + q(member->delivery()) + " is written to " +
                        QFileInfo(*written).fileName() + ".");
    else
        at_.session.fail(written.error());
}

void CoordinatesStage::acceptAsItStands()
{
    const federation::Member* member = find(list_->chosen().toStdString());
    if (member == nullptr)
        return;
    project::StoredFit fit = orNothing(at_.session.project().coordinates().fitInUse(member->discipline));
    fit.isAccepted = true;
    at_.session.write([discipline = member->discipline, fit, who = at_.session.now(),
                       words = member->delivery() + " is tested as it stands from now on."](project::Project& p) {
        return Session::saying(p.coordinates().setFit(discipline, fit, who), words);
    });
}

void CoordinatesStage::unlock()
{
    const std::string discipline = list_->chosen().toStdString();
    project::StoredFit fit = orNothing(at_.session.project().coordinates().fitInUse(discipline));
    fit.isLocked = false;
    at_.session.write([discipline, fit, who = at_.session.now()](project::Project& p) {
        return Session::saying(p.coordinates().setFit(discipline, fit, who), "Unlocked");
    });
}

bool CoordinatesStage::press(Qt::Key key)
{
    if (key != Qt::Key_A)
        return false;
    apply();
    return true;
}

QVector<QPair<QString, QString>> CoordinatesStage::keys() const
{
    return {{"A", "apply the fit that is shown and lock it"}};
}

} // namespace wendrix::app
