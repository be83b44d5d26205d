#include "core/project/log.h"

#include "core/project/rows.h"

#include <algorithm>

namespace wendrix::project {

namespace {

std::vector<HistoryLine> linesOf(SQLite::Statement& q)
{
    std::vector<HistoryLine> lines;
    while (q.executeStep())
        lines.push_back({{text(q, 0), text(q, 1)}, text(q, 2)});
    return lines;
}

struct Step {
    std::int64_t id = 0;
    std::string what, changes;
};

/// The last step that stands so; taken back last is done again first.
std::optional<Step> stepOf(SQLite::Database& db, const std::string& person, int standing)
{
    SQLite::Statement q(
        db, standing == 1 ? "SELECT id, what, changes FROM steps WHERE person=? AND standing=1 ORDER BY id DESC LIMIT 1"
                          : "SELECT id, what, changes FROM steps WHERE person=? AND standing=2 ORDER BY id LIMIT 1");
    q.bind(1, person);
    return q.executeStep() ? std::optional(Step{q.getColumn(0).getInt64(), text(q, 1), text(q, 2)}) : std::nullopt;
}

} // namespace

Result<std::vector<HistoryLine>> Log::last(int most) const
{
    return store_.read([&](SQLite::Database& db) {
        SQLite::Statement q(db, "SELECT person, time, what FROM events ORDER BY id DESC LIMIT ?");
        q.bind(1, most);
        return linesOf(q);
    });
}

Result<std::vector<HistoryLine>> Log::of(const std::string& subject) const
{
    return store_.read([&](SQLite::Database& db) {
        SQLite::Statement q(db, "SELECT person, time, what FROM events WHERE subject=? ORDER BY id DESC");
        q.bind(1, subject);
        return linesOf(q);
    });
}

Result<std::int64_t> Log::newest() const
{
    return store_.read([](SQLite::Database& db) { return numberOr(db, "SELECT COALESCE(MAX(id), 0) FROM events"); });
}

Result<Changed> Log::since(std::int64_t event) const
{
    return store_.read([&](SQLite::Database& db) {
        Changed changed;
        changed.event = event;
        SQLite::Statement q(db, "SELECT id, books FROM events WHERE id>? ORDER BY id");
        q.bind(1, event);
        while (q.executeStep()) {
            changed.event = q.getColumn(0).getInt64();
            changed.books |= static_cast<unsigned>(q.getColumn(1).getInt());
            ++changed.events;
        }
        changed.areRowsAll = false;
        return changed;
    });
}

Result<std::string> Log::label(const std::string& person, Standing standing) const
{
    return store_.read([&](SQLite::Database& db) {
        const auto step = stepOf(db, person, standing);
        return step ? step->what : std::string();
    });
}

std::int64_t Log::writeEvent(SQLite::Database& db, const Deed& deed, const WhoAndWhen& who, unsigned books,
                             std::int64_t step, std::int64_t reverts)
{
    run(db, "INSERT INTO events(time, person, books, what, subject, step, reverts) VALUES(?, ?, ?, ?, ?, ?, ?)",
        who.time, who.person, static_cast<int>(books | static_cast<unsigned>(deed.book)), deed.what, deed.subject, step,
        reverts);
    return db.getLastInsertRowid();
}

bool Log::writeStep(SQLite::Database& db, std::int64_t id, const std::string& what, const WhoAndWhen& who,
                    const std::string& changes)
{
    // What this person had undone can not be done again on top of something new.
    run(db, "UPDATE steps SET standing=0, changes='', size=0 WHERE person=? AND standing=2", who.person);
    const bool isAnyLost = db.getChanges() > 0;
    run(db, "INSERT INTO steps VALUES(?, ?, ?, ?, ?, ?)", id, who.person, what, static_cast<int>(kDone), changes,
        static_cast<std::int64_t>(changes.size()));
    // Far back nobody undoes; a step that alone is larger than all may be stays until the next one.
    run(db,
        "DELETE FROM steps WHERE id<=? OR id IN (SELECT id FROM (SELECT id, SUM(size) OVER (ORDER BY id DESC) AS upTo "
        "FROM steps) AS sums WHERE upTo>? AND id<?)",
        id - kMostSteps, kMostBytes, id);
    return isAnyLost;
}

Result<void> Log::undo(const WhoAndWhen& who, const Settle& settle) { return stepBack(who, kDone, settle); }
Result<void> Log::redo(const WhoAndWhen& who, const Settle& settle) { return stepBack(who, kUndone, settle); }

Result<void> Log::stepBack(const WhoAndWhen& who, Standing from, const Settle& settle)
{
    if (!store_.readOnly_.empty())
        return fail({kReadOnly, store_.readOnly_});
    return store_.transact([&]() -> Result<void> {
        SQLite::Database& db = store_.database_;
        const auto step = stepOf(db, who.person, from);
        if (!step)
            return {};
        auto changes = changesFromJson(step->changes, store_.tables_);
        if (!changes)
            return fail(changes.error());
        if (from == kDone) {
            std::reverse(changes->begin(), changes->end());
            for (RowChange& change : *changes)
                change = inverse(change);
        }
        if (auto done = applyChanges(db, *changes); !done) {
            Error error = done.error();
            SQLite::Statement other(
                db, "SELECT person, what FROM events WHERE step>? AND person<>? ORDER BY id DESC LIMIT 1");
            other.bind(1, step->id);
            other.bind(2, who.person);
            if (error.code == kChangedSince && other.executeStep())
                error.message = text(other, 0) + " has changed it since (" + text(other, 1) + "), so \"" + step->what +
                                "\" stays as it is.";
            return fail(std::move(error));
        }
        settle(db, *changes);
        const RowWatch::Seen seen = store_.watch_->take();
        run(db, "UPDATE steps SET standing=? WHERE id=?", static_cast<int>(from == kDone ? kUndone : kDone), step->id);
        auto subjects = allRows(
            db, "SELECT DISTINCT subject FROM events WHERE step=? AND reverts=0",
            [](SQLite::Statement& q) { return text(q, 0); }, step->id);
        const std::string subject =
            subjects.size() == 1 ? subjects[0] : ""; // what several commands did together is nobody's alone
        Deed line{changes->empty() ? Book::Setup : changes->front().table->book,
                  (from == kDone ? "Undone: " : "Done again: ") + step->what, subject};
        store_.noteEvent(seen, writeEvent(db, line, who, seen.books, 0, step->id), line, who);
        store_.keep(*changes);
        return {};
    });
}

} // namespace wendrix::project
