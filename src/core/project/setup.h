#pragma once

#include "core/project/project.h"

/// How a project is set up: what a template carries from one to the next.
namespace wendrix::project {

inline constexpr ErrorCode kBadTemplate{"project.template"};

struct Setup {
    std::vector<Discipline> disciplines; ///< the reference first
    std::vector<PersonGroup> personGroups;
    std::vector<Federation> federations;
    std::vector<clash::TestSheet> testSheets; ///< none: the usual one
    std::vector<issues::IssueTemplate> issueTemplates = issues::IssueTemplate::usuals();
    issues::Workflow issueWorkflow = issues::Workflow::usual();
    checks::Expectations expectations = checks::Expectations::usual();
    std::vector<std::pair<std::string, std::string>> specifications; ///< IDS: names and texts

    /// The disciplines most buildings have, in their colours, architecture as the reference; no companies or people.
    [[nodiscard]] static Setup usual();
};

/// The colour a discipline of this name has unless a person chooses another: "#5F7E9E".
[[nodiscard]] std::string usualColour(const std::string& discipline);

[[nodiscard]] Result<Setup> setupOf(const Project& project);
/// A template is this text in a file.
[[nodiscard]] std::string toJson(const Setup& setup);
/// @return kBadTemplate where it is none; fields that are missing or odd are as in a new project
[[nodiscard]] Result<Setup> setupFromJson(const std::string& text);
[[nodiscard]] std::string toJson(const checks::Expectations& expectations);
[[nodiscard]] checks::Expectations expectationsFromJson(const std::string& text); ///< the usual where it is damaged

/// A new project that is set up so. Errors as Project::create gives them, and where the setup contradicts itself; then
/// no folder is left behind.
[[nodiscard]] Result<std::unique_ptr<Project>>
createProject(const std::filesystem::path& folder, const std::string& name, const Setup& setup, const WhoAndWhen& who);

/// Brings the disciplines, groups of people and what was agreed of a project to what is wanted, as one step.
/// Disciplines stay, under another name where the one of this id has another; federations, test sheets and
/// specifications are left as they are.
[[nodiscard]] Result<void> changeSetup(Project& project, const Setup& wanted, const WhoAndWhen& who);

} // namespace wendrix::project
