#pragma once

#include "core/checks/quality.h"
#include "core/issues/evidence.h"
#include "core/issues/issue.h"
#include "core/project/records.h"
#include "core/project/store.h"

#include <functional>
#include <map>
#include <span>

namespace wendrix::project {

inline constexpr ErrorCode kNoProject{"project.none"};
inline constexpr ErrorCode kFolderInUse{"project.folder-in-use"};
inline constexpr ErrorCode kSameDelivery{"project.same-delivery"};
inline constexpr ErrorCode kSameRevision{"project.same-revision"};
inline constexpr ErrorCode kUnknown{"project.unknown"};

/// What one test found, ready to be recorded.
struct TestFindings {
    std::string test;
    std::vector<Pair> pairs;     ///< id, names, depth, point, storey and bay filled
    std::size_t pairsTested = 0; ///< as clash::Findings has it
};

/// A delivery about to be kept.
struct NewDelivery {
    std::string discipline, revision, title, sender;
    int cycle = 1;
    Timestamp time;
    struct Model {
        std::filesystem::path file;
        std::string projectGuid, schema;
        std::size_t elements = 0;
        std::string sha256 = {}; ///< of the project's own copy, where there is one already
    };
    std::vector<Model> models; ///< at least one
    std::vector<std::filesystem::path> documents;
    std::string note, suitability;
};

/// What may still be said differently of a delivery that is there.
struct DeliveryWords {
    std::string title, sender, suitability, note;
};

/// What taking in a delivery changes, worked out beforehand so that it is recorded at once or not at all.
struct TakeIn {
    DeliveryId delivery = 0;
    std::vector<ChangeRecord> changes; ///< against the delivery in use; empty for a first one
    std::vector<TestFindings> findings;
    bool hasRun = false; ///< whether the tests were run on the new composition
};

/// One project: a folder with its database, the deliveries as they came, and pictures.
///
/// Reads give values; each command below is one transaction, one line of history, one undo step. Not
/// thread-safe: used from one thread, long work happens on values elsewhere.
class Project {
public:
    /// @param folder  must not exist yet or be empty
    [[nodiscard]] static Result<std::unique_ptr<Project>> create(const std::filesystem::path& folder,
                                                                 const std::string& name, const WhoAndWhen& who);
    [[nodiscard]] static Result<std::unique_ptr<Project>> open(const std::filesystem::path& folder);
    [[nodiscard]] static bool isProject(const std::filesystem::path& folder);

    [[nodiscard]] const std::filesystem::path& folder() const { return folder_; }
    [[nodiscard]] std::string name() const { return meta("name"); }
    [[nodiscard]] std::string id() const { return meta("id"); }

