#include "core/project/clashes_book.h"

#include "core/base/text.h"
#include "core/project/run_rows.h"

#include <algorithm>
#include <map>
#include <unordered_map>

namespace wendrix::project {

namespace {

constexpr const char* kDecisions = "decisions";
/// As clash::Extent has it.
constexpr const char* kMissing = "(p.depth + MAX(0, p.clearance - p.distance))";
constexpr Table kTables[] = {
    {"testSheets", "name TEXT PRIMARY KEY, place INTEGER, isOn INTEGER, version INTEGER", Book::Clashes},
    {"sheetVersions", "sheet TEXT, version INTEGER, body TEXT, person TEXT, time TEXT, PRIMARY KEY (sheet, version)",
     Book::Clashes},
    {"runs",
     "id INTEGER PRIMARY KEY, time TEXT, person TEXT, cycle INTEGER, found INTEGER, notTested INTEGER, notBuilt "
     "INTEGER",
     Book::Clashes},
    {kDecisions,
     "pair INTEGER PRIMARY KEY, decision TEXT, reason TEXT, person TEXT, time TEXT, issue TEXT, until "
     "TEXT, returned TEXT, "
     "seen INTEGER",
     Book::Clashes},
    {"elements",
     "id INTEGER PRIMARY KEY, discipline INTEGER, part TEXT, guid TEXT, ordinal INTEGER, name TEXT, class TEXT, isOld "
     "INTEGER, type TEXT, system TEXT, UNIQUE (guid, discipline, part, ordinal)",
     Book::Clashes, Keeping::Fact},
    {"pairs", "id INTEGER PRIMARY KEY, kind INTEGER, first INTEGER, second INTEGER, UNIQUE (first, second, kind)",
     Book::Clashes, Keeping::Fact},
    {"runMembers",
     "run INTEGER, place INTEGER, disciplineId INTEGER, discipline TEXT, revision TEXT, part TEXT, delivery INTEGER, "
     "scale REAL, rotation REAL, x REAL, y REAL, z REAL, "
     "isTested INTEGER, why TEXT, PRIMARY KEY (run, place)",
     Book::Clashes, Keeping::Fact},
    {"runTests",
     "run INTEGER, place INTEGER, name TEXT, leftSide TEXT, rightSide TEXT, kind INTEGER, tolerance REAL, state "
     "INTEGER, pairsTested INTEGER, found INTEGER, clearance REAL, direction INTEGER, ignored TEXT, joint REAL, "
     "expected TEXT, why TEXT, askedIn INTEGER, leftOf TEXT, rightOf TEXT, PRIMARY KEY (run, place)",
     Book::Clashes, Keeping::Fact},
    {"findings",
     "pair INTEGER, run INTEGER, outcome INTEGER, test INTEGER, leftElement INTEGER, rightElement INTEGER, depth REAL, "
     "x REAL, y REAL, z REAL, storey TEXT, bay TEXT, "
     "isApproximate INTEGER, distance REAL, isOpen INTEGER, PRIMARY KEY (pair, run)",
     Book::Clashes, Keeping::Fact},
    // Worked out from findings, so that a list needs no look at every run.
    {"present",
     "pair INTEGER PRIMARY KEY, kind INTEGER, state INTEGER, outcome INTEGER, foundRun INTEGER, lastRun INTEGER, test "
     "TEXT, tolerance REAL, leftElement INTEGER, rightElement INTEGER, "
     "depth REAL, x REAL, y REAL, z REAL, storey TEXT, bay TEXT, isApproximate INTEGER, clearance REAL, direction "
     "INTEGER, distance REAL, isOpen INTEGER",
     Book::Clashes, Keeping::Derived},
    // Of the last run only: what it left out can be looked at.
    {"expectedPairs",
     "id INTEGER PRIMARY KEY, run INTEGER, test INTEGER, rule INTEGER, leftElement INTEGER, rightElement INTEGER",
     Book::Clashes, Keeping::Derived},
};
constexpr const char* kIndexes[] = {
    "CREATE INDEX findingsByRun ON findings(run)",        "CREATE INDEX decisionsByIssue ON decisions(issue)",
    "CREATE INDEX presentByLeft ON present(leftElement)", "CREATE INDEX presentByRight ON present(rightElement)",
    "CREATE INDEX presentByState ON present(state)",
};

PairBrief::Decision decisionFrom(const std::string& words)
{
    return words == "fix"         ? PairBrief::Decision::Fix
           : words == "let stand" ? PairBrief::Decision::LetStand
           : words == "later"     ? PairBrief::Decision::Later
                                  : PairBrief::Decision::None;
}

Result<std::vector<Pair>> pairsWhere(const Store& store, const std::string& condition, const auto&... values)
{
    return store.read(
        [&](SQLite::Database& db) { return allRows(db, std::string(kPairColumns) + condition, pairOf, values...); });
}

} // namespace

std::span<const Table> ClashesBook::tables() { return kTables; }
std::span<const char* const> ClashesBook::indexes() { return kIndexes; }

std::string Pair::stateInWords() const
{
    if (outcome == clash::Outcome::Removed)
        return "gone: removed";
    if (outcome == clash::Outcome::Expected)
        return "gone: expected to meet";
    if (!isTested())
        return "not tested: " + std::string(clash::whyNotTested(outcome));
    return std::string(clash::stateInWords(state));
}

bool Run::isSilentOfSome() const
{
    const auto isRun = [](const RunTest& t) { return t.state == clash::TestState::Run; };
    const auto isTested = [](const RunMember& m) { return m.isTested; };
    return notBuilt > 0 || notTested > 0 || !std::all_of(tests.begin(), tests.end(), isRun) ||
           !std::all_of(members.begin(), members.end(), isTested);
}

std::string Run::inWords() const
{
    std::size_t made = 0, kept = 0;
    std::vector<std::string> silent, withoutSide;
    for (const RunTest& t : tests) {
        if (!hasAsked(t))
            ++kept;
        else if (t.state == clash::TestState::Run)
            ++made;
        else if (t.state == clash::TestState::None && t.why.empty())
            withoutSide.push_back(t.test.name);
        else
            silent.push_back(t.test.name +
                             (t.state == clash::TestState::Cancelled ? " was cancelled" : " (" + t.why + ")"));
    }
    const std::string others =
        kept > 0 ? "; " + counted(kept, "other test stays", "other tests stay") + " as run before" : std::string();
    // A member that is not there, or off its place, leaves many tests without a side.
    if (withoutSide.size() > 2)
        withoutSide = {std::to_string(withoutSide.size()) + " tests lack a side"};
    else
        for (std::string& name : withoutSide)
            name += " lacks a side";
    silent.insert(silent.begin(), withoutSide.begin(), withoutSide.end());
    std::string words = made == 0
                            ? "Nothing was tested"
                            : counted(found, "pair", "pairs") + " found by " + counted(made, "test", "tests") + others;
    for (const RunMember& m : members)
        if (!m.isTested)
            silent.push_back(m.title() + ", " + m.why);
    if (notBuilt > 0)
        silent.push_back(counted(notBuilt, "element", "elements") + " without a body");
    if (notTested > 0)
        silent.push_back(counted(notTested, "known pair", "known pairs"));
    for (std::size_t i = 0; i < silent.size(); ++i)
        words += (i == 0 ? ". Not tested: " : "; ") + silent[i];
    return words + ".";
}

namespace {

/// Texts of a list, each once.
class Texts {
public:
    explicit Texts(std::vector<std::string>& texts) : texts_(texts) {}
    std::uint32_t place(std::string_view words)
    {
        const auto at = known_.find(words);
        if (at != known_.end())
            return at->second;
        texts_.emplace_back(words);
        return known_[texts_.back()] = static_cast<std::uint32_t>(texts_.size() - 1);
    }

private:
    std::vector<std::string>& texts_;
    std::map<std::string, std::uint32_t, std::less<>> known_; // few, and asked for by what the database holds
};

/// All elements that pairs have, by their numbers.
std::unordered_map<std::int64_t, std::uint32_t> readElements(SQLite::Database& db, PairBriefs& all, Texts& texts)
{
    std::unordered_map<std::int64_t, std::uint32_t> places;
    SQLite::Statement q(db, "SELECT e.id, d.name, e.class, e.type, e.system FROM elements e LEFT JOIN disciplines d ON "
                            "d.id=e.discipline WHERE e.id IN (SELECT leftElement FROM present UNION SELECT "
                            "rightElement FROM present)");
    while (q.executeStep()) {
        places.emplace(q.getColumn(0).getInt64(), static_cast<std::uint32_t>(all.elements.size()));
        all.elements.push_back({texts.place(q.getColumn(1).getText("")), texts.place(q.getColumn(2).getText("")),
                                texts.place(q.getColumn(3).getText("")), texts.place(q.getColumn(4).getText(""))});
    }
    return places;
}

/// What the deliveries in use did to the elements of pairs that are new or back.
std::unordered_map<std::int64_t, unsigned> readCauses(SQLite::Database& db)
{
    std::unordered_map<std::int64_t, unsigned> causes;
    SQLite::Statement q(
        db,
        "SELECT e.id, c.kinds FROM comparisons k JOIN composition u ON u.delivery=k.toDelivery AND k.isAsked=0 JOIN "
        "changes c ON c.comparison=k.id JOIN elements e ON e.guid=c.guid AND e.discipline=k.discipline AND "
        "e.part=c.part AND "
        "e.ordinal=c.ordinal");
    while (q.executeStep())
        causes[q.getColumn(0).getInt64()] |=
            static_cast<unsigned>(q.getColumn(1).getInt()) & (Added | Reshaped | Moved);
    return causes;
}

} // namespace

Result<PairBriefs> ClashesBook::briefs() const
{
    return store_.read([](SQLite::Database& db) {
        PairBriefs all;
        Texts texts(all.texts);
        const auto elements = readElements(db, all, texts);
        const auto causes = readCauses(db);
        const std::int64_t lastRun = numberOr(db, "SELECT COALESCE(MAX(id), 0) FROM runs");
        const auto placeOf = [&](std::int64_t element) {
            const auto at = elements.find(element);
            return at != elements.end() ? at->second : 0u;
        };
        const auto causeOf = [&](std::int64_t element) {
            const auto at = causes.find(element);
            return at != causes.end() ? at->second : 0u;
        };
        SQLite::Statement q(db, "SELECT p.pair, p.leftElement, p.rightElement, p.state, p.outcome, p.depth, p.storey, "
                                "p.test, d.decision, d.issue, p.kind, p.distance, p.clearance, p.bay, p.x, p.y, p.z, "
                                "p.lastRun FROM present p LEFT JOIN decisions d ON d.pair=p.pair ORDER BY p.pair");
        while (q.executeStep()) {
            PairBrief b;
            b.id = q.getColumn(0).getInt64();
            b.left = q.getColumn(1).getInt64();
            b.right = q.getColumn(2).getInt64();
            b.state = static_cast<clash::PairState>(q.getColumn(3).getInt());
            b.outcome = static_cast<clash::Outcome>(q.getColumn(4).getInt());
            b.kind = static_cast<clash::Kind>(q.getColumn(10).getInt());
            b.missing = static_cast<float>(clash::Extent{b.kind, q.getColumn(5).getDouble(), false,
                                                         q.getColumn(11).getDouble(), q.getColumn(12).getDouble()}
                                               .missing());
            b.storey = texts.place(q.getColumn(6).getText(""));
            b.test = texts.place(q.getColumn(7).getText(""));
            b.bay = texts.place(q.getColumn(13).getText(""));
            for (int k = 0; k < 3; ++k)
                b.place[static_cast<std::size_t>(k)] = static_cast<float>(q.getColumn(14 + k).getDouble());
            b.isOfLastRun = q.getColumn(17).getInt64() == lastRun;
            b.leftElement = placeOf(b.left);
            b.rightElement = placeOf(b.right);
            if (b.state == clash::PairState::New || b.state == clash::PairState::Back)
                b.cause = causeOf(b.left) | causeOf(b.right);
            b.decision = decisionFrom(q.getColumn(8).getText(""));
            b.hasIssue = q.getColumn(9).getText("")[0] != '\0';
            all.pairs.push_back(b);
        }
        return all;
    });
}

std::vector<PairBrief>::const_iterator PairBriefs::find(PairId pair) const
{
    const auto at =
        std::lower_bound(pairs.begin(), pairs.end(), pair, [](const PairBrief& b, PairId id) { return b.id < id; });
    return at != pairs.end() && at->id == pair ? at : pairs.end();
}

void PairBriefs::update(std::span<const DecisionBrief> decisions)
{
    for (const DecisionBrief& d : decisions)
        if (const auto at = find(d.pair); at != pairs.end()) {
            PairBrief& brief = pairs[static_cast<std::size_t>(at - pairs.begin())];
            brief.decision = d.decision;
            brief.hasIssue = d.hasIssue;
        }
}

std::optional<std::vector<PairId>> decidedAnew(const Changed& what)
{
    if (!what.areRowsAll || what.has(Book::Setup) || !what.rows.contains(kDecisions))
        return std::nullopt;
    const auto own = ClashesBook::tables();
    for (const auto& [table, keys] : what.rows)
        if (table != kDecisions &&
            std::any_of(own.begin(), own.end(), [&, &name = table](const Table& t) { return name == t.name; }))
            return std::nullopt;
    std::vector<PairId> pairs;
    for (const std::string& key : what.rows.at(kDecisions))
        pairs.push_back(std::atoll(key.c_str()));
    return pairs;
}

Result<std::vector<DecisionBrief>> ClashesBook::decisionBriefs(std::span<const PairId> pairs) const
{
    return store_.read([&](SQLite::Database& db) {
        std::vector<DecisionBrief> briefs;
        SQLite::Statement q(db, "SELECT decision, issue FROM decisions WHERE pair=?");
        for (const PairId pair : pairs) {
            q.reset();
            q.bind(1, pair);
            if (q.executeStep())
                briefs.push_back(
                    {pair, decisionFrom(q.getColumn(0).getText("")), q.getColumn(1).getText("")[0] != '\0'});
            else
                briefs.push_back({pair});
        }
        return briefs;
    });
}

Result<std::vector<Pair>> ClashesBook::get(std::span<const PairId> ids) const
{
    return store_.read([&](SQLite::Database& db) {
        std::vector<Pair> list;
        SQLite::Statement q(db, std::string(kPairColumns) + "WHERE p.pair=?");
        for (const PairId id : ids) {
            q.reset();
            q.bind(1, id);
            if (q.executeStep())
                list.push_back(pairOf(q));
        }
        return list;
    });
}

Result<std::vector<Pair>> ClashesBook::all() const
{
    return pairsWhere(store_, "ORDER BY " + std::string(kMissing) + " DESC, p.pair");
}
Result<std::vector<Pair>> ClashesBook::ofIssue(const std::string& issue) const
{
    return pairsWhere(store_, "WHERE d.issue=? ORDER BY " + std::string(kMissing) + " DESC, p.pair", issue);
}

Result<std::vector<Pair>> ClashesBook::ofElement(const ElementRef& e) const
{
    // A pair is called by the numbers its identity has and by those it was found with; either may be an earlier name.
    const std::string same = "(SELECT id FROM elements WHERE guid=? AND discipline=? AND part=? AND ordinal=?)";
    const auto ordinal = static_cast<std::int64_t>(e.ordinal);
    return pairsWhere(store_, "WHERE p.leftElement IN " + same + " OR p.rightElement IN " + same, e.guid, e.discipline,
                      e.part, ordinal, e.guid, e.discipline, e.part, ordinal);
}

Result<std::vector<Pair>> ClashesBook::named(const std::string& words, int most) const
{
    return store_.read([&](SQLite::Database& db) {
        // By the elements first: they are fewer than the pairs, and a name is looked at once.
        std::vector<Pair> found;
        SQLite::Statement elements(db, "SELECT id FROM elements WHERE LOWER(name) LIKE ? ESCAPE '\\' ORDER BY id");
        elements.bind(1, likePattern(words));
        SQLite::Statement pairs(db, std::string(kPairColumns) +
                                        "WHERE p.state<>2 AND (p.leftElement=? OR p.rightElement=?) ORDER BY " +
                                        kMissing + " DESC LIMIT ?");
        while (static_cast<int>(found.size()) < most && elements.executeStep()) {
            pairs.reset();
            pairs.bind(1, elements.getColumn(0).getInt64());
            pairs.bind(2, elements.getColumn(0).getInt64());
            pairs.bind(3, most - static_cast<int>(found.size()));
            while (pairs.executeStep())
                if (Pair p = pairOf(pairs); std::none_of(found.begin(), found.end(), [&](const Pair& other) {
                        return other.id == p.id;
                    })) // both its elements are called so
                    found.push_back(std::move(p));
        }
        return found;
    });
}

Result<std::map<std::int64_t, RunElement>> ClashesBook::elements(std::span<const std::int64_t> ids) const
{
    return store_.read([&](SQLite::Database& db) {
        std::map<std::int64_t, RunElement> found;
        SQLite::Statement q(
            db, "SELECT discipline, part, guid, ordinal, name, class, type, system FROM elements WHERE id=?");
        for (const std::int64_t id : ids) {
            q.reset();
            q.bind(1, id);
            if (q.executeStep())
                found[id] = {{q.getColumn(0).getInt64(), text(q, 1), text(q, 2),
                              static_cast<std::uint32_t>(q.getColumn(3).getInt64())},
                             text(q, 4),
                             text(q, 5),
                             text(q, 6),
                             text(q, 7)};
        }
        return found;
    });
}

Result<std::vector<Run>> ClashesBook::runs() const
{
    return store_.read(
        [](SQLite::Database& db) { return allRows(db, std::string(kRunColumns) + "ORDER BY id", runOf); });
}

namespace {

Result<std::optional<Run>> runWhere(const Store& store, const std::string& condition, const auto&... values)
{
    return store.read([&](SQLite::Database& db) -> std::optional<Run> {
        auto one = allRows(db, std::string(kRunColumns) + condition, runOf, values...);
        if (one.empty())
            return {};
        fillRun(db, one[0]);
        return std::move(one[0]);
    });
}

} // namespace

Result<std::optional<Run>> ClashesBook::lastRun() const { return runWhere(store_, "ORDER BY id DESC LIMIT 1"); }
Result<std::optional<Run>> ClashesBook::findRun(RunId id) const { return runWhere(store_, "WHERE id=?", id); }
Result<std::optional<Run>> ClashesBook::runBefore(RunId id) const
{
    return runWhere(store_, "WHERE id<? ORDER BY id DESC LIMIT 1", id);
}

Result<std::size_t> ClashesBook::undecided() const
{
    return store_.read([](SQLite::Database& db) {
        return static_cast<std::size_t>(
            numberOr(db, "SELECT (SELECT COUNT(*) FROM present WHERE state<>2) - (SELECT COUNT(*) FROM decisions d "
                         "JOIN present p ON p.pair=d.pair WHERE d.decision<>'' AND p.state<>2)"));
    });
}

Result<std::map<std::string, ClashesBook::IssuePairs>> ClashesBook::byIssue() const
{
    return store_.read([](SQLite::Database& db) {
        std::map<std::string, IssuePairs> all;
        SQLite::Statement q(
            db, std::string("SELECT d.issue, p.state, p.outcome, p.storey, p.bay FROM decisions d JOIN present p "
                            "ON p.pair=d.pair WHERE d.issue>'' ORDER BY d.issue, ") +
                    kMissing + " DESC, p.pair");
        while (q.executeStep()) {
            IssuePairs& issue = all[text(q, 0)];
            if (issue.pairs++ == 0) {
                issue.storey = text(q, 3);
                issue.bay = text(q, 4);
            }
            const bool isGone = static_cast<clash::PairState>(q.getColumn(1).getInt()) == clash::PairState::Gone;
            issue.gone += isGone ? 1 : 0;
            issue.notTested +=
                !isGone && !clash::isTested(static_cast<clash::Outcome>(q.getColumn(2).getInt())) ? 1 : 0;
        }
        return all;
    });
}

Result<void> ClashesBook::decide(std::span<const PairId> pairs, const std::string& decision, const std::string& reason,
                                 const WhoAndWhen& who, const std::string& until)
{
    return store_.act(
        {Book::Clashes, decision + ": " + counted(pairs.size(), "pair", "pairs")}, who, [&](SQLite::Database& db) {
            // What comparisons say later is what changed since; clocks of several machines would not tell.
            const std::int64_t seen = numberOr(db, "SELECT COALESCE(MAX(id), 0) FROM comparisons");
            SQLite::Statement q(
                db, "INSERT INTO decisions VALUES(?, ?, ?, ?, ?, '', ?, '', ?) ON CONFLICT(pair) DO UPDATE SET "
                    "decision=excluded.decision, reason=excluded.reason, person=excluded.person, time=excluded.time, "
                    "until=excluded.until, returned='', seen=excluded.seen");
            for (const PairId pair : pairs)
                runAgain(q, pair, decision, reason, who.person, who.time, until, seen);
        });
}

void ClashesBook::decideToFix(SQLite::Database& db, std::span<const PairId> pairs, const std::string& issue,
                              const WhoAndWhen& who) const
{
    SQLite::Statement q(
        db, "INSERT INTO decisions VALUES(?, 'fix', '', ?, ?, ?, '', '', 0) ON CONFLICT(pair) DO UPDATE SET "
            "decision=excluded.decision, person=excluded.person, time=excluded.time, "
            "issue=excluded.issue, until='', returned=''");
    for (const PairId pair : pairs)
        runAgain(q, pair, who.person, who.time, issue);
}

} // namespace wendrix::project
