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
        : db_(db),
          find_(db, "SELECT id, name, class FROM elements WHERE guid=? AND discipline=? AND part=? AND ordinal=?"),
          // A project of an earlier version did not know which of several models an element is of: the first run says.
          adopt_(
              db,
              "UPDATE elements SET part=?, isOld=0 WHERE isOld=1 AND guid=? AND discipline=? AND part='' RETURNING id"),
          insert_(db, "INSERT INTO elements(discipline, part, guid, ordinal, name, class, isOld) VALUES(?, ?, ?, ?, ?, "
                      "?, 0) RETURNING id"),
          rename_(db, "UPDATE elements SET name=?, class=? WHERE id=?")
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
            const bool isCalledSo = text(find_, 1) == e.name && text(find_, 2) == e.className;
            find_.reset();
            if (!isCalledSo)
                runAgain(rename_, e.name, e.className, id);
            return id;
        }
        if (!e.ref.part.empty() && ordinal == 0)
            id = ask(adopt_, e.ref.part, e.ref.guid, e.ref.discipline);
        adopt_.reset();
        if (id == 0)
            id = ask(insert_, e.ref.discipline, e.ref.part, e.ref.guid, ordinal, e.name, e.className);
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
    double tolerance = 0; ///< of the test that found it
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
        DisciplineId discipline = 0;
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
                best = Answer{presence, ref.discipline};
            if (presence == Presence::Tested)
                break;
        }
        at->second = best.value_or(Answer{Presence::Removed, 0});
        return at->second;
    }

private:
    const NewRun& run_;
    const clash::Lineage& lineage_;
    SQLite::Statement find_;
    std::unordered_map<std::int64_t, Answer> known_;
};

/// Which disciplines the tests brought together, by name as they were called then.
class TestsMade {
public:
    explicit TestsMade(const NewRun& run) : run_(run)
    {
        for (const RunMember& m : run.members)
            names_[m.disciplineId] = m.discipline;
    }
    [[nodiscard]] TestState stateOf(clash::Kind kind, DisciplineId left, DisciplineId right, double tolerance) const
    {
        const std::string &a = nameOf(left), &b = nameOf(right);
        TestState best = TestState::None;
        for (const RunTest& t : run_.tests) {
            if (t.test.kind != kind ||
                !((t.test.left == a && t.test.right == b) || (t.test.left == b && t.test.right == a)))
                continue;
            if (t.state == TestState::Run && t.test.tolerance <= tolerance + 1e-9)
                return TestState::Run;
            if (t.state == TestState::Run)
                best = TestState::Changed;
            else if (t.state == TestState::Cancelled && best == TestState::None)
                best = TestState::Cancelled;
        }
        return best;
    }

private:
    [[nodiscard]] const std::string& nameOf(DisciplineId id) const
    {
        static const std::string kNone;
        const auto found = names_.find(id);
        return found == names_.end() ? kNone : found->second;
    }
    const NewRun& run_;
    std::map<DisciplineId, std::string> names_;
};

std::vector<Known> knownPairs(SQLite::Database& db)
{
    return allRows(db,
                   "SELECT p.pair, q.kind, q.first, q.second, p.tolerance, p.state, p.leftElement, p.rightElement FROM "
                   "present p JOIN pairs q ON q.id=p.pair ORDER BY p.pair",
                   [](SQLite::Statement& q) {
                       return Known{q.getColumn(0).getInt64(),
                                    {static_cast<clash::Kind>(q.getColumn(1).getInt()), q.getColumn(2).getInt64(),
                                     q.getColumn(3).getInt64()},
                                    q.getColumn(4).getDouble(),
                                    static_cast<PairState>(q.getColumn(5).getInt()),
                                    q.getColumn(6).getInt64(),
                                    q.getColumn(7).getInt64()};
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
    for (const RunTest& t : n.tests)
        run(db, "INSERT INTO runTests VALUES(?, ?, ?, ?, ?, ?, ?, ?, ?, ?)", id, place++, t.test.name, t.test.left,
            t.test.right, static_cast<int>(t.test.kind), t.test.tolerance, static_cast<int>(t.state),
            static_cast<std::int64_t>(t.pairsTested), static_cast<std::int64_t>(t.found));
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
    SQLite::Statement write(db, "INSERT INTO findings VALUES(?, ?, 1, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT(pair, "
                                "run) DO UPDATE SET test=excluded.test, leftElement=excluded.leftElement, "
                                "rightElement=excluded.rightElement, depth=excluded.depth, x=excluded.x, y=excluded.y, "
                                "z=excluded.z, storey=excluded.storey, bay=excluded.bay, "
                                "isApproximate=excluded.isApproximate WHERE excluded.depth>findings.depth");
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
                 f.point.x, f.point.y, f.point.z, f.storey, f.bay, f.isApproximate ? 1 : 0);
    }
    summary.found = found.size();

    Presences presences(db, n, lineage);
    const TestsMade tests(n);
    SQLite::Statement silent(db, "INSERT INTO findings VALUES(?, ?, ?, -1, 0, 0, 0, 0, 0, 0, '', '', 0)");
    for (std::size_t i = 0; i < before.size(); ++i) {
        const Known& k = before[i];
        // What is gone stays gone until it is found again: nothing was there to be tested.
        if (isFoundAgain[i] || k.state == PairState::Gone)
            continue;
        const auto left = presences.of(k.left), right = presences.of(k.right);
        const Outcome outcome = clash::outcomeOf(
            left.presence, right.presence, tests.stateOf(k.key.kind, left.discipline, right.discipline, k.tolerance));
        (clash::isGone(outcome) ? summary.gone : summary.notTested) += 1;
        runAgain(silent, k.id, summary.id, static_cast<int>(outcome));
    }
    run(db, "UPDATE runs SET found=?, notTested=? WHERE id=?", static_cast<std::int64_t>(summary.found),
        static_cast<std::int64_t>(summary.notTested), summary.id);
    settle(db, summary.id);
    return summary;
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
    SQLite::Statement put(db, "INSERT INTO present SELECT f.pair, q.kind, ?, ?, f.run, ?, t.name, t.tolerance, "
                              "f.leftElement, f.rightElement, f.depth, f.x, f.y, f.z, f.storey, f.bay, f.isApproximate "
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
