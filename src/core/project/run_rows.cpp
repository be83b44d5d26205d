#include "core/project/run_rows.h"

#include <charconv>

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

/// "0:12 1:3": by the numbers of rules.
std::map<clash::Meeting, std::size_t> expectedFrom(const std::string& text)
{
    std::map<clash::Meeting, std::size_t> counts;
    for (std::size_t from = 0; from < text.size();) {
        const std::size_t end = std::min(text.find(' ', from), text.size()), colon = text.find(':', from);
        int rule = -1;
        std::size_t n = 0;
        if (colon < end && std::from_chars(text.data() + from, text.data() + colon, rule).ec == std::errc() &&
            std::from_chars(text.data() + colon + 1, text.data() + end, n).ec == std::errc() && rule >= 0 &&
            rule <= static_cast<int>(clash::Meeting::Run))
            counts[static_cast<clash::Meeting>(rule)] = n;
        from = end + 1;
    }
    return counts;
}

std::vector<DisciplineId> disciplinesFrom(const std::string& text)
{
    std::vector<DisciplineId> all;
    for (std::size_t from = 0; from < text.size();) {
        const std::size_t end = std::min(text.find(' ', from), text.size());
        if (DisciplineId id = 0; std::from_chars(text.data() + from, text.data() + end, id).ec == std::errc())
            all.push_back(id);
        from = end + 1;
    }
    return all;
}

} // namespace

std::string toText(const std::vector<DisciplineId>& disciplines)
{
    std::string text;
    for (const DisciplineId id : disciplines)
        text += (text.empty() ? "" : " ") + std::to_string(id);
    return text;
}

std::string toText(const std::map<clash::Meeting, std::size_t>& expected)
{
    std::string text;
    for (const auto& [rule, n] : expected)
        text += (text.empty() ? "" : " ") + std::to_string(static_cast<int>(rule)) + ":" + std::to_string(n);
    return text;
}

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
    p.distance = q.getColumn(33).getDouble();
    p.clearance = q.getColumn(34).getDouble();
    p.isOpen = q.getColumn(35).getInt() != 0;
    p.until = text(q, 36);
    p.returned = text(q, 37);
    p.left.type = text(q, 38);
    p.left.system = text(q, 39);
    p.right.type = text(q, 40);
    p.right.system = text(q, 41);
    p.direction = static_cast<clash::Direction>(q.getColumn(42).getInt());
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
        "SELECT name, leftSide, rightSide, tolerance, kind, state, pairsTested, found, clearance, direction, ignored, "
        "joint, expected, why, askedIn, leftOf, rightOf FROM runTests WHERE run=? ORDER BY place",
        [](SQLite::Statement& q) {
            RunTest t;
            t.test.name = text(q, 0);
            t.test.left = text(q, 1);
            t.test.right = text(q, 2);
            t.test.tolerance = q.getColumn(3).getDouble();
            t.test.kind = static_cast<clash::Kind>(q.getColumn(4).getInt());
            t.state = static_cast<clash::TestState>(q.getColumn(5).getInt());
            t.pairsTested = count(q, 6);
            t.found = count(q, 7);
            t.test.clearance = q.getColumn(8).getDouble();
            t.test.direction = static_cast<clash::Direction>(q.getColumn(9).getInt());
            t.test.ignored = clash::meetingsFrom(text(q, 10)).value_or(clash::Meetings::none());
            t.test.joint = q.getColumn(11).getDouble();
            t.expected = expectedFrom(text(q, 12));
            t.why = text(q, 13);
            t.askedIn = q.getColumn(14).getInt64();
            t.leftOf = disciplinesFrom(text(q, 15));
            t.rightOf = disciplinesFrom(text(q, 16));
            return t;
        },
        run.id);
}

} // namespace wendrix::project
