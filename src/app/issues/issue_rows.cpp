#include "issues/issue_rows.h"

#include "core/base/text.h"
#include "shell/stage.h"
#include "shell/theme.h"

namespace wendrix::app {

Mark markOf(const std::string& status)
{
    if (status == issues::status::kInProgress)
        return Mark::CircleHalf;
    if (status == issues::status::kDone)
        return Mark::CircleFull;
    if (status == issues::status::kClosed)
        return Mark::CircleClosed;
    if (status == issues::status::kBack)
        return Mark::CircleBroken;
    return Mark::CircleOpen;
}

bool isClosed(const std::string& status) { return status == issues::status::kClosed; }

int barsOf(const std::string& priority) { return priority == "High" ? 3 : priority == "Low" ? 1 : 2; }

QVector<Row> IssueRows::page(int first, int number) const
{
    QVector<Row> rows;
    if (!session_.hasProject())
        return rows;
    for (const project::IssueRow& r : orNothing(list_->page(
             session_.project().issues(), static_cast<std::size_t>(first), static_cast<std::size_t>(number)))) {
        const project::IssueBrief& i = r.issue;
        Row row;
        row.id = q(i.uuid);
        row.mark = markOf(i.status);
        row.markColour = theme::kInk;
        row.title = q(i.title);
        row.right = q(issues::evidenceInShort(r.pairs.pairs, r.pairs.gone, r.pairs.notTested));
        row.subtitle = q(i.name()) + " · " + q(i.assignee, "nobody") + " · " + q(i.status).toLower() +
                       (i.dueAt.empty() ? "" : " · due " + q(dayInWords(i.dueAt)));
        if (r.canBeClosed)
            row.loud = "can be closed";
        else if (!isClosed(i.status) && !i.dueAt.empty() && i.dueAt < currentTime())
            row.loud = "late";
        rows.append(row);
    }
    return rows;
}

} // namespace wendrix::app
