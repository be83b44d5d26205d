#pragma once

#include "core/bcf/file.h"
#include "core/issues/merge.h"

#include <filesystem>
#include <functional>

/// Whole BCF files written from others.
namespace wendrix::bcf {

using Mapped = std::function<void(const std::string& entry, const std::string& what)>;

/// Writes a file's topics in a version; to the one it has, nothing is lost.
/// @param tell  of what the version can not say, and of what could not be read
[[nodiscard]] Result<void> convert(File& file, Version to, const std::filesystem::path& out, const Mapped& tell);

/// What came of merging two files.
struct FileMerge {
    std::vector<std::string> added;  ///< uuids of topics only they had
    std::vector<std::string> joined; ///< of those that took something of theirs
    struct Conflict {
        std::string topic; ///< uuid
        issues::Difference difference;
    };
    std::vector<Conflict> conflicts;
};
/// Brings two files together over what both came from, in the version of ours. Nothing of either side is left out but
/// what the other one changed; conflicts keep ours.
/// @param base  empty where nobody knows it
[[nodiscard]] Result<FileMerge> mergeFiles(const std::filesystem::path& ours, const std::filesystem::path& theirs,
                                           const std::filesystem::path& base, const std::filesystem::path& out,
                                           const Mapped& tell);

/// Gives a topic what another version of it has and it lacks, beside what the model of an issue holds: elements and
/// attributes that nobody here knows, files, the XML of viewpoints and their pictures. Files of one name that differ
/// are kept apart.
void carryOver(Topic& topic, const Topic& other);

} // namespace wendrix::bcf
