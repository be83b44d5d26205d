#include "clashes/clashes_stage.h"

#include "core/base/guid.h"
#include "core/base/text.h"
#include "core/clash/words.h"
#include "core/project/clash_issue.h"
#include "shell/theme.h"

#include <QBuffer>
#include <QPushButton>

#include <algorithm>
#include <cmath>

namespace wendrix::app {

namespace {

QString depthWords(const project::Pair& p) { return q(lengthInWords(Metres{p.depth})); }

QString otherName(const project::Pair& p, bool isLeftShared) { return q(isLeftShared ? p.rightName : p.leftName); }

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
        fillList();
    });
}

bool ClashesStage::isWanted(const project::Pair& p) const
{
    if (!storey_.isEmpty() && q(p.storey) != storey_)
        return false;
    if (filter_ == "undecided")
        return !p.isGone() && p.decision.empty();
    if (filter_ == "new")
        return p.state == clash::PairState::New;
    if (filter_ == "back")
        return p.state == clash::PairState::Back;
    if (filter_ == "gone")
        return p.isGone();
    return !p.isGone();
}

int ClashesStage::waiting() const
{
    return static_cast<int>(std::count_if(pairs_.begin(), pairs_.end(), [](const project::Pair& p) {
        return !p.isGone() && p.decision.empty();
    }));
}

QMap<QString, int> ClashesStage::storeyCounts() const
{
    QMap<QString, int> counts;
    for (const project::Pair& p : pairs_)
        if (!p.isGone())
            ++counts[q(p.storey)];
    return counts;
}

void ClashesStage::setStorey(const QString& storey)
{
    Stage::setStorey(storey);
    fillList();
}

void ClashesStage::refresh()
{
    pairs_ = at_.session.hasProject() ? at_.session.project().pairs() : std::vector<project::Pair>{};
    fillList();
}

void ClashesStage::regroup()
{
    groups_.clear();
    std::map<std::string, std::vector<std::size_t>> byTest;
    for (std::size_t i = 0; i < pairs_.size(); ++i)
        if (isWanted(pairs_[i]))
            byTest[pairs_[i].test].push_back(i);
    for (const auto& [test, members] : byTest) {
        std::vector<clash::PairEnds> ends;
        for (const std::size_t i : members)
            ends.push_back({pairs_[i].leftGuid, pairs_[i].rightGuid});
        for (const clash::Group& g : clash::groupBySharedElement(ends)) {
            Group group{q("g:" + test + ":" + g.sharedGuid), {}, q(test), {}, g.isLeft};
            std::vector<std::string> others;
            for (const std::uint32_t i : g.pairs)
                group.pairs.push_back(members[i]);
            // Deepest first; what differs by less than a millimetre goes by name.
            std::stable_sort(group.pairs.begin(), group.pairs.end(), [&](std::size_t a, std::size_t b) {
                const long da = std::lround(pairs_[a].depth * 1000), db = std::lround(pairs_[b].depth * 1000);
                return da != db ? da > db : otherName(pairs_[a], g.isLeft) < otherName(pairs_[b], g.isLeft);
            });
            for (const std::size_t i : group.pairs)
                others.push_back(otherName(pairs_[i], g.isLeft).toStdString());
            const project::Pair& first = pairs_[group.pairs[0]];
            group.title = q(clash::groupTitle(g.isLeft ? first.leftName : first.rightName, others));
            groups_.push_back(std::move(group));
        }
    }
    const auto deepest = [&](const Group& g) {
        double d = 0;
        for (const std::size_t i : g.pairs)
            d = std::max(d, pairs_[i].depth);
        return d;
    };
    std::stable_sort(groups_.begin(), groups_.end(),
                     [&](const Group& a, const Group& b) { return deepest(a) > deepest(b); });
}

