#pragma once

#include "core/base/element_ref.h"
#include "core/base/vector3.h"
#include "core/base/who_and_when.h"
#include "core/changes/comparison.h"
#include "core/clash/test_sheet.h"
#include "core/clash/words.h"
#include "core/coordinates/hand_fit.h"
#include "core/federation/grid_fit.h"

#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

/// What the project keeps, as its screens read it. Plain values; changing one changes nothing.
namespace wendrix::project {

using DeliveryId = std::int64_t;

struct Discipline {
    std::string name, company;
    std::string colour; ///< "#C8A768"
    bool isReference = false;
    std::vector<std::string> people;
    std::string dropFolder;           ///< where its files arrive; empty if nowhere
    std::vector<std::string> leftOut; ///< classes that are not read, with their subclasses: "IfcFurnishingElement"
    DisciplineId id = 0;              ///< given by the project
};

/// People who are addressed together: "All structural engineers".
struct PersonGroup {
    std::string name;
    std::vector<std::string> people; ///< sorted
};

inline constexpr const char* kWholeBuilding = "Whole building"; ///< the federation every project has

/// Members that are looked at and tested together: "Whole building", "Services only".
struct Federation {
    struct Part {
        std::string discipline;
        bool isRetired = false; ///< was a member once; brought back as it was
    };
    std::string name;
    std::vector<Part> parts; ///< in the order of the project's disciplines
    bool isRetired = false;

    [[nodiscard]] bool has(const std::string& discipline) const;
};

/// Where a delivery stands, derived from the composition.
enum class DeliveryState { Waiting, InUse, Held, Replaced, Declined };

/// One IFC file of a delivery.
struct ModelFile {
    std::string fileName, sha256, schema;
    std::size_t elements = 0;
};

struct Delivery {
    DeliveryId id = 0;
    std::string discipline, revision, title, sender;
    int cycle = 1;
    Timestamp time;
    std::string fileName, sha256, projectGuid, schema;
    std::size_t elements = 0;          ///< of all its models
    std::vector<ModelFile> moreModels; ///< beyond the first
    std::string declined;              ///< the reason; empty if it was not
    std::string note, suitability;     ///< suitability: a code of ISO 19650, "S3"
    WhoAndWhen lookedAt;               ///< empty while nobody has
    std::size_t documents = 0;
    DeliveryState state = DeliveryState::Waiting;
    std::string heldUntil; ///< a day; empty also where it is held until released

    /// In use, held or not.
    [[nodiscard]] bool isUsed() const { return state == DeliveryState::InUse || state == DeliveryState::Held; }
    [[nodiscard]] std::string name() const { return discipline + " " + revision; }
    [[nodiscard]] std::vector<ModelFile> models() const;
};

/// A document that came with a delivery, mostly drawings; or the quality report that went back with it.
struct Document {
    std::string fileName, sha256; ///< kept under the hash and the name's own ending
};

/// A member that is kept at the revision in use although newer ones wait.
struct Hold {
    std::string discipline;
    std::string until; ///< the last day of it, "2026-11-28"; empty: until released
    std::string reason;
    WhoAndWhen by;

