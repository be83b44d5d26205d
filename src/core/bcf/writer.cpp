#include "core/bcf/writer.h"

#include "core/bcf/picture.h"

#include "core/base/guid.h"
#include "core/base/text.h"

#include <algorithm>

namespace wendrix::bcf {

namespace {

const Telling kSilently = [](Severity, const std::string&) {};

Layout layoutOf(const std::string& asItCame) { return asItCame.empty() ? Layout::Made : Layout::AsItCame; }

Xml asItCame(const std::string& text, const char* root)
{
    auto read = text.empty() ? tl::unexpected<std::string>("") : parsed(text);
    return read ? std::move(*read) : emptyXml(root);
}

std::string fileNameOf(const std::string& entry) { return entry.substr(entry.find_last_of('/') + 1); }

bool isDocumentEntry(const std::string& entry)
{
    return entry.starts_with("Documents/") && isUuid(entry.substr(10)) &&
           entry.substr(10) == lowerCase(entry.substr(10));
}

std::string safeName(const std::string& name)
{
    std::string safe = fileNameOf(cleaned(name));
    std::replace_if(
        safe.begin(), safe.end(), [](char c) { return static_cast<unsigned char>(c) < 32 || c == '\\' || c == ':'; },
        '_');
    return isPlainName(safe) ? safe : "document";
}

/// Whether a viewpoint has anything that its file would hold.
bool saysAnything(const issues::Viewpoint& v)
{
    issues::Viewpoint empty;
    empty.uuid = v.uuid;
    empty.frame = v.frame;
    empty.index = v.index;
    empty.snapshot = v.snapshot;
    empty.saysVisibility = v.saysVisibility;
    return !(v == empty);
}

} // namespace

Writer::Writer(Version version, std::function<void(const std::string&, const std::string&)> tell)
    : version_(version), tell_(std::move(tell)),
      extensionsEntry_(version == Version::V30 ? "extensions.xml" : "extensions.xsd")
{
}

Telling Writer::telling(const std::string& entry) const
{
    return [this, entry](Severity, const std::string& what) {
        if (tell_)
            tell_(entry, what);
    };
}

void Writer::setProject(const std::string& id, const std::string& name)
{
    projectId_ = id;
    projectName_ = name;
}

void Writer::goOnFrom(const File& file)
{
    setProject(file.projectId(), file.projectName());
    extensions_ = file.extensions();
    documents_ = file.documents();
    rest_ = file.rest();
    const bool isSame = file.version() == version_;
    if (isSame) {
        versionXml_ = file.root("bcf.version");
        projectXml_ = file.root("project.bcfp");
        extensionsEntry_ = file.extensionsEntry();
        extensionsXml_ = file.root(extensionsEntry_);
        documentsXml_ = file.root("documents.xml");
    } else if (version_ == Version::V30 && file.archive()->find("project.bcfp") != nullptr) {
        telling("project.bcfp")(Severity::Note, "BCF 3.0 has no ExtensionSchema; the lists are in extensions.xml.");
    }
    if (isSame)
        return;
    // What refers to a document says where it goes; those nobody refers to go with the rest.
    for (const auto& [uuid, d] : documents_)
        if (version_ == Version::V21 && !d.entry.empty())
            (void)entryFor({"", false, "Documents/" + uuid, d.name, {}, {}});
    for (const auto& [target, entry] : documentEntries_)
        if (const auto found = rest_.find(target); found != rest_.end() && target != entry) {
            rest_.emplace(entry, found->second);
            rest_.erase(target);
        }
}

void Writer::addRest(const File& file)
{
    for (const auto& [uuid, d] : file.documents())
        documents_.try_emplace(uuid, d);
    for (const auto& [name, blob] : file.rest())
        rest_.try_emplace(name, blob);
    // A list that is empty limits nothing, and stays so.
    for (const ExtensionList& list : extensionLists()) {
        auto& mine = extensions_.*list.values;
        const auto& theirs = file.extensions().*list.values;
        for (const std::string& value : theirs)
            if (!mine.empty() && std::find(mine.begin(), mine.end(), value) == mine.end())
                mine.push_back(value);
    }
}

void Writer::note(const issues::Issue& issue)
{
    const auto use = [](std::vector<std::string>& list, const std::string& value) {
        if (!isBlank(value) && std::find(list.begin(), list.end(), value) == list.end())
            list.push_back(value);
    };
    use(used_.types, issue.type);
    use(used_.statuses, issue.status);
    use(used_.priorities, issue.priority);
    use(used_.stages, issue.stage);
    for (const std::string& label : issue.labels)
        use(used_.labels, label);
    if (issue.snippet)
        use(used_.snippetTypes, issue.snippet->type);
    for (const std::string* user : {&issue.assignee, &issue.createdBy, &issue.modifiedBy})
        use(used_.users, *user);
    for (const issues::Comment& c : issue.comments) {
        use(used_.users, c.author);
        use(used_.users, c.modifiedBy);
    }
}

std::string Writer::entryFor(const issues::DocumentReference& d)
{
    if (const auto known = documentEntries_.find(d.target); known != documentEntries_.end())
        return known->second;
    std::string entry = d.target;
    if (version_ == Version::V30) {
        const std::string uuid = isDocumentEntry(d.target) ? d.target.substr(10) : uuidFromText("document|" + d.target);
        entry = "Documents/" + uuid;
        documents_.try_emplace(uuid, InsideDocument{uuid, d.name.empty() ? fileNameOf(d.target) : d.name, "", entry});
    } else if (isDocumentEntry(d.target)) {
        const std::string name = safeName(d.name);
        const auto isTaken = [&](const std::string& n) {
            return rest_.contains(n) ||
                   std::any_of(documentEntries_.begin(), documentEntries_.end(),
                               [&](const auto& other) { return lowerCase(other.second) == lowerCase(n); });
        };
        entry = name;
        const std::size_t dot = std::min(name.find_last_of('.'), name.size());
        for (int n = 2; isTaken(entry); ++n)
            entry = name.substr(0, dot) + "-" + std::to_string(n) + name.substr(dot);
    }
    documentEntries_.emplace(d.target, entry);
    return entry;
}

void Writer::add(const Topic& topic, const issues::Issue& asRead)
{
    const issues::Issue& issue = topic.issue;
    const std::string folder = lowerCase(issue.uuid), entry = folder + "/markup.bcf";
    const bool isMade = topic.markup.empty(), isConverted = !isMade && topic.version != version_;
    note(issue);
    std::map<std::string, std::string> entries;
    for (const issues::DocumentReference& d : issue.documents)
        if (!d.isExternal)
            entries.emplace(d.target, entryFor(d));
    Xml xml;
    if (!isMade)
        if (auto read = parsed(topic.markup))
            xml = std::move(*read);
    const bool isFresh = !xml;
    if (isFresh) {
        xml = emptyXml("Markup");
        xml->child("Markup").append_child("Topic");
    } else {
        bringMarkup(*xml, topic.version, topic.folder, kSilently);
    }
    std::map<std::string, Blob> files = topic.files;
    if (isConverted) {
        bringMarkup(*xml, version_, topic.folder, kSilently);
        // Targets are written anew: each version names them its own way.
        ItemList list(*xml, ItemList::Kind::Documents, version_);
        auto nodes = list.items();
        for (std::size_t i = 0; i < nodes.size() && i < asRead.documents.size(); ++i) {
            issues::DocumentReference d = asRead.documents[i];
            for (const char* name : {"ReferencedDocument", "DocumentGuid", "Url"})
                nodes[i].remove_child(name);
            for (const char* name : {"isExternal", "IsExternal"})
                nodes[i].remove_attribute(name);
            if (isBlank(d.target) || (!d.isExternal && !topic.documents.contains(d.target))) {
                telling(entry)(Severity::Warning, "A document reference that names nothing in the archive is lost" +
                                                      (d.description.empty() ? "." : ": " + d.description));
                list.remove(nodes[i]);
                continue;
            }
            const std::string inside = d.isExternal ? std::string() : entryFor(d);
            entries.try_emplace(d.target, inside);
            if (version_ == Version::V21) {
                setAttribute(nodes[i], "isExternal", d.isExternal ? "true" : "false");
                setChild(nodes[i], "ReferencedDocument", d.isExternal ? d.target : "../" + inside,
                         order::document(version_));
                if (const auto known = documents_.find(
                        d.isExternal ? "" : d.target.substr(std::min<std::size_t>(10, d.target.size())));
                    known != documents_.end() && !nodes[i].child("Description"))
                    setChild(nodes[i], "Description", known->second.description, order::document(version_));
            } else {
                if (d.uuid.empty())
                    setAttribute(nodes[i], "Guid", uuidFromText(issue.uuid + "|" + d.target));
                setChild(nodes[i], d.isExternal ? "Url" : "DocumentGuid", d.isExternal ? d.target : inside.substr(10),
                         order::document(version_));
                if (isBlank(textOf(nodes[i].child("Description"))))
                    nodes[i].remove_child("Description");
                if (!d.isExternal && d.target.starts_with(topic.folder + "/"))
                    files.erase(d.target.substr(topic.folder.size() + 1));
            }
        }
    }
    layOver(*xml, version_, isFresh ? issueOf(*xml, version_, kSilently) : asRead, issue, entries);
    if (isMade || isConverted || isFresh) {
        convertMarkup(*xml, version_, isMade ? kSilently : telling(entry));
        note(issueOf(*xml, version_, kSilently)); // what it asked for is in use, too
    }
    addViewpoints(topic, asRead, *xml, folder);
    for (const auto& [target, inside] : entries)
        if (const auto blob = topic.documents.find(target); blob != topic.documents.end()) {
            // In the topic's own folder it comes with its files.
            if (inside == target && !topic.folder.empty() && target.starts_with(topic.folder + "/"))
                continue;
            rest_.erase(target);
            archive_.add(inside, blob->second);
        }
    for (const auto& [name, blob] : files)
        archive_.add(folder + "/" + name, blob);
    used_.labels.erase(std::remove_if(used_.labels.begin(), used_.labels.end(), isBlank), used_.labels.end());
    archive_.add(entry, written(*xml, isFresh ? Layout::Made : Layout::AsItCame));
}

void Writer::addViewpoints(const Topic& topic, const issues::Issue& asRead, pugi::xml_document& markup,
                           const std::string& folder)
{
    std::set<std::string> taken{"markup.bcf"};
    for (const auto& [name, blob] : topic.files)
        taken.insert(lowerCase(name));
    const auto free = [&](const std::string& wanted, const std::string& otherwise) {
        const std::string name = isPlainName(wanted) && !taken.contains(lowerCase(wanted)) ? wanted : otherwise;
        taken.insert(lowerCase(name));
        return name;
    };
    for (const pugi::xml_node node : ItemList(markup, ItemList::Kind::Viewpoints, version_).items()) {
        const std::string uuid = node.attribute("Guid").value();
        const auto viewpoint = std::find_if(topic.issue.viewpoints.begin(), topic.issue.viewpoints.end(),
                                            [&](const issues::Viewpoint& v) { return v.uuid == uuid; });
        if (viewpoint == topic.issue.viewpoints.end())
            continue;
        const ViewFiles names = filesOf(node);
        std::optional<Blob> picture;
        if (!viewpoint->snapshot.empty())
            picture = Blob::of(viewpoint->snapshot);
        else if (const auto kept = topic.pictures.find(uuid); kept != topic.pictures.end())
            picture = kept->second;
        const auto pictureBytes = [&]() -> std::string { return picture ? orNothing(picture->read()) : std::string(); };
        Xml xml;
        const auto raw = topic.views.find(uuid);
        const std::string file = free(names.viewpoint, uuid + ".bcfv");
        const Telling tell = telling(folder + "/" + file);
        if (raw != topic.views.end())
            if (auto read = parsed(raw->second)) {
                xml = std::move(*read);
                bringViewpoint(*xml, topic.version, kSilently);
                if (topic.version != version_) {
                    bringViewpoint(*xml, version_, kSilently);
                    convertViewpoint(*xml, version_, version_ == Version::V30 ? pictureBytes() : std::string(), tell);
                }
            }
        // One that came as a picture alone stays one.
        const bool isNew =
            topic.markup.empty() || std::none_of(asRead.viewpoints.begin(), asRead.viewpoints.end(),
                                                 [&](const issues::Viewpoint& v) { return v.uuid == uuid; });
        // And one that came without its file gets no view that nobody gave.
        if (!xml && (isNew || saysAnything(*viewpoint)))
            xml = viewpointXml(*viewpoint, version_, tell);
        if (xml) {
            setAttribute(xml->child("VisualizationInfo"), "Guid", uuid);
            archive_.add(folder + "/" + file,
                         written(*xml, raw != topic.views.end() ? Layout::AsItCame : Layout::Made));
        }
        if (xml || raw != topic.views.end() || picture)
            setChild(node, "Viewpoint", xml ? file : std::string(), order::view());
        if (picture && names.snapshot.empty()) {
            const std::string bytes = pictureBytes();
            const std::string_view kind = factsOf(bytes, false).kind;
            const std::string name = free("", uuid + (kind == "jpg" ? ".jpg" : ".png"));
            setChild(node, "Snapshot", name, order::view());
            archive_.add(folder + "/" + name, std::move(*picture));
        } else if (picture) {
            const std::string name = free(
                names.snapshot, uuid + fileNameOf(names.snapshot)
                                           .substr(std::min(names.snapshot.find_last_of('.'), names.snapshot.size())));
            setChild(node, "Snapshot", name, order::view());
            archive_.add(folder + "/" + name, std::move(*picture));
        } else {
            setChild(node, "Snapshot", "", order::view());
        }
    }
}

void Writer::finishProject()
{
    const bool isOld = version_ == Version::V21;
    const char* rootName = isOld ? "ProjectExtension" : "ProjectInfo";
    Xml xml = asItCame(projectXml_, rootName);
    pugi::xml_node root = xml->document_element();
    root.set_name(rootName);
    static constexpr const char *kOrder[] = {"Project", "ExtensionSchema"}, *kProject[] = {"Name"};
    if (!isBlank(projectId_) || !isBlank(projectName_)) {
        pugi::xml_node project = childOrNew(root, "Project", kOrder);
        if (isBlank(project.attribute("ProjectId").value()))
            setAttribute(project, "ProjectId",
                         isBlank(projectId_) ? uuidFromText("project|" + projectName_) : projectId_);
        if (!isBlank(projectName_))
            setChild(project, "Name", projectName_, kProject);
    }
    if (isOld) {
        const bool hasLists = archive_.has(extensionsEntry_);
        pugi::xml_node schema = childOrNew(root, "ExtensionSchema", kOrder);
        if (hasLists && textOf(schema) != extensionsEntry_)
            setText(schema, extensionsEntry_);
    } else if (!root.child("Project")) {
        return; // 3.0 has no use for one without a project
    }
    archive_.add("project.bcfp", written(*xml, layoutOf(projectXml_)));
}

void Writer::finishExtensions()
{
    const bool isNew = extensionsXml_.empty();
    if (isNew && version_ == Version::V21 && extensions_.isEmpty())
        return;
    Extensions all = extensions_;
    if (isNew && version_ == Version::V30 && all.isEmpty())
        all = used_;
    allow(all, used_);
    Xml xml = isNew ? emptyExtensions(version_) : asItCame(extensionsXml_, "Extensions");
    layExtensions(*xml, version_, all);
    archive_.add(extensionsEntry_, written(*xml, layoutOf(extensionsXml_)));
}

void Writer::finishDocuments()
{
    if (version_ == Version::V21 || (documents_.empty() && documentsXml_.empty()))
        return;
    Xml xml = asItCame(documentsXml_, "DocumentInfo");
    static constexpr const char *kRoot[] = {"Documents"}, *kDocument[] = {"Filename", "Description"};
    pugi::xml_node list = childOrNew(xml->child("DocumentInfo"), "Documents", kRoot);
    std::set<std::string> there;
    for (pugi::xml_node n : list.children("Document")) {
        const std::string uuid = lowerCase(n.attribute("Guid").value());
        setAttribute(n, "Guid", uuid);
        there.insert(uuid);
    }
    for (const auto& [uuid, d] : documents_) {
        if (there.contains(uuid))
            continue;
        pugi::xml_node node = list.append_child("Document");
        setAttribute(node, "Guid", uuid);
        setChild(node, "Filename", isBlank(d.name) ? uuid : d.name, kDocument);
        setChild(node, "Description", isBlank(d.description) ? "" : d.description, kDocument);
    }
    archive_.add("documents.xml", written(*xml, layoutOf(documentsXml_)));
}

void Writer::finish()
{
    if (std::exchange(isFinished_, true))
        return;
    Xml version = asItCame(versionXml_, "Version");
    if (versionXml_.empty() && version_ == Version::V21)
        setText(version->child("Version").append_child("DetailedVersion"), "2.1");
    setAttribute(version->document_element(), "VersionId", nameOf(version_));
    archive_.add("bcf.version", written(*version, layoutOf(versionXml_)));
    finishExtensions();
    finishProject();
    finishDocuments();
    for (const auto& [name, blob] : rest_)
        archive_.add(name, blob);
}

Result<void> Writer::write(const std::filesystem::path& path)
{
    finish();
    return archive_.write(path);
}

Result<std::string> Writer::bytes()
{
    finish();
    return archive_.bytes();
}

} // namespace wendrix::bcf