    // Reading
    [[nodiscard]] std::vector<Discipline> disciplines() const; ///< the reference first
    [[nodiscard]] std::string reference() const;
    [[nodiscard]] std::vector<PersonGroup> personGroups() const; ///< by name
    /// At least one, the whole building, which every discipline belongs to until it is retired there.
    [[nodiscard]] std::vector<Federation> federations() const;
    /// What was agreed that deliveries should be like; the storeys are those of the reference and not kept.
    [[nodiscard]] checks::Expectations expectations() const;
    [[nodiscard]] std::vector<Delivery> deliveries() const; ///< oldest first
    [[nodiscard]] std::optional<Delivery> delivery(DeliveryId id) const;
    [[nodiscard]] std::optional<Delivery> inUse(const std::string& discipline) const;
    /// How many deliveries newer than the one in use wait.
    [[nodiscard]] std::size_t waitingBehind(const std::string& discipline) const;
    /// The delivery that holds a model of this SHA-256.
    [[nodiscard]] std::optional<Delivery> withContent(const std::string& sha256) const;
    [[nodiscard]] std::filesystem::path fileOf(const ModelFile& model) const;
    [[nodiscard]] std::vector<Document> documentsOf(DeliveryId delivery) const;
    [[nodiscard]] std::filesystem::path fileOf(const Document& document) const;
    /// The hold of a discipline, unless its last day is over.
    [[nodiscard]] std::optional<Hold> hold(const std::string& discipline, const Timestamp& now) const;
    /// Which delivery of each discipline was in use at the end of a cycle.
    [[nodiscard]] std::map<std::string, DeliveryId> compositionOf(int cycle) const;
    /// IDS files that deliveries are checked against: their names and their text.
    [[nodiscard]] std::vector<std::pair<std::string, std::string>> specifications() const;
    [[nodiscard]] StoredFit fit(const std::string& discipline) const;
    [[nodiscard]] std::vector<ClashTest> tests() const;
    [[nodiscard]] std::vector<Pair> pairs() const; ///< deepest first
    [[nodiscard]] std::vector<Run> runs() const;   ///< oldest first
    /// What the runs said of a pair, oldest first.
    [[nodiscard]] std::vector<std::pair<Run, clash::PairState>> historyOf(const std::string& pairId) const;
    [[nodiscard]] std::vector<ChangeRecord> changesOf(const std::string& discipline, DeliveryId to) const;
    /// How many of them are of each kind; a change may be of several.
    [[nodiscard]] std::map<ChangeKind, std::size_t> changeCounts(const std::string& discipline, DeliveryId to) const;
    /// Everything recorded of one element over all its deliveries, newest first, also where its id was renewed.
    [[nodiscard]] std::vector<ChangeRecord> changesOfElement(const std::string& discipline, std::string guid) const;
    [[nodiscard]] std::vector<ChangeRecord> currentChanges() const; ///< of every delivery in use
    [[nodiscard]] std::size_t changesToReview() const;              ///< of these, how many nobody looked at
    [[nodiscard]] std::vector<DeliveryId> comparedWith() const;     ///< the deliveries that those in use were compared with
    [[nodiscard]] std::vector<issues::Issue> issues() const; ///< newest number last; snapshots left on the disk
    [[nodiscard]] std::optional<issues::Issue> issue(const std::string& uuid, bool withSnapshots) const;
    [[nodiscard]] std::vector<Pair> pairsOf(const std::string& issueUuid) const;
    [[nodiscard]] issues::Evidence evidenceOf(const std::string& issueUuid) const;
    /// The newest version of each kept view that this person may see, by folder and title.
    [[nodiscard]] std::vector<KeptView> keptViews(const std::string& person) const;
    [[nodiscard]] std::vector<KeptView> versionsOf(const std::string& viewUuid) const; ///< newest first
    [[nodiscard]] std::vector<Note> notes() const; ///< by number
    [[nodiscard]] std::vector<MemberGroup> memberGroups() const; ///< by name
    [[nodiscard]] std::vector<HistoryLine> history(int most) const; ///< newest first
    [[nodiscard]] std::vector<HistoryLine> historyOf(const Delivery& delivery) const; ///< what was done with it, newest first
    [[nodiscard]] int cycle() const; ///< the newest cycle anything was delivered in

    // Commands
    [[nodiscard]] Result<void> addDiscipline(const Discipline& discipline, const WhoAndWhen& who);
    /// Company, people, colour, drop folder and classes left out of the discipline of this name.
    [[nodiscard]] Result<void> setDiscipline(const Discipline& discipline, const WhoAndWhen& who);
    /// Makes a group, or gives the one of this name other people; with none it is dissolved.
    [[nodiscard]] Result<void> setPersonGroup(const PersonGroup& group, const WhoAndWhen& who);
    /// Makes a federation, or changes the one of this name: its members, those retired, whether it is retired itself.
    [[nodiscard]] Result<void> setFederation(const Federation& federation, const WhoAndWhen& who);
    [[nodiscard]] Result<void> setExpectations(const checks::Expectations& expectations, const WhoAndWhen& who);
    [[nodiscard]] Result<void> addTest(const ClashTest& test, const WhoAndWhen& who);
    /// Copies its files into the project.
    /// @return kSameDelivery where the same content is already there, kSameRevision where its name is
    [[nodiscard]] Result<DeliveryId> addDelivery(const NewDelivery& delivery, const WhoAndWhen& who);
    [[nodiscard]] Result<void> describe(DeliveryId delivery, const DeliveryWords& words, const WhoAndWhen& who);
    [[nodiscard]] Result<void> takeIn(const TakeIn& takeIn, const WhoAndWhen& who);
    /// @param report  an HTML page that goes back with it and is kept as its document; empty for none
    [[nodiscard]] Result<void> decline(DeliveryId delivery, const std::string& reason, const std::string& report, const WhoAndWhen& who);
    /// Keeps a member at what is in use, until a day (the last one of it) or until it is released.
    [[nodiscard]] Result<void> hold(const Hold& hold, const WhoAndWhen& who);
    [[nodiscard]] Result<void> release(const std::string& discipline, const WhoAndWhen& who);
    /// Notes who looked inside it first.
    [[nodiscard]] Result<void> lookedAt(DeliveryId delivery, const WhoAndWhen& who);
    /// Keeps an IDS under its file's name; empty text removes it.
    [[nodiscard]] Result<void> setSpecification(const std::string& name, const std::string& text, const WhoAndWhen& who);
    /// While an old composition is looked at nothing may be changed; every command answers with this.
    void setReadOnly(const std::string& why) { store_->setReadOnly(why); }
    [[nodiscard]] Result<void> setFit(const std::string& discipline, const StoredFit& fit, const WhoAndWhen& who);
    [[nodiscard]] Result<void> recordRun(std::span<const TestFindings> findings, const WhoAndWhen& who);
    [[nodiscard]] Result<void> decide(std::span<const std::string> pairIds, const std::string& decision,
                                      const std::string& reason, const WhoAndWhen& who);
    /// Decides to fix: makes the issue, with its number, and ties the pairs to it. @return its number.
    [[nodiscard]] Result<std::string> makeIssue(issues::Issue issue, std::span<const std::string> pairIds,
                                                const WhoAndWhen& who);
    [[nodiscard]] Result<void> addComment(const std::string& issueUuid, const std::string& text, const WhoAndWhen& who);
    [[nodiscard]] Result<void> setStatus(const std::string& issueUuid, const std::string& status,
                                         const std::string& comment, const WhoAndWhen& who);
    /// Takes over what came back: new issues, new comments and viewpoints, changed fields. Nothing is removed.
    /// @return in words, what was taken over.
    [[nodiscard]] Result<std::string> mergeIssues(std::span<const issues::Issue> incoming, const WhoAndWhen& who);
    [[nodiscard]] Result<void> review(const ChangeRecord& change, const std::string& review, const WhoAndWhen& who);

