#pragma once

#include "core/base/progress.h"
#include "core/federation/location.h"
#include "core/federation/member.h"
#include "core/project/project.h"

namespace wendrix::project {

/// The models of a composition, read and built: what the scene shows and the tests run on. A value; members
/// share their models, so copies are cheap.
struct Workspace {
    std::vector<federation::Member> members; ///< in the order of the project's disciplines
    std::vector<DeliveryId> deliveries;      ///< of each member

    [[nodiscard]] const federation::Member* find(const std::string& discipline) const;
    [[nodiscard]] std::optional<std::uint32_t> indexOf(const std::string& discipline) const;
};

/// What has to be read for a workspace; taken from the project, then worked on in any thread.
struct WorkspaceOrder {
    struct Item {
        Delivery delivery;
        std::filesystem::path file;
        federation::Fit fit;
        std::string colour;
    };
    std::vector<Item> items;
    std::string reference;
    std::vector<ClashTest> tests;
    std::filesystem::path cache; ///< where built members are kept
};

/// The present composition; with `instead`, as it would be after taking that delivery in.
[[nodiscard]] WorkspaceOrder orderOf(const Project& project, std::optional<DeliveryId> instead = {});

/// Reads and builds all members; those that `have` already holds are taken from there.
[[nodiscard]] Result<Workspace> load(const WorkspaceOrder& order, const Workspace& have, Progress& progress);

/// Runs all tests whose two sides are there.
[[nodiscard]] Result<std::vector<TestFindings>> runTests(const Workspace& workspace, const WorkspaceOrder& order,
                                                         Progress& progress);

/// Everything that taking in a delivery brings: the new workspace, what changed, what the tests say.
struct PreparedTakeIn {
    TakeIn record;
    Workspace workspace;
    std::string alignment; ///< one sentence: how the new member stands with the fit that is there
};
[[nodiscard]] Result<PreparedTakeIn> prepareTakeIn(const WorkspaceOrder& order, DeliveryId delivery,
                                                   const Workspace& have, Progress& progress);

/// A comparison as records, with shifts turned into the reference frame.
[[nodiscard]] std::vector<ChangeRecord> changeRecords(const changes::Comparison& comparison,
                                                      const federation::Member& before, DeliveryId from,
                                                      const federation::Member& after, DeliveryId to);

} // namespace wendrix::project
