#include "core/project/store.h"

#include "core/project/books.h"
#include "core/project/log.h"
#include "core/project/migration.h"
#include "core/project/rows.h"

#include <sqlite3.h>

namespace wendrix::project {

namespace {

constexpr int kPatienceMilliseconds = 10'000; // another program's command is shorter than that
constexpr int kReadersPatienceMilliseconds = 250;

} // namespace

void Changed::add(const Changed& other)
{
    event = std::max(event, other.event);
    books |= other.books;
    for (const auto& [table, keys] : other.rows)
        rows[table].insert(keys.begin(), keys.end());
    events += other.events;
    areRowsAll = areRowsAll && other.areRowsAll;
}

Store::Snapshot::Snapshot(SQLite::Database& database)
    : database_(database), isOurs_(sqlite3_get_autocommit(database.getHandle()) != 0)
{
    if (isOurs_ && database_.tryExec("BEGIN") != SQLITE_OK)
        isOurs_ = false;
}

Store::Snapshot::~Snapshot()
{
    if (isOurs_ && database_.tryExec("COMMIT") != SQLITE_OK)
        (void)database_.tryExec("ROLLBACK"); // which a damaged database may have done itself
}

Error Store::storeError(const std::exception& e)
{
    const auto* fault = dynamic_cast<const SQLite::Exception*>(&e);
    switch (fault != nullptr ? fault->getErrorCode() & 0xFF : SQLITE_OK) {
    case SQLITE_CORRUPT:
    case SQLITE_NOTADB:
    case SQLITE_CONSTRAINT: // a number that was given twice, a text where a number belongs: no command of ours does it
    case SQLITE_MISMATCH:
        return {kDamaged,
                "The project's database is damaged: what stands in it does not fit together. Nothing was changed. "
                "Put back a backup, or the file as it was."};
    case SQLITE_FULL:
        return {kStoreFailed,
                "The disk is full, or no more may be written to it. Nothing was changed; make room and try again."};
    case SQLITE_READONLY:
    case SQLITE_CANTOPEN:
    case SQLITE_PERM:
        return {kStoreFailed,
                "The project's folder can not be written to: it, or its disk, is read-only, or somebody else's. "
                "Nothing was changed; copy the folder to a place of your own, or ask for the right to write."};
    case SQLITE_BUSY:
    case SQLITE_LOCKED:
        return {
            kStoreFailed,
            "Another program holds the project and does not let go of it. Nothing was changed; close that program, or "
            "try again."};
    default:
        return {kStoreFailed,
                std::string("The project could not be read or written: ") + e.what() + ". Nothing was changed."};
    }
}

Store::Store(const std::filesystem::path& path, Access access, std::shared_ptr<const FolderGuard> guard)
    : folder_(path.parent_path()), guard_(std::move(guard)),
      database_(path.string(),
                access == Access::Create ? SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE : SQLite::OPEN_READWRITE),
      file_(path), stepFile_(folder_)
{
    makeDefensive(database_);
    // A window reads while somebody looks at it; what is written waits on a thread of its own.
    database_.setBusyTimeout(access == Access::Read ? kReadersPatienceMilliseconds : kPatienceMilliseconds);
    database_.exec("PRAGMA journal_mode=WAL");
    database_.exec("PRAGMA synchronous=FULL");
    database_.exec("PRAGMA cache_size=-65536");
    if (access == Access::Read)
        database_.exec("PRAGMA query_only=1");
}

Result<std::unique_ptr<Store>> Store::open(const std::filesystem::path& path, Access access)
{
    auto guard = guardProject(path.parent_path(), path);
    if (!guard)
        return fail(guard.error());
    // A database has a page at least. SQLite would take less for a new one, and write to it.
    if (const auto status = statusOf(path); access != Access::Create && status && status->st_size < 512)
        return fail(
            {kDamaged,
             "The project's database has " + std::to_string(status->st_size) +
                 " bytes and nothing in it: it was emptied or cut short. Put back a backup, or the file as it was.",
             path.string()});
    try {
        std::unique_ptr<Store> store(new Store(path, access, std::move(*guard)));
        SQLite::Database& db = store->database_;
        const auto version = [&] { return db.execAndGet("PRAGMA user_version").getInt(); };
        if (version() > kSchemaVersion)
            return fail(
                {kNewerVersion, "The project was made by a newer Wendrix; open it with that one.", path.string()});
        if (access == Access::Create) {
            SQLite::Transaction transaction(db, SQLite::TransactionBehavior::IMMEDIATE);
            makeTables(db, allTables(), allIndexes());
            db.exec("PRAGMA user_version=" + std::to_string(kSchemaVersion));
            transaction.commit();
        }
        if (auto checked = checkSchema(db, version()); !checked) {
            checked.error().file = path.string();
            return fail(checked.error());
        }
        if (access != Access::Read && version() < kSchemaVersion) {
            if (auto kept = store->backUp("before version " + std::to_string(kSchemaVersion)); !kept)
                return fail(kept.error());
            SQLite::Transaction transaction(db, SQLite::TransactionBehavior::IMMEDIATE);
            if (const int before = version(); before < kSchemaVersion) // another program may have been faster
                migrate(db, before);
            db.exec("PRAGMA user_version=" + std::to_string(kSchemaVersion));
            transaction.commit();
        }
        store->tables_ = shapesOf(db, allTables());
        store->file_.note();
        if (access != Access::Read)
            store->watch_ = std::make_unique<RowWatch>(db, store->tables_);
        return store;
    } catch (const std::exception& e) {
        Error error = storeError(e);
        error.file = path.string();
        return fail(std::move(error));
    }
}

void Store::noteEvent(const RowWatch::Seen& seen, std::int64_t event, const Deed& deed, const WhoAndWhen& who)
{
    if (kept_.events.empty())
        kept_.id = event;
    kept_.events.push_back({who, seen.books | static_cast<unsigned>(deed.book), deed.what, deed.subject});
    keep(seen.facts);
    noteChanged(seen, event);
}

void Store::noteChanged(const RowWatch::Seen& seen, std::int64_t event)
{
    changed_.event = std::max(changed_.event, event);
    changed_.books |= seen.books;
    ++changed_.events;
    for (const RowChange& row : seen.rows)
        if (!row.key.empty()) {
            const Cell& first = row.key.at(row.table->columns[row.table->key[0]]);
            changed_.rows[row.table->name].insert(
                std::holds_alternative<std::string>(first)    ? std::get<std::string>(first)
                : std::holds_alternative<std::int64_t>(first) ? std::to_string(std::get<std::int64_t>(first))
                                                              : std::string());
        }
}

Result<void> Store::transact(const std::function<Result<void>()>& work)
{
    const Changed before = changed_;
    const auto dropped = [&](Error error) {
        changed_ = before;
        recorded_.clear();
        step_ = 0;
        kept_ = {};
        keptChanges_.clear();
        if (watch_)
            (void)watch_->take();
        return fail(std::move(error));
    };
    try {
        if (auto there = file_.check(); !there)
            return dropped(lost(there.error()));
        SQLite::Transaction transaction(database_, SQLite::TransactionBehavior::IMMEDIATE);
        if (auto done = work(); !done)
            return dropped(done.error()); // the transaction goes back
        if (!kept_.events.empty())
            for (SQLite::Statement q(database_, "SELECT name, value FROM counters"); q.executeStep();)
                kept_.counters[text(q, 0)] = q.getColumn(1).getInt64();
        transaction.commit();
        file_.note();
        recorded_.clear();
        step_ = 0;
        if (!kept_.events.empty())
            stepFile_.add(kept_, "[" + keptChanges_ + "]");
        kept_ = {};
        keptChanges_.clear();
        return {};
    } catch (const Refused& refused) {
        return dropped(refused.error);
    } catch (const std::exception& e) {
        return dropped(storeError(e));
    }
}

void Store::keep(std::string_view changes)
{
    if (!keptChanges_.empty() && !changes.empty())
        keptChanges_ += ',';
    keptChanges_ += changes;
}

void Store::keep(const std::vector<RowChange>& changes)
{
    const std::string json = toJson(changes);
    keep(std::string_view(json).substr(1, json.size() - 2));
}

Result<Backup> Store::backUp(const std::string& reason, Progress& progress)
{
    return project::backUp(database_, folder_, reason, progress);
}

Error Store::lost(Error error)
{
    if (readOnly_.empty()) { // told the first time
        const auto kept = backUp("kept");
        error.message +=
            kept ? " Everything that was decided up to now is kept in " + kept->file.filename().string() +
                       " under backups, and can be put back from the start page."
            : stepFile_.isThere()
                ? " What was decided since it was opened is kept step by step under backups: put back the backup of "
                  "then from the start page, and History brings the steps in."
                : " Nothing was decided since it was opened, or it could not be kept; the start page can put back "
                  "the backup of then.";
        readOnly_ = error.message;
    }
    return error;
}

Result<void> Store::together(const std::string& what, const WhoAndWhen& who,
                             const std::function<Result<void>()>& several)
{
    if (!readOnly_.empty())
        return fail({kReadOnly, readOnly_});
    return transact([&]() -> Result<void> {
        step_ = nextNumber(database_, "step");
        if (auto done = several(); !done)
            return done;
        // A command that changed nothing is no step: nobody wants to undo it.
        if (const auto changes = coalesced(std::move(recorded_)); !changes.empty()) {
            const std::string json = toJson(changes);
            keep(std::string_view(json).substr(1, json.size() - 2));
            if (Log::writeStep(database_, step_, what, who, json) && tidy_) {
                tidy_(database_);
                keep(watch_->take().facts);
            }
        }
        return {};
    });
}

Result<void> Store::act(const Deed& deed, const WhoAndWhen& who, const std::function<void(SQLite::Database&)>& change)
{
    if (!readOnly_.empty())
        return fail({kReadOnly, readOnly_});
    const auto one = [&]() -> Result<void> {
        try {
            change(database_);
        } catch (const Refused& refused) {
            return fail(refused.error);
        }
        RowWatch::Seen seen = watch_->take();
        noteEvent(seen, Log::writeEvent(database_, deed, who, seen.books, deed.isUndoable ? step_ : 0, 0), deed, who);
        if (deed.isUndoable)
            std::move(seen.rows.begin(), seen.rows.end(), std::back_inserter(recorded_));
        else
            keep(seen.rows);
        return {};
    };
    if (step_ != 0)
        return one();
    return deed.isUndoable ? together(deed.what, who, one) : transact(one);
}

} // namespace wendrix::project
