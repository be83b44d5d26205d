#include "core/bcf/file.h"

#include "core/bcf/picture.h"

#include "core/base/guid.h"
#include "core/base/text.h"

#include <algorithm>

namespace wendrix::bcf {

namespace {

constexpr std::size_t kMostDiagnostics = 10'000;
constexpr std::string_view kMarkup = "/markup.bcf";

std::string folderOf(const Archive::Entry& markup)
{
    return markup.name.substr(0, markup.name.size() - kMarkup.size());
}

} // namespace

Result<std::unique_ptr<File>> File::open(const std::filesystem::path& path)
{
    auto archive = Archive::open(path);
    if (!archive)
        return fail(archive.error());
    auto file = opened(std::move(*archive));
    if (!file) {
        Error why = file.error();
        why.file = path.string();
        return fail(std::move(why));
    }
    return file;
}

Result<std::unique_ptr<File>> File::ofBytes(std::string bytes)
{
    auto archive = Archive::ofBytes(std::move(bytes));
    if (!archive)
        return fail(archive.error());
    return opened(std::move(*archive));
}

Result<std::unique_ptr<File>> File::opened(std::shared_ptr<const Archive> archive)
{
    std::unique_ptr<File> file(new File);
    file->archive_ = std::move(archive);
    for (const Archive::Entry& e : file->archive_->entries())
        if (lowerCase(e.name).ends_with(kMarkup)) {
            file->topics_.push_back(&e);
            ++file->sameNames_[lowerCase(e.name)];
        }
    if (file->topics_.empty() && file->archive_->find("bcf.version") == nullptr)
        return fail({kNotBcf, "The archive holds neither a bcf.version nor a topic, so it is no BCF file."});
    for (const Diagnostic& d : file->archive_->faults())
        file->note(d.severity, d.entity, d.message);
    file->readRoot();
    file->tellFoldersWithoutMarkup();
    return file;
}

void File::tellFoldersWithoutMarkup()
{
    std::set<std::string> folders; // of topics, as what stands in them says
    for (const Archive::Entry& e : archive_->entries())
        if (const std::size_t slash = e.name.find('/'); slash != std::string::npos) {
            const std::string folder = e.name.substr(0, slash), lower = lowerCase(e.name);
            if (isUuid(lowerCase(folder)) || lower.ends_with(".bcfv"))
                folders.insert(folder);
        }
    for (const auto* markup : topics_)
        folders.erase(folderOf(*markup));
    for (const std::string& folder : folders)
        note(Severity::Error, folder + "/markup.bcf", "The entry is missing, so the folder holds no topic.");
}

void File::note(Severity severity, const std::string& entry, const std::string& message)
{
    if (diagnostics_.size() < kMostDiagnostics && told_.insert(entry + "\n" + message).second)
        diagnostics_.push_back({severity, "bcf.entry", entry, message});
}

Telling File::telling(const std::string& entry)
{
    return [this, entry](Severity severity, const std::string& message) { note(severity, entry, message); };
}

Xml File::read(const Archive::Entry& entry, const char* root)
{
    const auto bytes = archive_->read(entry);
    if (!bytes) {
        note(Severity::Error, entry.name, bytes.error().message);
        return {};
    }
    auto xml = parsed(*bytes);
    if (!xml) {
        note(Severity::Error, entry.name, xml.error());
        return {};
    }
    if (root != nullptr && !(*xml)->child(root)) {
        note(Severity::Error, entry.name, std::string("The entry holds no ") + root + ".");
        return {};
    }
    return std::move(*xml);
}

void File::readRoot()
{
    const auto named = [&](const char* entry) { return archive_->find(entry); };
    if (const auto* entry = named("bcf.version")) {
        if (const Xml xml = read(*entry, "Version")) {
            const std::string version = xml->child("Version").attribute("VersionId").value();
            version_ = versionOf(version);
            if (version != nameOf(version_))
                note(Severity::Warning, "bcf.version",
                     "VersionId is \"" + version + "\", neither 2.1 nor 3.0; the file is read as " + nameOf(version_) +
                         ".");
        }
    } else {
        note(Severity::Warning, "bcf.version", "The entry is missing; the file is read as 2.1.");
    }
    extensionsEntry_ = version_ == Version::V30 ? "extensions.xml" : "extensions.xsd";
    if (const auto* entry = named("project.bcfp"))
        if (const Xml xml = read(*entry, nullptr)) {
            const auto project = xml->document_element().child("Project");
            projectId_ = project.attribute("ProjectId").value();
            projectName_ = textOf(project.child("Name"));
            if (const std::string schema = textOf(xml->document_element().child("ExtensionSchema"));
                version_ == Version::V21 && isPlainName(schema))
                extensionsEntry_ = schema;
        }
    if (const auto* entry = named(extensionsEntry_.c_str()))
        if (const Xml xml = read(*entry, nullptr))
            extensions_ = extensionsOf(*xml, version_);
    if (const auto* entry = version_ == Version::V30 ? named("documents.xml") : nullptr)
        if (const Xml xml = read(*entry, "DocumentInfo"))
            for (const auto n : xml->child("DocumentInfo").child("Documents").children("Document")) {
                InsideDocument d{lowerCase(n.attribute("Guid").value()),
                                 textOf(n.child("Filename")),
                                 textOf(n.child("Description")),
                                 {}};
                for (const std::string& name : {"Documents/" + d.uuid, "Documents/" + d.name})
                    if (const auto* file = archive_->find(name); file != nullptr && d.entry.empty())
                        d.entry = file->name;
                if (d.entry.empty())
                    note(Severity::Error, "documents.xml",
                         "The document " + d.uuid + " (" + d.name + ") is not in the archive.");
                if (!documents_.emplace(d.uuid, d).second)
                    note(Severity::Error, "documents.xml",
                         "Two documents share the GUID " + d.uuid + "; the first one counts.");
            }
}

std::string File::root(const std::string& entry) const
{
    const auto* found = archive_->find(entry);
    const auto bytes = found != nullptr ? archive_->read(*found) : Result<std::string>{};
    return bytes && !bytes->empty() && parsed(*bytes) ? *bytes : std::string();
}

std::map<std::string, Blob> File::rest() const
{
    std::set<std::string> folders;
    for (const auto* markup : topics_)
        folders.insert(folderOf(*markup) + "/");
    std::map<std::string, Blob> rest;
    for (const Archive::Entry& e : archive_->entries()) {
        const std::string lower = lowerCase(e.name);
        const bool isOwn = lower == "bcf.version" || lower == "project.bcfp" || lower == lowerCase(extensionsEntry_) ||
                           (version_ == Version::V30 && lower == "documents.xml");
        if (!isOwn && !folders.contains(e.name.substr(0, e.name.find('/') + 1)))
            rest.emplace(e.name, Blob::of(archive_, e));
    }
    return rest;
}

const std::vector<std::string>& File::uuids()
{
    if (!uuids_.empty() || topics_.empty())
        return uuids_;
    std::vector<std::string> given;
    for (const auto* markup : topics_) {
        const Xml xml = read(*markup, "Markup");
        const bool isTopic = xml && xml->child("Markup").child("Topic");
        if (isTopic)
            bringMarkup(*xml, version_, folderOf(*markup), [](Severity, const std::string&) {});
        given.push_back(isTopic ? xml->child("Markup").child("Topic").attribute("Guid").value() : "");
    }
    // Whose folder is called so keeps it, written just so before in capitals; else the first.
    const auto claim = [&](std::size_t i) {
        const std::string folder = folderOf(*topics_[i]);
        return folder == given[i] ? 2 : lowerCase(folder) == given[i] ? 1 : 0;
    };
    for (std::size_t i = 0; i < given.size(); ++i)
        if (!given[i].empty())
            if (const auto [owner, isNew] = owners_.emplace(given[i], i); !isNew && claim(i) > claim(owner->second))
                owner->second = i;
    for (std::size_t i = 0; i < given.size(); ++i) {
        if (!given[i].empty() && owners_.at(given[i]) != i) {
            const std::string former = given[i];
            for (int n = 2; owners_.contains(given[i]); ++n)
                given[i] = uuidFromText(former + "|" + topics_[i]->name + "|" + std::to_string(n));
            owners_.emplace(given[i], i);
            note(Severity::Error, topics_[i]->name,
                 "Two topics share the GUID " + former + "; they are kept apart, and this one was given another.");
        }
    }
    uuids_ = std::move(given);
    return uuids_;
}

std::optional<std::size_t> File::find(const std::string& uuid)
{
    (void)uuids();
    const auto found = owners_.find(uuid);
    return found == owners_.end() ? std::nullopt : std::optional(found->second);
}

std::string File::uuidFor(std::size_t index, const std::string& given)
{
    // A folder called as its topic, and no other one called so, needs no look at the rest.
    const Archive::Entry& markup = *topics_[index];
    const auto* first = archive_->find(markup.name);
    const bool isAlone = uuids_.empty() && lowerCase(folderOf(markup)) == given && first == &markup &&
                         sameNames_.at(lowerCase(markup.name)) == 1;
    return isAlone ? given : uuids()[index];
}

Result<Topic> File::topic(std::size_t index)
{
    const Archive::Entry& entry = *topics_[index];
    const auto broken = [&](const std::string& why) {
        note(Severity::Error, entry.name, why);
        return fail({kBrokenTopic, why, "", entry.name});
    };
    auto bytes = archive_->read(entry);
    if (!bytes)
        return broken(bytes.error().message);
    const auto xml = parsed(*bytes);
    if (!xml)
        return broken(xml.error());
    if (!(*xml)->child("Markup").child("Topic"))
        return broken("The entry holds no Topic.");
    Topic topic;
    topic.version = version_;
    topic.folder = folderOf(entry);
    topic.markup = std::move(*bytes);
    const Telling tell = telling(entry.name);
    bringMarkup(**xml, version_, topic.folder, tell);
    topic.issue = issueOf(**xml, version_, tell);
    topic.issue.uuid = uuidFor(index, topic.issue.uuid);
    if (lowerCase(topic.folder) != topic.issue.uuid)
        tell(Severity::Warning, "The folder is not called as its topic, " + topic.issue.uuid + ".");
    std::set<std::string> used{entry.name};
    const auto views = ItemList(**xml, ItemList::Kind::Viewpoints, version_).items();
    for (std::size_t i = 0; i < views.size(); ++i)
        readViewpoint(topic, views[i], topic.issue.viewpoints[i], used);
    std::stable_sort(topic.issue.viewpoints.begin(), topic.issue.viewpoints.end(),
                     [](const issues::Viewpoint& a, const issues::Viewpoint& b) {
                         return a.index && b.index ? *a.index < *b.index : a.index.has_value() && !b.index;
                     });
    for (const issues::Comment& c : topic.issue.comments)
        if (!c.viewpoint.empty() && std::none_of(topic.issue.viewpoints.begin(), topic.issue.viewpoints.end(),
                                                 [&](const issues::Viewpoint& v) { return v.uuid == c.viewpoint; }))
            tell(Severity::Warning, "The comment " + c.uuid + " refers to the viewpoint " + c.viewpoint +
                                        ", which the topic does not have.");
    readDocuments(topic);
    for (const auto* file : archive_->under(topic.folder))
        if (!used.contains(file->name))
            topic.files.emplace(file->name.substr(topic.folder.size() + 1), Blob::of(archive_, *file));
    return topic;
}

void File::readViewpoint(Topic& topic, pugi::xml_node view, issues::Viewpoint& viewpoint, std::set<std::string>& used)
{
    const ViewFiles names = filesOf(view);
    const auto entry = [&](const std::string& name, const char* what) -> const Archive::Entry* {
        const std::string whole = topic.folder + "/" + name;
        const auto* found = isPlainName(name) ? archive_->find(whole) : nullptr;
        if (found == nullptr)
            note(Severity::Error, whole, std::string("The ") + what + " is missing.");
        else if (found->name != whole)
            note(Severity::Warning, found->name, std::string("The ") + what + " is called " + name + " in the markup.");
        return found;
    };
    if (view.child("Snapshot"))
        if (const auto* picture = entry(names.snapshot, "snapshot")) {
            used.insert(picture->name);
            topic.pictures[viewpoint.uuid] = Blob::of(archive_, *picture);
            topic.pictureEntries[viewpoint.uuid] = picture->name;
        }
    if (!view.child("Viewpoint"))
        return;
    const auto* file = entry(names.viewpoint, "viewpoint");
    if (file == nullptr)
        return;
    used.insert(file->name);
    auto bytes = archive_->read(*file);
    if (!bytes)
        return note(Severity::Error, file->name, bytes.error().message);
    const auto xml = parsed(*bytes);
    if (!xml)
        return note(Severity::Error, file->name, xml.error());
    if (!(*xml)->child("VisualizationInfo"))
        return note(Severity::Error, file->name, "The entry holds no VisualizationInfo.");
    const Telling tell = telling(file->name);
    bringViewpoint(**xml, version_, tell);
    issues::Viewpoint read = viewpointOf(**xml, version_, tell);
    if (read.uuid != viewpoint.uuid)
        tell(Severity::Warning,
             "The GUID " + read.uuid + " is not the one in the markup, " + viewpoint.uuid + ", which counts.");
    read.uuid = viewpoint.uuid;
    read.index = viewpoint.index;
    for (const issues::Bitmap& b : read.bitmaps)
        if (!isPlainName(b.reference) || archive_->find(topic.folder + "/" + b.reference) == nullptr)
            tell(Severity::Warning, "The bitmap " + b.reference + " is missing.");
    viewpoint = std::move(read);
    topic.views[viewpoint.uuid] = std::move(*bytes);
}

void File::readDocuments(Topic& topic)
{
    const std::string entry = topic.folder + std::string(kMarkup);
    for (issues::DocumentReference& d : topic.issue.documents) {
        if (d.isExternal)
            continue;
        const Archive::Entry* found = nullptr;
        if (version_ == Version::V30) {
            if (const auto document = documents_.find(lowerCase(d.target)); document != documents_.end()) {
                d.name = document->second.name;
                found = document->second.entry.empty() ? nullptr : archive_->find(document->second.entry);
                d.target = "Documents/" + document->first;
            }
        } else {
            const std::string inside = entryOf(topic.folder, d.target);
            found = inside.empty() ? nullptr : archive_->find(inside);
            if (found == nullptr && !d.target.empty() && isPlainName(d.target))
                found = archive_->find(d.target);
            if (found != nullptr)
                d.target = found->name;
            d.name = d.target.substr(d.target.find_last_of('/') + 1);
        }
        if (found != nullptr)
            topic.documents.emplace(d.target, Blob::of(archive_, *found));
        else
            note(Severity::Warning, entry, "The document " + d.target + " is not in the archive.");
    }
    if (topic.issue.snippet && !topic.issue.snippet->isExternal)
        if (const std::string inside = entryOf(topic.folder, topic.issue.snippet->reference);
            inside.empty() || archive_->find(inside) == nullptr)
            note(Severity::Warning, entry, "The snippet " + topic.issue.snippet->reference + " is not in the archive.");
}

} // namespace wendrix::bcf
