#pragma once

#include "core/base/progress.h"
#include "core/project/drop_folders.h"
#include "core/project/proposal.h"

#include <functional>

/// From files that came in to deliveries that wait in the register.
namespace wendrix::project {

/// Files that came in together, as they are proposed to be a delivery.
struct Draft {
    Proposal proposal;
    std::vector<std::filesystem::path> models, documents;
    std::vector<std::string> known; ///< files that are there already and are left out, in words
    bool hasHealed = false;         ///< what was kept of one of them was not sound, and is again
};

/// Draws up deliveries from files a person chose: models whose names give the same discipline and revision belong
/// together, a document with the models of its revision whose names are most like its own. Where all models of a draft
/// are there already, it has none. Reads beginnings and hashes, in any thread. Of a model that is there already, what
/// is kept is put back where it is missing or damaged.
/// @param folder  the project's
[[nodiscard]] std::vector<Draft> draftsOf(const std::filesystem::path& folder,
                                          const std::vector<std::filesystem::path>& files,
                                          const std::vector<Discipline>& disciplines,
                                          const std::vector<Delivery>& deliveries, Progress& progress);

/// What arrived in drop folders as deliveries to be kept, without models that are there already. The folder says the
/// discipline, the names the rest; two never get the same revision. Time and cycle are the caller's.
[[nodiscard]] std::vector<NewDelivery> deliveriesOf(const std::vector<Arrived>& arrived,
                                                    const std::vector<Discipline>& disciplines,
                                                    std::vector<Delivery> deliveries);

/// What the project keeps of a model besides the file itself; reads the whole of it, to know that it can be read.
[[nodiscard]] Result<NewDelivery::Model> describeModel(const std::filesystem::path& file, Progress& progress);

/// Keeps what a team handed over: copies its files into the project, reads the models from the copies, records it.
///
/// Read is what was copied, so a sender who writes on disturbs nothing. Safe in any thread. Nothing is left behind
/// where it fails or is cancelled.
/// @param delivery  with its files; what the models are of is found out
/// @param keep      records it: DeliveriesBook::add, by whoever writes to the project
/// @return  kSameDelivery, kSameRevision, kUnknown as DeliveriesBook::add; what reading and copying give, with the
/// sender's file named
[[nodiscard]] Result<DeliveryId> receiveDelivery(const std::filesystem::path& folder, NewDelivery delivery,
                                                 const std::function<Result<DeliveryId>(const NewDelivery&)>& keep,
                                                 Progress& progress);

} // namespace wendrix::project
