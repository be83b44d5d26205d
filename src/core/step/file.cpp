#include "core/step/file.h"

#include "core/step/parse.h"
#include "core/step/scanner.h"
#include "core/step/unzip.h"

#include <algorithm>

namespace wendrix::step {

Result<File> File::open(const std::filesystem::path& path, Progress& progress)
{
    auto mapped = MappedFile::open(path);
    return mapped ? open(std::move(*mapped), progress) : fail(mapped.error());
}

Result<File> File::open(std::shared_ptr<const MappedFile> mapped, Progress& progress)
{
    const std::string name = mapped->path().string();
    std::shared_ptr<const std::string> unpacked;
    if (mapped->bytes().starts_with("PK")) {
        auto done = unzipModel(mapped->bytes(), name, progress);
        if (!done)
            return fail(done.error());
        unpacked = *done;
    }
    auto file = index(unpacked ? std::string_view(*unpacked) : mapped->bytes(), name, progress);
    if (!mapped->isWhole())
        return fail({kFileChanged,
                     "Another program shortened the file while it was read. Read it again when it is whole.", name});
    if (file && unpacked)
        file->unpacked_ = std::move(unpacked);
    else if (file)
        file->mapped_ = std::move(mapped);
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

File File::restore(std::shared_ptr<const MappedFile> mapped, BinaryReader& in)
{
    File file;
    file.bytes_ = mapped->bytes();
    file.name_ = mapped->path().string();
    file.mapped_ = std::move(mapped);
    const auto size = in.value<std::uint64_t>();
    file.header_ = {in.text(), in.text(), in.text(), in.text(), in.text(), in.text(), in.text()};
    file.diagnostics_ = in.diagnostics();
    file.index_ = EntityIndex::restore(in);
    const auto all = file.index_.all();
    if (size != file.bytes_.size() ||
        std::any_of(all.begin(), all.end(), [&](const Entry& e) { return e.offset() >= file.bytes_.size(); }))
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
