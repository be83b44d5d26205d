#include "core/project/clash_cause.h"
#include "core/project/clashes_book.h"
#include "core/project/rows.h"

/// How pairs stand once a run is recorded or withdrawn, and which decisions no longer hold.
namespace wendrix::project {

using clash::Outcome;
using clash::PairState;

std::size_t ClashesBook::giveBack(SQLite::Database& db, RunId runId, const Timestamp& now)
{
    struct Standing {
        PairId pair = 0;
        std::string person, reason, words;
    };
    std::vector<Standing> back;
    SQLite::Statement q(db, "SELECT d.pair, d.person, d.reason, d.until, d.seen, p.leftElement, p.rightElement, "
                            "p.tolerance FROM decisions d JOIN present p ON p.pair=d.pair WHERE d.decision='let "
                            "stand' AND p.lastRun=? AND p.outcome=1");
    q.bind(1, runId);
    // What deliveries taken in since did to an element's body, the last word last.
    SQLite::Statement changes(
        db, "SELECT c.kinds, c.sx, c.sy, c.sz, v.revision, e.name FROM elements e JOIN changes c ON c.guid=e.guid AND "
            "c.part=e.part AND c.ordinal=e.ordinal JOIN comparisons k ON k.id=c.comparison AND "
            "k.discipline=e.discipline LEFT JOIN deliveries v ON v.id=k.toDelivery WHERE e.id=? AND k.id>? ORDER "
            "BY k.id");
    while (q.executeStep()) {
        Standing s{q.getColumn(0).getInt64(), text(q, 1), text(q, 2), {}};
        const std::string until = text(q, 3);
        if (!until.empty() && now.substr(0, until.size()) > until)
            s.words = "that day is over";
        for (const int side : {5, 6}) {
            changes.reset();
            changes.bind(1, q.getColumn(side).getInt64());
            changes.bind(2, q.getColumn(4).getInt64());
            std::string words;
            while (changes.executeStep()) {
                const int kinds = changes.getColumn(0).getInt();
                const double shift = length(point(changes, 1) - Point3{});
                const std::string in = " in " + text(changes, 4);
                if ((kinds & Moved) != 0 && shift > q.getColumn(7).getDouble())
                    words = text(changes, 5) + " " + shiftInWords(point(changes, 1) - Point3{}) + in;
                else if ((kinds & Reshaped) != 0)
                    words = text(changes, 5) + " was reshaped" + in;
            }
            if (!words.empty())
                s.words += (s.words.empty() ? "" : "; ") + words;
        }
        if (!s.words.empty())
            back.push_back(std::move(s));
    }
    SQLite::Statement giveBack(db, "UPDATE decisions SET decision='', until='', returned=? WHERE pair=?");
    for (const Standing& s : back)
        runAgain(giveBack,
                 "let stand by " + s.person + (s.reason.empty() ? "" : " (" + s.reason + ")") + ", but " + s.words,
                 s.pair);
    return back.size();
}

void ClashesBook::settle(SQLite::Database& db, RunId runId)
{
    struct Standing {
        PairId pair = 0;
        std::optional<PairState> state;
        int outcome = 0;
        RunId foundRun = 0, lastRun = 0;
    };
    SQLite::Statement drop(db, "DELETE FROM present WHERE pair=?");
    SQLite::Statement put(db,
                          "INSERT INTO present SELECT f.pair, q.kind, ?, ?, f.run, ?, t.name, t.tolerance, "
                          "f.leftElement, f.rightElement, f.depth, f.x, f.y, f.z, f.storey, f.bay, f.isApproximate, "
                          "COALESCE(t.clearance, 0), COALESCE(t.direction, 0), f.distance, f.isOpen "
                          "FROM findings f JOIN pairs q ON q.id=f.pair LEFT JOIN runTests t ON t.run=f.run AND "
                          "t.place=f.test WHERE f.pair=? AND f.run=?");
    const auto close = [&](const Standing& s) {
        if (s.pair == 0)
            return;
        runAgain(drop, s.pair);
        if (s.state && s.foundRun != 0)
            runAgain(put, static_cast<int>(*s.state), s.outcome, s.lastRun, s.pair, s.foundRun);
    };
    // All that the runs that count say of these pairs, in one pass; a pair of which none speaks any more is dropped.
    SQLite::Statement q(db, "SELECT f.pair, r.id, f.outcome FROM findings f LEFT JOIN runs r ON r.id=f.run WHERE "
                            "f.pair IN (SELECT pair FROM findings WHERE run=?) ORDER BY f.pair, f.run");
    q.bind(1, runId);
    Standing now;
    std::vector<Standing> all;
    while (q.executeStep()) {
        const PairId pair = q.getColumn(0).getInt64();
        if (pair != now.pair) {
            all.push_back(now);
            now = {pair, {}, 0, 0, 0};
        }
        const auto outcome = clash::outcomeFrom(q.getColumn(2).getInt());
        if (q.getColumn(1).isNull() || !outcome)
            continue;
        now.state = clash::nextState(now.state, *outcome);
        now.outcome = static_cast<int>(*outcome);
        now.lastRun = q.getColumn(1).getInt64();
        if (*outcome == Outcome::Found)
            now.foundRun = now.lastRun;
    }
    all.push_back(now);
    for (const Standing& s : all)
        close(s);
}

void ClashesBook::tidy(SQLite::Database& db)
{
    // The heads first: usually there is nothing, and a million findings need not be looked through for that.
    if (numberOr(db, "SELECT COUNT(*) FROM runTests WHERE run NOT IN (SELECT id FROM runs)") +
            numberOr(db, "SELECT COUNT(*) FROM runMembers WHERE run NOT IN (SELECT id FROM runs)") ==
        0)
        return;
    for (const char* table : {"findings", "runMembers", "runTests"})
        db.exec(std::string("DELETE FROM ") + table + " WHERE run NOT IN (SELECT id FROM runs)");
}

} // namespace wendrix::project
