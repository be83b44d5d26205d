#pragma once

#include "core/project/changes_book.h"

#include <array>
#include <functional>

namespace wendrix::project {

/// An element that a run speaks of.
struct RunElement {
    ElementRef ref;
    std::string name, className;
    std::string type = {}, system = {}; ///< names; empty where it has none
};

/// One pair that a test found.
struct RunFinding {
    std::uint32_t test = 0;            ///< into the run's tests
    std::uint32_t left = 0, right = 0; ///< into its elements
    double depth = 0;                  ///< metres; as Pair has these
    Point3 point;                      ///< reference frame
    std::string storey, bay;
    bool isApproximate = false;
    double distance = 0;
    bool isOpen = false;
};

[[nodiscard]] inline clash::Extent extentOf(const RunFinding& f, const clash::Test& foundBy)
{
    return {foundBy.kind, f.depth, f.isApproximate, f.distance, foundBy.clearance};
}

/// A pair that a test left out, because they are expected to meet.
struct RunExpected {
    std::uint32_t test = 0;
    clash::Meeting rule = clash::Meeting::Openings;
    std::uint32_t left = 0, right = 0; ///< into the run's elements
};

/// Which sides of a test an element stands on.
struct TestSides {
    bool isLeft = true, isRight = true;
};

/// A run about to be kept: what was tested, and what that found.
struct NewRun {
    int cycle = 1;
    /// What was in force in the whole project when it began; a run is only recorded while it still is.
    std::optional<std::vector<InForce>> madeFor;
    std::vector<RunMember> members;
    std::vector<RunTest> tests;
    std::vector<RunElement> elements;
    std::vector<RunFinding> findings;
    std::vector<RunExpected> expected;
    std::size_t notBuilt = 0; ///< elements of tested members without a body to test
    /// How an element that an earlier run spoke of stands in this one. Not set: everything was tested.
    std::function<clash::Presence(const ElementRef&, const std::string& className)> presence;
    /// Which sides of one of its tests a tested element stands on. Not set: both, always.
    std::function<TestSides(const NewRun& run, std::uint32_t test, const ElementRef&)> sides;
};

/// What recording a run came to.
struct RunSummary {
    RunId id = 0;
    std::size_t found = 0, gone = 0, notTested = 0;
    std::vector<PairId> back;  ///< pairs that were gone and are there again
    std::size_t givenBack = 0; ///< pairs that were let stand and are undecided again
};

/// What an element of a pair is sorted by, in numbers of texts.
struct ElementBrief {
    std::uint32_t discipline = 0, className = 0, type = 0, system = 0;
};

/// What a list of pairs is put together from, without words.
struct PairBrief {
    PairId id = 0;
    std::int64_t left = 0, right = 0; ///< the project's numbers of the two elements: the same number, the same element
    clash::PairState state = clash::PairState::New;
    clash::Outcome outcome = clash::Outcome::Found;
    float missing = 0; ///< metres, as clash::Extent has it: what is deepest, or most too near
    clash::Kind kind = clash::Kind::Hard;
    std::uint32_t storey = 0, bay = 0, test = 0;     ///< into PairBriefs' texts
    std::uint32_t leftElement = 0, rightElement = 0; ///< into its elements
    std::array<float, 3> place{};                    ///< metres, reference frame
    bool isOfLastRun = false;                        ///< the last run said how it stands
    unsigned cause = 0; ///< of new and back ones: ChangeKind of either element in what is in use; 0: nothing changed
    enum class Decision : std::uint8_t { None, Fix, LetStand, Later } decision = Decision::None;
    bool hasIssue = false;

    [[nodiscard]] bool isGone() const { return state == clash::PairState::Gone; }
    [[nodiscard]] bool isUndecided() const { return !isGone() && decision == Decision::None; }
};
struct DecisionBrief {
    PairId pair = 0;
    PairBrief::Decision decision = PairBrief::Decision::None;
    bool hasIssue = false;
};
struct PairBriefs {
    std::vector<PairBrief> pairs; ///< by id
    std::vector<ElementBrief> elements;
    std::vector<std::string> texts;

    [[nodiscard]] std::vector<PairBrief>::const_iterator find(PairId pair) const; ///< end() where it is not among them
    void update(std::span<const DecisionBrief> decisions);
};

/// The pairs of which only what was decided about them changed; nothing where more of what a list of pairs shows did.
[[nodiscard]] std::optional<std::vector<PairId>> decidedAnew(const Changed& what);

/// What one run said of a pair.
struct PairMoment {
    RunId run = 0;
    WhoAndWhen by;
    clash::Outcome outcome = clash::Outcome::Found;
    clash::PairState state = clash::PairState::New;
    clash::Extent extent; ///< of a run that found it
};

/// What one run said of several pairs: how many of each.
struct GroupMoment {
    RunId run = 0;
    WhoAndWhen by;
    std::size_t isNew = 0, stillThere = 0, back = 0, gone = 0, notTested = 0;
    [[nodiscard]] std::string inWords() const; ///< "2 new, 1 still there"
};

/// An expected meeting that the last run left out.
struct ExpectedPair {
    std::string test;
    clash::Meeting rule = clash::Meeting::Openings;
    RunElement left, right;
};

/// Tests, runs, the pairs they found, and what was decided about them.
///
/// What a run found is a fact and never changed; it counts while the run's row is there. The present state of each pair
/// is worked out from the runs that count (table `present`) whenever one comes or goes.
class ClashesBook {
public:
    explicit ClashesBook(Store& store) : store_(store) {}
    static std::span<const Table> tables();
    static std::span<const char* const> indexes();