    [[nodiscard]] bool isOver(const Timestamp& now) const
    {
        return !until.empty() && now.substr(0, until.size()) > until;
    }
};

/// A fit as it was made: never changed, followed by the next one.
struct StoredFit {
    std::int64_t id = 0;     ///< 0: as delivered, nobody made one
    DeliveryId delivery = 0; ///< the one in use when it was made
    federation::Fit fit;
    bool isLocked = false;
    bool isAccepted = false; ///< a person says that the member is tested as it stands, although nothing verifies it
    std::string method;      ///< "grids"; empty for as delivered
    double worst = 0;        ///< metres
    std::vector<federation::Residual> residuals; ///< with this fit, when it was made
    std::vector<coordinates::HandPair> pairs;    ///< that it was made of; by hand only
    WhoAndWhen by;
};

/// What of a discipline is in force: the delivery in use and the fit it is placed with.
struct InForce {
    std::string discipline;
    DeliveryId delivery = 0;
    std::int64_t fit = 0; ///< StoredFit::id; 0: none
    friend auto operator<=>(const InForce&, const InForce&) = default;
};

/// A test sheet as the project keeps it: every version that was ever in force.
struct KeptSheet {
    clash::TestSheet sheet;
    bool isOn = true;
    int version = 0; ///< 0: the usual one, which nobody has changed yet
    WhoAndWhen by;   ///< who made this version
};

using PairId = std::int64_t;
using RunId = std::int64_t;

/// One element of a pair, as the last run that found it had it.
struct PairSide {
    ElementRef element;
    std::string name, className, type, system;
    std::string discipline, revision, part;
    [[nodiscard]] std::string delivery() const { return discipline + " " + revision; }
    [[nodiscard]] std::string memberTitle() const { return delivery() + (part.empty() ? "" : " " + part); }
};

/// Two elements that a test found, and how the runs since say it stands.
struct Pair {
    PairId id = 0;
    clash::Kind kind = clash::Kind::Hard;
    std::string test; ///< the name of the one that found it last
    PairSide left, right;
    clash::PairState state = clash::PairState::New;
    clash::Outcome outcome = clash::Outcome::Found;     ///< of the last run that says something of it
    double depth = 0;                                   ///< metres; of hard pairs
    double distance = 0;                                ///< metres; the gap of clearances, how far doubles differ
    double clearance = 0;                               ///< metres; the gap that was wanted
    clash::Direction direction = clash::Direction::Any; ///< and which way
    Point3 point;                                       ///< reference frame
    std::string storey, bay;
    bool isApproximate = false; ///< the depth is a bound from above
    bool isOpen = false;        ///< one body has no inside: only its surface was tested
    std::string decision;       ///< "fix", "let stand", "later"; empty while undecided
    std::string reason;
    WhoAndWhen decidedBy;
    std::string until;    ///< the last day it holds; empty: until an element changes
    std::string returned; ///< undecided again, and why: "let stand by Ines Varga; Duct 4 moved 205 mm in P02"
    std::string issue;    ///< uuid; empty if none

