#include "core/project/issue_list.h"

#include "core/base/text.h"

#include <algorithm>

namespace wendrix::project {

namespace {

const std::string kNone;

bool isOneOf(const issues::Standing& standing, const std::string& name)
{
    return !name.empty() && (name == standing.person ||
                             std::find(standing.groups.begin(), standing.groups.end(), name) != standing.groups.end());
}

/// Days are compared as they are written: what is due on a day is late when the next one has begun.
bool isBefore(const std::string& day, const std::string& today) { return !day.empty() && day.substr(0, 10) < today; }

/// Said to be done by whoever it was given to.
bool isWaiting(const issues::Status& status) { return status.shape == issues::StatusShape::Full && !status.isClosed; }

std::size_t placeOf(const std::vector<std::string>& list, const std::string& value)
{
    return static_cast<std::size_t>(std::find(list.begin(), list.end(), value) - list.begin());
}

} // namespace

IssueList::IssueList(IssueKnowledge knowledge, const IssueQuestion& question) : knowledge_(std::move(knowledge))
{
    const auto parsed = question.line.find_first_not_of(' ') == std::string::npos
                            ? sets::Parsed{}
                            : sets::parse(question.line, sets::Subject::Issues);
    std::vector<std::uint32_t> shown;
    for (std::uint32_t i = 0; i < knowledge_.issues.size(); ++i) {
        const IssueKey& issue = knowledge_.issues[i];
        for (const IssueFilter filter :
             {IssueFilter::Open, IssueFilter::Mine, IssueFilter::Overdue, IssueFilter::Waiting,
              IssueFilter::CanBeClosed, IssueFilter::GoesBack, IssueFilter::Closed, IssueFilter::All})
            counts_[filter] += has(filter, issue) ? 1 : 0;
        const ModelsSay& says = saysOf(issue);
        const std::string& storey = issue.location.storey.empty() ? says.pairs.storey : issue.location.storey;
        if (!storey.empty() && has(IssueFilter::Open, issue))
            ++byStorey_[storey];
        const bool isWanted = has(question.filter, issue) && (question.storey.empty() || storey == question.storey) &&
                              (question.words.empty() || knowledge_.said.contains(issue.uuid)) &&
                              (!parsed.expression || holds(*parsed.expression, issue, says, knowledge_.today));
        if (isWanted)
            shown.push_back(i);
    }
    shown_ = shown.size();
    order(shown, question);
    for (const issues::Status& s : knowledge_.workflow.statuses)
        byStatus_.push_back({s, {}});
    for (const std::uint32_t i : shown) {
        const std::string& status = knowledge_.issues[i].status;
        auto column =
            std::find_if(byStatus_.begin(), byStatus_.end(), [&](const auto& c) { return c.first.name == status; });
        if (column == byStatus_.end())
            column = byStatus_.insert(byStatus_.end(), {knowledge_.workflow.statusOf(status), {}});
        column->second.push_back(i);
    }
    if (question.grouping == IssueGrouping::None) {
        for (const std::uint32_t i : shown)
            rows_.push_back({i, 0});
    } else {
        // In the order in which their first one comes, but where a group has an order of its own.
        std::map<std::string, std::vector<std::uint32_t>> byGroup;
        std::vector<std::string> names;
        for (const std::uint32_t i : shown) {
            const std::string name = groupOf(knowledge_.issues[i], question.grouping);
            auto& group = byGroup[name];
            if (group.empty())
                names.push_back(name);
            group.push_back(i);
        }
        std::vector<std::string> own;
        if (question.grouping == IssueGrouping::Status)
            for (const issues::Status& s : knowledge_.workflow.statuses)
                own.push_back(s.name);
        else if (question.grouping == IssueGrouping::Priority)
            own = knowledge_.workflow.priorities;
        else if (question.grouping == IssueGrouping::Due)
            own = {"Overdue", "Due within a week", "Due later", "No due date"};
        const bool isByName = own.empty();
        std::stable_sort(names.begin(), names.end(), [&](const std::string& a, const std::string& b) {
            return isByName ? a < b : placeOf(own, a) < placeOf(own, b);
        });
        for (const std::string& name : names) {
            const auto number = static_cast<std::uint32_t>(groups_.size());
            groups_.emplace_back(name, byGroup[name].size());
            rows_.push_back({-1, number});
            for (const std::uint32_t i : byGroup[name])
                rows_.push_back({i, number});
        }
    }
    for (std::uint32_t row = 0; row < rows_.size(); ++row)
        if (rows_[row].issue >= 0)
            byUuid_.emplace(knowledge_.issues[static_cast<std::size_t>(rows_[row].issue)].uuid, row);
}

void IssueList::order(std::vector<std::uint32_t>& shown, const IssueQuestion& question) const
{
    const auto key = [&](std::uint32_t i) -> std::pair<std::size_t, std::string> {
        const IssueKey& k = knowledge_.issues[i];
        switch (question.order) {
        case IssueOrder::Due:
            return {k.dueAt.empty() ? 1 : 0, k.dueAt};
        case IssueOrder::Priority:
            return {placeOf(knowledge_.workflow.priorities, k.priority), ""};
        case IssueOrder::Title:
            return {0, k.title};
        case IssueOrder::Modified:
            return {0, k.modifiedAt};
        case IssueOrder::Assignee:
            return {k.assignee.empty() ? 1 : 0, k.assignee};
        default:
            return {i, ""};
        }
    };
    if (question.order != IssueOrder::Number) {
        std::vector<std::pair<std::pair<std::size_t, std::string>, std::uint32_t>> keyed;
        keyed.reserve(shown.size());
        for (const std::uint32_t i : shown)
            keyed.emplace_back(key(i), i);
        std::stable_sort(keyed.begin(), keyed.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
        for (std::size_t i = 0; i < keyed.size(); ++i)
            shown[i] = keyed[i].second;
    }
    if (question.isDescending)
        std::reverse(shown.begin(), shown.end());
}

std::string IssueList::groupOf(const IssueKey& k, IssueGrouping grouping) const
{
    const auto or_ = [](const std::string& value, const char* none) {
        return value.empty() ? std::string(none) : value;
    };
    switch (grouping) {
    case IssueGrouping::Status:
        return or_(k.status, "No status");
    case IssueGrouping::Assignee:
        return or_(k.assignee, "Nobody");
    case IssueGrouping::Priority:
        return or_(k.priority, "No priority");
    case IssueGrouping::Storey:
        return or_(k.location.storey.empty() ? saysOf(k).pairs.storey : k.location.storey, "No storey");
    case IssueGrouping::Type:
        return or_(k.type, "No type");
    case IssueGrouping::Stage:
        return or_(k.stage, "No stage");
    case IssueGrouping::Label:
        return k.labels.empty() ? "No label" : k.labels.front();
    case IssueGrouping::Due: {
        if (k.dueAt.empty())
            return "No due date";
        if (has(IssueFilter::Overdue, k))
            return "Overdue";
        const auto due = sets::dayNumber(k.dueAt.substr(0, 10)), today = sets::dayNumber(knowledge_.today);
        return due && today && *due - *today <= 7 ? "Due within a week" : "Due later";
    }
    default:
        return {};
    }
}

bool IssueList::has(IssueFilter filter, const IssueKey& k) const
{
    const issues::Status status = knowledge_.workflow.statusOf(k.status);
    const ModelsSay& says = saysOf(k);
    switch (filter) {
    case IssueFilter::Open:
        return !status.isClosed;
    case IssueFilter::Mine:
        return !status.isClosed && (isOneOf(knowledge_.standing, k.assignee) || knowledge_.mentioning.contains(k.uuid));
    case IssueFilter::Overdue:
        return !status.isClosed && isBefore(k.dueAt, knowledge_.today);
    case IssueFilter::Waiting:
        return isWaiting(status);
    case IssueFilter::CanBeClosed:
        return !status.isClosed && says.isSettled();
    case IssueFilter::GoesBack:
        return isWaiting(status) && says.isStillThere();
    case IssueFilter::Closed:
        return status.isClosed;
    default:
        return true;
    }
}

std::size_t IssueList::count(IssueFilter filter) const
{
    const auto found = counts_.find(filter);
    return found == counts_.end() ? 0 : found->second;
}

const ModelsSay& IssueList::saysOf(const IssueKey& issue) const
{
    static const ModelsSay kNothing;
    const auto found = knowledge_.says.find(issue.uuid);
    return found == knowledge_.says.end() ? kNothing : found->second;
}

const std::string& IssueList::idOf(std::size_t row) const
{
    return rows_[row].issue < 0 ? kNone : knowledge_.issues[static_cast<std::size_t>(rows_[row].issue)].uuid;
}

std::ptrdiff_t IssueList::rowOf(const std::string& uuid) const
{
    const auto found = byUuid_.find(uuid);
    return found == byUuid_.end() ? -1 : static_cast<std::ptrdiff_t>(found->second);
}

IssueRow IssueList::rowOfIssue(std::size_t issue) const
{
    IssueRow r;
    r.issue = knowledge_.issues[issue];
    r.status = knowledge_.workflow.statusOf(r.issue.status);
    r.says = saysOf(r.issue);
    r.canBeClosed = has(IssueFilter::CanBeClosed, r.issue);
    r.isOverdue = has(IssueFilter::Overdue, r.issue);
    r.goesBack = has(IssueFilter::GoesBack, r.issue);
    return r;
}

IssueRow IssueList::row(std::size_t row) const
{
    const Row& at = rows_[row];
    if (at.issue >= 0)
        return rowOfIssue(static_cast<std::size_t>(at.issue));
    IssueRow r;
    r.isHeader = true;
    r.group = groups_[at.group].first;
    r.count = groups_[at.group].second;
    return r;
}

} // namespace wendrix::project
