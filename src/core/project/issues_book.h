#pragma once

#include "core/issues/evidence.h"
#include "core/issues/issue.h"
#include "core/issues/issue_template.h"
#include "core/project/setup_book.h"

#include <filesystem>

namespace wendrix::project {

/// What a list of issues is put together from, without words.
struct IssueKey {
    std::string uuid, status;
    std::int64_t number = 0;
    Timestamp dueAt;
};

/// One row of such a list.
struct IssueBrief {
    std::string uuid, title, status, priority, assignee;
    std::int64_t number = 0;
    std::string prefix;
    Timestamp dueAt;
    [[nodiscard]] std::string name() const;
};

/// Issues with their comments and viewpoints.
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
    [[nodiscard]] Result<std::vector<issues::Issue>> all() const; ///< by number; snapshots left on the disk
    [[nodiscard]] Result<std::optional<issues::Issue>> find(const std::string& uuid, bool withSnapshots) const;
    /// Those that are about an element: by its viewpoints, or by GlobalId where that is all that is known.
    [[nodiscard]] Result<std::vector<IssueBrief>> about(const ElementRef& element) const;
    /// Elements that issues of a status are about, whatever its capitals; without one, of all that are not closed.
    [[nodiscard]] Result<std::vector<ElementRef>> elementsWith(const std::string& status) const;
    [[nodiscard]] Result<std::size_t> open() const; ///< how many are not closed

    /// What issues for pairs begin with, in their order; the usual one where none is kept.
    [[nodiscard]] Result<std::vector<issues::IssueTemplate>> templates() const;
    /// Makes one beside those that are there (`former` empty), or changes the one of that name.
    /// @return kBadIssueTemplate where it has a mistake, or another one is called so
    [[nodiscard]] Result<void> keepTemplate(const issues::IssueTemplate& t, const std::string& former,
                                            const WhoAndWhen& who);
    [[nodiscard]] Result<void> removeTemplate(const std::string& name, const WhoAndWhen& who);

    [[nodiscard]] Result<void> addComment(const std::string& issueUuid, const std::string& text, const WhoAndWhen& who);
    [[nodiscard]] Result<void> setStatus(const std::string& issueUuid, const std::string& status,
                                         const std::string& comment, const WhoAndWhen& who);
    /// Takes over what came back: new issues, new comments and viewpoints, changed fields. Nothing is removed.
    /// @return in words, what was taken over.
    [[nodiscard]] Result<std::string> merge(std::span<const issues::Issue> incoming, const std::string& prefix,
                                            const WhoAndWhen& who);

    // Parts of commands that do more.
    /// Pictures go to the disk before the transaction that refers to them.
    [[nodiscard]] Result<void> keepPictures(const issues::Issue& issue) const;
    /// Gives it its number. @return "MSS-007"
    std::string write(SQLite::Database& db, issues::Issue& issue, const std::string& prefix,
                      const WhoAndWhen& who) const;
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
