#pragma once

#include "core/project/clash_question.h"

#include <unordered_map>

/// The list of the Clashes stage: which pairs, in which groups and order, how many of each, and their words by the
/// page.
namespace wendrix::project {

/// Of all pairs that the question is narrowed to, whatever their state and storey.
struct ClashCounts {
    std::size_t undecided = 0, isNew = 0, stillThere = 0, back = 0, gone = 0, notTested = 0, there = 0;
    std::size_t goneNow = 0;                     ///< by the last run
    std::size_t undecidedOfAll = 0;              ///< whatever the question is narrowed to
    std::map<std::string, std::size_t> byStorey; ///< pairs of the state that is asked for
};

/// One row, in words: what groups have in common, a group, or a pair of the group above it.
struct ClashRow {
    std::string id;
    bool isSection = false, isGroup = false;
    std::size_t pairs = 0, groups = 0, number = 0; ///< of sections and groups how many; of a pair which one
    std::string title;
    Pair pair;         ///< of a group its deepest
    std::string other; ///< the discipline of what the group does not share
};

/// A value: made on any thread, shown on another.
class ClashList {
public:
    /// One row without words.
    struct Place {
        std::uint32_t group = 0;
        std::int32_t pair = -1;    ///< which of the group's; -1 for the group itself
        std::int32_t section = -1; ///< the head of a section; its first group stands under `group`
    };
    struct Section {
        std::string title;
        std::uint32_t firstGroup = 0, groups = 0;
        std::size_t pairs = 0;
    };
    struct Group {
        std::int64_t shared = 0; ///< the element's number
        std::uint32_t test = 0;  ///< into the texts
        std::uint32_t section = 0;
        std::vector<std::uint32_t> pairs; ///< into the briefs, deepest first
    };

    ClashList() = default;
    ClashList(PairBriefs briefs, const ClashQuestion& question);

    [[nodiscard]] const PairBriefs& briefs() const { return briefs_; } ///< of all pairs
    [[nodiscard]] const ClashCounts& counts() const { return counts_; }
    [[nodiscard]] bool isEmpty() const { return briefs_.pairs.empty(); } ///< no pair is known at all
    [[nodiscard]] std::size_t groupCount() const { return groups_.size(); }
    [[nodiscard]] std::size_t sectionCount() const { return sections_.size(); } ///< 0 where groups stand by themselves
    [[nodiscard]] const ClashQuestion& question() const { return question_; }
    [[nodiscard]] std::size_t pairCount() const { return shown_; } ///< that answer to the question
    [[nodiscard]] std::size_t rowCount() const { return rows_.size(); }
    [[nodiscard]] std::string idOf(std::size_t row) const;
    [[nodiscard]] bool isGroup(std::size_t row) const { return rows_[row].pair < 0 && rows_[row].section < 0; }
    /// -1 where it is not in the list.
    [[nodiscard]] std::ptrdiff_t rowOf(const std::string& id) const;
    /// The pairs of rows of groups and pairs, each once, in the list's order.
    [[nodiscard]] std::vector<PairId> pairsOf(std::span<const std::string> ids) const;
    /// The group that a row belongs to.
    [[nodiscard]] const Group* groupOf(const std::string& id) const;
    /// How many groups hold one of these pairs.
    [[nodiscard]] std::size_t groupsOf(std::span<const PairId> pairs) const;
    [[nodiscard]] Result<std::vector<ClashRow>> page(const ClashesBook& book, std::size_t first,
                                                     std::size_t count) const;
    /// "Supply duct SD-203 crosses 3 beams".
    [[nodiscard]] Result<std::string> titleOf(const ClashesBook& book, const Group& group) const;

private:
    [[nodiscard]] std::string idOf(const Group& group) const;
    void group(std::uint32_t section, const std::vector<std::uint32_t>& pairs);
    void writeRows();
    PairBriefs briefs_;
    ClashQuestion question_;
    std::vector<Section> sections_;
    std::vector<std::uint32_t> sectionRows_;
    ClashCounts counts_;
    std::vector<Group> groups_;
    std::vector<Place> rows_;
    std::vector<std::int32_t> pairRows_;                                    ///< of each brief; -1 where it is not shown
    std::unordered_map<std::int64_t, std::vector<std::uint32_t>> groupsOf_; ///< by the element they share, one a test
    std::vector<std::uint32_t> groupRows_;
    [[nodiscard]] std::int32_t rowOf(PairId pair) const;
    std::size_t shown_ = 0;
};

} // namespace wendrix::project
