#pragma once

#include "core/base/result.h"
#include "core/base/who_and_when.h"
#include "core/project/backups.h"
#include "core/project/guard.h"
#include "core/project/row_change.h"
#include "core/project/step_file.h"

#include <SQLiteCpp/SQLiteCpp.h>

#include <filesystem>
#include <functional>
#include <memory>
#include <set>
#include <string>

namespace wendrix::project {

inline constexpr ErrorCode kStoreFailed{"project.store"};
inline constexpr ErrorCode kReadOnly{"project.read-only"};
inline constexpr ErrorCode kNewerVersion{"project.newer-version"};

/// What a command is, as the log tells it.
struct Deed {
    Book book;
    std::string what;         ///< a line of history: "Taken in: Structure P02"
    std::string subject = {}; ///< whose history it belongs to: "delivery:12"; empty where nobody asks for one
    bool isUndoable = true;   ///< false for what nobody would want undone, as that somebody looked at something
};

/// What a command changed, as others are told.
struct Changed {
    std::int64_t event = 0;                            ///< the last one of the log it wrote
    unsigned books = 0;                                ///< of Book
    std::map<std::string, std::set<std::string>> rows; ///< by table, the first part of each row's key
    int events = 0;                                    ///< how many it wrote
    bool areRowsAll = true; ///< false where others changed something too, of which only the books are known

    [[nodiscard]] bool has(Book book) const { return (books & static_cast<unsigned>(book)) != 0; }
    [[nodiscard]] bool isNothing() const { return books == 0; }
    void add(const Changed& other);
};

/// A command found, inside its transaction, that it can not be done: thrown there, and given back as its error.
struct Refused {
    Error error;
};

/// One connection to a project's database. Every command is one transaction and one event of the log.
///
/// A connection is used from one thread. Several may be open at once, in several programs: reading never waits, and a
/// command waits its turn.
class Store {
public:
    /// Create: there is none yet.
    enum class Access { Write, Read, Create };
    /// Opens `path`; to be written, a project of an earlier version is brought up to this one. Whatever stands in it,
    /// nothing of it is executed.
    /// @return kStoreFailed, kNewerVersion, kForeignSchema, kForeignFiles, kDamaged
    [[nodiscard]] static Result<std::unique_ptr<Store>> open(const std::filesystem::path& path, Access access);

    /// Runs `change` in one transaction and records it. Nothing of it stays if it throws.
    [[nodiscard]] Result<void> act(const Deed& deed, const WhoAndWhen& who,
                                   const std::function<void(SQLite::Database&)>& change);
    /// Several commands as one: all of them or none, each an event, together one step of undo called `what`.
    [[nodiscard]] Result<void> together(const std::string& what, const WhoAndWhen& who,
                                        const std::function<Result<void>()>& several);
    /// A copy of the whole as it is now, in the project's folder. @return kNoBackup, kBackupCancelled
    [[nodiscard]] Result<Backup> backUp(const std::string& reason, Progress& progress);
    [[nodiscard]] Result<Backup> backUp(const std::string& reason)
    {
        Progress progress;
        return backUp(reason, progress);
    }
    /// What the commands since the last time changed.
    [[nodiscard]] Changed takeChanged() { return std::exchange(changed_, {}); }

    /// Until this ends every question is answered from the state that the first of them finds, whatever others write
    /// meanwhile. They may lie within each other; a command waits until it has ended. Of the thread that made it.
    class [[nodiscard]] Snapshot {
    public:
        explicit Snapshot(SQLite::Database& database);
        ~Snapshot();
        Snapshot(const Snapshot&) = delete;
        Snapshot& operator=(const Snapshot&) = delete;

    private:
        SQLite::Database& database_;
        bool isOurs_; ///< false within another one, or within a command
    };
    /// For questions that belong together. Where the database can not be read they say so, not this.
    Snapshot snapshot() const { return Snapshot(database_); }

    /// Any question, all of its statements from one state; what the database throws becomes an error.
    template <class Question>
    [[nodiscard]] auto read(Question&& question) const -> Result<std::invoke_result_t<Question, SQLite::Database&>>
    {
        try {
            const Snapshot snapshot(database_);
            return question(database_);
        } catch (const Refused& refused) {
            return fail(refused.error);
        } catch (const std::exception& e) {
            const Error error = storeError(e);
            if (listener_)
                listener_(error);
            return fail(error);
        }
    }
    /// Hears of every question that the database could not answer, on the thread that asks: whoever shows what is left
    /// of the answer need not say so at each place.
    void setListener(std::function<void(const Error&)> listener) { listener_ = std::move(listener); }

    /// From now on every command answers with this and changes nothing; an empty text lifts it.
    void setReadOnly(std::string why) { readOnly_ = std::move(why); }

    /// Called inside a transaction after which some steps can not be done again any more: what only they referred to
    /// may go.
    void setTidy(std::function<void(SQLite::Database&)> tidy) { tidy_ = std::move(tidy); }

    [[nodiscard]] const std::vector<TableShape>& tables() const { return tables_; }

private:
    friend class Log;
    Store(const std::filesystem::path& path, Access access, std::shared_ptr<const FolderGuard> guard);
    /// The database is the project's no more: keeps what it held, and lets nothing more be written.
    [[nodiscard]] Error lost(Error error);
    /// The transaction around a command, its refusals and what it changed.
    [[nodiscard]] Result<void> transact(const std::function<Result<void>()>& work);
    /// An event was written, for those who are told.
    void noteChanged(const RowWatch::Seen& seen, std::int64_t event);
    /// The same, for them and for the file of steps.
    void noteEvent(const RowWatch::Seen& seen, std::int64_t event, const Deed& deed, const WhoAndWhen& who);
    /// Adds changes to what the file of steps is told of this transaction.
    void keep(std::string_view changes);
    void keep(const std::vector<RowChange>& changes);
    [[nodiscard]] static Error storeError(const std::exception& e);

    std::filesystem::path folder_;
    std::shared_ptr<const FolderGuard> guard_;
    mutable SQLite::Database database_;
    DatabaseFile file_;
    std::vector<TableShape> tables_;
    std::unique_ptr<RowWatch> watch_; ///< null where the connection only reads
    std::string readOnly_;
    std::function<void(const Error&)> listener_;
    std::function<void(SQLite::Database&)> tidy_;
    Changed changed_;
    std::vector<RowChange> recorded_; ///< of the step that is under way
    std::int64_t step_ = 0;           ///< its number; 0 while none is
    StepFile stepFile_;
    KeptStep kept_;           ///< of the transaction that is under way
    std::string keptChanges_; ///< its rows in JSON, without the brackets around all
};

} // namespace wendrix::project
