#pragma once

#include "core/base/result.h"
#include "core/base/who_and_when.h"

#include <cstdint>
#include <filesystem>
#include <map>
#include <string>
#include <vector>

/// What commands did, kept beside the database: where that is lost, or an older one is put back, it can be brought in.
namespace wendrix::project {

/// A line of history, as the database has it too.
struct KeptEvent {
    WhoAndWhen by;
    unsigned books = 0; ///< of Book
    std::string what, subject;
};

/// One transaction that was made, in a file of steps.
struct KeptStep {
    std::int64_t id = 0; ///< of its first event in the database it was made in
    std::vector<KeptEvent> events;
    std::map<std::string, std::int64_t> counters; ///< numbers that were given by then
    std::filesystem::path file;
    std::uintmax_t at = 0, bytes = 0; ///< where its changes of rows stand in the file
};

/// The steps of one connection, in a file of its own in the folder "backups". It is there from the first step on, and
/// stays when the connection ends; the last few that nobody has open are kept.
class StepFile {
public:
    /// @param project  its folder
    explicit StepFile(std::filesystem::path project) : project_(std::move(project)) {}
    ~StepFile();
    StepFile(const StepFile&) = delete;
    StepFile& operator=(const StepFile&) = delete;

    /// Adds a step that the database already has. What can not be written (the disk is full) is left out whole.
    /// @param changes  of rows, as toJson() gives them
    void add(const KeptStep& step, const std::string& changes);
    /// Whether steps were written and still are there.
    [[nodiscard]] bool isThere() const;

private:
    bool open();
    std::filesystem::path project_, file_;
    int descriptor_ = -1;
    std::uintmax_t bytes_ = 0;
};

inline constexpr std::size_t kMostStepFiles = 5;

/// The steps in all files of a project, oldest first, those of one file always in their order. What is damaged is
/// passed over, as are files that were set aside.
[[nodiscard]] std::vector<KeptStep> keptSteps(const std::filesystem::path& project);
/// A step's changes of rows. @return kFileUnreadable
[[nodiscard]] Result<std::string> changesOf(const KeptStep& step);
/// Renames the files that hold these steps, so that nobody is asked about them again.
void setAside(const std::vector<KeptStep>& steps);

} // namespace wendrix::project
