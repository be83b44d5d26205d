#include "core/project/drop_folders.h"

#include "core/base/text.h"
#include "core/project/proposal.h"

#include <algorithm>
#include <chrono>
#include <fstream>
#include <map>

namespace wendrix::project {

namespace fs = std::filesystem;

namespace {

constexpr std::size_t kMostFiles =
    10'000; // of one folder; a drop folder that is a whole disk must not hold up anything
constexpr std::chrono::seconds kStillWritten(2), kLeftAsItIs(300);

std::string endingOf(const fs::path& file) { return lowerCase(file.extension().string()); }

bool isWhole(const fs::path& file)
{
    std::error_code error;
    const auto changed = fs::last_write_time(file, error);
    const auto rested = fs::file_time_type::clock::now() - changed;
    if (error || rested < kStillWritten)
        return false;
    if (endingOf(file) != ".ifc" ||
        rested > kLeftAsItIs) // nobody writes it any more; reading will say what is wrong with it
        return true;
    // Read, not mapped: who writes it may shorten it.
    std::ifstream in(file, std::ios::binary | std::ios::ate);
    const auto size = static_cast<std::streamoff>(in.tellg());
    const auto piece = [&](std::streamoff from, std::streamoff length) {
        std::string bytes(static_cast<std::size_t>(length), '\0');
        in.seekg(from).read(bytes.data(), length);
        return bytes;
    };
    if (!in || size < 2)
        return false;
    const std::streamoff end = std::min<std::streamoff>(size, 200);
    return piece(0, 2) == "PK" || piece(size - end, end).find("END-ISO-10303-21;") != std::string::npos;
}

struct Group {
    Arrived arrived;
    bool isNew = false;

    void add(const fs::path& file, const SeenFiles& seen)
    {
        (isModelFile(file) ? arrived.models : arrived.documents).push_back(file);
        isNew = isNew || (isModelFile(file) && !seen.contains(seenFile(file)));
    }
};

template <class Take>
void forEachIn(const fs::path& folder, const Take& take)
{
    std::error_code error;
    std::size_t count = 0;
    for (fs::directory_iterator at(folder, fs::directory_options::skip_permission_denied, error), end;
         !error && at != end && count < kMostFiles; at.increment(error), ++count)
        if (!at->is_symlink(error))
            take(*at);
}

} // namespace

bool isModelFile(const fs::path& file) { return endingOf(file) == ".ifc" || endingOf(file) == ".ifczip"; }
bool isDocumentFile(const fs::path& file) { return endingOf(file) == ".pdf"; }

fs::path dropFolderOf(const Discipline& discipline, const fs::path& projectFolder)
{
    const fs::path folder = discipline.dropFolder;
    return folder.empty() || folder.is_absolute() ? folder : projectFolder / folder;
}

SeenFile seenFile(const fs::path& file)
{
    std::error_code error;
    SeenFile seen{file, fs::file_size(file, error), 0};
    const auto time = fs::last_write_time(file, error);
    seen.time = error ? 0 : time.time_since_epoch().count();
    return seen;
}

std::vector<Arrived> findArrived(const std::vector<Discipline>& disciplines, const fs::path& projectFolder,
                                 const SeenFiles& seen)
{
    std::vector<Arrived> all;
    for (const Discipline& d : disciplines) {
        const fs::path folder = dropFolderOf(d, projectFolder);
        if (folder.empty())
            continue;
        std::map<std::string, Group> groups; // by folder, or by revision; what has none stands for itself
        const auto add = [&](const std::string& key, const fs::path& file) {
            if (isModelFile(file) || isDocumentFile(file))
                groups[key].add(file, seen);
        };
        std::error_code error;
        forEachIn(folder, [&](const fs::directory_entry& entry) {
            if (entry.is_directory(error)) {
                forEachIn(entry.path(), [&](const fs::directory_entry& inner) {
                    if (inner.is_regular_file(error))
                        add("folder/" + entry.path().filename().string(), inner.path());
                });
            } else if (entry.is_regular_file(error)) {
                const std::string revision = revisionIn(entry.path().filename().string());
                add(revision.empty() ? "file/" + entry.path().stem().string() : "revision/" + revision, entry.path());
            }
        });
        for (auto& [key, group] : groups) {
            const auto areWhole = [](const std::vector<fs::path>& files) {
                return std::all_of(files.begin(), files.end(), isWhole);
            };
            if (!group.isNew || !areWhole(group.arrived.models) || !areWhole(group.arrived.documents))
                continue;
            group.arrived.discipline = d.name;
            std::sort(group.arrived.models.begin(), group.arrived.models.end());
            std::sort(group.arrived.documents.begin(), group.arrived.documents.end());
            all.push_back(std::move(group.arrived));
        }
    }
    return all;
}

} // namespace wendrix::project