void ClashesStage::fillList()
{
    const auto count = [&](auto wanted) { return static_cast<int>(std::count_if(pairs_.begin(), pairs_.end(), wanted)); };
    const auto there = [](const project::Pair& p) { return !p.isGone(); };
    const int undecided = waiting(), news = count([](const auto& p) { return p.state == clash::PairState::New; });
    const int back = count([](const auto& p) { return p.state == clash::PairState::Back; });
    const int gone = count([](const auto& p) { return p.isGone(); }), all = count(there);
    regroup();
    std::size_t shown = 0;
    for (const Group& g : groups_)
        shown += g.pairs.size();
    list_->setFigures({{QString::number(groups_.size()), groups_.size() == 1 ? "group" : "groups"},
                       {QString::number(shown), shown == 1 ? "pair" : "pairs"},
                       {QString::number(undecided), "undecided", undecided > 0},
                       {QString::number(gone), "gone"}});
    const auto chip = [&](const char* id, const QString& words, int n) {
        return Worklist::Chip{id, words + " " + QString::number(n), filter_ == id};
    };
    list_->setChips({chip("undecided", "Undecided", undecided), chip("new", "New", news), chip("back", "Back", back),
                     chip("gone", "Gone", gone), chip("all", "All there", all)});
    list_->setCaption(groups_.empty() ? "" : "Grouped by the element they share · deepest first" +
                                                 (storey_.isEmpty() ? QString() : " · " + storey_ + " only"));
    list_->setEmptyText(pairs_.empty() ? "No test has been run yet. Align the members in Coordinates first, then press "
                                         "Run tests (R)."
                                       : "No pair answers to this filter. Choose another one above.");
    QVector<Row> rows;
    for (const Group& g : groups_) {
        const project::Pair& worst = pairs_[g.pairs[0]];
        Row row;
        row.id = g.id;
        row.mark = Mark::Bars;
        row.markText = QString::number(project::weightOf(worst.depth).bars);
        row.markColour = theme::kInk;
        row.title = g.title;
        row.right = q(counted(g.pairs.size(), "pair", "pairs"));
        row.subtitle = q(worst.storey, "no storey") + " · " + q(worst.bay) + " · " + depthWords(worst) + " deep";
        const QString state = q(std::string(clash::stateInWords(worst.state)));
        if (worst.decision.empty() && (worst.state == clash::PairState::Back || worst.state == clash::PairState::New))
            row.loud = worst.state == clash::PairState::Back ? "back again" : QString();
        row.subtitle += " · " + (worst.decision.empty() ? state : q(worst.decision) + ", " + state);
        row.isStruck = worst.isGone();
        rows.append(row);
        if (g.pairs.size() < 2)
            continue;
        int number = 0;
        for (const std::size_t i : g.pairs) {
            Row inner;
            inner.id = q(pairs_[i].id);
            inner.level = 1;
            inner.mark = Mark::Number;
            inner.markText = QString::number(++number);
            inner.markColour = theme::kSoftInk;
            inner.title = otherName(pairs_[i], g.isLeft);
            inner.right = depthWords(pairs_[i]);
            inner.isStruck = pairs_[i].isGone();
            rows.append(inner);
        }
    }
    list_->setRows(rows);
}

const ClashesStage::Group* ClashesStage::chosenGroup() const
{
    const QString id = list_->chosen();
    for (const Group& g : groups_)
        if (g.id == id || std::any_of(g.pairs.begin(), g.pairs.end(), [&](std::size_t i) { return q(pairs_[i].id) == id; }))
            return &g;
    return nullptr;
}

std::vector<std::size_t> ClashesStage::chosenPairs() const
{
    std::vector<std::size_t> chosen;
    const QStringList ids = list_->chosenAll();
    for (const Group& g : groups_)
        for (const std::size_t i : g.pairs)
            if (ids.contains(g.id) || ids.contains(q(pairs_[i].id)))
                chosen.push_back(i);
    return chosen;
}

std::vector<project::Pair> ClashesStage::pairsAt(const std::vector<std::size_t>& chosen) const
{
    std::vector<project::Pair> pairs;
    for (const std::size_t i : chosen)
        pairs.push_back(pairs_[i]);
    return pairs;
}

