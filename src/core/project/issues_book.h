#pragma once

#include "core/issues/evidence.h"
#include "core/issues/issue.h"
#include "core/issues/issue_template.h"
#include "core/issues/workflow.h"
#include "core/project/setup_book.h"

#include <filesystem>
#include <functional>

namespace wendrix::project {

/// What a list of issues is filtered, ordered and grouped by.
struct IssueKey {
    std::string uuid, status;
    std::int64_t number = 0;
    Timestamp dueAt = {};
    std::string title = {}, priority = {}, assignee = {}, type = {}, stage = {}, requestedBy = {}, cause = {};
    Timestamp createdAt = {}, modifiedAt = {}, startAt = {};
    std::vector<std::string> labels = {};
    issues::Location location = {};
    std::string madeFrom = {};
    std::map<std::string, std::string> custom = {};
    std::string prefix = {}, createdBy = {};
};

/// One row of such a list.
struct IssueBrief {
    std::string uuid, title, status, priority, assignee;
    std::int64_t number = 0;
    std::string prefix;
    Timestamp dueAt;
    [[nodiscard]] std::string name() const;
};

/// One line of an issue's history: what a field was and became.
struct IssueEvent {
    std::string field; ///< "Status", "Assigned to", "Comment"
    std::string before, after, why;
    WhoAndWhen by;
};

/// An earlier text of a comment.
struct CommentEdit {
    Timestamp time;
    std::string author, text;
};

/// An issue as the project keeps it: with where it came from.
struct KeptIssue {
    issues::Issue issue;
    std::string madeFrom;
    /// Where its XML stands as it came, in files that are kept: newest last.
    struct Origin {
        std::string sha256; ///< of the file
        std::string uuid;   ///< of the topic in it
        friend bool operator==(const Origin&, const Origin&) = default;
    };
    std::vector<Origin> origins;
    std::vector<std::pair<std::string, std::string>>
        pictures; ///< by uuid of the viewpoint, what the kept file is called
};

/// A BCF file that was sent or that came.
struct Exchange {
    std::int64_t id = 0;
    bool isSent = false;
    std::string fileName, sha256, partner, version;
    std::size_t topics = 0;
    WhoAndWhen by;
};

/// A question to the list of issues under a name.
struct IssueFilterRecord {
    std::string name, body;
};

/// What became of a change to several issues.
struct IssuesChanged {
    std::size_t changed = 0;
    std::vector<std::string> refused; ///< "MSS-007: ..." for each that may not be changed so
};

/// What is called otherwise in a workflow than before: new names by former ones.
struct WorkflowRenames {
    std::map<std::string, std::string> statuses = {}, fields = {};
};

/// Issues with their comments and viewpoints, and what happened to each of their fields.
class IssuesBook {
public:
    IssuesBook(Store& store, std::filesystem::path folder) : store_(store), folder_(std::move(folder)) {}
    static std::span<const Table> tables();
    static std::span<const char* const> indexes();

    [[nodiscard]] Result<std::vector<IssueKey>> keys() const; ///< by number
    /// In this order; what is no longer there is left out.
    [[nodiscard]] Result<std::vector<IssueBrief>> briefs(std::span<const std::string> uuids) const;
    /// Whose number or title holds these words, by number.
    [[nodiscard]] Result<std::vector<IssueBrief>> named(const std::string& words, int most) const;
    /// The uuids of those whose number, title, description, labels, comments or documents hold all of these words,
    /// whatever their capitals and accents.
    [[nodiscard]] Result<std::set<std::string>> saying(const std::string& words) const;
    /// The uuids of those in which a comment names a person: "@Ines Varga".
    [[nodiscard]] Result<std::set<std::string>> mentioning(const std::string& person) const;
    [[nodiscard]] Result<std::vector<issues::Issue>> all() const; ///< by number; snapshots left on the disk
    [[nodiscard]] Result<std::optional<issues::Issue>> find(const std::string& uuid, bool withSnapshots) const;
    [[nodiscard]] Result<std::optional<KeptIssue>> kept(const std::string& uuid) const; ///< snapshots left on the disk
    /// Those that are about an element: by its viewpoints, or by GlobalId where that is all that is known.
    [[nodiscard]] Result<std::vector<IssueBrief>> about(const ElementRef& element) const;
    /// Elements that issues of a status are about, whatever its capitals; without one, of all that are not closed.
    [[nodiscard]] Result<std::vector<ElementRef>> elementsWith(const std::string& status) const;
    /// Elements of each issue, by uuid.
    [[nodiscard]] Result<std::map<std::string, std::vector<ElementRef>>> elements() const;
    [[nodiscard]] Result<std::size_t> open() const;                                       ///< how many are not closed
    [[nodiscard]] Result<std::vector<IssueEvent>> history(const std::string& uuid) const; ///< newest first
    [[nodiscard]] Result<std::vector<CommentEdit>> editsOf(const std::string& uuid,
                                                           const std::string& comment) const; ///< newest first
    /// Open issues that are about most of these elements: what would be made twice.
    [[nodiscard]] Result<std::vector<IssueBrief>> openAbout(std::span<const ElementRef> elements) const;

    /// What issues that were made of findings want to be met, by uuid.
    [[nodiscard]] Result<std::map<std::string, issues::Requirement>> requirements() const;
    [[nodiscard]] Result<std::optional<issues::Requirement>> requirementOf(const std::string& uuid) const;

