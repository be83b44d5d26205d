#include "clashes/clashes_stage.h"

#include "clashes/clash_rows.h"
#include "core/base/guid.h"
#include "core/base/text.h"
#include "core/clash/words.h"
#include "core/project/issue_making.h"
#include "shell/theme.h"

#include <QBuffer>
#include <QPushButton>

#include <algorithm>

namespace wendrix::app {

namespace {

constexpr std::size_t kMostShown = 2000; // pairs that a view can still tell apart

constexpr std::pair<const char*, project::ClashFilter> kFilters[] = {
    {"undecided", project::ClashFilter::Undecided}, {"new", project::ClashFilter::New},
    {"back", project::ClashFilter::Back},           {"gone", project::ClashFilter::Gone},
    {"notTested", project::ClashFilter::NotTested}, {"all", project::ClashFilter::There}};

project::ClashFilter filterOf(const QString& id)
{
    for (const auto& [name, filter] : kFilters)
        if (id == name)
            return filter;
    return project::ClashFilter::Undecided;
}

QByteArray png(const QImage& image)
{
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, "PNG");
    return bytes;
}

} // namespace

ClashesStage::ClashesStage(const StageContext& context, QObject* parent) : ListStage("Clashes", context, parent)
{
    auto* run = new QPushButton("Run tests");
    run->setObjectName("runTests");
    run->setToolTip("Test every member against every other again (R)");
    connect(run, &QPushButton::clicked, this, [this] { at_.session.runTests(); });
    list_->addButton(run);
    connect(list_, &Worklist::chipChosen, this, [this](const QString& id) {
        filter_ = id;
        refresh();
    });
}

unsigned ClashesStage::books() const { return app::books(project::Book::Clashes, project::Book::Setup); }

Stage::Counting ClashesStage::waiting() const
{
    return [](const project::Project& p) { return static_cast<int>(orNothing(p.clashes().undecided())); };
}

QMap<QString, int> ClashesStage::storeyCounts() const
{
    QMap<QString, int> counts;
    for (const auto& [storey, n] : pairs_->counts().byStorey)
        counts[q(storey)] = static_cast<int>(n);
    return counts;
}

void ClashesStage::setStorey(const QString& storey)
{
    if (storey_ == storey)
        return;
    Stage::setStorey(storey);
    becomeStale();
}

void ClashesStage::refresh()
{
    ask([question = project::ClashQuestion{filterOf(filter_), storey_.toStdString()}](const project::Project& p) {
        return Read{std::make_shared<project::ClashList>(orNothing(p.clashes().briefs()), question),
                    orNothing(p.clashes().lastRun())};
    });
}

bool ClashesStage::follow(const project::Changed& what)
{
    auto decided = project::decidedAnew(what);
    if (!decided || isAwaited_) // what is awaited may have been read before this
        return false;
    ask([decided = std::move(*decided), former = pairs_, lastRun = lastRun_,
         question = project::ClashQuestion{filterOf(filter_), storey_.toStdString()}](const project::Project& p) {
        project::PairBriefs briefs = former->briefs();
        briefs.update(orNothing(p.clashes().decisionBriefs(decided)));
        return Read{std::make_shared<project::ClashList>(std::move(briefs), question), lastRun};
    });
    return true;
}

void ClashesStage::ask(std::function<Read(const project::Project&)> question)
{
    isAwaited_ = true;
    at_.session.ask<Read>(this, std::move(question), [this](Read read) {
        isAwaited_ = false;
        auto former = std::exchange(pairs_, std::move(read.list));
        lastRun_ = std::move(read.lastRun);
        const bool isDecided = isNextWanted_;
        const QString before = list_->chosen();
        fillList();
        Session::letGo(std::move(former));
        emit countsChanged();
        if (isFront() && (isDecided || at_.details.owner().isEmpty()))
            show(list_->chosen() != before); // the view goes on to the next, as the list does
    });
}

