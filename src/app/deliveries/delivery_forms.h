#pragma once

#include "core/project/proposal.h"
#include "shell/stage.h"

#include <functional>

/// The small forms of the deliveries stage; each fills the details and calls `done` when it is settled or given up.
namespace wendrix::app {

/// Files that came in together, as they are proposed to be a delivery.
struct Draft {
    project::Proposal proposal;
    std::vector<std::filesystem::path> models, documents;
    QStringList known; ///< models that are there already, in words
};

/// Draws up deliveries from files: those whose names give the same discipline and revision belong together, documents with
/// the models of their revision. Reads beginnings and hashes, so on another thread.
[[nodiscard]] std::vector<Draft> draftsOf(const std::vector<std::filesystem::path>& files, const std::vector<project::Discipline>& disciplines,
                                          const std::vector<project::Delivery>& deliveries, Progress& progress);

using Done = std::function<void()>;
void showAddForm(const StageContext& at, const Draft& draft, int draftsLeft, const Done& done, const Done& giveUp);
/// @param report  the quality report as HTML that may go with it; empty while nobody looked inside
void showDeclineForm(const StageContext& at, const project::Delivery& delivery, const std::string& report, const Done& done);
void showHoldForm(const StageContext& at, const project::Delivery& delivery, const Done& done);
void showDescribeForm(const StageContext& at, const project::Delivery& delivery, const Done& done);
/// Which classes of a discipline's models are not read.
void showLeaveOutForm(const StageContext& at, const std::string& discipline, const Done& done);

} // namespace wendrix::app