    /// Keeps a view, or with a uuid that is there already its next version. @return its uuid
    [[nodiscard]] Result<std::string> keepView(const KeptView& view, const std::string& picturePng, const WhoAndWhen& who);
    [[nodiscard]] Result<void> removeView(const std::string& uuid, const WhoAndWhen& who);

    /// Writes the next note; its first words are those of `said`. @return its number
    [[nodiscard]] Result<int> addNote(const Note& note, const std::string& picturePng, const WhoAndWhen& who);
    /// Says something to a note, or sets how it stands, or both.
    [[nodiscard]] Result<void> sayToNote(const std::string& uuid, const std::string& status, const std::string& words, const WhoAndWhen& who);
    [[nodiscard]] Result<void> removeNote(const std::string& uuid, const WhoAndWhen& who);

    /// Makes a group of members, or gives the one of this name other members; with none it is dissolved.
    [[nodiscard]] Result<void> setMemberGroup(const MemberGroup& group, const WhoAndWhen& who);

    /// Several commands as one: all or none of them, together one undo step.
    [[nodiscard]] Result<void> together(const std::string& what, const std::function<Result<void>()>& several) { return store_->together(what, several); }
    [[nodiscard]] Result<void> undo(const WhoAndWhen& who) { return store_->undo(who); }
    [[nodiscard]] Result<void> redo(const WhoAndWhen& who) { return store_->redo(who); }
    [[nodiscard]] std::string undoable() const { return store_->undoable(); }
    [[nodiscard]] std::string redoable() const { return store_->redoable(); }

private:
    Project(std::filesystem::path folder, std::unique_ptr<Store> store);
    [[nodiscard]] std::string meta(const std::string& key) const;
    template <class... Values>
    [[nodiscard]] std::vector<Delivery> deliveriesWhere(const std::string& where, const Values&... values) const;
    [[nodiscard]] std::string compositionInWords() const;
    [[nodiscard]] std::vector<ChangeRecord> currentChangesOf(const std::string& guid) const;
    [[nodiscard]] int lastCycleTaken() const;
    void writeRun(SQLite::Database& db, std::span<const TestFindings> findings, const WhoAndWhen& who);
    void writeViewpoint(SQLite::Database& db, const std::string& issue, int place, const issues::Viewpoint& viewpoint);
    [[nodiscard]] Result<void> keepPictures(const issues::Issue& issue) const;
    [[nodiscard]] SQLite::Database& db() const { return store_->database(); }

    std::filesystem::path folder_;
    std::unique_ptr<Store> store_;
};

} // namespace wendrix::project