void ClashesStage::fillList()
{
    const project::ClashCounts& n = pairs_->counts();
    const auto number = [](std::size_t count) { return QString::number(count); };
    list_->setFigures({{number(pairs_->groupCount()), pairs_->groupCount() == 1 ? "group" : "groups"},
                       {number(pairs_->pairCount()), pairs_->pairCount() == 1 ? "pair" : "pairs"},
                       {number(n.undecided), "undecided", n.undecided > 0},
                       {number(n.gone), "gone"}});
    const auto chip = [&](const char* id, const QString& words, std::size_t count) {
        return Worklist::Chip{id, words + " " + number(count), filter_ == id};
    };
    QVector<Worklist::Chip> chips{chip("undecided", "Undecided", n.undecided), chip("new", "New", n.isNew),
                                  chip("back", "Back", n.back), chip("gone", "Gone", n.gone)};
    if (n.notTested > 0 || filter_ == "notTested")
        chips.append(chip("notTested", "Not tested", n.notTested));
    chips.append(chip("all", "All there", n.there));
    list_->setChips(chips);
    QString caption = pairs_->rowCount() == 0 ? QString()
                                              : "Grouped by the element they share · deepest first" +
                                                    (storey_.isEmpty() ? QString() : " · " + storey_ + " only");
    // What a run was silent about stands with what it found.
    if (lastRun_)
        caption += (caption.isEmpty() ? "" : "\n") + q("Run " + std::to_string(lastRun_->id) + ", " +
                                                       dayInWords(lastRun_->by.time) + ": " + lastRun_->inWords());
    list_->setCaption(caption);
    list_->setEmptyText(
        !lastRun_ ? "No test has been run yet. Align the members in Coordinates first, then press Run tests (R)."
        : pairs_->isEmpty() ? "The last run found no pair. " + q(lastRun_->inWords())
                            : "No pair answers to this filter. Choose another one above.");
    list_->setSource(std::make_shared<ClashRows>(pairs_, at_.session), std::exchange(isNextWanted_, false));
    if (!wanted_.isEmpty())
        list_->choose(std::exchange(wanted_, {}));
}

void ClashesStage::choose(const QString& id)
{
    if (pairs_->rowOf(id.toStdString()) >= 0) {
        list_->choose(id);
        return;
    }
    wanted_ = id;
    filter_ = "all"; // wherever it stands
    refresh();
}

std::vector<project::PairId> ClashesStage::chosenPairs() const
{
    std::vector<std::string> ids;
    for (const QString& id : list_->chosenAll())
        ids.push_back(id.toStdString());
    return pairs_->pairsOf(ids);
}

QString ClashesStage::titleOf(const std::vector<project::Pair>& pairs) const
{
    if (pairs.size() == 1)
        return q(pairs[0].left.name) + " × " + q(pairs[0].right.name);
    std::vector<project::PairId> ids;
    for (const project::Pair& p : pairs)
        ids.push_back(p.id);
    const std::size_t groups = pairs_->groupsOf(ids);
    const auto* group = pairs_->groupOf(list_->chosen().toStdString());
    if (groups == 1 && group != nullptr)
        return q(orNothing(pairs_->titleOf(at_.session.project().clashes(), *group)));
    return QString("%1 pairs in %2 groups").arg(pairs.size()).arg(groups);
}

void ClashesStage::enter()
{
    if (!isNextWanted_) // else the next one is shown as soon as it is known
        show(false);
}

void ClashesStage::show(bool movesView)
{
    auto ids = chosenPairs();
    const std::size_t all = ids.size();
    ids.resize(std::min(all, kMostShown));
    const std::vector<project::Pair> pairs = orNothing(at_.session.project().clashes().get(ids));
    showDetails(pairs);
    if (pairs.empty()) {
        showPlain();
        return;
    }
    view::Subject subject;
    Box3 box;
    Vector3 middle;
    for (const project::Pair& p : pairs) {
        for (const bool isLeft : {true, false})
            if (const auto key = at_.scene.find((isLeft ? p.left : p.right).element)) {
                subject.painted[*key] = toColour(isLeft ? theme::kLeft : theme::kRight);
                subject.about.push_back(*key);
            }
        subject.markers.push_back({p.point, pairs.size() > 1 ? std::to_string(subject.markers.size() + 1) : "!",
                                   toColour(p.isGone() ? theme::kPanel : theme::kOverlap), toColour(theme::kInk)});
        box.add(p.point);
        middle = middle + (1.0 / static_cast<double>(pairs.size())) * p.point;
    }
    subject.grid = gridOn(q(pairs[0].storey));
    subject.place = box;
    at_.scene.change([&](view::Scene& scene) {
        scene.choose({});
        scene.show(subject);
    });
    if (!movesView)
        return;
    const double reach = std::max(6.0, 1.2 * length(box.size()));
    const Vector3 from = at_.scene.freeDirection(middle, reach, {-0.55, -0.75, 0.5}, subject.about);
    at_.scene.setCamera(view::lookingAt(box.grownBy(2.2), from, at_.scene.viewport().aspect()), true);
}

