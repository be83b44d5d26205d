#pragma once

#include "core/project/books.h"
#include "core/project/log.h"

#include <filesystem>

namespace wendrix::project {

inline constexpr ErrorCode kNoProject{"project.none"};
inline constexpr ErrorCode kFolderInUse{"project.folder-in-use"};

/// One project: a folder with its database, the deliveries as they came, and pictures; the books over its state.
///
/// One connection, used from one thread: a window reads through one of its own and writes through another's. What spans
/// several books (taking in, running tests, making issues) stands beside it: taking_in.h, issue_making.h.
class Project {
public:
    using Access = Store::Access;
    /// @param folder  must not exist yet or be empty
    [[nodiscard]] static Result<std::unique_ptr<Project>> create(const std::filesystem::path& folder,
                                                                 const std::string& name, const WhoAndWhen& who);
    /// @return kNoProject, and what Store::open gives
    [[nodiscard]] static Result<std::unique_ptr<Project>> open(const std::filesystem::path& folder,
                                                               Access access = Access::Write);
    [[nodiscard]] static bool isProject(const std::filesystem::path& folder);

    [[nodiscard]] const std::filesystem::path& folder() const { return folder_; }
    [[nodiscard]] std::string name() const { return orNothing(setup_.name()); }
    [[nodiscard]] std::string id() const { return orNothing(setup_.id()); }

    [[nodiscard]] const SetupBook& setup() const { return setup_; }
    [[nodiscard]] SetupBook& setup() { return setup_; }
    [[nodiscard]] const DeliveriesBook& deliveries() const { return deliveries_; }
    [[nodiscard]] DeliveriesBook& deliveries() { return deliveries_; }
    [[nodiscard]] const CoordinatesBook& coordinates() const { return coordinates_; }
    [[nodiscard]] CoordinatesBook& coordinates() { return coordinates_; }
    [[nodiscard]] const ClashesBook& clashes() const { return clashes_; }
    [[nodiscard]] ClashesBook& clashes() { return clashes_; }
    [[nodiscard]] const ChangesBook& changes() const { return changes_; }
    [[nodiscard]] ChangesBook& changes() { return changes_; }
    [[nodiscard]] const IssuesBook& issues() const { return issues_; }
    [[nodiscard]] IssuesBook& issues() { return issues_; }
    [[nodiscard]] const ViewsBook& views() const { return views_; }
    [[nodiscard]] ViewsBook& views() { return views_; }
    [[nodiscard]] const Log& log() const { return log_; }
    [[nodiscard]] Store& store() { return *store_; }
    [[nodiscard]] const Store& store() const { return *store_; }

    /// Several commands as one: all or none of them, together one undo step.
    [[nodiscard]] Result<void> together(const std::string& what, const WhoAndWhen& who,
                                        const std::function<Result<void>()>& several)
    {
        return store_->together(what, who, several);
    }
    [[nodiscard]] Result<void> undo(const WhoAndWhen& who);
    [[nodiscard]] Result<void> redo(const WhoAndWhen& who);
    /// What was decided here, stands in a file of steps beside the database, and is not in it.
    [[nodiscard]] Result<std::vector<KeptStep>> missingSteps() const { return log_.missing(keptSteps(folder_)); }
    [[nodiscard]] Result<Log::BroughtIn> bringIn(const std::vector<KeptStep>& steps, const WhoAndWhen& who);
    /// While an old composition is looked at nothing may be changed; every command answers with this.
    void setReadOnly(const std::string& why) { store_->setReadOnly(why); }
    [[nodiscard]] Changed takeChanged() { return store_->takeChanged(); }

private:
    Project(std::filesystem::path folder, std::unique_ptr<Store> store);

    std::filesystem::path folder_;
    std::unique_ptr<Store> store_;
    SetupBook setup_;
    DeliveriesBook deliveries_;
    CoordinatesBook coordinates_;
    ClashesBook clashes_;
    ChangesBook changes_;
    IssuesBook issues_;
    ViewsBook views_;
    Log log_;
};

} // namespace wendrix::project
