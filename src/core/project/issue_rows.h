#pragma once

#include "core/issues/issue.h"
#include "core/project/issues_book.h"

#include <SQLiteCpp/SQLiteCpp.h>

#include <string>

/// Issues between rows and values; for the project's own files.
namespace wendrix::project {

inline constexpr const char* kIssueColumns =
    "uuid, number, title, description, type, status, priority, stage, assignee, createdBy, createdAt, modifiedBy, "
    "modifiedAt, "
    "dueAt, labels, prefix, requestedBy, cause, startAt, storey, bay, space, custom, more";
[[nodiscard]] issues::Issue issueOf(SQLite::Statement& q);
void insertIssueRow(SQLite::Database& db, const issues::Issue& issue, std::int64_t number, const std::string& prefix,
                    const std::string& madeFrom, const std::string& origins);
void updateIssueRow(SQLite::Database& db, const issues::Issue& issue);
void insertCommentRow(SQLite::Database& db, const std::string& issue, const issues::Comment& comment);
void insertViewpointRow(SQLite::Database& db, const std::string& issue, int place, const issues::Viewpoint& viewpoint);
/// What is said of a picture in the row of a viewpoint: its name among the pictures.
[[nodiscard]] std::string pictureName(const std::string& bytes);

/// Comments and viewpoints, without snapshots.
void fillIssue(SQLite::Database& db, issues::Issue& issue);
[[nodiscard]] std::string originsToJson(std::span<const KeptIssue::Origin> origins);
[[nodiscard]] std::vector<KeptIssue::Origin> originsFromJson(const std::string& text);
[[nodiscard]] std::map<std::string, std::string> textsFromJson(const std::string& text);

/// What a project agreed, or the usual where it agreed nothing.
[[nodiscard]] issues::Workflow workflowIn(SQLite::Database& db);
[[nodiscard]] issues::Standing standingIn(SQLite::Database& db, const std::string& person);

/// What an issue wants to be met, with what deliveries made of it.
[[nodiscard]] std::optional<issues::Requirement> requirementIn(SQLite::Database& db, const std::string& uuid);

/// Fields whose changes go into the history, in words.
struct TrackedField {
    const char* name; ///< as people read it
    std::string (*inWords)(const issues::Issue&);
};
[[nodiscard]] const std::vector<TrackedField>& trackedFields();

} // namespace wendrix::project
