#pragma once

#include "core/base/progress.h"
#include "core/federation/location.h"
#include "core/federation/member.h"
#include "core/federation/standing.h"
#include "core/project/place_check.h"
#include "core/project/taking_in.h"
#include "core/sets/elements.h"

namespace wendrix::project {

class TestMemory;

/// The models of a composition, read and built: what the scene shows and the tests run on. A value; members
/// share their models, so copies are cheap.
struct Workspace {
    std::vector<federation::Member> members; ///< in the order of the project's disciplines
    std::vector<DeliveryId> deliveries;      ///< of each member; a delivery with several models is as many members
    std::vector<std::vector<std::string>> leftOut; ///< of each member, the classes not read
    std::vector<RunMember> missing;     ///< in use, but what is kept of them can not be opened; `why` says it
    std::shared_ptr<TestMemory> memory; ///< what its tests found before; shared by all that were made of each other

    /// The first of a discipline.
    [[nodiscard]] const federation::Member* find(const std::string& discipline) const;
    [[nodiscard]] std::vector<std::uint32_t> allOf(const std::string& discipline) const;
    [[nodiscard]] bool holds(DeliveryId delivery) const;
    /// Takes over the members of a discipline from another workspace, in the place of its own of that discipline.
    void replace(const std::string& discipline, const Workspace& from);
    /// Of a delivery that is missing, why; else nothing.
    [[nodiscard]] const RunMember* findMissing(DeliveryId delivery, const std::string& part) const;
    /// Of one discipline, with the reason: "Structure P01 is not there: its file is missing ..."; empty if nothing is.
    [[nodiscard]] std::string missingInWords() const;
};

/// What has to be read for a workspace; taken from the project, then worked on in any thread.
struct WorkspaceOrder {
    struct Item {
        Delivery delivery;
        ModelFile model;  ///< which of its files
        std::string part; ///< its name among several; else empty
        std::filesystem::path file;
        DisciplineId disciplineId = 0;
        StoredFit fit;                    ///< in force for the delivery
        std::vector<std::string> leftOut; ///< classes
    };
    std::vector<Item> items;
    std::string reference;
    std::vector<RunTest> tests;                    ///< those that are on, not run yet
    sets::Knowledge knowledge;                     ///< what their lines ask of the project
    changes::ChangeRule rule;                      ///< what counts as a change
    sets::Knowledge ruleKnowledge;                 ///< what its line of elements asks of the project
    std::string federation;                        ///< what is looked at; empty for all
    std::vector<RunMember> absent;                 ///< what is in use but not in the federation
    std::vector<InForce> inForce;                  ///< in the whole project, in order, with what would be taken in
    Metres standsRight = federation::kStandsRight; ///< residuals up to it are the drawing's
    int cycle = 1;
    std::filesystem::path cache; ///< where built members are kept
};

/// What of a project is looked at.
struct Scope {
    std::string federation;            ///< empty: all disciplines
    std::optional<DeliveryId> instead; ///< as it would be after taking this one in
    std::optional<int> cycle;          ///< as it was at the end of this cycle; not given, as it is
};
[[nodiscard]] Result<WorkspaceOrder> orderOf(const Project& project, const Scope& scope = {});
/// All models of one delivery, each with the fit in force for it.
[[nodiscard]] Result<std::vector<WorkspaceOrder::Item>> itemsOf(const Project& project, const Delivery& delivery);

/// Reads and builds all members; those that `have` already holds are taken from there. Meanwhile every file is held
/// against the SHA-256 it was received with. What is missing, damaged or not what was received takes out its own member
/// only: it stands under `missing`, with the reason.
/// @return step::kCancelled, and no other error
[[nodiscard]] Result<Workspace> load(const WorkspaceOrder& order, const Workspace& have, Progress& progress);

/// The fits of today into members that are loaded already.
void refit(Workspace& workspace, const WorkspaceOrder& order);

/// Runs all tests on the members that stand right on the reference, or are to be tested as they stand; says of all
/// others why they were not. A workspace that is not what the order asks for is refused: kCompositionChanged.
/// Cancelled, it gives what was finished, with the other tests as cancelled; nothing finished is clash::kCancelled.
[[nodiscard]] Result<NewRun> runTests(const Workspace& workspace, const WorkspaceOrder& order, Progress& progress);

/// Everything that taking in a delivery brings: the new workspace, what changed, what the tests say.
struct PreparedTakeIn {
    TakeIn record;
    Workspace workspace;
    std::string alignment; ///< one sentence: how the new member stands with the fit that is there
    /// It no longer stands where that fit puts it, and nobody has said what to do: nothing else was worked out.
    std::optional<MovedPlace> moved;
};
/// What a person says of a delivery that no longer stands where its fit puts it.
struct MovedAnswer {
    std::optional<StoredFit> fit; ///< that it is taken in with; none: as it stands
};
[[nodiscard]] Result<PreparedTakeIn> prepareTakeIn(const WorkspaceOrder& order, DeliveryId delivery,
                                                   const Workspace& have, Progress& progress,
                                                   const std::optional<MovedAnswer>& answer = {});

/// What a comparison needs beside the models.
struct ComparisonOrder {
    DeliveryId from = 0, to = 0;
    changes::ChangeRule rule;
    sets::Knowledge knowledge; ///< for the sets that the rule names
};
/// One delivery of a team against another of its own: each model against the one of the same name, and what went from
/// one model to another is no change. Shifts are in the reference frame.
[[nodiscard]] Result<NewComparison> compareDeliveries(std::span<const federation::Member> before,
                                                      std::span<const federation::Member> after,
                                                      const ComparisonOrder& order, Progress& progress);
/// One sentence on how a member stands with the fit that is there; empty for the reference itself and without one.
[[nodiscard]] std::string alignmentInWords(const Workspace& workspace, const WorkspaceOrder& order,
                                           const std::string& discipline);

} // namespace wendrix::project
