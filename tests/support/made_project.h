#pragma once

#include "core/project/project.h"
#include "core/project/taking_in.h"

#include <filesystem>
#include <string>

/// Projects made up for a test, without models.
namespace wendrix::test {

inline const WhoAndWhen kInes{"Ines Varga", "2026-11-18T09:00:00Z"};
inline const WhoAndWhen kJon{"Jon Alder", "2026-11-19T10:00:00Z"};

/// A project with these disciplines, the first of them the reference.
[[nodiscard]] std::unique_ptr<project::Project> madeProject(const std::filesystem::path& folder,
                                                            const std::vector<std::string>& disciplines);
[[nodiscard]] DisciplineId idOf(const project::Project& project, const std::string& discipline);
/// A delivery whose file is a few bytes that nobody reads. @return its id
project::DeliveryId received(project::Project& project, const std::string& discipline, const std::string& revision,
                             const std::string& time = "2026-10-13T09:00:00Z");

/// A test of one discipline against another, deeper than 5 mm.
[[nodiscard]] project::RunTest testOf(const std::string& left, const std::string& right);

/// A run over disciplines that were all tested against each other, with pairs added by the names of their elements.
class MadeRun {
public:
    explicit MadeRun(const project::Project& project, const std::vector<std::string>& disciplines);
    [[nodiscard]] ElementRef ref(const std::string& discipline, const std::string& guid, std::uint32_t ordinal = 0,
                                 const std::string& part = {}) const;
    MadeRun& pair(const ElementRef& left, const ElementRef& right, double depth = 0.1);
    /// The same, left out as an expected meeting.
    MadeRun& expect(const ElementRef& left, const ElementRef& right);
    project::NewRun run;

private:
    std::uint32_t number(const ElementRef& ref);
    [[nodiscard]] std::uint32_t testOf(const ElementRef& left, const ElementRef& right) const;
    std::map<std::string, DisciplineId> ids_;
    std::map<DisciplineId, std::string> names_;
};

} // namespace wendrix::test