    [[nodiscard]] bool isGone() const { return state == clash::PairState::Gone; }
    [[nodiscard]] bool isTested() const { return clash::isTested(outcome); }
    [[nodiscard]] clash::Extent extent() const { return {kind, depth, isApproximate, distance, clearance}; }
    /// "new", "gone: removed", "not tested: its class is left out".
    [[nodiscard]] std::string stateInWords() const;
};

/// One member as a run tested it, or why it did not.
struct RunMember {
    DisciplineId disciplineId = 0;
    std::string discipline, revision, part;
    DeliveryId delivery = 0;
    federation::Fit fit;
    bool isTested = true;
    std::string why; ///< not tested: one sentence
    [[nodiscard]] std::string title() const { return discipline + " " + revision + (part.empty() ? "" : " " + part); }
};

/// One test as a run made it.
struct RunTest {
    clash::Test test; ///< its lines whole: no set is named in them
    clash::TestState state = clash::TestState::Run;
    std::size_t pairsTested = 0, found = 0;
    std::map<clash::Meeting, std::size_t> expected; ///< pairs that were left out, by why
    std::string why;                                ///< it was not run
    bool isWanted = true;                           ///< of an order; else it stays as it was run before
    /// Disciplines with elements that a side picked and that took part; none known of runs of earlier versions.
    std::vector<DisciplineId> leftOf, rightOf;
    RunId askedIn = 0; ///< of a run: this one, or the earlier one whose word still holds, as only some tests were run
};

struct Run {
    RunId id = 0;
    WhoAndWhen by;
    int cycle = 1;
    std::vector<RunMember> members;
    std::vector<RunTest> tests;
    std::size_t found = 0;     ///< pairs
    std::size_t notTested = 0; ///< known pairs that it says nothing of
    std::size_t notBuilt = 0;  ///< elements of its members without a body to test
    /// Whether there is something that it did not test.
    [[nodiscard]] bool isSilentOfSome() const;
    /// Whether the test was run then, and not in an earlier run.
    [[nodiscard]] bool hasAsked(const RunTest& test) const { return test.askedIn == 0 || test.askedIn == id; }
    /// "2 pairs found by 1 test. Not tested: …": never silent about what was not.
    [[nodiscard]] std::string inWords() const;
};

/// The five kinds of change, and what a program did to ids and parts.
enum ChangeKind : unsigned {
    Added = 1,
    Removed = 2,
    Reshaped = 4,
    Moved = 8,
    Redescribed = 16,
    Rekeyed = 32,
    CutUp = 64,  ///< one element that goes on as several
    Joined = 128 ///< several that go on as one
};
inline constexpr ChangeKind kAllChangeKinds[] = {Added, Removed, CutUp, Joined, Reshaped, Moved, Redescribed, Rekeyed};

/// The kind a row is sorted under: the one that matters most on site.
[[nodiscard]] constexpr ChangeKind mainKind(unsigned kinds)
{
    for (const ChangeKind kind : kAllChangeKinds)
        if ((kinds & kind) != 0)
            return kind;
    return Rekeyed;
}

struct ChangeRecord {
    std::string discipline;
    DeliveryId from = 0, to = 0;
    std::int64_t comparison = 0, number = 0; ///< which one of which comparison
    ElementRef element;                      ///< as it is now; of what was removed, as it was
    std::optional<ElementRef> continues;     ///< what it was called before, where that was something else
    std::vector<ElementRef> parts;           ///< of what was cut up its parts now, of what was joined its parts before
    unsigned kinds = 0;                      ///< of ChangeKind
    std::string name, className, type, system, zone, phase, storey;
    Vector3 shift; ///< metres, reference frame
    Radians turn;  ///< about `turnAxis`; about +Z counter-clockwise seen from above
    Vector3 turnAxis{0, 0, 1};
    double confidence = 1;                    ///< of a renewed id
    std::string extents;                      ///< of what was reshaped: "120 mm narrower, 300 mm longer"
    double volumeBefore = 0, volumeAfter = 0; ///< m³; 0 where a body has no inside
    Box3 place;                               ///< reference frame: where it is, and was; empty without a body
    std::vector<changes::FieldChange> fields;
    /// The same number where the same thing happened to several: moved by one vector, one type given another value.
    std::int64_t alike = 0;
    std::string review; ///< "seen", "agreed", "questioned"; empty while nobody looked

    [[nodiscard]] ChangeKind mainKind() const { return project::mainKind(kinds); }
};

/// Two deliveries of one discipline that were compared.
struct ComparisonRecord {
    std::int64_t id = 0;
    std::string discipline;
    DeliveryId from = 0, to = 0;
    changes::ChangeRule rule;
    federation::Fit fromFit, toFit; ///< in force for either
    std::size_t total = 0, unchanged = 0, leftOut = 0;
    bool isAsked = false; ///< by a person, of any two; else it came with taking in what is in use
    WhoAndWhen by;
};

/// A view of the scene that was kept, in one of its versions.
struct KeptView {
    std::string uuid;
    int version = 1;
    std::string title, folder, description;
    bool isShared = true; ///< else only who kept it first sees it
    std::string state;    ///< what it restores, as the scene wrote it
    std::string picture;  ///< file name under pictures/; empty if none
    WhoAndWhen by;
};

/// What was said to a note, and how it then stood.
struct NoteWords {
    std::string status, words;
    WhoAndWhen by;
};

/// A numbered note at a place of the model, with the view it was written in.
struct Note {
    std::string uuid;
    int number = 0;
    Point3 place;                ///< reference frame
    std::string state;           ///< what its view restores, as the scene wrote it
    std::string picture;         ///< file name under pictures/; empty if none
    std::vector<NoteWords> said; ///< oldest first, never empty

    static constexpr const char* kOpen = "open";
    static constexpr const char* kAnswered = "answered";
    static constexpr const char* kSettled = "settled";
    [[nodiscard]] const std::string& status() const { return said.back().status; }
    [[nodiscard]] const std::string& words() const { return said.front().words; }
};

/// Members that are switched together.
struct MemberGroup {
    std::string name;
    std::vector<std::string> disciplines; ///< sorted
};

struct HistoryLine {
    WhoAndWhen by;
    std::string what;
};

} // namespace wendrix::project
