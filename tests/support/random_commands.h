#pragma once

#include "core/project/project.h"

#include <random>

/// What a project holds, and commands at random, for laws that hold whatever was done.
namespace wendrix::test {

using AllCells = std::map<std::string, std::vector<std::string>>; ///< the rows of each table as text

/// Every cell of every table that commands change, and of what is worked out from facts.
/// @param most  Fact: the facts too, which stay where a command is undone
[[nodiscard]] AllCells cellsOf(project::Project& project, project::Keeping most = project::Keeping::Undoable);

/// A project of three disciplines with two revisions each.
[[nodiscard]] std::unique_ptr<project::Project> projectForCommands(const std::filesystem::path& folder);

/// One of many commands, chosen and filled at random. @return whether it could be done
bool randomCommand(project::Project& project, std::mt19937& random, const WhoAndWhen& who);

} // namespace wendrix::test
