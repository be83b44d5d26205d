#pragma once

#include "commands.h"
#include "json_output.h"

#include "core/project/workspace.h"

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace wendrix::cli {

/// What a rule that fails a build may count.
struct Counts {
    std::size_t clashes = 0, undecided = 0, notTested = 0;
};
/// Whether a rule such as "undecided>0" holds; nothing where it is none.
[[nodiscard]] std::optional<bool> holds(const std::string& rule, const Counts& counts);

/// One test as build servers list it.
struct TestCase {
    std::string name;
    double seconds = 0;
    std::vector<std::string> failures;     ///< one line a clash
    std::optional<std::string> whySkipped; ///< where it was not run
};
/// In the form of JUnit's XML reports.
/// @return kFileUnwritable
[[nodiscard]] Result<void> writeJunit(const std::filesystem::path& file, const std::vector<TestCase>& cases);

/// Runs the tests of a project, prints what they find beside `more`, and concludes as the call asks.
/// @param have      members that are read already
/// @param recordAs  keeps the run in the project; not given, nothing is written
[[nodiscard]] int clashOf(project::Project& project, const ClashCall& call, const project::Workspace& have, Json more,
                          const std::optional<WhoAndWhen>& recordAs);

} // namespace wendrix::cli