void ClashesStage::showDetails(const std::vector<project::Pair>& pairs)
{
    Details& d = at_.details;
    d.clear();
    const auto* group = pairs_->groupOf(list_->chosen().toStdString());
    if (group == nullptr || pairs.empty()) {
        d.addText(
            "Choose a group or a pair on the left; the view goes there and this panel says where it is, how deep, "
            "and whose.");
        d.finish();
        return;
    }
    const project::Pair& p = pairs[0];
    const bool isOne = pairs.size() == 1;
    d.addCaption((isOne ? "Pair · " : "Group · ") + q(std::string(clash::stateInWords(p.state))) + " · " + q(p.test));
    d.addTitle(titleOf(pairs));
    const project::Pair& deepest = *std::max_element(
        pairs.begin(), pairs.end(), [](const project::Pair& a, const project::Pair& b) { return a.depth < b.depth; });
    double low = 1e9, high = -1e9;
    for (const project::Pair& one : pairs) {
        low = std::min(low, one.point.z);
        high = std::max(high, one.point.z);
    }
    d.addFact("Where", q(project::whereInWords(pairs), "no storey"),
              q(elevationInWords(Metres{low})) +
                  (high - low > 0.005 ? " to " + q(elevationInWords(Metres{high})) : "") + " m");
    d.addFact(isOne ? "Depth" : "Deepest", q(clash::depthInWords(deepest.depth, deepest.isApproximate)),
              "to part them");
    if (const std::string cause = isOne ? orNothing(project::causeOf(at_.session.project(), p)) : ""; !cause.empty())
        d.addFact("Cause", q(cause));
    const auto silent = std::count_if(pairs.begin(), pairs.end(),
                                      [](const project::Pair& one) { return !one.isGone() && !one.isTested(); });
    if (silent > 0)
        d.addFact("Not tested", isOne ? q(std::string(clash::whyNotTested(p.outcome)))
                                      : q(counted(static_cast<std::size_t>(silent), "pair", "pairs")));
    const auto side = [&](bool isLeft) {
        const project::PairSide& own = isLeft ? p.left : p.right;
        const bool isShared = std::all_of(pairs.begin(), pairs.end(), [&](const project::Pair& one) {
            return (isLeft ? one.left : one.right).element == own.element;
        });
        const QString name = isOne || isShared ? q(own.name) : QString::number(pairs.size()) + " elements";
        QString second = q(own.memberTitle());
        if (const auto key = at_.scene.find(own.element)) {
            const federation::Member& m = at_.scene.members()[key->member];
            const ifc::Element& e = m.model->elements()[key->element];
            const std::string& system = m.model->text(e.system);
            const std::string& type = m.model->text(e.typeName);
            second += " · " + q(std::string(m.model->className(e)));
            if (!system.empty() || !type.empty())
                second += " · " + q(system.empty() ? type : system);
        } else {
            second += " · not in the federation that is looked at";
        }
        d.addFact(isLeft ? "Left" : "Right", name, second, Mark::Swatch, isLeft ? theme::kLeft : theme::kRight);
    };
    side(true);
    side(false);
    if (!p.decision.empty())
        d.addFact("Decided", q(p.decision) + (p.reason.empty() ? "" : ": " + q(p.reason)),
                  q(p.decidedBy.person) + ", " + q(timeInWords(p.decidedBy.time)));
    const bool isOpen = !p.isGone();
    d.addButtons({{"fix", "Fix", "F", true, isOpen && p.issue.empty(), [this] { makeIssue(); }},
                  {"letStand", "Let stand", "S", false, isOpen, [this] { decide("let stand"); }},
                  {"later", "Later", "L", false, isOpen, [this] { decide("later"); }}});
    if (isOpen && p.issue.empty()) {
        d.addHeading("If fixed");
        d.addText("One issue for " + q(counted(pairs.size(), "pair", "pairs")) + " to " + q(p.right.discipline) +
                      ", due in 7 days.",
                  false);
    }
    d.addHeading("History");
    QVector<QStringList> rows;
    for (const project::PairMoment& m : orNothing(at_.session.project().clashes().historyOf(p.id)))
        rows.append(
            {"Run " + QString::number(m.run) + ", " + q(dayInWords(m.by.time)),
             clash::isTested(m.outcome)
                 ? q(std::string(m.outcome == clash::Outcome::Removed ? "removed" : clash::stateInWords(m.state)))
                 : QString("not tested")});
    d.addTable({}, rows, "pairHistory");
    d.finish();
}

