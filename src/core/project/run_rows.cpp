#include "core/project/run_rows.h"

namespace wendrix::project {

namespace {

PairSide sideOf(SQLite::Statement& q, int first)
{
    PairSide side;
    side.element = {q.getColumn(first).getInt64(), text(q, first + 1), text(q, first + 2),
                    static_cast<std::uint32_t>(q.getColumn(first + 3).getInt64())};
    side.name = text(q, first + 4);
    side.className = text(q, first + 5);
    side.revision = text(q, first + 6);
    side.discipline = text(q, first + 7);
    side.part = side.element.part;
    return side;
}

} // namespace

Pair pairOf(SQLite::Statement& q)
{
    Pair p;
    p.id = q.getColumn(0).getInt64();
    p.kind = static_cast<clash::Kind>(q.getColumn(1).getInt());
    p.test = text(q, 2);
    p.state = static_cast<clash::PairState>(q.getColumn(3).getInt());
    p.outcome = static_cast<clash::Outcome>(q.getColumn(4).getInt());
    p.depth = q.getColumn(5).getDouble();
    p.point = point(q, 6);
    p.storey = text(q, 9);
    p.bay = text(q, 10);
    p.isApproximate = q.getColumn(11).getInt() != 0;
    p.left = sideOf(q, 12);
    p.right = sideOf(q, 20);
    p.decision = text(q, 28);
    p.reason = text(q, 29);
    p.decidedBy = {text(q, 30), text(q, 31)};
    p.issue = text(q, 32);
    return p;
}

Run runOf(SQLite::Statement& q)
{
    Run r;
    r.id = q.getColumn(0).getInt64();
    r.by = {text(q, 2), text(q, 1)};
    r.cycle = q.getColumn(3).getInt();
    r.found = count(q, 4);
    r.notTested = count(q, 5);
    r.notBuilt = count(q, 6);
    return r;
}

void fillRun(SQLite::Database& db, Run& run)
{
    run.members = allRows(
        db,
        "SELECT disciplineId, discipline, revision, part, delivery, scale, rotation, x, y, z, isTested, why FROM "
        "runMembers WHERE run=? ORDER BY place",
        [](SQLite::Statement& q) {
            RunMember m;
            m.disciplineId = q.getColumn(0).getInt64();
            m.discipline = text(q, 1);
            m.revision = text(q, 2);
            m.part = text(q, 3);
            m.delivery = q.getColumn(4).getInt64();
            m.fit = {q.getColumn(5).getDouble(), Radians{q.getColumn(6).getDouble()}, point(q, 7)};
            m.isTested = q.getColumn(10).getInt() != 0;
            m.why = text(q, 11);
            return m;
        },
        run.id);
    run.tests = allRows(
        db,
        "SELECT name, leftSide, rightSide, tolerance, kind, state, pairsTested, found FROM runTests WHERE run=? ORDER "
        "BY place",
        [](SQLite::Statement& q) {
            return RunTest{{text(q, 0), text(q, 1), text(q, 2), q.getColumn(3).getDouble(),
                            static_cast<clash::Kind>(q.getColumn(4).getInt())},
                           static_cast<clash::TestState>(q.getColumn(5).getInt()),
                           count(q, 6),
                           count(q, 7)};
        },
        run.id);
}

} // namespace wendrix::project
