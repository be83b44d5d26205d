#pragma once

#include "core/project/changes_book.h"

/// The list of the Changes stage: which changes, in which order, how many of each, and their words by the page.
namespace wendrix::project {

struct ChangeQuestion {
    unsigned kinds = 0; ///< of ChangeKind, any of them; 0: all
    std::string storey; ///< empty: all
};

/// A value: made on any thread, shown on another.
class ChangeList {
public:
    ChangeList() = default;
    ChangeList(ChangeBriefs briefs, const ChangeQuestion& question);

    [[nodiscard]] const std::vector<ComparisonRecord>& comparisons() const { return briefs_.comparisons; }
    [[nodiscard]] std::size_t total() const { return briefs_.changes.size(); }
    [[nodiscard]] std::size_t countOf(ChangeKind kind) const;
    [[nodiscard]] std::size_t toReview() const { return toReview_; }
    [[nodiscard]] const std::map<std::string, std::size_t>& byStorey() const { return byStorey_; }

    [[nodiscard]] std::size_t rowCount() const { return rows_.size(); }
    [[nodiscard]] ChangeKey keyOf(std::size_t row) const { return briefs_.changes[rows_[row]].key; }
    /// "12/408"
    [[nodiscard]] static std::string idOf(const ChangeKey& key);
    [[nodiscard]] static ChangeKey keyFrom(const std::string& id);
    /// -1 where it is not in the list.
    [[nodiscard]] std::ptrdiff_t rowOf(const std::string& id) const;
    [[nodiscard]] Result<std::vector<ChangeRecord>> page(const ChangesBook& book, std::size_t first,
                                                         std::size_t count) const;

private:
    ChangeBriefs briefs_;
    std::vector<std::uint32_t> rows_;
    std::map<ChangeKind, std::size_t> counts_;
    std::map<std::string, std::size_t> byStorey_;
    std::size_t toReview_ = 0;
};

} // namespace wendrix::project
