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
    double jointMetres = 0;
    double clearanceMetres = 0;
    std::string direction = "any";
    std::optional<std::string> ignored; ///< names of rules with commas between, or "none"; all where not given
    bool withVolumes = false;
    std::optional<std::string> leftFilter, rightFilter; ///< lines that pick elements
    std::optional<std::string> failOn, junit;           ///< a rule that fails a build; a report for its server
    std::string project;                                ///< a project folder instead of files
    std::optional<std::string> test;                    ///< of the project; all of them if not given
};

struct RunCall {
    std::string project;
    std::string takeIn = "right"; ///< what of that waits: what stands right, all or none
    std::string person = "wendrix-cli";
    std::optional<std::string> failOn, junit; ///< as of a ClashCall
};

struct AlignCall {
    std::string reference, moving;
    std::string method;                ///< georeference, grids, pattern, storeys, points or values; or
    bool isDiagnosis = false;          ///< why it does not stand right
    std::optional<std::string> points; ///< a file of pairs
    std::optional<std::string> values; ///< "TX,TY,TZ,DEGREES,SCALE"
    bool isScaleFree = false;
    std::optional<std::string> target;   ///< the corrected file to write
    std::optional<std::string> previous; ///< for a diagnosis: the revision before
};

[[nodiscard]] int inspect(const std::string& file, bool withGeometry);
/// What one element says; kDoesNotHold where the file has no element with this GlobalId.
int inspectProperties(const std::string& file, const std::string& guid);
[[nodiscard]] int mesh(const std::string& file, const std::string& objFile);
[[nodiscard]] int align(const AlignCall& call);
[[nodiscard]] int clash(const ClashCall& call);
/// Takes in what waits, runs the tests, keeps the run and reports it: what a build server does with a project.
[[nodiscard]] int run(const RunCall& call);
[[nodiscard]] int compare(const std::string& before, const std::string& after, double toleranceMetres);
[[nodiscard]] int bcfList(const std::string& file);
[[nodiscard]] int bcfCheck(const std::string& file);
[[nodiscard]] int bcfConvert(const std::string& in, const std::string& out, const std::string& version);
/// @param base  empty where nobody knows what both came from
[[nodiscard]] int bcfMerge(const std::string& ours, const std::string& theirs, const std::string& base,
                           const std::string& out);

} // namespace wendrix::cli
