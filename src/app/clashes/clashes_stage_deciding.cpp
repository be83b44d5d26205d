#include "clashes/clash_report_job.h"
#include "clashes/clashes_stage.h"

#include "core/base/guid.h"
#include "core/base/text.h"
#include "shell/page_export.h"
#include "shell/theme.h"

#include <QDate>
#include <QLabel>
#include <QLineEdit>

#include <algorithm>
#include <map>

/// Clashes: what is decided about what is chosen.
namespace wendrix::app {

namespace {

constexpr std::size_t kMostIssues = 500; // more of them at once nobody reads

} // namespace

void ClashesStage::decide(const QString& decision)
{
    auto ids = chosenPairs();
    if (ids.empty())
        return;
    std::string reason, until;
    if (decision == "let stand") {
        reason = lastReason_.trimmed().toStdString();
        until = until_ != nullptr ? until_->text().trimmed().toStdString() : std::string();
        if (!until.empty() && !QDate::fromString(q(until), Qt::ISODate).isValid())
            return at_.session.fail(
                {project::kUnknown, "\"" + until + "\" is no day; write it as 2026-12-24, or leave it empty."});
    }
    if (reason_ != nullptr && reason_->hasFocus())
        reason_->window()->setFocus(); // keys are decisions again
    isNextWanted_ = true;
    at_.session.write(
        [ids, decision = decision.toStdString(), reason, until, who = at_.session.now()](project::Project& p) {
            return Session::saying(p.clashes().decide(ids, decision, reason, who, until),
                                   counted(ids.size(), "pair", "pairs") + ": " + decision +
                                       (reason.empty() ? "" : ", " + reason));
        },
        [this, ids, isSaid = !reason.empty()](bool isDone) {
            isNextWanted_ = isNextWanted_ && isDone;
            if (isDone && isSaid)
                offerAlike(ids);
        });
}

void ClashesStage::offerAlike(const std::vector<project::PairId>& decided)
{
    at_.session.ask<std::optional<project::AlikeOffer>>(
        this, "alike",
        [decided](const project::Project& p) { return orNothing(project::alikeTo(p.clashes(), decided)); },
        [this](std::optional<project::AlikeOffer> offer) {
            offer_ = std::move(offer);
            if (offer_)
                offerWords_->setText("For the same reason, " + q(offer_->reason) + ": " + q(offer_->words) +
                                     ". They are undecided.");
            offerBox_->setVisible(offer_.has_value());
        });
}

void ClashesStage::takeOffer(bool isTaken)
{
    const auto offer = std::exchange(offer_, std::nullopt);
    offerBox_->hide();
    if (!isTaken || !offer)
        return;
    isNextWanted_ = true;
    at_.session.write([offer = *offer, who = at_.session.now()](project::Project& p) {
        return Session::saying(p.clashes().decide(offer.pairs, "let stand", offer.reason, who, offer.until),
                               counted(offer.pairs.size(), "pair", "pairs") + ": let stand, " + offer.reason);
    });
}

issues::Viewpoint ClashesStage::viewpoint(const std::vector<project::Pair>& pairs) const
{
    issues::Viewpoint v;
    v.uuid = newUuid();
    v.camera = view::toViewpoint(at_.scene.camera(), at_.scene.viewport().aspect());
    v.planes = view::toClippingPlanes(at_.scene.state().cuts);
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

const issues::IssueTemplate& ClashesStage::chosenTemplate() const
{
    const auto& all = known_->templates;
    const auto at =
        std::find_if(all.begin(), all.end(), [&](const issues::IssueTemplate& t) { return q(t.name) == template_; });
    return at != all.end() ? *at : all.front();
}

issues::Issue ClashesStage::draft(const std::vector<project::Pair>& pairs) const
{
    const auto decider = known_->deciderOf.find(pairs[0].test);
    return project::draftIssue(titleOf(pairs).toStdString(), pairs, at_.session.now().time, chosenTemplate(),
                               decider != known_->deciderOf.end() ? decider->second : std::string());
}

void ClashesStage::makeIssue()
{
    const auto ids = chosenPairs();
    const std::vector<project::Pair> pairs = orNothing(at_.session.project().clashes().get(ids));
    if (pairs.empty() || !pairs[0].issue.empty())
        return;
    if (const auto parts = partsOf(pairs); parts.size() > 1)
        return makeIssueOfEach(parts);
    const view::Subject subject = viewOf(at_.scene, pairs, {}).subject;
    if (at_.scene.display().painted != subject.painted) // else what explains it is in the picture, too
        show(false);
    issues::Issue issue = draft(pairs);
    issue.viewpoints = {viewpoint(pairs)};
    issue.viewpoints[0].snapshot = pngOf(at_.scene.picture());
    std::vector<project::IssueForPairs> one;
    one.push_back({std::move(issue), ids});
    finishIssues(std::move(one));
}

std::vector<std::vector<project::Pair>> ClashesStage::partsOf(const std::vector<project::Pair>& pairs) const
{
    if (issuesOf_ == IssuesOf::All)
        return {pairs};
    std::vector<std::vector<project::Pair>> parts;
    std::map<const project::ClashList::Group*, std::size_t> places;
    for (const project::Pair& p : pairs) {
        const auto* group = issuesOf_ == IssuesOf::EachGroup ? pairs_->groupOf(std::to_string(p.id)) : nullptr;
        const auto [at, isNew] = places.try_emplace(group, parts.size());
        if (isNew || group == nullptr)
            parts.push_back({p});
        else
            parts[at->second].push_back(p);
    }
    return parts;
}

void ClashesStage::makeIssueOfEach(const std::vector<std::vector<project::Pair>>& parts)
{
    if (parts.size() > kMostIssues)
        return at_.session.fail({project::kUnknown, grouped(parts.size()) +
                                                        " issues at once are more than anybody reads; choose up to " +
                                                        std::to_string(kMostIssues) + ", or make one for all."});
    std::vector<PictureWork> pictures;
    std::vector<project::IssueForPairs> issues;
    for (std::vector<project::Pair> part : parts) {
        std::erase_if(part, [](const project::Pair& p) { return !p.issue.empty() || p.isGone(); });
        if (part.empty())
            continue;
        const std::vector<view::GridLine> grid = gridOn(q(part[0].storey));
        issues::Issue issue = draft(part);
        issue.viewpoints = {viewpoint(part)};
        issue.viewpoints[0].camera =
            view::toViewpoint(cameraFor(at_.scene, viewOf(at_.scene, part, {}), at_.scene.viewport().aspect()));
        issue.viewpoints[0].planes.clear();
        std::vector<project::PairId> ids;
        for (const project::Pair& p : part)
            ids.push_back(p.id);
        issues.push_back({std::move(issue), std::move(ids)});
        pictures.push_back(pictureOf(at_, part, grid));
    }
    if (issues.empty())
        return at_.session.fail({project::kUnknown, "All of these pairs belong to issues already, or are gone."});
    at_.session.run(Jobs::Lane::Reporting, "Making issues",
                    [at = at_, stage = QPointer<ClashesStage>(this), owner = QPointer<QObject>(this),
                     pictures = std::move(pictures), issues = std::move(issues)](Progress& progress) -> Jobs::Finish {
                        const std::vector<QImage> taken =
                            takePictures(at.session, owner, pictures, "Making issues", progress);
                        if (taken.size() < pictures.size())
                            return [at] { at.session.say("Making issues was cancelled; none was made."); };
                        auto made = std::make_shared<std::vector<project::IssueForPairs>>(issues);
                        for (std::size_t i = 0; i < taken.size(); ++i)
                            (*made)[i].issue.viewpoints[0].snapshot = pngOf(taken[i]);
                        return [stage, made] {
                            if (!stage.isNull())
                                stage->finishIssues(std::move(*made));
                        };
                    });
}

void ClashesStage::finishIssues(std::vector<project::IssueForPairs> issues)
{
    isNextWanted_ = true;
    std::size_t pairs = 0;
    for (const project::IssueForPairs& one : issues)
        pairs += one.pairs.size();
    at_.session.write(
        [issues = std::move(issues), pairs, with = chosenTemplate(), elements = at_.session.elements(),
         members = at_.session.workspace().members, who = at_.session.now()](project::Project& p) {
            std::vector<project::IssueForPairs> all = issues;
            std::vector<issues::Issue*> each;
            for (auto& one : all)
                each.push_back(&one.issue);
            project::assignBySets(p, with, *elements, members, each);
            const auto numbers = project::makeIssues(p, std::move(all), who);
            const std::string words = !numbers ? std::string()
                                      : numbers->size() == 1
                                          ? numbers->front() + " made for "
                                          : counted(numbers->size(), "issue", "issues") + " made, " + numbers->front() +
                                                " to " + numbers->back() + ", for ";
            return Session::saying(numbers, words + counted(pairs, "pair", "pairs"));
        },
        [this](bool isDone) { isNextWanted_ = isNextWanted_ && isDone; });
}

} // namespace wendrix::app
