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

void File::save(BinaryWriter& out) const
{
    out.value(static_cast<std::uint64_t>(bytes_.size()));
    out.text(header_.schema);
    out.text(header_.name);
    out.text(header_.timeStamp);
    out.text(header_.author);
    out.text(header_.organisation);
    out.text(header_.originatingSystem);
    out.text(header_.viewDefinition);
    out.diagnostics(diagnostics_);
    index_.save(out);
}

Result<File> File::restore(const std::filesystem::path& path, BinaryReader& in)
{
    auto mapped = MappedFile::open(path);
    if (!mapped)
        return fail(mapped.error());
    File file;
    file.bytes_ = (*mapped)->bytes();
    file.owner_ = *mapped;
    file.name_ = path.string();
    const auto size = in.value<std::uint64_t>();
    file.header_ = {in.text(), in.text(), in.text(), in.text(), in.text(), in.text(), in.text()};
    file.diagnostics_ = in.diagnostics();
    file.index_ = EntityIndex::restore(in);
    if (size != file.bytes_.size())
        in.fail();
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
