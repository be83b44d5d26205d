#include "core/project/issue_list.h"

#include <algorithm>

namespace wendrix::project {

namespace {

bool isClosed(const IssueKey& issue) { return issue.status == issues::status::kClosed; }

} // namespace

IssueList::IssueList(std::vector<IssueKey> issues, std::map<std::string, ClashesBook::IssuePairs> pairs,
                     const IssueQuestion& question)
    : issues_(std::move(issues)), pairs_(std::move(pairs))
{
    for (std::uint32_t i = 0; i < issues_.size(); ++i) {
        const IssueKey& issue = issues_[i];
        const ClashesBook::IssuePairs& own = pairsOf(issue);
        const bool ready = isReady(issue);
        open_ += isClosed(issue) ? 0 : 1;
        canBeClosed_ += ready ? 1 : 0;
        if (!isClosed(issue) && own.pairs > 0)
            ++byStorey_[own.storey];
        const bool isWanted = question.filter == IssueFilter::Open          ? !isClosed(issue)
                              : question.filter == IssueFilter::Closed      ? isClosed(issue)
                              : question.filter == IssueFilter::CanBeClosed ? ready
                                                                            : true;
        if (isWanted && (question.storey.empty() || (own.pairs > 0 && own.storey == question.storey))) {
            byUuid_[issue.uuid] = static_cast<std::uint32_t>(rows_.size());
            rows_.push_back(i);
        }
    }
}

const ClashesBook::IssuePairs& IssueList::pairsOf(const IssueKey& issue) const
{
    static const ClashesBook::IssuePairs kNone;
    const auto found = pairs_.find(issue.uuid);
    return found == pairs_.end() ? kNone : found->second;
}

bool IssueList::isReady(const IssueKey& issue) const
{
    const ClashesBook::IssuePairs& own = pairsOf(issue);
    return !isClosed(issue) && own.pairs > 0 && own.gone == own.pairs;
}

std::ptrdiff_t IssueList::rowOf(const std::string& uuid) const
{
    const auto found = byUuid_.find(uuid);
    return found == byUuid_.end() ? -1 : static_cast<std::ptrdiff_t>(found->second);
}

Result<std::vector<IssueRow>> IssueList::page(const IssuesBook& book, std::size_t first, std::size_t count) const
{
    std::vector<std::string> uuids;
    for (std::size_t row = first; row < std::min(rows_.size(), first + count); ++row)
        uuids.push_back(idOf(row));
    auto briefs = book.briefs(uuids);
    if (!briefs)
        return fail(briefs.error());
    std::vector<IssueRow> page;
    std::size_t next = 0;
    for (std::size_t row = first; row < first + uuids.size(); ++row) {
        const IssueKey& key = issues_[rows_[row]];
        IssueRow r{{}, pairsOf(key), isReady(key)};
        r.issue.uuid = key.uuid;
        if (next < briefs->size() && (*briefs)[next].uuid == key.uuid)
            r.issue = std::move((*briefs)[next++]);
        page.push_back(std::move(r));
    }
    return page;
}

} // namespace wendrix::project
