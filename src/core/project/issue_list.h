#pragma once

#include "core/issues/workflow.h"
#include "core/project/clashes_book.h"
#include "core/project/issues_book.h"
#include "core/sets/language.h"

#include <set>
#include <unordered_map>

/// The list of the Issues stage: which issues, in which order and groups, how many of each, and their words by the
/// page.
namespace wendrix::project {

class Project;

enum class IssueFilter { Open, Mine, Overdue, Waiting, CanBeClosed, GoesBack, Closed, All };
enum class IssueGrouping { None, Status, Assignee, Priority, Storey, Type, Stage, Label, Due };
enum class IssueOrder { Number, Due, Priority, Title, Modified, Assignee };

struct IssueQuestion {
    IssueFilter filter = IssueFilter::Open;
    std::string storey; ///< empty: all
    std::string line;   ///< of the language of sets, read as of issues; empty: all
    std::string words;  ///< all of which an issue holds somewhere
    IssueGrouping grouping = IssueGrouping::None;
    IssueOrder order = IssueOrder::Number;
    bool isDescending = false;
    friend bool operator==(const IssueQuestion&, const IssueQuestion&) = default;
};
/// JSON, as a filter is kept.
[[nodiscard]] std::string toJson(const IssueQuestion& question);
[[nodiscard]] IssueQuestion issueQuestionFrom(const std::string& json);
/// What is wrong with a line; an empty message where nothing is.
[[nodiscard]] sets::Mistake mistakeInIssueLine(const std::string& line);

/// What the models say of an issue: of its pairs, and whether what it wants is met.
struct ModelsSay {
    ClashesBook::IssuePairs pairs;
    std::optional<bool> isMet = {}; ///< nothing where it wants nothing, or nobody checked
    /// As Evidence::isSettled() and isStillThere().
    [[nodiscard]] bool isSettled() const
    {
        return (pairs.pairs > 0 || isMet) && pairs.gone == pairs.pairs && isMet.value_or(true);
    }
    [[nodiscard]] bool isStillThere() const
    {
        return pairs.gone + pairs.notTested < pairs.pairs || !isMet.value_or(true);
    }
    [[nodiscard]] std::string inShort() const
    {
        return issues::evidenceInShort(pairs.pairs, pairs.gone, pairs.notTested, isMet);
    }
};

/// What the project knows of its issues, as a list is made from.
struct IssueKnowledge {
    std::vector<IssueKey> issues;          ///< by number
    std::map<std::string, ModelsSay> says; ///< by uuid
    issues::Workflow workflow;
    issues::Standing standing;        ///< of whoever asks
    std::set<std::string> mentioning; ///< uuids of those in which a comment names whoever asks: "@Ines Varga"
    std::set<std::string> said;       ///< uuids of those that say the words asked for
    std::string today;                ///< "2026-11-28"
};
[[nodiscard]] Result<IssueKnowledge> issueKnowledge(const Project& project, const std::string& words,
                                                    const std::string& person, const Timestamp& now);
/// Whether a line of the language holds of an issue.
[[nodiscard]] bool holds(const sets::Expression& expression, const IssueKey& issue, const ModelsSay& says,
                         const std::string& today);

/// One row, in words.
struct IssueRow {
    bool isHeader = false;
    std::string group;     ///< of a header
    std::size_t count = 0; ///< of a header: how many are under it
    IssueKey issue;
    issues::Status status;
    ModelsSay says;
    bool canBeClosed = false, isOverdue = false;
    bool goesBack = false; ///< said to be done, and some of it was looked at and is still there
};

/// What the model proposes after a run: to be closed, and to be sent back.
struct IssueProposals {
    std::vector<std::string> canBeClosed, goBack; ///< uuids
    [[nodiscard]] std::string inWords() const;    ///< a sentence; empty where there is nothing
};

[[nodiscard]] Result<IssueProposals> issueProposals(const Project& project);
/// Closes those of these issues that are settled, and sends back those that were said to be done and are still there,
/// as one step; the evidence of each becomes its comment. Others stay as they are.
/// @return kNotAllowed where this person may move none of them
[[nodiscard]] Result<IssuesChanged> settleOnEvidence(Project& project, std::span<const std::string> uuids,
                                                     const WhoAndWhen& who);

/// A value: made on any thread, shown on another.
class IssueList {
public:
    IssueList() = default;
    IssueList(IssueKnowledge knowledge, const IssueQuestion& question);

    [[nodiscard]] std::size_t total() const { return knowledge_.issues.size(); }
    /// How many a filter has, whatever else narrows.
    [[nodiscard]] std::size_t count(IssueFilter filter) const;
    [[nodiscard]] std::size_t open() const { return count(IssueFilter::Open); }
    [[nodiscard]] std::size_t canBeClosed() const { return count(IssueFilter::CanBeClosed); }
    [[nodiscard]] const std::map<std::string, std::size_t>& byStorey() const { return byStorey_; } ///< open ones
    /// How many of the shown ones have each status, in the order of the workflow; those it does not know last.
    [[nodiscard]] const std::vector<std::pair<issues::Status, std::vector<std::size_t>>>& byStatus() const
    {
        return byStatus_;
    }

    [[nodiscard]] std::size_t rowCount() const { return rows_.size(); }
    [[nodiscard]] std::size_t issueCount() const { return shown_; } ///< rows that are no headers
    /// Empty of a header.
    [[nodiscard]] const std::string& idOf(std::size_t row) const;
    /// -1 where it is not in the list.
    [[nodiscard]] std::ptrdiff_t rowOf(const std::string& uuid) const;
    [[nodiscard]] IssueRow row(std::size_t row) const;
    /// All issues, by number, and one of them in words.
    [[nodiscard]] const std::vector<IssueKey>& issues() const { return knowledge_.issues; }
    [[nodiscard]] const issues::Workflow& workflow() const { return knowledge_.workflow; }
    [[nodiscard]] const issues::Standing& standing() const { return knowledge_.standing; }
    [[nodiscard]] IssueRow rowOfIssue(std::size_t issue) const;

private:
    [[nodiscard]] const ModelsSay& saysOf(const IssueKey& issue) const;
    [[nodiscard]] bool has(IssueFilter filter, const IssueKey& issue) const;
    [[nodiscard]] std::string groupOf(const IssueKey& issue, IssueGrouping grouping) const;
    void order(std::vector<std::uint32_t>& shown, const IssueQuestion& question) const;

    struct Row {
        std::int64_t issue = -1; ///< into issues; -1 for a header
        std::uint32_t group = 0; ///< into groups_
    };
    IssueKnowledge knowledge_;
    std::vector<Row> rows_;
    std::vector<std::pair<std::string, std::size_t>> groups_;
    std::unordered_map<std::string, std::uint32_t> byUuid_;
    std::map<std::string, std::size_t> byStorey_;
    std::vector<std::pair<issues::Status, std::vector<std::size_t>>> byStatus_;
    std::map<IssueFilter, std::size_t> counts_;
    std::size_t shown_ = 0;
};

} // namespace wendrix::project
