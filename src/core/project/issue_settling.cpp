#include "core/base/guid.h"
#include "core/base/text.h"
#include "core/project/issue_list.h"
#include "core/project/issue_making.h"

/// What the models propose to do with issues.
namespace wendrix::project {

std::string IssueProposals::inWords() const
{
    std::string words;
    if (!canBeClosed.empty())
        words = counted(canBeClosed.size(), "issue", "issues") + " can be closed";
    if (!goBack.empty())
        words += (words.empty() ? "" : ", ") + counted(goBack.size(), "issue was", "issues were") +
                 " said to be done and " + (goBack.size() == 1 ? "is" : "are") + " still there";
    return words.empty() ? words : words + ".";
}

Result<IssueProposals> issueProposals(const Project& project)
{
    const auto known = issueKnowledge(project, {}, {}, {});
    if (!known)
        return fail(known.error());
    IssueProposals proposals;
    for (const auto& [filter, into] : {std::pair{IssueFilter::CanBeClosed, &proposals.canBeClosed},
                                       std::pair{IssueFilter::GoesBack, &proposals.goBack}}) {
        IssueQuestion question;
        question.filter = filter;
        const IssueList list(*known, question);
        for (std::size_t row = 0; row < list.rowCount(); ++row)
            into->push_back(list.idOf(row));
    }
    return proposals;
}

Result<IssuesChanged> settleOnEvidence(Project& project, std::span<const std::string> uuids, const WhoAndWhen& who)
{
    const auto flow = project.issues().workflow();
    if (!flow)
        return fail(flow.error());
    struct Step {
        std::string status, comment;
    };
    std::map<std::string, Step> steps;
    std::vector<std::string> moved;
    std::size_t closed = 0;
    for (const std::string& uuid : uuids) {
        const auto issue = project.issues().find(uuid, false);
        const auto evidence = evidenceOf(project, uuid);
        if (const auto error = firstError(issue, evidence))
            return fail(*error);
        if (!*issue || flow->isClosed((*issue)->status))
            continue;
        const bool isDone = flow->statusOf((*issue)->status).shape == issues::StatusShape::Full;
        Step step;
        if (evidence->isSettled())
            step = {flow->first(issues::StatusShape::Ticked), "Closed. " + evidence->inWords()};
        else if (isDone && evidence->isStillThere())
            step = {flow->first(issues::StatusShape::Broken), "Sent back. " + evidence->inWords()};
        if (step.status.empty())
            continue;
        closed += evidence->isSettled() ? 1 : 0;
        moved.push_back(uuid);
        steps.emplace(uuid, std::move(step));
    }
    const std::size_t back = moved.size() - closed;
    const std::string what = (closed > 0 ? "closed on evidence" : std::string()) +
                             (closed > 0 && back > 0 ? " or " : "") + (back > 0 ? "sent back" : "");
    return project.issues().change(
        moved, what,
        [&](issues::Issue& i) {
            const Step& step = steps.at(i.uuid);
            i.status = step.status;
            i.comments.push_back({newUuid(), who.time, who.person, step.comment});
        },
        who);
}

} // namespace wendrix::project
