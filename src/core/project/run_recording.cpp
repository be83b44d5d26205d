#include "core/project/clashes_book.h"

#include "core/project/run_rows.h"

#include <algorithm>
#include <map>
#include <numeric>
#include <set>

/// How a run is kept, and what it says of the pairs that were known.
namespace wendrix::project {

using clash::Outcome;
using clash::PairKey;
using clash::PairState;
using clash::Presence;
using clash::TestState;

namespace {

/// The project's numbers of elements.
class Elements {
public:
    explicit Elements(SQLite::Database& db)
        : db_(db), find_(db, "SELECT id, name, class, type, system FROM elements WHERE guid=? AND discipline=? AND "
                             "part=? AND ordinal=?"),
          // A project of an earlier version did not know which of several models an element is of: the first run says.
          adopt_(
              db,
              "UPDATE elements SET part=?, isOld=0 WHERE isOld=1 AND guid=? AND discipline=? AND part='' RETURNING id"),
          insert_(db,
                  "INSERT INTO elements(discipline, part, guid, ordinal, name, class, isOld, type, system) VALUES(?, "
                  "?, ?, ?, ?, ?, 0, ?, ?) RETURNING id"),
          rename_(db, "UPDATE elements SET name=?, class=?, type=?, system=? WHERE id=?")
    {
    }
    /// 0 where no run spoke of it.
    std::int64_t known(const ElementRef& ref)
    {
        const std::int64_t id = ask(find_, ref.guid, ref.discipline, ref.part, static_cast<std::int64_t>(ref.ordinal));
        find_.reset();
        return id;
    }
    std::int64_t number(const RunElement& e)
    {
        const auto ordinal = static_cast<std::int64_t>(e.ref.ordinal);
        std::int64_t id = ask(find_, e.ref.guid, e.ref.discipline, e.ref.part, ordinal);
        if (id != 0) {
            const bool isCalledSo = text(find_, 1) == e.name && text(find_, 2) == e.className &&
                                    text(find_, 3) == e.type && text(find_, 4) == e.system;
            find_.reset();
            if (!isCalledSo)
                runAgain(rename_, e.name, e.className, e.type, e.system, id);
            return id;
        }
        if (!e.ref.part.empty() && ordinal == 0)
            id = ask(adopt_, e.ref.part, e.ref.guid, e.ref.discipline);
        adopt_.reset();
        if (id == 0)
            id = ask(insert_, e.ref.discipline, e.ref.part, e.ref.guid, ordinal, e.name, e.className, e.type, e.system);
        insert_.reset();
        return id;
    }

private:
    template <class... Values>
    std::int64_t ask(SQLite::Statement& q, const Values&... values)
    {
        q.reset();
        int at = 0;
        (bindOne(q, ++at, values), ...);
        return q.executeStep() ? q.getColumn(0).getInt64() : 0;
    }
    SQLite::Database& db_;
    SQLite::Statement find_, adopt_, insert_, rename_;
};

clash::Lineage lineageOf(std::span<const Continuation> continuations, Elements& elements)
{
    // Names between two that runs know may be unknown to all runs; they get numbers past every real one, so that a
    // class is represented by a real one.
    std::unordered_map<ElementRef, std::int64_t> numbers;
    std::int64_t unknown = std::int64_t{1} << 60;
    const auto number = [&](const ElementRef& ref) {
        const auto [at, isNew] = numbers.try_emplace(ref, 0);
        if (isNew)
            at->second = elements.known(ref);
        if (at->second == 0)
            at->second = ++unknown;
        return at->second;
    };
    clash::Lineage lineage;
    for (const Continuation& c : continuations) {
        const std::int64_t element = number(c.element);
        lineage.unite(element, number(c.before));
    }
    return lineage;
}

/// What is known of a pair before the run.
struct Known {
    PairId id = 0;
    PairKey key;
    clash::Test foundBy; ///< kind and distances of the test that found it
    PairState state = PairState::New;
    std::int64_t left = 0, right = 0;
};

/// Answers for elements by their numbers, under any of their names.
class Presences {
public:
    Presences(SQLite::Database& db, const NewRun& run, const clash::Lineage& lineage)
        : run_(run), lineage_(lineage),
          find_(db, "SELECT discipline, part, guid, ordinal, class FROM elements WHERE id=?")
    {
    }
    struct Answer {
        Presence presence = Presence::Tested;
        ElementRef element; ///< under the name that is present, else under its last
    };
    Answer of(std::int64_t element)
    {
        const auto [at, isNew] = known_.try_emplace(lineage_.rootOf(element));
        if (!isNew)
            return at->second;
        // Present is what is present under one of its names; else the last name says why it is not.
        std::optional<Answer> best;
        for (const std::int64_t name : lineage_.namesOf(element)) {
            find_.reset();
            find_.bind(1, name);
            if (!find_.executeStep())
                continue;
            const ElementRef ref{find_.getColumn(0).getInt64(), text(find_, 1), text(find_, 2),
                                 static_cast<std::uint32_t>(find_.getColumn(3).getInt64())};
            const Presence presence = run_.presence ? run_.presence(ref, text(find_, 4)) : Presence::Tested;
            if (!best || presence == Presence::Tested || best->presence == Presence::Removed)
                best = Answer{presence, ref};
            if (presence == Presence::Tested)
                break;
        }
        at->second = best.value_or(Answer{Presence::Removed, {}});
        return at->second;
    }

private:
    const NewRun& run_;
    const clash::Lineage& lineage_;
    SQLite::Statement find_;
    std::unordered_map<std::int64_t, Answer> known_;
};

/// What stands below one of two stands above the other.
clash::Direction seenFromOther(clash::Direction d)
{
    return d == clash::Direction::Up ? clash::Direction::Down : d == clash::Direction::Down ? clash::Direction::Up : d;
}

/// Whether a test that picks the two in this order, or in the other, finds all that an earlier one found.
bool asksAsMuch(const clash::Test& now, const clash::Test& then, bool isSwapped)
{
    constexpr double kSame = 1e-9;
    if (now.kind != clash::Kind::Clearance)
        return now.tolerance <= then.tolerance + kSame;
    const clash::Direction direction = isSwapped ? seenFromOther(now.direction) : now.direction;
    return now.clearance >= then.clearance - kSame &&
           (direction == then.direction || direction == clash::Direction::Any);
}

/// What the tests of a run say of two elements that an earlier test found.
TestState stateOf(const NewRun& run, const clash::Test& foundBy, const ElementRef& left, const ElementRef& right)
{
    TestState best = TestState::None;
    for (std::uint32_t k = 0; k < run.tests.size(); ++k) {
        const RunTest& t = run.tests[k];
        if (!t.isWanted || t.test.kind != foundBy.kind || t.state == TestState::None)
            continue;
        const TestSides l = run.sides ? run.sides(run, k, left) : TestSides{},
                        r = run.sides ? run.sides(run, k, right) : TestSides{};
        const bool isStraight = l.isLeft && r.isRight, isSwapped = l.isRight && r.isLeft;
        if (!isStraight && !isSwapped)
            continue;
        const bool isAsked =
            (isStraight && asksAsMuch(t.test, foundBy, false)) || (isSwapped && asksAsMuch(t.test, foundBy, true));
        if (t.state == TestState::Run && isAsked)
            return TestState::Run;
        if (t.state == TestState::Run)
            best = TestState::Changed;
        else if (best == TestState::None)
            best = TestState::Cancelled;
    }
    return best;
}

std::vector<Known> knownPairs(SQLite::Database& db)
{
    return allRows(
        db,
        "SELECT p.pair, q.kind, q.first, q.second, p.tolerance, p.clearance, p.direction, p.state, p.leftElement, "
        "p.rightElement, p.test FROM "
        "present p JOIN pairs q ON q.id=p.pair ORDER BY p.pair",
        [](SQLite::Statement& q) {
            Known known;
            known.id = q.getColumn(0).getInt64();
            known.foundBy.kind = static_cast<clash::Kind>(q.getColumn(1).getInt());
            known.key = {known.foundBy.kind, q.getColumn(2).getInt64(), q.getColumn(3).getInt64()};
            known.foundBy.tolerance = q.getColumn(4).getDouble();
            known.foundBy.clearance = q.getColumn(5).getDouble();
            known.foundBy.direction = static_cast<clash::Direction>(q.getColumn(6).getInt());
            known.state = static_cast<PairState>(q.getColumn(7).getInt());
            known.left = q.getColumn(8).getInt64();
            known.right = q.getColumn(9).getInt64();
            known.foundBy.name = text(q, 10);
            return known;
        });
}

void writeHead(SQLite::Database& db, RunId id, const NewRun& n, const WhoAndWhen& who)
{
    run(db, "INSERT INTO runs VALUES(?, ?, ?, ?, 0, 0, ?)", id, who.time, who.person, n.cycle,
        static_cast<std::int64_t>(n.notBuilt));
    int place = 0;
    for (const RunMember& m : n.members)
        run(db, "INSERT INTO runMembers VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)", id, place++, m.disciplineId,
            m.discipline, m.revision, m.part, m.delivery, m.fit.scale, m.fit.rotation.value, m.fit.translation.x,
            m.fit.translation.y, m.fit.translation.z, m.isTested ? 1 : 0, m.why);
    place = 0;
    for (const RunTest& t : n.tests) {
        if (t.isWanted)
            run(db, "INSERT INTO runTests VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)", id, place,
                t.test.name, t.test.left, t.test.right, static_cast<int>(t.test.kind), t.test.tolerance,
                static_cast<int>(t.state), static_cast<std::int64_t>(t.pairsTested), static_cast<std::int64_t>(t.found),
                t.test.clearance, static_cast<int>(t.test.direction), clash::toText(t.test.ignored), t.test.joint,
                toText(t.expected), t.why, id, toText(t.leftOf), toText(t.rightOf));
        else // what it said last still holds
            run(db,
                "INSERT INTO runTests SELECT ?, ?, name, leftSide, rightSide, kind, tolerance, state, pairsTested, "
                "found, clearance, direction, ignored, joint, expected, why, askedIn, leftOf, rightOf FROM runTests "
                "WHERE name=? AND "
                "run=(SELECT MAX(id) FROM runs WHERE id<?) ORDER BY place LIMIT 1",
                id, place, t.test.name, id);
        ++place;
    }
}

/// Of the expected pairs that are kept those of tests that were not run again stay; all others go.
void leaveExpected(SQLite::Database& db, RunId id, const NewRun& n)
{
    const auto before = allRows(db,
                                "SELECT t.name, e.rule, e.leftElement, e.rightElement FROM expectedPairs e JOIN "
                                "runTests t ON t.run=e.run AND t.place=e.test ORDER BY e.id",
                                [](SQLite::Statement& q) {
                                    return std::tuple(text(q, 0), q.getColumn(1).getInt(), q.getColumn(2).getInt64(),
                                                      q.getColumn(3).getInt64());
                                });
    db.exec("DELETE FROM expectedPairs");
    std::map<std::string, std::int64_t> kept;
    for (std::size_t k = 0; k < n.tests.size(); ++k)
        if (!n.tests[k].isWanted)
            kept.emplace(n.tests[k].test.name, static_cast<std::int64_t>(k));
    SQLite::Statement keep(db, "INSERT INTO expectedPairs(run, test, rule, leftElement, rightElement) VALUES(?, ?, ?, "
                               "?, ?)");
    for (const auto& [test, rule, left, right] : before)
        if (const auto at = kept.find(test); at != kept.end())
            runAgain(keep, id, at->second, rule, left, right);
}

} // namespace

RunSummary ClashesBook::writeRun(SQLite::Database& db, const NewRun& n, std::span<const Continuation> continuations,
                                 const WhoAndWhen& who) const
{
    RunSummary summary;
    summary.id = nextNumber(db, "run");
    writeHead(db, summary.id, n, who);
    Elements elements(db);
    // New ones in the order of their names, which lists then follow where nothing else tells pairs apart.
    std::vector<std::uint32_t> byName(n.elements.size());
    std::iota(byName.begin(), byName.end(), 0u);
    std::stable_sort(byName.begin(), byName.end(),
                     [&](std::uint32_t a, std::uint32_t b) { return n.elements[a].name < n.elements[b].name; });
    std::vector<std::int64_t> numbers(n.elements.size());
    for (const std::uint32_t e : byName)
        numbers[e] = elements.number(n.elements[e]);
    const clash::Lineage lineage = lineageOf(continuations, elements);

    // A pair that was found before its elements were known to go on under other names has the key of then.
    const std::vector<Known> before = knownPairs(db);
    std::map<PairKey, std::size_t> byKey;
    for (std::size_t i = 0; i < before.size(); ++i)
        byKey.try_emplace(clash::pairKey(before[i].key.kind, before[i].key.first, before[i].key.second, lineage), i);

    SQLite::Statement pairOfKey(db, "INSERT INTO pairs(kind, first, second) VALUES(?, ?, ?) ON CONFLICT(first, second, "
                                    "kind) DO UPDATE SET kind=excluded.kind RETURNING id");
    // Two tests may find the same pair: the deeper word counts.
    SQLite::Statement write(
        db, "INSERT INTO findings VALUES(?, ?, 1, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT(pair, "
            "run) DO UPDATE SET test=excluded.test, leftElement=excluded.leftElement, "
            "rightElement=excluded.rightElement, depth=excluded.depth, x=excluded.x, y=excluded.y, "
            "z=excluded.z, storey=excluded.storey, bay=excluded.bay, "
            "isApproximate=excluded.isApproximate, distance=excluded.distance, isOpen=excluded.isOpen WHERE "
            "excluded.depth-excluded.distance>findings.depth-findings.distance");
    std::set<PairId> found;
    std::vector<bool> isFoundAgain(before.size(), false);
    for (const RunFinding& f : n.findings) {
        const PairKey key = clash::pairKey(n.tests[f.test].test.kind, numbers[f.left], numbers[f.right], lineage);
        PairId id = 0;
        if (const auto known = byKey.find(key); known != byKey.end()) {
            id = before[known->second].id;
            isFoundAgain[known->second] = true;
            if (before[known->second].state == PairState::Gone && !found.contains(id))
                summary.back.push_back(id);
        } else {
            pairOfKey.reset();
            pairOfKey.bind(1, static_cast<int>(key.kind));
            pairOfKey.bind(2, key.first);
            pairOfKey.bind(3, key.second);
            pairOfKey.executeStep();
            id = pairOfKey.getColumn(0).getInt64();
            while (pairOfKey.executeStep()) {
            }
        }
        found.insert(id);
        runAgain(write, id, summary.id, static_cast<std::int64_t>(f.test), numbers[f.left], numbers[f.right], f.depth,
                 f.point.x, f.point.y, f.point.z, f.storey, f.bay, f.isApproximate ? 1 : 0, f.distance,
                 f.isOpen ? 1 : 0);
    }
    summary.found = found.size();

    Presences presences(db, n, lineage);
    std::set<PairKey> expected;
    for (const RunExpected& e : n.expected)
        expected.insert(clash::pairKey(n.tests[e.test].test.kind, numbers[e.left], numbers[e.right], lineage));
    SQLite::Statement silent(db, "INSERT INTO findings VALUES(?, ?, ?, -1, 0, 0, 0, 0, 0, 0, '', '', 0, 0, 0)");
    std::set<std::string> wanted;
    for (const RunTest& t : n.tests)
        if (t.isWanted)
            wanted.insert(t.test.name);
    const bool isOfSome = wanted.size() < n.tests.size();
    for (std::size_t i = 0; i < before.size(); ++i) {
        const Known& k = before[i];
        // What is gone stays gone until it is found again: nothing was there to be tested.
        if (isFoundAgain[i] || k.state == PairState::Gone)
            continue;
        const auto left = presences.of(k.left), right = presences.of(k.right);
        const bool isExpected = expected.contains(clash::pairKey(k.key.kind, k.key.first, k.key.second, lineage));
        const TestState state = isExpected ? TestState::Expected : stateOf(n, k.foundBy, left.element, right.element);
        const Outcome outcome = clash::outcomeOf(left.presence, right.presence, state);
        // Where only some tests were run, the others' pairs are as they were.
        if (isOfSome && state == TestState::None && outcome != Outcome::Removed && !wanted.contains(k.foundBy.name))
            continue;
        (clash::isGone(outcome) ? summary.gone : summary.notTested) += 1;
        runAgain(silent, k.id, summary.id, static_cast<int>(outcome));
    }
    run(db, "UPDATE runs SET found=?, notTested=? WHERE id=?", static_cast<std::int64_t>(summary.found),
        static_cast<std::int64_t>(summary.notTested), summary.id);
    leaveExpected(db, summary.id, n);
    SQLite::Statement leftOut(db, "INSERT INTO expectedPairs(run, test, rule, leftElement, rightElement) VALUES(?, ?, "
                                  "?, ?, ?)");
    for (const RunExpected& e : n.expected)
        runAgain(leftOut, summary.id, static_cast<std::int64_t>(e.test), static_cast<int>(e.rule), numbers[e.left],
                 numbers[e.right]);
    settle(db, summary.id);
    return summary;
}

} // namespace wendrix::project
