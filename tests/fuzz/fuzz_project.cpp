#include "core/base/file.h"
#include "core/project/project.h"

#include <cstdint>
#include <cstring>
#include <filesystem>
#include <fstream>

/// Bytes laid over a sound project's database, by place and length: opened, read whole, undone, written to. What begins
/// with a brace is a file of steps beside the sound database, and brought in.
namespace {

using namespace wendrix;
namespace fs = std::filesystem;

struct Sound {
    Sound()
    {
        std::string name = (fs::temp_directory_path() / "wendrix-fuzz-XXXXXX").string();
        folder = ::mkdtemp(name.data());
        const WhoAndWhen who{"Ines Varga", "2026-11-18T09:00:00Z"};
        {
            auto made = project::Project::create(folder / "made", "Fuzz", who).value();
            (void)made->setup().addDiscipline({.name = "Architecture"}, who);
            (void)made->setup().addDiscipline({.name = "Structure"}, who);
        }
        database = readFileWhole(folder / "made" / "project.sqlite").value();
        for (const char* part : {"deliveries", "cache", "pictures"})
            fs::create_directories(folder / "p" / part);
    }
    ~Sound()
    {
        std::error_code ignored;
        fs::remove_all(folder, ignored);
    }
    fs::path folder;
    std::string database;
};

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    static const Sound sound;
    std::string bytes = sound.database;
    const bool isSteps = size > 0 && data[0] == '{';
    for (std::size_t at = 0; !isSteps && at + 4 < size;) { // where, how much, and what
        std::uint32_t place = 0;
        std::memcpy(&place, data + at, 3);
        const std::size_t length = std::min<std::size_t>(data[at + 3], size - at - 4);
        place %= static_cast<std::uint32_t>(bytes.size());
        std::memcpy(bytes.data() + place, data + at + 4, std::min(length, bytes.size() - place));
        at += 4 + length;
    }
    const fs::path folder = sound.folder / "p";
    std::error_code ignored;
    for (const char* old : {"project.sqlite", "project.sqlite-wal", "project.sqlite-shm"})
        fs::remove(folder / old, ignored);
    std::ofstream(folder / "project.sqlite", std::ios::binary) << bytes;
    fs::remove_all(folder / "backups", ignored);
    if (isSteps) {
        fs::create_directory(folder / "backups");
        std::ofstream(folder / "backups" / "2026-11-18T09-00-00Z steps.jsonl", std::ios::binary)
            << std::string(reinterpret_cast<const char*>(data), size);
    }
    const auto opened = project::Project::open(folder);
    if (!opened)
        return 0;
    project::Project& p = **opened;
    const WhoAndWhen who{"Ines Varga", "2026-11-18T09:10:00Z"};
    if (const auto missing = p.missingSteps())
        (void)p.bringIn(*missing, who);
    (void)p.setup().disciplines();
    (void)p.setup().federations();
    (void)p.deliveries().all();
    (void)p.issues().all();
    (void)p.clashes().all();
    (void)p.clashes().lastRun();
    (void)p.changes().inForce();
    (void)p.log().last(100);
    (void)p.undo(who);
    (void)p.setup().addDiscipline({.name = "Ventilation"}, who);
    return 0;
}
