#include "coordinates/coordinates_stage.h"

#include "coordinates/lengths.h"
#include "coordinates/sheet_export.h"
#include "core/base/text.h"
#include "core/coordinates/correction.h"
#include "core/coordinates/declared.h"
#include "shell/form.h"
#include "shell/theme.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include <cmath>
#include <map>

namespace wendrix::app {

namespace {

/// A delivery may have several models; each is judged for itself.
std::string idOf(const federation::Member& member)
{
    return member.discipline + (member.part.empty() ? "" : "\n" + member.part);
}

} // namespace

CoordinatesStage::CoordinatesStage(const StageContext& context, QObject* parent)
    : ListStage("Coordinates", context, parent), hand_(new HandTool(context.scene, this))
{
    declared_ = new Details;
    declared_->setFixedHeight(340);
    auto* foot = new QWidget;
    auto* column = new QVBoxLayout(foot);
    column->setContentsMargins(12, 0, 12, 0);
    column->setSpacing(4);
    auto* place = new QPushButton("Coordinates of the project…");
    place->setObjectName("projectPlace");
    place->setToolTip("What they are, whether every member agrees, and taking them over from one (G)");
    connect(place, &QPushButton::clicked, this, &CoordinatesStage::showPlace);
    column->addWidget(place, 0, Qt::AlignLeft);
    column->addWidget(declared_);
    list_->setFooter(foot);
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

const federation::Member* CoordinatesStage::chosenMember() const
{
    const std::string chosen = list_->chosen().toStdString();
    for (const federation::Member& member : at_.session.workspace().members)
        if (idOf(member) == chosen || (member.discipline == chosen && !member.part.empty()))
            return &member;
    return nullptr;
}

void CoordinatesStage::choose(const QString& id)
{
    for (const federation::Member& member : at_.session.workspace().members)
        if (id == q(member.discipline))
            return list_->choose(q(idOf(member))); // the first of its models
    list_->choose(id);
}

const federation::Standing& CoordinatesStage::standingOf(const federation::Member& member) const
{
    return at_.session.standings()[static_cast<std::size_t>(&member - at_.session.workspace().members.data())];
}

bool CoordinatesStage::isLocked(const federation::Member& member) const
{
    return orNothing(at_.session.project().coordinates().fitInUse(member.discipline)).isLocked;
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
            text += " · " + q(*g.crs).toHtmlEscaped() + " · <nobr>E " + metres(*g.eastings) + "</nobr> <nobr>N " +
                    metres(*g.northings) + "</nobr> · " + q(elevationInWords(Metres{*g.height})) + " m";
        if (g.trueNorth)
            text +=
                " · true north " + QString::number(std::round(toDegrees(*g.trueNorth) * 100) / 100 + 0.0, 'f', 2) + "°";
        list_->setText(text);
        std::map<std::string, QString> colours;
        for (const project::Discipline& d : orNothing(at_.session.project().setup().disciplines()))
            colours[d.name] = q(d.colour);
        for (const federation::Member& member : at_.session.workspace().members) {
            if (member.discipline == reference->discipline)
                continue;
            const federation::Standing& s = standingOf(member);
            const project::StoredFit fit = orNothing(at_.session.project().coordinates().fitInUse(member.discipline));
            Row row;
            row.id = q(idOf(member));
            row.mark = Mark::Swatch;
            row.markColour = QColor(colours[member.discipline]);
            row.title = q(member.title());
            if (s.residuals.empty()) {
                row.right = "no shared grid";
            } else if (s.worst > s.limit) {
                row.right = "off by " + q(lengthInWords(s.worst));
            } else {
                row.right = millimetres(s.worst) + " mm" + (fit.isLocked ? " · locked" : "");
            }
            row.subtitle =
                fit.method.empty() ? "as delivered" : "by " + q(fit.method) + ", " + q(dayInWords(fit.by.time));
            if (fit.isAccepted && !fit.pairs.empty())
                row.subtitle += ", held to by " + q(counted(fit.pairs.size(), "pair", "pairs"));
            else if (fit.isAccepted)
                row.subtitle = "to be tested as it stands, " + q(fit.by.person) + ", " + q(dayInWords(fit.by.time));
            else if (!s.isVerified())
                row.loud = s.residuals.empty() || s.worst <= s.limit
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

void CoordinatesStage::enter()
{
    if (at_.details.owner() == kPlacePanel)
        showPlace();
    else if (at_.details.owner() != kCoordinatesForm)
        showChosen(false);
}

void CoordinatesStage::showChosen(bool movesView)
{
    const federation::Member* reference = at_.session.reference();
    const federation::Member* member = chosenMember();
    declared_->clear();
    if (reference == nullptr || member == nullptr) {
        showPlain();
        at_.details.clear();
        at_.details.addText("Choose a member on the left to see how it stands on the reference.");
        at_.details.finish();
        return;
    }
    if (!areWaysKnown(*member, *reference))
        findWays(*member, *reference);
    showScene(*member, *reference);
    showDetails(*member, *reference);
    compareDeclared(*member, *reference);
    if (movesView) {
        Box3 box = reference->fit.transform().apply(reference->geometry->bounds());
        box.add(shownFit(*member, *member, *reference).transform().apply(member->geometry->bounds()));
        at_.scene.setCamera(view::fitted(at_.scene.camera(), box, at_.scene.viewport().aspect()), true);
    }
}

void CoordinatesStage::findWays(const federation::Member& member, const federation::Member& reference)
{
    ways_.reset();
    own_.clear();
    way_.clear();
    const QSignalBlocker blocker(hand_); // this is told of anyway
    hand_->setSides(member.discipline, reference.discipline);
    hand_->setPairs({}); // they may be of the revision before
    at_.session.ask<std::shared_ptr<const WaysToFit>>(
        this, "ways", [reference, member](const project::Project&) { return WaysToFit::of(reference, member); },
        [this](std::shared_ptr<const WaysToFit> found) {
            ways_ = std::move(found);
            const federation::Member* onto = at_.session.reference();
            const federation::Member* chosen = chosenMember();
            if (isFront() && onto != nullptr && chosen != nullptr && areWaysKnown(*chosen, *onto) &&
                at_.details.owner() != kCoordinatesForm)
                showChosen(false);
        });
}

QVector<const WayToFit*> CoordinatesStage::allWays() const
{
    QVector<const WayToFit*> all;
    for (const WayToFit& way : own_)
        all.append(&way);
    if (ways_ != nullptr)
        for (const WayToFit& way : ways_->all)
            all.append(&way);
    return all;
}

const WayToFit* CoordinatesStage::chosenWay(const federation::Member& member, const federation::Member& reference) const
{
    if (!areWaysKnown(member, reference))
        return nullptr;
    for (const WayToFit* way : allWays())
        if (way->id == way_ && way->found)
            return way;
    return ways_->best();
}

void CoordinatesStage::chooseWay(const QString& id)
{
    way_ = id;
    showChosen(false);
}

void CoordinatesStage::nextWay()
{
    const federation::Member* reference = at_.session.reference();
    const federation::Member* member = chosenMember();
    if (reference == nullptr || member == nullptr)
        return;
    const WayToFit* now = chosenWay(*member, *reference);
    QVector<const WayToFit*> found = allWays();
    found.removeIf([](const WayToFit* way) { return !way->found; });
    if (now != nullptr && found.size() > 1)
        chooseWay(found[(found.indexOf(now) + 1) % found.size()]->id);
}

void CoordinatesStage::apply()
{
    const federation::Member* reference = at_.session.reference();
    const federation::Member* member = chosenMember();
    if (reference == nullptr || member == nullptr ||
        orNothing(at_.session.project().coordinates().fitInUse(member->discipline)).isLocked)
        return;
    const WayToFit* way = chosenWay(*member, *reference);
    if (way != nullptr)
        return lock(*member, *reference, *way);
    if (areWaysKnown(*member, *reference))
        return sayNothingFits(*ways_);
    // Who is fast is not made to press it twice, nor to wait before going on to the next one.
    auto* asker = new QObject(this);
    at_.session.ask<std::shared_ptr<const WaysToFit>>(
        asker, "causes",
        [member = *member, reference = *reference](const project::Project&) {
            return WaysToFit::of(reference, member);
        },
        [this, asker, member = *member, reference = *reference](const std::shared_ptr<const WaysToFit>& ways) {
            asker->deleteLater();
            if (const WayToFit* best = ways->best())
                lock(member, reference, *best);
            else
                sayNothingFits(*ways);
        });
}

void CoordinatesStage::sayNothingFits(const WaysToFit& ways)
{
    const auto& byName = ways.all.front().found;
    if (!byName)
        return at_.session.fail(byName.error());
    QString why;
    for (const std::string& warning : byName->warnings)
        why = q(warning);
    emit at_.session.said("Nothing was fitted, since no way to fit it is to be relied on. " + why, true);
}

void CoordinatesStage::lock(const federation::Member& member, const federation::Member& reference, const WayToFit& way)
{
    project::StoredFit stored;
    stored.fit = way.found->fit;
    stored.isLocked = true;
    stored.method = way.id.toStdString();
    for (const coordinates::Left& left : way.found->left)
        stored.worst = std::max(stored.worst, left.distance.value);
    stored.residuals = federation::residualsOf(*reference.model, *member.model, stored.fit);
    if (way.id == kHandWay) {
        stored.pairs = hand_->pairs();
        // Where no grid can verify it, what a person took and what lies on it does.
        federation::Member fitted = member;
        fitted.fit = stored.fit;
        const auto standing = federation::standingOf(*reference.model, fitted, at_.session.standsRight());
        stored.isAccepted = standing.verdict != federation::Standing::Verdict::Right &&
                            standing.verdict != federation::Standing::Verdict::GridOff && way.isProven &&
                            stored.worst <= at_.session.standsRight().value;
    }
    at_.session.write(
        [discipline = member.discipline, stored, who = at_.session.now(),
         words = member.delivery() + " fitted and locked: worst residual " + millimetresInWords(Metres{stored.worst})](
            project::Project& p) { return Session::saying(p.coordinates().setFit(discipline, stored, who), words); },
        [this](bool isDone) {
            if (isDone && isFront() && at_.details.owner() != kCoordinatesForm)
                showChosen(true);
        });
}

void CoordinatesStage::askCorrected()
{
    const federation::Member* reference = at_.session.reference();
    const federation::Member* member = chosenMember();
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
    const federation::Member* member = chosenMember();
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
    const federation::Member* member = chosenMember();
    if (member == nullptr)
        return;
    project::StoredFit fit = orNothing(at_.session.project().coordinates().fitInUse(member->discipline));
    fit.isAccepted = true;
    at_.session.write([discipline = member->discipline, fit, who = at_.session.now(),
                       words = member->delivery() + " is tested as it stands from now on."](project::Project& p) {
        return Session::saying(p.coordinates().setFit(discipline, fit, who), words);
    });
}

void CoordinatesStage::askUnlock()
{
    const federation::Member* member = chosenMember();
    if (member == nullptr)
        return;
    const std::string discipline = member->discipline;
    Details& d = at_.details;
    d.clear();
    d.setOwner(kCoordinatesForm);
    d.addTitle("Unlock the fit of " + q(discipline));
    d.addText("Clashes, changes and issues rest on where it stands. The reason is kept with your name.");
    auto* form = new Form;
    auto* reason = form->line("unlockReason", "Reason", {}, "as: the team corrected its export");
    d.addWidget(form);
    const auto unlock = [this, discipline, reason] {
        at_.session.write(
            [discipline, words = reason->text().trimmed().toStdString(), who = at_.session.now()](project::Project& p) {
                return Session::saying(p.coordinates().unlock(discipline, words, who), discipline + " is unlocked.");
            },
            [this](bool isDone) {
                if (isDone && isFront())
                    endForm();
            });
    };
    connect(reason, &QLineEdit::returnPressed, this, unlock);
    d.addButtons({{"unlockIt", "Unlock", "", true, true, unlock},
                  {"keepLocked", "Keep it locked", "", false, true, [this] { endForm(); }}});
    d.finish();
    reason->setFocus();
}

bool CoordinatesStage::press(Qt::Key key)
{
    switch (key) {
    case Qt::Key_A:
        apply();
        return true;
    case Qt::Key_W:
        nextWay();
        return true;
    case Qt::Key_P:
        emit toolWanted(kHandTool);
        return true;
    case Qt::Key_N:
        askPair();
        return true;
    case Qt::Key_U:
        askNumbers();
        return true;
    case Qt::Key_G:
        showPlace();
        return true;
    case Qt::Key_V:
        setPlacement(static_cast<Placement>((static_cast<int>(placement_) + 1) % 3));
        return true;
    default:
        return false;
    }
}

QVector<QPair<QString, QString>> CoordinatesStage::keys() const
{
    return {{"A", "apply the fit that is shown and lock it"},
            {"W", "look at the next way to fit"},
            {"P", "take in the scene what is to coincide; Space for the keyboard"},
            {"N", "name a pair: axes, crossings, storeys, places"},
            {"U", "fit by numbers"},
            {"G", "the coordinates of the project"},
            {"V", "show it as it stands, as fitted, side by side"}};
}

} // namespace wendrix::app
