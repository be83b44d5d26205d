#include "core/bcf/convert.h"

#include "core/bcf/writer.h"

#include "core/base/temporary.h"
#include "core/base/text.h"

#include <algorithm>
#include <optional>

namespace wendrix::bcf {

namespace {

const Telling kSilently = [](Severity, const std::string&) {};

std::string textOfNode(pugi::xml_node node)
{
    struct Text : pugi::xml_writer {
        std::string bytes;
        void write(const void* data, std::size_t size) override { bytes.append(static_cast<const char*>(data), size); }
    } out;
    node.print(out, "", pugi::format_raw);
    return std::move(out.bytes);
}

bool isKnown(pugi::xml_node node, Order order)
{
    return std::any_of(order.begin(), order.end(),
                       [&](const char* name) { return node.name() == std::string_view(name); });
}

/// Children and attributes outside the standard that `to` does not have.
void carryUnknown(pugi::xml_node from, pugi::xml_node to, Order order)
{
    for (const pugi::xml_attribute a : from.attributes())
        if (!to.attribute(a.name()) && std::string_view(a.name()).find(':') == std::string_view::npos)
            to.append_attribute(a.name()) = a.value();
    for (const pugi::xml_node child : from.children()) {
        if (child.type() != pugi::node_element || isKnown(child, order))
            continue;
        const std::string text = textOfNode(child);
        const auto same = [&](pugi::xml_node n) { return textOfNode(n) == text; };
        if (std::none_of(to.begin(), to.end(), same))
            to.append_copy(child);
    }
}

std::string bytesOf(const Blob& blob) { return orNothing(blob.read()); }

void tellFaults(const File& file, const Mapped& tell)
{
    if (tell)
        for (const Diagnostic& d : file.diagnostics())
            if (d.severity == Severity::Error)
                tell(d.entity, d.message);
}

/// A file in the wanted version: itself, or a converted copy that is removed with it.
struct InVersion {
    std::optional<Temporary> temporary;
    std::unique_ptr<File> file; // goes before what it has open

