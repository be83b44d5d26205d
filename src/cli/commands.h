#pragma once

#include <optional>
#include <string>

/// The calls of wendrix-cli: words in, JSON on standard output, an exit code of the contract back.
namespace wendrix::cli {

enum ExitCode : int { kDone = 0, kDoesNotHold = 1, kCallIsOff = 2, kUnreadable = 3, kUnwritable = 4, kInternal = 5 };

struct ClashCall {
    std::string left;
    std::optional<std::string> right;
    std::string kind = "hard";
    double toleranceMetres = 0.001;
    std::string project;             ///< a project folder instead of files
    std::optional<std::string> test; ///< of the project; all of them if not given
};

[[nodiscard]] int inspect(const std::string& file, bool withGeometry);
/// What one element says; kDoesNotHold where the file has no element with this GlobalId.
int inspectProperties(const std::string& file, const std::string& guid);
[[nodiscard]] int mesh(const std::string& file, const std::string& objFile);
[[nodiscard]] int align(const std::string& reference, const std::string& moving, const std::string& method);
[[nodiscard]] int clash(const ClashCall& call);
[[nodiscard]] int compare(const std::string& before, const std::string& after, double toleranceMetres);
[[nodiscard]] int bcfList(const std::string& file);
[[nodiscard]] int bcfCheck(const std::string& file);

} // namespace wendrix::cli
