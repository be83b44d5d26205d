#pragma once

#include "core/checks/report.h"
#include "core/project/workspace.h"

/// Looking inside a delivery before it is taken in.
namespace wendrix::project {

/// What has to be read for that; taken from the project, then worked on in any thread.
struct InsideOrder {
    Delivery delivery;
    WorkspaceOrder alone, within, before;
    std::optional<Delivery> against; ///< that team's delivery before, unless it was declined
    checks::Expectations expectations;
    std::vector<std::pair<std::string, std::string>> specifications;
};
[[nodiscard]] Result<InsideOrder> insideOrderOf(const Project& project, const Delivery& delivery,
                                                const std::string& federation);

struct Inside {
    Delivery delivery;
    Workspace alone;  ///< its models, placed by the fit of its discipline
    Workspace within; ///< the federation as it would be with it
    Workspace before; ///< the delivery it is compared with
    std::optional<Delivery> against;
    std::vector<ChangeRecord> changes;        ///< against that one
    std::vector<checks::ModelReport> quality; ///< of each of its models
    std::string alignment;                    ///< one sentence; empty where nothing can be said
};

/// Reads, builds, checks and compares; nothing of the project changes.
[[nodiscard]] Result<Inside> prepareInside(const InsideOrder& order, const Workspace& have, Progress& progress);

/// The quality of each model of the delivery alone: reads and builds it and the reference, compares nothing.
[[nodiscard]] Result<std::vector<checks::ModelReport>> prepareQuality(const InsideOrder& order, const Workspace& have,
                                                                      Progress& progress);

/// The quality report of a delivery with its head, as it is sent.
[[nodiscard]] checks::DeliveryReport reportOf(const Project& project, const Delivery& delivery,
                                              std::vector<checks::ModelReport> quality, const WhoAndWhen& who);

} // namespace wendrix::project