    [[nodiscard]] Result<issues::Workflow> workflow() const;
    /// @param renamed  issues go along with what is called otherwise now
    [[nodiscard]] Result<void> setWorkflow(const issues::Workflow& workflow, const WhoAndWhen& who,
                                           const WorkflowRenames& renamed = {});
    /// Who somebody is: the groups and disciplines of this name.
    [[nodiscard]] Result<issues::Standing> standingOf(const std::string& person) const;
    /// What issues begin with, by source and in their order; the usual one of a source where none is kept.
    [[nodiscard]] Result<std::vector<issues::IssueTemplate>> templates() const;
    /// Those of one source.
    [[nodiscard]] Result<std::vector<issues::IssueTemplate>> templatesFor(const std::string& source) const;
    /// Makes one beside those that are there (`former` empty), or changes the one of that name.
    /// @return kBadIssueTemplate where it has a mistake, or another one is called so
    [[nodiscard]] Result<void> keepTemplate(const issues::IssueTemplate& t, const std::string& former,
                                            const WhoAndWhen& who);
    [[nodiscard]] Result<void> removeTemplate(const std::string& name, const WhoAndWhen& who);
    [[nodiscard]] Result<std::vector<IssueFilterRecord>> filters() const; ///< in the order they were kept
    /// Keeps one under its name, in the place of another of that name; an empty body removes it.
    [[nodiscard]] Result<void> keepFilter(const IssueFilterRecord& filter, const WhoAndWhen& who);

    /// Changes several issues as one step; what of them differs afterwards is written and goes into their histories.
    /// Moves of the status that the workflow does not allow this person are refused, issue by issue.
    /// @param what  "Assigned to Structure": a line of history
    /// @return kNotAllowed where every one is refused
    using Edit = std::function<void(issues::Issue&)>; ///< may throw Refused: nothing of all of them is changed then
    [[nodiscard]] Result<IssuesChanged> change(std::span<const std::string> uuids, const std::string& what,
                                               const Edit& edit, const WhoAndWhen& who);
    [[nodiscard]] Result<void> addComment(const std::string& issueUuid, const std::string& text, const WhoAndWhen& who,
                                          const std::string& viewpoint = {});
    /// The earlier text is kept. @return kNotAllowed where somebody else wrote it
    [[nodiscard]] Result<void> editComment(const std::string& issueUuid, const std::string& comment,
                                           const std::string& text, const WhoAndWhen& who);
    [[nodiscard]] Result<void> removeComment(const std::string& issueUuid, const std::string& comment,
                                             const WhoAndWhen& who);
    [[nodiscard]] Result<void> setStatus(const std::string& issueUuid, const std::string& status,
                                         const std::string& comment, const WhoAndWhen& who);

    [[nodiscard]] Result<std::vector<Exchange>> exchanges() const; ///< newest first
    /// The newest file that was sent or taken over and holds a topic; nothing where it never was.
    [[nodiscard]] Result<std::optional<Exchange>> lastExchanged(const std::string& uuid) const;
    /// Whether an exchange or an issue names a file that is kept.
    [[nodiscard]] Result<bool> isNamed(const std::string& sha256) const;
    /// Where a file that was sent or came is kept; empty where its hash is none.
    [[nodiscard]] std::filesystem::path fileOf(const std::string& sha256) const;

    // Parts of commands that do more.
    /// Pictures go to the disk before the transaction that refers to them.
    [[nodiscard]] Result<void> keepPictures(const issues::Issue& issue) const;
    /// Gives it its number. @return "MSS-007"
    std::string write(SQLite::Database& db, issues::Issue& issue, const std::string& prefix, const WhoAndWhen& who,
                      const std::string& madeFrom = {}) const;
    /// One that came from elsewhere, as it is, with a number of this project.
    void insert(SQLite::Database& db, const KeptIssue& issue, const std::string& prefix) const;
    /// Writes what differs, with its history. @return whether anything does
    bool replace(SQLite::Database& db, const issues::Issue& before, issues::Issue after, const WhoAndWhen& who,
                 const std::string& why = {}) const;
    [[nodiscard]] std::optional<issues::Issue> issueIn(SQLite::Database& db, const std::string& uuid) const;
    void setOrigins(SQLite::Database& db, const std::string& uuid, std::span<const KeptIssue::Origin> origins) const;
    /// Pictures that are kept in files that came: by uuid of the viewpoint.
    void setPicture(SQLite::Database& db, const std::string& uuid, const std::string& viewpoint,
                    const std::string& picture) const;
    void writeRequirement(SQLite::Database& db, const std::string& uuid, const issues::Requirement& requirement,
                          const WhoAndWhen& who) const;
    /// What a delivery made of it, in the place of what was said of that delivery before; a closed issue whose
    /// requirement is not met any more is opened again.
    void writeMoment(SQLite::Database& db, const std::string& uuid, const issues::RequirementMoment& moment,
                     const WhoAndWhen& who) const;
    void writeExchange(SQLite::Database& db, const Exchange& exchange, std::span<const std::string> topics) const;
    /// Opens closed issues again and says why.
    void reopen(SQLite::Database& db, const std::string& issueUuid, const std::string& why,
                const WhoAndWhen& who) const;
    /// "MSS-007".
    [[nodiscard]] static std::string numberInWords(const std::string& prefix, std::int64_t number);

private:
    Store& store_;
    std::filesystem::path folder_;
};

} // namespace wendrix::project