    InVersion() = default;
};

Result<void> openIn(InVersion& opened, const std::filesystem::path& path, Version version,
                    const std::filesystem::path& beside, const Mapped& tell)
{
    auto file = File::open(path);
    if (!file)
        return fail(file.error());
    opened.file = std::move(*file);
    if (opened.file->version() == version)
        return {};
    auto temporary = Temporary::fileBeside(beside);
    if (!temporary)
        return fail(temporary.error());
    opened.temporary.emplace(std::move(*temporary));
    if (auto done = convert(*opened.file, version, opened.temporary->path(), tell); !done)
        return done;
    auto again = File::open(opened.temporary->path());
    if (!again)
        return fail(again.error());
    opened.file = std::move(*again);
    return {};
}

} // namespace

Result<void> convert(File& file, Version to, const std::filesystem::path& out, const Mapped& tell)
{
    Writer writer(to, tell);
    writer.goOnFrom(file);
    for (std::size_t i = 0; i < file.topicCount(); ++i)
        if (const auto topic = file.topic(i))
            writer.add(*topic);
    tellFaults(file, tell);
    return writer.write(out);
}

void carryOver(Topic& topic, const Topic& other)
{
    auto mine = parsed(topic.markup), theirs = parsed(other.markup);
    if (mine && theirs) {
        bringMarkup(**mine, topic.version, topic.folder, kSilently);
        bringMarkup(**theirs, other.version, other.folder, kSilently);
        if (topic.version != other.version)
            bringMarkup(**theirs, topic.version, other.folder, kSilently);
        const pugi::xml_node from = (*theirs)->child("Markup"), to = (*mine)->child("Markup");
        carryUnknown(from, to, order::markup(topic.version));
        pugi::xml_node theirTopic = from.child("Topic");
        theirTopic.remove_attribute("ServerAssignedId"); // a field like any other, not for this
        theirTopic.remove_attribute("TopicType");
        theirTopic.remove_attribute("TopicStatus");
        carryUnknown(theirTopic, to.child("Topic"), order::topic(topic.version));
        topic.markup = written(**mine, Layout::AsItCame);
    }
    std::map<std::string, std::string> renamed;
    for (const auto& [name, blob] : other.files) {
        const auto there = topic.files.find(name);
        if (there == topic.files.end()) {
            topic.files.emplace(name, blob);
        } else if (there->second.size != blob.size || bytesOf(there->second) != bytesOf(blob)) {
            std::string apart = name;
            for (int n = 2; topic.files.contains(apart); ++n)
                apart = std::to_string(n) + "-" + name;
            topic.files.emplace(apart, blob);
            renamed[name] = apart;
        }
    }
    for (const auto& [uuid, text] : other.views) {
        if (topic.views.contains(uuid))
            continue;
        auto xml = parsed(text);
        if (!xml)
            continue;
        bringViewpoint(**xml, other.version, kSilently);
        if (topic.version != other.version)
            bringViewpoint(**xml, topic.version, kSilently);
        const pugi::xml_node info = (*xml)->child("VisualizationInfo");
        for (const auto bitmap : (topic.version == Version::V30 ? info.child("Bitmaps") : info).children("Bitmap"))
            if (const auto apart = renamed.find(textOf(bitmap.child("Reference"))); apart != renamed.end())
                setText(bitmap.child("Reference"), apart->second);
        topic.views[uuid] = written(**xml, Layout::AsItCame);
    }
    for (const auto& [uuid, picture] : other.pictures)
        topic.pictures.try_emplace(uuid, picture);
    for (const auto& [target, document] : other.documents)
        topic.documents.try_emplace(target, document);
}

Result<FileMerge> mergeFiles(const std::filesystem::path& ours, const std::filesystem::path& theirs,
                             const std::filesystem::path& base, const std::filesystem::path& out, const Mapped& tell)
{
    auto mine = File::open(ours);
    if (!mine)
        return fail(mine.error());
    InVersion other, former;
    if (auto done = openIn(other, theirs, (*mine)->version(), out, tell); !done)
        return fail(done.error());
    if (!base.empty())
        if (auto done = openIn(former, base, (*mine)->version(), out, {}); !done)
            return fail(done.error());
    FileMerge merge;
    Writer writer((*mine)->version(), tell);
    writer.goOnFrom(**mine);
    for (std::size_t i = 0; i < (*mine)->topicCount(); ++i) {
        auto topic = (*mine)->topic(i);
        if (!topic)
            continue;
        const issues::Issue asRead = topic->issue;
        const auto at = other.file->find(asRead.uuid);
        const auto their = at ? other.file->topic(*at) : Result<Topic>(tl::unexpected<Error>(Error{kBrokenTopic, ""}));
        if (!their) {
            writer.add(*topic);
            continue;
        }
        std::optional<issues::Issue> from;
        if (former.file)
            if (const auto there = former.file->find(asRead.uuid))
                if (auto was = former.file->topic(*there))
                    from = std::move(was->issue);
        issues::Merge joined = issues::merged(asRead, their->issue, from ? &*from : nullptr);
        for (const issues::Difference& d : joined.differences) {
            if (d.verdict == issues::Difference::Verdict::Conflict)
                merge.conflicts.push_back({asRead.uuid, d});
            if (d.verdict == issues::Difference::Verdict::Theirs && d.field == "Viewpoint") {
                topic->views.erase(d.of);
                topic->pictures.erase(d.of); // the picture is of the view
            }
        }
        if (joined.tookTheirs())
            merge.joined.push_back(asRead.uuid);
        topic->issue = std::move(joined.issue);
        carryOver(*topic, *their);
        writer.add(*topic, asRead);
    }
    for (std::size_t i = 0; i < other.file->topicCount(); ++i)
        if (const std::string& uuid = other.file->uuids()[i]; !uuid.empty() && !(*mine)->find(uuid))
            if (const auto topic = other.file->topic(i)) {
                merge.added.push_back(uuid);
                writer.add(*topic);
            }
    writer.addRest(*other.file);
    tellFaults(**mine, tell);
    tellFaults(*other.file, tell);
    if (auto done = writer.write(out); !done)
        return fail(done.error());
    return merge;
}

} // namespace wendrix::bcf
