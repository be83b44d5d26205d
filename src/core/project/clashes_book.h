#pragma once

#include "core/project/changes_book.h"

#include <functional>

namespace wendrix::project {

/// An element that a run speaks of.
struct RunElement {
    ElementRef ref;
    std::string name, className;
};

/// One pair that a test found.
struct RunFinding {
    std::uint32_t test = 0;            ///< into the run's tests
    std::uint32_t left = 0, right = 0; ///< into its elements
    double depth = 0;                  ///< metres
    Point3 point;                      ///< reference frame
    std::string storey, bay;
    bool isApproximate = false;
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
    std::size_t notBuilt = 0; ///< elements of tested members without a body to test
    /// How an element that an earlier run spoke of stands in this one. Not set: everything was tested.
    std::function<clash::Presence(const ElementRef&, const std::string& className)> presence;
};

/// What recording a run came to.
struct RunSummary {
    RunId id = 0;
    std::size_t found = 0, gone = 0, notTested = 0;
    std::vector<PairId> back; ///< pairs that were gone and are there again
};

/// What a list of pairs is put together from, without words.
struct PairBrief {
    PairId id = 0;
    std::int64_t left = 0, right = 0; ///< the project's numbers of the two elements: the same number, the same element
    clash::PairState state = clash::PairState::New;
    clash::Outcome outcome = clash::Outcome::Found;
    float depth = 0;                    ///< metres
    std::uint32_t storey = 0, test = 0; ///< into PairBriefs' texts
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
    double depth = 0; ///< metres; of a run that found it
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

    [[nodiscard]] Result<std::vector<ClashTest>> tests() const;
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
    [[nodiscard]] Result<std::vector<PairMoment>> historyOf(PairId pair) const; ///< oldest first
    [[nodiscard]] Result<std::size_t> undecided() const;
    /// Of each issue that pairs belong to: how many, how many are gone, how many were not tested, and the storey of the
    /// first.
    struct IssuePairs {
        std::size_t pairs = 0, gone = 0, notTested = 0;
        std::string storey, bay;
    };
    [[nodiscard]] Result<std::map<std::string, IssuePairs>> byIssue() const;

    [[nodiscard]] Result<void> addTest(const ClashTest& test, const WhoAndWhen& who);
    [[nodiscard]] Result<void> decide(std::span<const PairId> pairs, const std::string& decision,
                                      const std::string& reason, const WhoAndWhen& who);

    // Parts of commands that do more.
    RunSummary writeRun(SQLite::Database& db, const NewRun& run, std::span<const Continuation> continuations,
                        const WhoAndWhen& who) const;
    void decideToFix(SQLite::Database& db, std::span<const PairId> pairs, const std::string& issue,
                     const WhoAndWhen& who) const;
    /// Works out anew how the pairs of a run stand, after it came or went.
    static void settle(SQLite::Database& db, RunId run);
    static void tidy(SQLite::Database& db);

private:
    Store& store_;
};

} // namespace wendrix::project