QString ClashesStage::titleOf(const std::vector<std::size_t>& chosen) const
{
    const project::Pair& first = pairs_[chosen[0]];
    if (chosen.size() == 1)
        return q(first.leftName) + " × " + q(first.rightName);
    const auto groups = std::count_if(groups_.begin(), groups_.end(), [&](const Group& g) {
        return std::any_of(g.pairs.begin(), g.pairs.end(),
                           [&](std::size_t i) { return std::find(chosen.begin(), chosen.end(), i) != chosen.end(); });
    });
    return groups == 1 ? chosenGroup()->title : QString("%1 pairs in %2 groups").arg(chosen.size()).arg(groups);
}

void ClashesStage::enter()
{
    showPlain();
    show(false);
}

void ClashesStage::show(bool movesView)
{
    const auto chosen = chosenPairs();
    showDetails();
    if (chosen.empty()) {
        showPlain();
        return;
    }
    view::Display& display = at_.scene.display();
    display.painted.clear();
    display.selected.clear();
    display.isRestFaded = true;
    std::vector<Marker> markers;
    std::vector<view::ElementKey> about;
    Box3 box;
    Vector3 middle;
    for (const std::size_t i : chosen) {
        const project::Pair& p = pairs_[i];
        for (const bool isLeft : {true, false})
            if (const auto key = at_.scene.find(isLeft ? p.leftGuid : p.rightGuid)) {
                display.painted[*key] = view::colourOf((isLeft ? theme::kLeft : theme::kRight).name().toStdString());
                about.push_back(*key);
            }
        markers.push_back({p.point, chosen.size() > 1 ? QString::number(markers.size() + 1) : QString("!"),
                           p.isGone() ? theme::kPanel : theme::kOverlap, theme::kInk, false});
        box.add(p.point);
        middle = middle + (1.0 / static_cast<double>(chosen.size())) * p.point;
    }
    at_.scene.setArrows({});
    at_.scene.setMarkers(markers);
    at_.scene.updateDisplay();
    if (!movesView)
        return;
    const double reach = std::max(6.0, 1.2 * length(box.size()));
    const Vector3 from = view::freeDirection(at_.scene.picker(), middle, reach, {-0.55, -0.75, 0.5}, about);
    at_.scene.setCamera(view::lookingAt(box.grownBy(2.2), from, at_.scene.viewport().aspect()), true);
}

