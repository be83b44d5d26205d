#pragma once

#include "core/project/clashes_book.h"
#include "core/project/issues_book.h"

#include <unordered_map>

/// The list of the Issues stage: which issues, how many of each, and their words by the page.
namespace wendrix::project {

enum class IssueFilter { Open, CanBeClosed, Closed, All };

struct IssueQuestion {
    IssueFilter filter = IssueFilter::Open;
    std::string storey; ///< empty: all
};

/// One row, in words.
struct IssueRow {
    IssueBrief issue;
    ClashesBook::IssuePairs pairs;
    bool canBeClosed = false;
};

/// A value: made on any thread, shown on another.
class IssueList {
public:
    IssueList() = default;
    IssueList(std::vector<IssueKey> issues, std::map<std::string, ClashesBook::IssuePairs> pairs,
              const IssueQuestion& question);

    [[nodiscard]] std::size_t total() const { return issues_.size(); }
    [[nodiscard]] std::size_t open() const { return open_; }
    [[nodiscard]] std::size_t canBeClosed() const { return canBeClosed_; }
    [[nodiscard]] const std::map<std::string, std::size_t>& byStorey() const
    {
        return byStorey_;
    } ///< open ones, by the place of their first pair

    [[nodiscard]] std::size_t rowCount() const { return rows_.size(); }
    [[nodiscard]] const std::string& idOf(std::size_t row) const { return issues_[rows_[row]].uuid; }
    /// -1 where it is not in the list.
    [[nodiscard]] std::ptrdiff_t rowOf(const std::string& uuid) const;
    [[nodiscard]] Result<std::vector<IssueRow>> page(const IssuesBook& book, std::size_t first,
                                                     std::size_t count) const;

private:
    [[nodiscard]] const ClashesBook::IssuePairs& pairsOf(const IssueKey& issue) const;
    [[nodiscard]] bool isReady(const IssueKey& issue) const;
    std::vector<IssueKey> issues_;
    std::map<std::string, ClashesBook::IssuePairs> pairs_;
    std::vector<std::uint32_t> rows_;
    std::unordered_map<std::string, std::uint32_t> byUuid_;
    std::map<std::string, std::size_t> byStorey_;
    std::size_t open_ = 0, canBeClosed_ = 0;
};

} // namespace wendrix::project
