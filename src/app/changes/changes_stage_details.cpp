#include "changes/changes_stage.h"

#include "changes/change_look.h"
#include "core/base/text.h"
#include "core/project/change_words.h"
#include "shell/theme.h"

#include <QLabel>

#include <algorithm>

/// Changes: what is chosen, in the scene and in the details.
namespace wendrix::app {

namespace {

constexpr std::size_t kMostPainted = 3000; // changes that are all painted at once
constexpr std::size_t kMostExplained = 60; // of more than that nobody asks what each has to do with
constexpr double kNear = 0.5;              // metres: what is told to be near
constexpr std::size_t kMostNear = 8;

/// Fills itself when it is known; empty until then.
QLabel* laterLabel(const char* name)
{
    auto* label = new QLabel;
    label->setObjectName(name);
    label->setWordWrap(true);
    label->setTextFormat(Qt::PlainText);
    label->hide();
    return label;
}

QString listed(const QStringList& words, qsizetype most)
{
    return words.size() <= most ? words.join("\n")
                                : words.mid(0, most).join("\n") + QString("\nand %1 more").arg(words.size() - most);
}

} // namespace

std::vector<project::ChangeKey> ChangesStage::chosenKeys() const
{
    std::vector<std::string> ids;
    for (const QString& id : list_->chosenAll())
        ids.push_back(id.toStdString());
    return changes().keysOf(ids);
}

std::vector<project::ChangeRecord> ChangesStage::chosenChanges() const
{
    auto keys = chosenKeys();
    keys.resize(std::min(keys.size(), kMostPainted));
    return orNothing(at_.session.project().changes().get(keys));
}

QString ChangesStage::titleOfChosen(const std::vector<project::ChangeRecord>& changes, std::size_t all) const
{
    const QStringList ids = list_->chosenAll();
    if (ids.size() == 1)
        if (const auto row = this->changes().rowOf(ids[0].toStdString()); row >= 0)
            if (const auto page =
                    orNothing(this->changes().page(at_.session.project().changes(), static_cast<std::size_t>(row), 1));
                !page.empty())
                return q(titleOf(page[0]));
    return changes.size() == 1 ? q(changes[0].name) : q(counted(all, "change", "changes"));
}

std::string ChangesStage::revisionsOf(const project::ChangeRecord& c, const char* between) const
{
    const auto from = orNothing(at_.session.project().deliveries().find(c.from)),
               to = orNothing(at_.session.project().deliveries().find(c.to));
    return (from ? from->revision : "?") + between + (to ? to->revision : "?");
}

void ChangesStage::show(bool movesView)
{
    explaining_.forget();
    around_.forget();
    volumes_.clear();
    if (!at_.session.hasProject())
        return;
    const auto keys = chosenKeys();
    chosen_ = chosenChanges();
    const std::vector<project::ChangeRecord>& chosen = chosen_;
    showDetails(chosen, keys.size());
    const RevisionFinder revisions(at_.session, at_.scene);
    std::vector<project::ChangeRecord> painted = chosen;
    if (painted.empty() && changes().shown() > 0) {
        auto all = changes().allKeys();
        all.resize(std::min(all.size(), kMostPainted));
        painted = orNothing(at_.session.project().changes().get(all));
        // Where a whole file was given new ids, what really changed would not be seen among them.
        const auto isNewId = [](const project::ChangeRecord& c) { return c.mainKind() == project::Rekeyed; };
        if (filter_ == 0 && !std::all_of(painted.begin(), painted.end(), isNewId))
            std::erase_if(painted, isNewId);
    }
    if (painted.empty()) {
        showPlain();
        return;
    }
    const Between between{between_->at()};
    ChangeSight sight =
        sightOf(revisions, painted, !chosen.empty(), between, gridOn(chosen.empty() ? QString() : q(chosen[0].storey)));
    if (beside() != nullptr && beside()->property("isWanted").toBool()) {
        const std::string revisionsInWords = revisionsOf(painted[0], " to ");
        const auto middle = revisionsInWords.find(" to ");
        side_->show(sightOf(revisions, painted, !chosen.empty(), Between{0}, sight.subject.grid).subject,
                    "Before: " + q(revisionsInWords.substr(0, middle)),
                    "After: " + q(revisionsInWords.substr(middle + 4)));
        sight = sightOf(revisions, painted, !chosen.empty(), Between{1}, sight.subject.grid);
    }
    at_.scene.change([&](view::Scene& scene) { scene.show(sight.subject); });
    if (movesView && !chosen.empty() && !sight.box.isEmpty())
        at_.scene.setCamera(cameraFor(at_.scene, sight, at_.scene.viewport().aspect()), true);
    if (!chosen.empty()) {
        explain(chosen);
        lookUp(chosen);
        lookAround(chosen);
    }
}

void ChangesStage::showBetween()
{
    if (!isFront() || !at_.session.hasProject())
        return;
    const std::vector<project::ChangeRecord>& chosen = chosen_;
    if (chosen.empty() || (beside() != nullptr && beside()->property("isWanted").toBool())) {
        show(false);
        return;
    }
    const RevisionFinder revisions(at_.session, at_.scene);
    const ChangeSight sight = sightOf(revisions, chosen, true, Between{between_->at()}, gridOn(q(chosen[0].storey)));
    const view::Illustration with = at_.scene.document().illustration();
    at_.scene.change([&](view::Scene& scene) {
        scene.show(sight.subject);
        scene.illustrate(with);
    });
}

void ChangesStage::explain(const std::vector<project::ChangeRecord>& changes)
{
    const RevisionFinder revisions(at_.session, at_.scene);
    double tolerance = changes::ChangeRule{}.distance;
    for (const project::ComparisonRecord& k : this->changes().comparisons())
        if (k.id == changes[0].comparison)
            tolerance = k.rule.distance;
    const auto order = std::make_shared<const VolumeOrder>(orderFor(revisions, changes, tolerance));
    if (order->items.empty())
        return;
    explaining_.ask([this, order](const LatestAnswer::IsVoid& isVoid) -> std::function<void()> {
        return [this, volumes = volumesOf(*order, isVoid)] {
            if (!isFront())
                return;
            volumes_ = volumes;
            cutVolumes();
            if (const QString words = inWords(volumes); volume_ != nullptr && !words.isEmpty()) {
                volume_->setText(words);
                volume_->show();
            }
        };
    });
}

void ChangesStage::cutVolumes()
{
    volumesCutBy_ = at_.scene.document().cutPlanes();
    view::Illustration with = illustrationOf(volumes_, volumesCutBy_);
    at_.scene.change([&](view::Scene& scene) { scene.illustrate(std::move(with)); });
}

std::shared_ptr<project::Surroundings> ChangesStage::surroundings()
{
    const project::Workspace &now = at_.session.workspace(), &before = at_.session.previous();
    std::vector<const void*> made;
    for (const auto* members : {&now.members, &before.members})
        for (const federation::Member& m : *members)
            made.push_back(m.geometry.get());
    if (surroundings_ == nullptr || surrounded_ != made) {
        surroundings_ = std::make_shared<project::Surroundings>(now.members, before.members);
        surrounded_ = std::move(made);
    }
    return surroundings_;
}

void ChangesStage::lookUp(const std::vector<project::ChangeRecord>& changes)
{
    std::vector<project::ChangeRecord> some(
        changes.begin(), changes.begin() + std::min<std::ptrdiff_t>(static_cast<std::ptrdiff_t>(changes.size()),
                                                                    static_cast<std::ptrdiff_t>(kMostExplained)));
    at_.session.ask<QString>(
        this, "what it met",
        [some = std::move(some)](const project::Project& p) {
            QStringList caused, cured, issues;
            for (const project::ChangeRecord& c : some)
                if (const auto met = project::recordsMet(p, c)) {
                    for (const auto& [pairs, into] : {std::pair(&met->caused, &caused), std::pair(&met->cured, &cured)})
                        for (const project::Pair& pair : *pairs)
                            into->append(q(pair.left.name) + " and " + q(pair.right.name));
                    for (const project::IssueBrief& issue : met->issues)
                        issues.append(q(issue.name() + " " + issue.title));
                }
            QStringList words;
            for (const auto& [name, list] : {std::pair("Clashes caused", &caused), std::pair("Clashes cured", &cured),
                                             std::pair("Issues", &issues)}) {
                list->removeDuplicates();
                if (!list->isEmpty())
                    words.append(QString("%1: %2\n").arg(name).arg(list->size()) + listed(*list, 5));
            }
            return words.isEmpty() ? QString("No clash came or went with it, and no issue is about it.")
                                   : words.join("\n");
        },
        [this](const QString& words) {
            if (met_ == nullptr || !isFront())
                return;
            met_->setText(words);
            met_->show();
        });
}

void ChangesStage::lookAround(const std::vector<project::ChangeRecord>& changes)
{
    if (changes.size() > kMostExplained)
        return;
    around_.ask([this, changes, around = surroundings()](const LatestAnswer::IsVoid& isVoid) -> std::function<void()> {
        std::map<ElementRef, project::Neighbour> near;
        std::set<std::string> left;
        for (const project::ChangeRecord& c : changes) {
            if (isVoid())
                break;
            for (project::Neighbour& n : around->near(c, kNear))
                if (const auto [at, isNew] = near.try_emplace(n.element, n); !isNew && n.distance < at->second.distance)
                    at->second = n;
            for (const project::LeftBehind& l : around->leftBehind(c))
                left.insert(std::string(l.isHole ? "The hole " : "The support ") + l.name + " of " + l.discipline +
                            " has lost what it was for");
        }
        std::vector<project::Neighbour> sorted;
        for (const auto& [ref, n] : near)
            sorted.push_back(n);
        std::stable_sort(sorted.begin(), sorted.end(),
                         [](const auto& a, const auto& b) { return a.distance < b.distance; });
        QStringList lines;
        for (const project::Neighbour& n : sorted)
            lines.append(q(n.name) + ", " + q(n.discipline) + ": " +
                         (n.distance < 0.0005 ? QString("meets it") : q(lengthInWords(Metres{n.distance}))));
        QString words;
        for (const std::string& one : left)
            words += q(one) + ".\n";
        words += lines.isEmpty() ? "No element of another discipline within " + q(lengthInWords(Metres{kNear})) + "."
                                 : "Within " + q(lengthInWords(Metres{kNear})) + ":\n" +
                                       listed(lines, static_cast<qsizetype>(kMostNear));
        return [this, words] {
            if (near_ == nullptr)
                return;
            near_->setText(words);
            near_->show();
        };
    });
}

void ChangesStage::addFacts(const project::ChangeRecord& c)
{
    Details& d = at_.details;
    for (const auto kind : project::kAllChangeKinds) {
        if ((c.kinds & kind) == 0)
            continue;
        QString second;
        if (kind == project::Moved) {
            QStringList parts;
            if (length(c.shift) >= 0.0005)
                parts.append(q(project::shiftAlongAxes(c.shift)));
            if (c.turn.value != 0)
                parts.append(q(turnInWords(c)));
            second = parts.join("; ");
        }
        if (kind == project::Reshaped)
            second = c.extents.empty() ? "its size is the same" : q(c.extents);
        if (kind == project::Rekeyed)
            second = (c.continues ? q(c.continues->guid) : QString("?")) + " became " + q(c.element.guid) +
                     QString(", %1 % sure").arg(std::lround(100 * c.confidence));
        if (kind == project::CutUp || kind == project::Joined)
            second = q(counted(c.parts.size(), "part", "parts")) + (kind == project::CutUp ? " now" : " before");
        d.addFact("Kind", changeLook(kind).words, second, Mark::Sign, changeLook(kind).colour, changeLook(kind).sign);
    }
    if ((c.kinds & project::Reshaped) != 0) {
        if (c.volumeBefore > 0 && c.volumeAfter > 0)
            d.addFact("Volume", q(project::volumeInWords(c.volumeAfter)),
                      "was " + q(project::volumeInWords(c.volumeBefore)));
        volume_ = laterLabel("changeVolume");
        d.addWidget(volume_);
    }
    d.addFact("Storey", q(c.storey, "none"));
    for (const auto& [name, value] : {std::pair{"Type", &c.type}, std::pair{"System", &c.system},
                                      std::pair{"Zone", &c.zone}, std::pair{"Phase", &c.phase}})
        if (!value->empty())
            d.addFact(name, q(*value));
    d.addFact("GlobalId", q(c.element.guid),
              c.element.ordinal == 0
                  ? QString()
                  : QString("number %1 of those that share it in the file").arg(c.element.ordinal + 1));
    if (!c.review.empty())
        d.addFact("Review", q(c.review));
}

void ChangesStage::addGroupFacts(const std::vector<project::ChangeRecord>& chosen, std::size_t all)
{
    Details& d = at_.details;
    std::map<project::ChangeKind, std::size_t> kinds;
    std::map<std::string, std::size_t> storeys, reviews;
    bool isReshaped = false;
    for (const project::ChangeRecord& c : chosen) {
        ++kinds[c.mainKind()];
        ++storeys[c.storey];
        ++reviews[c.review];
        isReshaped = isReshaped || (c.kinds & project::Reshaped) != 0;
    }
    if (all > chosen.size())
        d.addText(QString("The first %1 of %2.").arg(chosen.size()).arg(all));
    for (const auto& [kind, n] : kinds)
        d.addFact("Kind", QString("%1 %2").arg(n).arg(changeLook(kind).words),
                  kinds.size() == 1 ? q(measureInWords(chosen[0])) : QString(), Mark::Sign, changeLook(kind).colour,
                  changeLook(kind).sign);
    QStringList where;
    for (const auto& [storey, n] : storeys)
        where.append(QString("%1 on %2").arg(n).arg(q(storey, "no storey")));
    d.addFact("Where", where.join(", "));
    if (reviews[""] > 0)
        d.addFact("Review", QString("%1 not looked at").arg(reviews[""]));
    if (isReshaped) {
        volume_ = laterLabel("changeVolume");
        d.addWidget(volume_);
    }
}

void ChangesStage::showDetails(const std::vector<project::ChangeRecord>& chosen, std::size_t all)
{
    Details& d = at_.details;
    d.clear();
    volume_ = near_ = met_ = nullptr;
    if (chosen.empty()) {
        d.addText(
            changes().total() == 0 ? "No changes to show."
            : changes().shown() <= kMostPainted
                ? "Every change is painted in the view. Choose one on the left to go to it."
                : QString("The first %1 changes of the list are painted in the view. Choose one on the left to go "
                          "to it.")
                      .arg(kMostPainted));
        if (changes().total() > 0)
            d.addButtons({{"digest", "What concerns a discipline…", "", false, true, [this] { showDigestForm(); }}});
        d.finish();
        return;
    }
    const project::ChangeRecord& first = chosen[0];
    d.addCaption(q(first.discipline) + " · " + q(revisionsOf(first, " to ")));
    d.addTitle(titleOfChosen(chosen, all));
    if (chosen.size() == 1)
        addFacts(first);
    else
        addGroupFacts(chosen, all);
    d.addButtons({{"agreed", "Agreed", "G", false, true, [this] { review("agreed"); }},
                  {"questioned", "Questioned", "Q", false, true, [this] { questionChosen(false); }},
                  {"seen", "Seen", "S", false, true, [this] { review("seen"); }}});
    if (all > 1)
        d.addButtons({{"questionEach", QString("An issue for each of %1").arg(all), "", false, all <= 100,
                       [this] { questionChosen(true); }}});
    const bool isAlike = std::all_of(chosen.begin(), chosen.end(), [&](const project::ChangeRecord& c) {
        return c.alike == first.alike && c.comparison == first.comparison;
    });
    if (!first.fields.empty() && isAlike) {
        d.addHeading("What reads differently");
        for (const changes::FieldChange& f : first.fields)
            d.addFact(q(f.name), q(f.after, "–"), "was " + q(f.before, "–") + (f.set.empty() ? "" : " · " + q(f.set)));
    }
    d.addHeading("What it has to do with");
    if (chosen.size() > kMostExplained)
        d.addText(QString("Of the first %1.").arg(kMostExplained));
    met_ = laterLabel("changeMet");
    d.addWidget(met_);
    near_ = laterLabel("changeNear");
    d.addWidget(near_);
    d.finish();
}

} // namespace wendrix::app
