#include "clashes/clashes_stage.h"

#include "core/base/text.h"
#include "core/clash/words.h"
#include "core/project/clash_cause.h"
#include "core/project/issue_making.h"
#include "shell/form.h"
#include "shell/long_text.h"
#include "shell/theme.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>

#include <algorithm>
#include <set>

/// Clashes: what is chosen, in scene and details.
namespace wendrix::app {

namespace {

constexpr std::size_t kMostShown = 2000; // pairs that a view can still tell apart

} // namespace

void ClashesStage::show(bool movesView)
{
    explaining_.forget();
    auto ids = chosenPairs();
    const std::size_t all = ids.size();
    ids.resize(std::min(all, kMostShown));
    const std::vector<project::Pair> pairs = orNothing(at_.session.project().clashes().get(ids));
    showDetails(pairs);
    if (pairs.empty()) {
        showPlain();
        return;
    }
    ClashView view = viewOf(at_.scene, pairs, gridOn(q(pairs[0].storey)));
    at_.scene.change([&](view::Scene& scene) {
        scene.choose({});
        scene.show(view.subject);
    });
    view::Camera camera = at_.scene.camera();
    if (movesView) {
        camera = cameraFor(at_.scene, view, at_.scene.viewport().aspect());
        at_.scene.setCamera(camera, true);
    }
    explain(pairs, std::move(view), camera.eye - camera.target);
}

void ClashesStage::explain(const std::vector<project::Pair>& pairs, ClashView view, Vector3 from)
{
    const auto order = std::make_shared<const ConflictOrder>(orderFor(at_.scene, pairs));
    if (order->items.empty())
        return;
    explaining_.ask([this, order, view = std::move(view), from](const LatestAnswer::IsVoid& isVoid) {
        return [this, view, from, conflicts = conflictsOf(*order, isVoid)] {
            if (!isFront() || !isAtPairs())
                return;
            at_.scene.change(
                [&](view::Scene& scene) { scene.illustrate(illustrationOf(at_.scene, view, conflicts, from)); });
            if (const QString words = inWords(conflicts); explained_ != nullptr && !words.isEmpty()) {
                explained_->setText(words);
                explained_->show();
            }
        };
    });
}

void ClashesStage::showDetails(const std::vector<project::Pair>& pairs)
{
    Details& d = at_.details;
    d.clear();
    reason_ = until_ = nullptr;
    explained_ = toBeMade_ = nullptr;
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
    const project::Pair& deepest =
        *std::max_element(pairs.begin(), pairs.end(), [](const project::Pair& a, const project::Pair& b) {
            return a.extent().missing() < b.extent().missing();
        });
    d.addFact("Where", q(project::whereInWords(pairs), "no storey"), q(project::elevationsInWords(pairs)) + " m");
    if (p.kind == clash::Kind::Hard)
        d.addFact(isOne ? "Depth" : "Deepest", q(clash::depthInWords(deepest.depth, deepest.isApproximate)),
                  deepest.isOpen ? "to part them; one is open, its surface was tested" : "to part them");
    else if (p.kind == clash::Kind::Clearance)
        d.addFact(isOne ? "Free" : "Least free", q(lengthInWords(Metres{deepest.distance})),
                  "of " + q(lengthInWords(Metres{deepest.clearance})) + " that are wanted");
    else
        d.addFact("Doubled", "the same shape at the same place",
                  "no farther apart than " + q(lengthInWords(Metres{deepest.distance})));
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
        QStringList about{q(own.memberTitle())};
        for (const auto field : {&project::PairSide::className, &project::PairSide::type, &project::PairSide::system})
            if (!(own.*field).empty() && std::all_of(pairs.begin(), pairs.end(), [&](const project::Pair& one) {
                    return (isLeft ? one.left : one.right).*field == own.*field;
                }))
                about << endsOf(q(own.*field)); // what all of them are
        if (!at_.scene.find(own.element))
            about << "not in the federation that is looked at";
        const QString second = about.join(" · ");
        d.addFact(isLeft ? "Left" : "Right", name, second, Mark::Swatch, isLeft ? theme::kLeft : theme::kRight);
    };
    side(true);
    side(false);
    explained_ = new QLabel;
    explained_->setObjectName("explained");
    explained_->setWordWrap(true);
    explained_->setTextFormat(Qt::PlainText);
    explained_->hide(); // until there is something to say
    d.addWidget(explained_);
    addDecided(p);
    addDeciding(pairs);
    addHistory(pairs);
    d.finish();
}

void ClashesStage::addDecided(const project::Pair& p)
{
    Details& d = at_.details;
    if (!p.decision.empty())
        d.addFact("Decided", q(p.decision) + (p.reason.empty() ? "" : ": " + q(p.reason)),
                  q(p.decidedBy.person) + ", " + q(timeInWords(p.decidedBy.time)) +
                      (p.decision != "let stand" ? QString()
                       : p.until.empty()         ? QString(" · until one of them changes")
                                                 : " · until " + q(dayInWords(p.until))));
    if (p.decision.empty() && !p.returned.empty())
        d.addFact("Came back", q(p.returned));
}

