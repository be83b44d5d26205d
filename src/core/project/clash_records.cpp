#include "core/project/project.h"
#include "core/project/rows.h"

#include "core/base/text.h"

namespace wendrix::project {

namespace {

constexpr const char* kPairColumns =
    "SELECT id, test, leftGuid, rightGuid, leftName, rightName, leftRevision, rightRevision, state, depth, x, y, z, "
    "storey, bay, decision, reason, decidedBy, decidedAt, issue FROM pairs ";

Pair pairOf(SQLite::Statement& q)
{
    Pair p;
    p.id = text(q, 0);
    p.test = text(q, 1);
    p.leftGuid = text(q, 2);
    p.rightGuid = text(q, 3);
    p.leftName = text(q, 4);
    p.rightName = text(q, 5);
    p.leftRevision = text(q, 6);
    p.rightRevision = text(q, 7);
    p.state = static_cast<clash::PairState>(q.getColumn(8).getInt());
    p.depth = q.getColumn(9).getDouble();
    p.point = {q.getColumn(10).getDouble(), q.getColumn(11).getDouble(), q.getColumn(12).getDouble()};
    p.storey = text(q, 13);
    p.bay = text(q, 14);
    p.decision = text(q, 15);
    p.reason = text(q, 16);
    p.decidedBy = {text(q, 17), text(q, 18)};
    p.issue = text(q, 19);
    return p;
}

/// Pairs of a test that a run did not find are gone; what it found is new, still there or back.
void writeFindings(SQLite::Database& db, const TestFindings& findings, std::int64_t runId)
{
    std::map<std::string, int> before;
    SQLite::Statement known(db, "SELECT id, state FROM pairs WHERE test=?");
    known.bind(1, findings.test);
    while (known.executeStep())
        before[text(known, 0)] = known.getColumn(1).getInt();
    const auto note = [&](const std::string& pair, clash::PairState state, double depth) {
        run(db, "INSERT INTO pairRuns VALUES(?, ?, ?, ?)", pair, runId, static_cast<int>(state), depth);
    };
    for (const Pair& p : findings.pairs) {
        const auto was = before.find(p.id);
        const auto last = was != before.end() ? std::optional(static_cast<clash::PairState>(was->second)) : std::nullopt;
        const clash::PairState state = *clash::nextState(last, true);
        if (last)
            run(db, "UPDATE pairs SET leftName=?, rightName=?, leftRevision=?, rightRevision=?, state=?, depth=?, x=?, "
                    "y=?, z=?, storey=?, bay=? WHERE id=?",
                p.leftName, p.rightName, p.leftRevision, p.rightRevision, static_cast<int>(state), p.depth, p.point.x,
                p.point.y, p.point.z, p.storey, p.bay, p.id);
        else
            run(db, "INSERT INTO pairs VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, '', '', '', '', '')", p.id,
                findings.test, p.leftGuid, p.rightGuid, p.leftName, p.rightName, p.leftRevision, p.rightRevision,
                static_cast<int>(state), p.depth, p.point.x, p.point.y, p.point.z, p.storey, p.bay, runId);
        note(p.id, state, p.depth);
        before.erase(p.id);
    }
    for (const auto& [id, state] : before) {
        run(db, "UPDATE pairs SET state=? WHERE id=?", static_cast<int>(clash::PairState::Gone), id);
        note(id, clash::PairState::Gone, 0.0);
    }
}

} // namespace

std::vector<ClashTest> Project::tests() const
{
    std::vector<ClashTest> list;
    SQLite::Statement q(db(), "SELECT name, leftSide, rightSide, tolerance FROM tests ORDER BY place");
    while (q.executeStep())
        list.push_back({text(q, 0), text(q, 1), text(q, 2), q.getColumn(3).getDouble()});
    return list;
}

std::vector<Pair> Project::pairs() const
{
    std::vector<Pair> list;
    SQLite::Statement q(db(), std::string(kPairColumns) + "ORDER BY depth DESC, id");
    while (q.executeStep())
        list.push_back(pairOf(q));
    return list;
}

std::vector<Pair> Project::pairsOf(const std::string& issueUuid) const
{
    std::vector<Pair> list;
    SQLite::Statement q(db(), std::string(kPairColumns) + "WHERE issue=? ORDER BY depth DESC, id");
    q.bind(1, issueUuid);
    while (q.executeStep())
        list.push_back(pairOf(q));
    return list;
}

std::vector<Run> Project::runs() const
{
    std::vector<Run> list;
    SQLite::Statement q(db(), "SELECT id, time, person, composition, cycle FROM runs ORDER BY id");
    while (q.executeStep())
        list.push_back({q.getColumn(0).getInt64(), text(q, 1), text(q, 2), text(q, 3), q.getColumn(4).getInt()});
    return list;
}

std::vector<std::pair<Run, clash::PairState>> Project::historyOf(const std::string& pairId) const
{
    std::vector<std::pair<Run, clash::PairState>> list;
    SQLite::Statement q(db(), "SELECT r.id, r.time, r.person, r.composition, r.cycle, p.state FROM pairRuns p "
                              "JOIN runs r ON r.id=p.run WHERE p.pair=? ORDER BY r.id");
    q.bind(1, pairId);
    while (q.executeStep())
        list.push_back({{q.getColumn(0).getInt64(), text(q, 1), text(q, 2), text(q, 3), q.getColumn(4).getInt()},
                        static_cast<clash::PairState>(q.getColumn(5).getInt())});
    return list;
}

Result<void> Project::addTest(const ClashTest& t, const WhoAndWhen& who)
{
    return store_->act("Test added: " + t.name, who, [&](SQLite::Database& db) {
        run(db, "INSERT INTO tests SELECT ?, ?, ?, ?, count(*) FROM tests", t.name, t.left, t.right, t.tolerance);
    });
}

void Project::writeRun(SQLite::Database& db, std::span<const TestFindings> findings, const WhoAndWhen& who)
{
    run(db, "INSERT INTO runs(time, person, cycle, composition) VALUES(?, ?, ?, ?)", who.time, who.person, cycle(),
        compositionInWords());
    const std::int64_t id = db.getLastInsertRowid();
    for (const TestFindings& f : findings)
        writeFindings(db, f, id);
    // A closed issue whose clash comes back is reopened by itself and says why.
    SQLite::Statement back(db, "SELECT DISTINCT i.uuid FROM issues i JOIN pairs p ON p.issue=i.uuid "
                               "WHERE i.status=? AND p.state=?");
    back.bind(1, issues::status::kClosed);
    back.bind(2, static_cast<int>(clash::PairState::Back));
    std::vector<std::string> reopened;
    while (back.executeStep())
        reopened.push_back(text(back, 0));
    for (const std::string& uuid : reopened) {
        run(db, "UPDATE issues SET status=?, modifiedBy=?, modifiedAt=? WHERE uuid=?", std::string(issues::status::kBack),
            who.person, who.time, uuid);
        run(db, "INSERT INTO comments VALUES(lower(hex(randomblob(4))||'-'||hex(randomblob(2))||'-4'||"
                "substr(hex(randomblob(2)),2)||'-a'||substr(hex(randomblob(2)),2)||'-'||hex(randomblob(6))), ?, ?, ?, ?, '')",
            uuid, who.time, who.person, "Reopened: a clash of this issue is back in " + compositionInWords() + ".");
    }
}

Result<void> Project::recordRun(std::span<const TestFindings> findings, const WhoAndWhen& who)
{
    std::size_t count = 0;
    for (const TestFindings& f : findings)
        count += f.pairs.size();
    return store_->act("Tests run: " + counted(count, "pair", "pairs") + " found", who,
                       [&](SQLite::Database& db) { writeRun(db, findings, who); });
}

Result<void> Project::decide(std::span<const std::string> pairIds, const std::string& decision,
                             const std::string& reason, const WhoAndWhen& who)
{
    return store_->act(decision + ": " + counted(pairIds.size(), "pair", "pairs"), who, [&](SQLite::Database& db) {
        for (const std::string& id : pairIds)
            run(db, "UPDATE pairs SET decision=?, reason=?, decidedBy=?, decidedAt=? WHERE id=?", decision, reason,
                who.person, who.time, id);
    });
}

} // namespace wendrix::project
