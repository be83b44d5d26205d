#include "issues/issue_rows.h"

#include "core/base/text.h"
#include "shell/stage.h"
#include "shell/theme.h"

namespace wendrix::app {

Mark markOf(issues::StatusShape shape)
{
    switch (shape) {
    case issues::StatusShape::Half:
        return Mark::CircleHalf;
    case issues::StatusShape::Full:
        return Mark::CircleFull;
    case issues::StatusShape::Ticked:
        return Mark::CircleClosed;
    case issues::StatusShape::Broken:
        return Mark::CircleBroken;
    default:
        return Mark::CircleOpen;
    }
}

int barsOf(const std::string& priority) { return priority == "High" ? 3 : priority == "Low" ? 1 : 2; }

Row rowOf(const project::IssueRow& r)
{
    const project::IssueKey& i = r.issue;
    Row row;
    row.id = q(i.uuid);
    row.mark = markOf(r.status.shape);
    row.markColour = theme::kInk;
    row.title = q(i.title);
    row.right = q(r.says.inShort());
    row.subtitle = q(project::IssuesBook::numberInWords(i.prefix, i.number)) + " · " + q(i.assignee, "nobody") + " · " +
                   q(i.status, "no status").toLower() +
                   (i.dueAt.empty() || r.isOverdue ? "" : " · due " + q(dayInWords(i.dueAt)));
    if (r.canBeClosed)
        row.loud = "can be closed";
    else if (r.goesBack)
        row.loud = "still there";
    else if (r.isOverdue)
        row.loud = "due " + q(dayInWords(i.dueAt)) + ", late";
    return row;
}

QVector<Row> IssueRows::page(int first, int number) const
{
    QVector<Row> rows;
    for (int at = first; at < std::min(first + number, count()); ++at) {
        const project::IssueRow r = list_->row(static_cast<std::size_t>(at));
        if (!r.isHeader) {
            rows.append(rowOf(r));
            continue;
        }
        Row header;
        header.id = "group:" + q(r.group);
        header.title = q(r.group);
        header.right = QString::number(r.count);
        rows.append(header);
    }
    return rows;
}

QString IssueRows::idOf(int row) const
{
    const std::string& id = list_->idOf(static_cast<std::size_t>(row));
    return id.empty() ? "group:" + q(list_->row(static_cast<std::size_t>(row)).group) : q(id);
}

} // namespace wendrix::app