void ClashesStage::showDetails()
{
    Details& d = at_.details;
    d.clear();
    const Group* group = chosenGroup();
    const auto chosen = chosenPairs();
    if (group == nullptr || chosen.empty()) {
        d.addText("Choose a group or a pair on the left; the view goes there and this panel says where it is, how deep, "
                  "and whose.");
        d.finish();
        return;
    }
    const project::Pair& p = pairs_[chosen[0]];
    const bool isOne = chosen.size() == 1;
    d.addCaption((isOne ? "Pair · " : "Group · ") + q(std::string(clash::stateInWords(p.state))) + " · " + group->test);
    d.addTitle(titleOf(chosen));
    double deepest = 0, low = 1e9, high = -1e9;
    for (const std::size_t i : chosen) {
        deepest = std::max(deepest, pairs_[i].depth);
        low = std::min(low, pairs_[i].point.z);
        high = std::max(high, pairs_[i].point.z);
    }
    d.addFact("Where", q(project::whereInWords(pairsAt(chosen))),
              q(elevationInWords(Metres{low})) + (high - low > 0.005 ? " to " + q(elevationInWords(Metres{high})) : "") + " m");
    d.addFact(isOne ? "Depth" : "Deepest", q(lengthInWords(Metres{deepest})));
    const auto side = [&](bool isLeft) {
        const bool isShared = group->isLeft == isLeft;
        const QString name = isOne || isShared ? q(isLeft ? p.leftName : p.rightName)
                                               : QString::number(chosen.size()) + " elements";
        QString second = q(isLeft ? p.leftRevision : p.rightRevision);
        if (const auto key = at_.scene.find(isLeft ? p.leftGuid : p.rightGuid)) {
            const federation::Member& m = at_.scene.members()[key->member];
            const ifc::Element& e = m.model->elements()[key->element];
            const std::string& system = m.model->text(e.system);
            const std::string& type = m.model->text(e.typeName);
            second += " · " + q(std::string(m.model->className(e)));
            if (!system.empty() || !type.empty())
                second += " · " + q(system.empty() ? type : system);
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
        const std::string owner = q(p.rightRevision).section(' ', 0, -2).toStdString();
        d.addHeading("If fixed");
        d.addText("One issue for " + q(counted(chosen.size(), "pair", "pairs")) + " to " + q(owner) + ", due in 7 days.", false);
    }
    d.addHeading("History");
    QVector<QStringList> rows;
    for (const auto& [run, state] : at_.session.project().historyOf(p.id))
        rows.append({"Run " + QString::number(run.id) + ", " + q(dayInWords(run.time)), q(std::string(clash::stateInWords(state)))});
    d.addTable({}, rows, "pairHistory");
    d.finish();
}

void ClashesStage::decide(const QString& decision)
{
    std::vector<std::string> ids;
    for (const std::size_t i : chosenPairs())
        ids.push_back(pairs_[i].id);
    if (ids.empty())
        return;
    const int row = list_->chosenRow();
    at_.session.apply(at_.session.project().decide(ids, decision.toStdString(), "", at_.session.now()),
                      q(counted(ids.size(), "pair", "pairs")) + ": " + decision);
    list_->chooseInPlaceOf(row); // what is decided leaves the list: on to the next
    show(false);
}

issues::Viewpoint ClashesStage::viewpoint(const std::vector<std::size_t>& chosen)
{
    issues::Viewpoint v;
    v.uuid = newUuid();
    v.camera = view::toViewpoint(at_.scene.camera());
    issues::Colouring left{"FF" + theme::kLeft.name().mid(1).toUpper().toStdString(), {}};
    issues::Colouring right{"FF" + theme::kRight.name().mid(1).toUpper().toStdString(), {}};
    for (const std::size_t i : chosen) {
        const auto add = [](std::vector<std::string>& list, const std::string& guid) {
            if (std::find(list.begin(), list.end(), guid) == list.end())
                list.push_back(guid);
        };
        add(left.guids, pairs_[i].leftGuid);
        add(right.guids, pairs_[i].rightGuid);
        add(v.selection, pairs_[i].leftGuid);
        add(v.selection, pairs_[i].rightGuid);
    }
    v.colouring = {left, right};
    return v;
}

void ClashesStage::makeIssue()
{
    const Group* group = chosenGroup();
    const auto chosen = chosenPairs();
    if (group == nullptr || chosen.empty() || !pairs_[chosen[0]].issue.empty())
        return;
    show(false);
    const auto wanted = pairsAt(chosen);
    issues::Issue issue = project::draftIssue(titleOf(chosen).toStdString(), wanted, at_.session.now().time);
    std::vector<std::string> ids;
    for (const project::Pair& p : wanted)
        ids.push_back(p.id);
    issue.viewpoints = {viewpoint(chosen)};
    const QByteArray picture = png(at_.scene.picture());
    issue.viewpoints[0].snapshot.assign(picture.constData(), static_cast<std::size_t>(picture.size()));
    const int row = list_->chosenRow();
    const auto number = at_.session.project().makeIssue(issue, ids, at_.session.now());
    if (!number) {
        at_.session.apply(tl::unexpected<Error>(number.error()));
        return;
    }
    at_.session.apply({}, q(*number) + " made for " + q(counted(ids.size(), "pair", "pairs")));
    list_->chooseInPlaceOf(row);
    show(false);
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
    return {{"F", "fix: make an issue of what is chosen"}, {"S", "let it stand"}, {"L", "later"}, {"R", "run the tests"}};
}

} // namespace wendrix::app
