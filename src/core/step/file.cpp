#include "core/step/file.h"

#include "core/step/parse.h"
#include "core/step/scanner.h"
#include "core/step/unzip.h"

namespace wendrix::step {

Result<File> File::open(const std::filesystem::path& path, Progress& progress)
{
    auto mapped = MappedFile::open(path);
    if (!mapped)
        return fail(mapped.error());
    std::string_view bytes = (*mapped)->bytes();
    std::shared_ptr<const void> owner = *mapped;
    if (bytes.starts_with("PK")) {
        auto unpacked = unzipModel(bytes, path.string(), progress);
        if (!unpacked)
            return fail(unpacked.error());
        bytes = **unpacked;
        owner = *unpacked;
    }
    auto file = index(bytes, path.string(), progress);
    if (file)
        file->owner_ = std::move(owner);
    return file;
}

Result<File> File::index(std::string_view bytes, const std::string& name, Progress& progress)
{
    auto found = scan(bytes, name, progress);
    if (!found)
        return fail(found.error());
    File file;
    file.bytes_ = bytes;
    file.name_ = name;
    file.header_ = std::move(found->header);
    file.index_ = std::move(found->index);
    file.diagnostics_ = std::move(found->diagnostics);
    return file;
}

Instance File::read(const Entry& entry, Diagnostic* problem) const
{
    std::string why;
    Instance instance = parseArguments(argumentsOf(entry), why);
    if (instance.nodes.empty() && problem != nullptr)
        *problem = {Severity::Error, "step.arguments", "#" + std::to_string(entry.id()),
                    "The arguments at byte " + std::to_string(entry.offset()) + " can not be read: " + why + "."};
    return instance;
}

} // namespace wendrix::step