    /// Kept test sheets in their order, each in the version in force; none while nobody changed the usual one.
    [[nodiscard]] Result<std::vector<KeptSheet>> sheets() const;
    [[nodiscard]] Result<std::vector<KeptSheet>> versionsOf(const std::string& sheet) const; ///< oldest first
    [[nodiscard]] Result<PairBriefs> briefs() const;
    [[nodiscard]] Result<std::vector<DecisionBrief>>
    decisionBriefs(std::span<const PairId> pairs) const; ///< of each of them
    /// Whole, in this order; what is no longer there is left out.
    [[nodiscard]] Result<std::vector<Pair>> get(std::span<const PairId> ids) const;
    [[nodiscard]] Result<std::vector<Pair>> all() const;                                 ///< deepest first
    [[nodiscard]] Result<std::vector<Pair>> ofIssue(const std::string& issueUuid) const; ///< deepest first
    [[nodiscard]] Result<std::vector<Pair>> ofElement(const ElementRef& element) const;  ///< under any name it had
    /// Pairs that are there, with an element whose name holds these words; of each element the deepest first.
    [[nodiscard]] Result<std::vector<Pair>> named(const std::string& words, int most) const;
    /// Names of elements by the numbers that briefs have.
    [[nodiscard]] Result<std::map<std::int64_t, RunElement>> elements(std::span<const std::int64_t> ids) const;
    [[nodiscard]] Result<std::vector<Run>> runs() const; ///< oldest first, without members and tests
    /// The last run, whole; nothing where none was made.
    [[nodiscard]] Result<std::optional<Run>> lastRun() const;
    /// The first that counts and that a delivery stood in; 0 where there is none.
    [[nodiscard]] Result<RunId> firstRunWith(DeliveryId delivery) const;
    /// Whole; nothing where there is none.
    [[nodiscard]] Result<std::optional<Run>> findRun(RunId id) const;
    [[nodiscard]] Result<std::optional<Run>> runBefore(RunId id) const;         ///< the last one before it that counts
    [[nodiscard]] Result<std::vector<PairMoment>> historyOf(PairId pair) const; ///< oldest first
    [[nodiscard]] Result<std::vector<GroupMoment>> historyOf(std::span<const PairId> pairs) const; ///< oldest first
    /// What the last run left out as expected, by test and rule; `most` of them.
    [[nodiscard]] Result<std::vector<ExpectedPair>> expected(std::size_t most) const;
    [[nodiscard]] Result<std::size_t> undecided() const;
    /// Of each issue that pairs belong to: how many, how many are gone, how many were not tested, and the storey of the
    /// first.
    struct IssuePairs {
        std::size_t pairs = 0, gone = 0, notTested = 0;
        std::string storey, bay;
    };
    [[nodiscard]] Result<std::map<std::string, IssuePairs>> byIssue() const;

    /// Makes a sheet, or the next version of the one of this name; the same version where this person made it and no
    /// tests were run since.
    /// @param what  what was done, for the history: "Test added: Ducts"
    /// @return clash::kBadSheet where it has no name
    [[nodiscard]] Result<void> keepSheet(const clash::TestSheet& sheet, const std::string& what, const WhoAndWhen& who);
    [[nodiscard]] Result<void> switchSheet(const std::string& sheet, bool isOn, const WhoAndWhen& who);
    /// The name goes with all its versions.
    [[nodiscard]] Result<void> renameSheet(const std::string& from, const std::string& to, const WhoAndWhen& who);
    [[nodiscard]] Result<void> removeSheet(const std::string& sheet, const WhoAndWhen& who);
    /// @param until  the last day a decision holds; empty: until one of the elements changes
    [[nodiscard]] Result<void> decide(std::span<const PairId> pairs, const std::string& decision,
                                      const std::string& reason, const WhoAndWhen& who, const std::string& until = {});

    // Parts of commands that do more.
    RunSummary writeRun(SQLite::Database& db, const NewRun& run, std::span<const Continuation> continuations,
                        const WhoAndWhen& who) const;
    void decideToFix(SQLite::Database& db, std::span<const PairId> pairs, const std::string& issue,
                     const WhoAndWhen& who) const;
    /// Pairs that were let stand and that a run found again are undecided where the day is over, or where one of their
    /// elements moved farther than the test's tolerance, or changed its shape, since. @return how many
    static std::size_t giveBack(SQLite::Database& db, RunId run, const Timestamp& now);
    /// Works out anew how the pairs of a run stand, after it came or went.
    static void settle(SQLite::Database& db, RunId run);
    static void tidy(SQLite::Database& db);
    /// The name of a discipline in the sheets' lines.
    static void renameDiscipline(SQLite::Database& db, const std::string& from, const std::string& to);

private:
    Store& store_;
};

} // namespace wendrix::project
