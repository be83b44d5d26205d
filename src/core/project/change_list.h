#pragma once

#include "core/project/changes_book.h"

#include <set>

/// The list of the Changes stage: which changes, put together how, how many of each, and their words by the page.
namespace wendrix::project {

/// What of all changes is asked for.
struct ChangeQuestion {
    unsigned kinds = 0;          ///< of ChangeKind: changes whose main kind is one of them; 0: all
    unsigned also = 0;           ///< of ChangeKind: changes that are of one of them, whatever else they are; 0: all
    std::int64_t comparison = 0; ///< of one member; 0: all
    std::string storey, className, type, system, zone, phase; ///< empty: any
    std::optional<std::string> review;                        ///< "" for what nobody looked at; not given: any
    std::optional<std::set<ChangeKey>> among;                 ///< found elsewhere: by a set, or near a discipline
    std::string amongWords;                                   ///< how: "near Structure", the set's line
    bool isGrouped = true;
    std::set<std::string> opened; ///< ids of groups whose changes follow them

    [[nodiscard]] bool isNarrowed() const;
};

/// "reshaped, on Level 2, of Structure P02": what a question asks for; "all changes" where it asks for all.
[[nodiscard]] std::string inWords(const ChangeQuestion& question);

/// One row: a change, or several to which the same happened.
struct ChangeRow {
    std::string id;
    ChangeRecord first; ///< the change; of a group its first one
    bool isGroup = false, isInGroup = false, isOpen = false;
    std::size_t count = 1, reviewed = 0;
    std::vector<std::string> storeys, classes; ///< of a group, each once
};

/// A value: made on any thread, shown on another.
class ChangeList {
public:
    ChangeList() = default;
    ChangeList(ChangeBriefs briefs, ChangeQuestion question);

    [[nodiscard]] const std::vector<ComparisonRecord>& comparisons() const { return briefs_.comparisons; }
    [[nodiscard]] const ChangeBriefs& briefs() const { return briefs_; }
    [[nodiscard]] const ChangeQuestion& question() const { return question_; }
    [[nodiscard]] std::size_t total() const { return briefs_.changes.size(); }
    [[nodiscard]] std::size_t shown() const { return order_.size(); } ///< changes, whatever rows they stand in
    /// By main kind, of all that answer to the rest of the question: they add up.
    [[nodiscard]] std::size_t countOf(ChangeKind kind) const;
    [[nodiscard]] std::size_t countOfAll() const { return ofAllKinds_; }
    [[nodiscard]] std::size_t toReview() const { return toReview_; } ///< of all
    [[nodiscard]] const std::map<std::string, std::size_t>& byStorey() const { return byStorey_; }

    [[nodiscard]] std::size_t rowCount() const { return rows_.size(); }
    /// "12/408" of a change, "g12/77" of a group.
    [[nodiscard]] std::string idOf(std::size_t row) const;
    /// -1 where it is not in the list; a change that stands in a closed group is at its group's row.
    [[nodiscard]] std::ptrdiff_t rowOf(const std::string& id) const;
    [[nodiscard]] bool isGroup(std::size_t row) const { return rows_[row].count > 1 && !rows_[row].isInGroup; }
    /// The changes that rows stand for, each once, in the list's order.
    [[nodiscard]] std::vector<ChangeKey> keysOf(std::span<const std::string> ids) const;
    [[nodiscard]] std::vector<ChangeKey> allKeys() const; ///< of everything shown
    [[nodiscard]] Result<std::vector<ChangeRow>> page(const ChangesBook& book, std::size_t first,
                                                      std::size_t count) const;

    [[nodiscard]] static std::string idOf(const ChangeKey& key);
    [[nodiscard]] static ChangeKey keyFrom(const std::string& id);

private:
    struct Row {
        std::uint32_t first = 0, count = 1; ///< into order_
        bool isInGroup = false, isOpen = false;
    };
    [[nodiscard]] const ChangeBrief& brief(std::uint32_t at) const { return briefs_.changes[order_[at]]; }
    [[nodiscard]] bool answers(const ChangeBrief& change, bool regardsKind) const;
    void putTogether();

    ChangeBriefs briefs_;
    ChangeQuestion question_;
    std::vector<std::uint32_t> order_; ///< into the briefs' changes: those shown, groups together
    std::vector<Row> rows_;
    std::map<ChangeKind, std::size_t> counts_;
    std::map<std::string, std::size_t> byStorey_;
    std::size_t ofAllKinds_ = 0, toReview_ = 0;
};

} // namespace wendrix::project
