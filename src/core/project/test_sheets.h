#pragma once

#include "core/project/project.h"
#include "core/sets/elements.h"

/// Test sheets as a project's runs use them.
namespace wendrix::project {

/// The sheets that are kept; where none is, the usual one over the disciplines that have something in use.
[[nodiscard]] Result<std::vector<KeptSheet>> sheetsInForce(const Project& project);

/// The tests that are on of the sheets that are on, their lines whole. What is wrong with one stands in `why`.
[[nodiscard]] std::vector<RunTest> testsOf(std::span<const KeptSheet> sheets);

/// The tests that a run did not make as they are now: new, or changed since.
[[nodiscard]] std::vector<std::string> notRunAsTheyAre(std::span<const RunTest> tests, const Run& run);

/// What a project knows of elements beside their models, as it is now: issues, and what deliveries changed.
/// @param tests  only what their lines ask for
[[nodiscard]] Result<sets::Knowledge> knowledgeFor(const Project& project, std::span<const RunTest> tests);
/// The same for one set.
[[nodiscard]] Result<sets::Knowledge> knowledgeFor(const Project& project, const sets::Expression& set);

} // namespace wendrix::project