void ClashesStage::decide(const QString& decision)
{
    auto ids = chosenPairs();
    if (ids.empty())
        return;
    isNextWanted_ = true;
    at_.session.write(
        [ids = std::move(ids), decision = decision.toStdString(), who = at_.session.now()](project::Project& p) {
            return Session::saying(p.clashes().decide(ids, decision, "", who),
                                   counted(ids.size(), "pair", "pairs") + ": " + decision);
        },
        [this](bool isDone) { isNextWanted_ = isNextWanted_ && isDone; });
}

issues::Viewpoint ClashesStage::viewpoint(const std::vector<project::Pair>& pairs)
{
    issues::Viewpoint v;
    v.uuid = newUuid();
    v.camera = view::toViewpoint(at_.scene.camera());
    issues::Colouring left{"FF" + theme::kLeft.name().mid(1).toUpper().toStdString(), {}};
    issues::Colouring right{"FF" + theme::kRight.name().mid(1).toUpper().toStdString(), {}};
    for (const project::Pair& p : pairs) {
        const auto add = [](std::vector<ElementRef>& list, const ElementRef& element) {
            if (std::find(list.begin(), list.end(), element) == list.end())
                list.push_back(element);
        };
        add(left.elements, p.left.element);
        add(right.elements, p.right.element);
        add(v.selection, p.left.element);
        add(v.selection, p.right.element);
    }
    v.colouring = {left, right};
    return v;
}

void ClashesStage::makeIssue()
{
    const auto ids = chosenPairs();
    const std::vector<project::Pair> pairs = orNothing(at_.session.project().clashes().get(ids));
    if (pairs.empty() || !pairs[0].issue.empty())
        return;
    show(false);
    issues::Issue issue = project::draftIssue(titleOf(pairs).toStdString(), pairs, at_.session.now().time);
    issue.viewpoints = {viewpoint(pairs)};
    const QByteArray picture = png(at_.scene.picture());
    issue.viewpoints[0].snapshot.assign(picture.constData(), static_cast<std::size_t>(picture.size()));
    isNextWanted_ = true;
    at_.session.write(
        [ids, issue = std::move(issue), who = at_.session.now()](project::Project& p) {
            const auto number = project::makeIssue(p, issue, ids, who);
            return Session::saying(number, number ? *number + " made for " + counted(ids.size(), "pair", "pairs") : "");
        },
        [this](bool isDone) { isNextWanted_ = isNextWanted_ && isDone; });
}

bool ClashesStage::press(Qt::Key key)
{
    if (key == Qt::Key_F)
        makeIssue();
    else if (key == Qt::Key_S)
        decide("let stand");
    else if (key == Qt::Key_L)
        decide("later");
    else if (key == Qt::Key_R)
        at_.session.runTests();
    else
        return false;
    return true;
}

QVector<QPair<QString, QString>> ClashesStage::keys() const
{
    return {
        {"F", "fix: make an issue of what is chosen"}, {"S", "let it stand"}, {"L", "later"}, {"R", "run the tests"}};
}

} // namespace wendrix::app