void ClashesStage::addDeciding(const std::vector<project::Pair>& pairs)
{
    Details& d = at_.details;
    const project::Pair& p = pairs[0];
    const bool isOpen = !p.isGone(), isFree = isOpen && p.issue.empty();
    d.addButtons({{"fix", "Fix", "F", true, isFree, [this] { makeIssue(); }},
                  {"letStand", "Let stand", "S", false, isOpen, [this] { decide("let stand"); }},
                  {"later", "Later", "L", false, isOpen, [this] { decide("later"); }}});
    if (isOpen) {
        auto* form = new Form;
        reason_ = form->line("standReason", "Reason", lastReason_, "why it may stand");
        connect(reason_, &QLineEdit::textEdited, this, [this](const QString& words) { lastReason_ = words; });
        connect(reason_, &QLineEdit::returnPressed, this, [this] { decide("let stand"); });
        until_ = form->line("standUntil", "Until", {}, "2026-12-24, or until one changes");
        d.addHeading("If it may stand");
        d.addWidget(form);
    }
    if (!isFree)
        return;
    d.addHeading("If fixed");
    auto* form = new Form;
    QVector<QPair<QString, QString>> templates;
    for (const issues::IssueTemplate& t : known_->templates)
        templates.append({q(t.name), q(t.name)});
    auto* with = form->choice("issueTemplate", "Template", templates, q(chosenTemplate().name));
    connect(with, &QComboBox::activated, this, [this, with, pairs] {
        template_ = with->currentData().toString();
        sayWhatIsMade(pairs);
    });
    std::vector<project::PairId> ids;
    for (const project::Pair& pair : pairs)
        ids.push_back(pair.id);
    if (pairs.size() > 1) {
        QVector<QPair<QString, QString>> ways{{"one for all of them", "0"}, {"one for each pair", "2"}};
        if (pairs_->groupsOf(ids) > 1)
            ways.insert(1, {"one for each group", "1"});
        auto* each = form->choice("issuesOf", "Issues", ways, QString::number(static_cast<int>(issuesOf_)));
        connect(each, &QComboBox::activated, this, [this, each, pairs] {
            issuesOf_ = static_cast<IssuesOf>(each->currentData().toInt());
            sayWhatIsMade(pairs);
        });
    }
    d.addWidget(form);
    toBeMade_ = new QLabel;
    toBeMade_->setObjectName("toBeMade");
    toBeMade_->setWordWrap(true);
    toBeMade_->setTextFormat(Qt::PlainText);
    d.addWidget(toBeMade_);
    sayWhatIsMade(pairs);
}

void ClashesStage::sayWhatIsMade(const std::vector<project::Pair>& pairs)
{
    const issues::Issue issue = draft(pairs);
    const auto parts = partsOf(pairs);
    const std::size_t count = parts.size();
    const QString due = "due " + q(dayInWords(issue.dueAt));
    toBeMade_->setText(
        count > 1
            ? q(grouped(count)) + " issues, one a " + (count == pairs.size() ? "pair" : "group") + ", as “" +
                  endsOf(q(chosenTemplate().name)) + "” has it; " + due + "."
            : "“" + endsOf(q(issue.title)) + "”, " + (pairs.size() == 1 ? "" : "one issue for all, ") +
                  (issue.assignee.empty() ? QString() : "to " + endsOf(q(issue.assignee)) + ", ") +
                  (issue.priority.empty() ? QString() : "priority " + q(issue.priority).toLower() + ", ") + due + ".");
    constexpr std::size_t kMostAsked = 200; // elements: it is said while one chooses
    std::vector<std::vector<ElementRef>> about;
    std::size_t asked = 0;
    for (const std::vector<project::Pair>& part : parts) {
        std::set<ElementRef> own;
        for (const project::Pair& p : part)
            if (asked + own.size() < kMostAsked)
                own.insert({p.left.element, p.right.element});
        asked += own.size();
        if (!own.empty())
            about.emplace_back(own.begin(), own.end());
    }
    if (const std::string already = project::alreadyAboutInWords(at_.session.project(), about); !already.empty())
        toBeMade_->setText(toBeMade_->text() + " " + q(already) + ".");
}

void ClashesStage::addHistory(const std::vector<project::Pair>& pairs)
{
    Details& d = at_.details;
    d.addHeading("History");
    QVector<QStringList> rows;
    const auto run = [](project::RunId id, const WhoAndWhen& by) {
        return "Run " + QString::number(id) + ", " + q(dayInWords(by.time));
    };
    const project::ClashesBook& clashes = at_.session.project().clashes();
    if (pairs.size() == 1) {
        for (const project::PairMoment& m : orNothing(clashes.historyOf(pairs[0].id)))
            rows.append(
                {run(m.run, m.by),
                 clash::isTested(m.outcome)
                     ? q(std::string(m.outcome == clash::Outcome::Removed ? "removed" : clash::stateInWords(m.state)))
                     : QString("not tested")});
    } else {
        std::vector<project::PairId> ids;
        for (const project::Pair& p : pairs)
            ids.push_back(p.id);
        for (const project::GroupMoment& m : orNothing(clashes.historyOf(ids)))
            rows.append({run(m.run, m.by), q(m.inWords())});
    }
    d.addTable({}, rows, pairs.size() == 1 ? "pairHistory" : "groupHistory");
}

} // namespace wendrix::app
