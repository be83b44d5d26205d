#pragma once

#include "core/base/result.h"
#include "core/base/who_and_when.h"

#include <SQLiteCpp/SQLiteCpp.h>

#include <filesystem>
#include <functional>
#include <memory>
#include <string>

namespace wendrix::project {

inline constexpr ErrorCode kStoreFailed{"project.store"};
inline constexpr ErrorCode kReadOnly{"project.read-only"};

/// The project's database: every action is one transaction, one line of history and one undo step.
///
/// Undo works below the actions: triggers write for each changed row the statement that puts it back, so an
/// action can not forget to be undoable, and undo survives a restart.
/// Source: "Automatic Undo/Redo Using SQLite", the SQLite documentation.
class Store {
public:
    /// Opens or creates `path`; makes the tables where they are missing.
    [[nodiscard]] static Result<std::unique_ptr<Store>> open(const std::filesystem::path& path);

    /// Runs `change` in one transaction and records it as `what`. Nothing of it stays if it throws.
    [[nodiscard]] Result<void> act(const std::string& what, const WhoAndWhen& who,
                                   const std::function<void(SQLite::Database&)>& change);
    /// The same for what nobody would want undone, as that somebody looked at something: recorded, but no undo step.
    [[nodiscard]] Result<void> record(const std::string& what, const WhoAndWhen& who, const std::function<void(SQLite::Database&)>& change);
    /// Several actions as one: all of them or none, each a line of history, together one undo step called `what`.
    [[nodiscard]] Result<void> together(const std::string& what, const std::function<Result<void>()>& several);
    [[nodiscard]] Result<void> undo(const WhoAndWhen& who);
    [[nodiscard]] Result<void> redo(const WhoAndWhen& who);
    /// What undo would take back; empty if nothing.
    [[nodiscard]] std::string undoable() const;
    [[nodiscard]] std::string redoable() const;

    /// From now on every action answers with this and changes nothing; an empty text lifts it.
    void setReadOnly(std::string why) { readOnly_ = std::move(why); }

    [[nodiscard]] SQLite::Database& database() { return database_; }
    [[nodiscard]] const SQLite::Database& database() const { return database_; }

private:
    explicit Store(const std::filesystem::path& path);
    void makeTables();
    [[nodiscard]] Result<void> stepBack(const char* from, const char* to, const char* verb, const WhoAndWhen& who);
    [[nodiscard]] std::string label(const char* stack) const;

    SQLite::Database database_;
    std::string readOnly_;
    bool isTogether_ = false; ///< an action is part of several
};

} // namespace wendrix::project
