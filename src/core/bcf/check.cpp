#include "core/bcf/check.h"

#include "core/bcf/extensions.h"
#include "core/bcf/picture.h"
#include "core/bcf/schemas.h"
#include "core/bcf/topic.h"

#include "core/base/number.h"
#include "core/base/text.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace wendrix::bcf {

namespace {

constexpr std::size_t kMostProblems = 10'000;

/// A scheme of an address: "https:".
bool isAddress(std::string_view text)
{
    const std::size_t colon = text.find(':');
    return colon != std::string_view::npos && colon > 1 && std::isalpha(static_cast<unsigned char>(text[0])) != 0 &&
           std::all_of(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(colon), [](char c) {
               return std::isalnum(static_cast<unsigned char>(c)) != 0 || c == '+' || c == '.' || c == '-';
           });
}

class Checker {
public:
    explicit Checker(std::shared_ptr<const Archive> archive) : archive_(std::move(archive)) {}

    Checked run()
    {
        for (const Diagnostic& d : archive_->faults())
            tell(d.entity, d.message);
        if (!readVersion())
            return std::move(checked_);
        readProject();
        if (version_ == Version::V30)
            readDocuments();
        std::set<std::string> folders;
        std::vector<std::string> topics;
        for (const Archive::Entry& e : archive_->entries())
            if (const std::size_t slash = e.name.find('/'); slash != std::string::npos)
                folders.insert(e.name.substr(0, slash));
        for (const std::string& folder : folders) {
            if (archive_->hasExactly(folder + "/markup.bcf"))
                topics.push_back(folder);
            else if (isUuid(folder))
                tell(folder + "/", "The topic's folder holds no markup.bcf.");
        }
        checked_.topics = topics.size();
        std::map<std::string, std::string> seen;
        for (const std::string& folder : topics)
            if (const Xml xml = load(folder + "/markup.bcf", "markup"))
                checkMarkup(folder, *xml, seen);
        for (const Archive::Entry& e : archive_->entries())
            if (!read_.contains(e.number))
                (void)bytesOf(e); // for its size and checksum
        return std::move(checked_);
    }

private:
    void tell(const std::string& entry, const std::string& message)
    {
        if (checked_.problems.size() < kMostProblems && told_.insert(entry + "\n" + message).second)
            checked_.problems.push_back({Severity::Error, "bcf.check", entry, message});
    }

    std::optional<std::string> bytesOf(const Archive::Entry& entry)
    {
        read_.insert(entry.number);
        auto bytes = archive_->read(entry);
        if (bytes)
            return std::move(*bytes);
        tell(entry.name, bytes.error().message);
        return {};
    }

    /// Parsed and held against a schema of the version; `schema` may be null.
    Xml load(const std::string& name, const char* schema)
    {
        const auto* entry = archive_->find(name);
        const auto bytes = entry != nullptr ? bytesOf(*entry) : std::nullopt;
        if (!bytes)
            return {};
        if (cleaned(*bytes) != *bytes && bytes->find('\0') == std::string::npos) {
            tell(name, "The text is not in its encoding, UTF-8.");
            return {};
        }
        auto xml = parsed(*bytes);
        if (!xml) {
            tell(name, xml.error());
            return {};
        }
        if (schema != nullptr)
            for (const std::string& fault : faultsBySchema(version_, schema, *bytes))
                tell(name, fault);
        return std::move(*xml);
    }

    bool readVersion()
    {
        const auto* entry = archive_->find("bcf.version");
        if (entry == nullptr || entry->name != "bcf.version") {
            tell("bcf.version", "There is no bcf.version in the archive's root.");
            return false;
        }
        const auto bytes = bytesOf(*entry);
        const auto xml = bytes ? parsed(*bytes) : tl::unexpected<std::string>("");
        if (!xml) {
            if (bytes)
                tell("bcf.version", xml.error());
            return false;
        }
        checked_.version = (*xml)->child("Version").attribute("VersionId").value();
        if (checked_.version != "2.1" && checked_.version != "3.0") {
            tell("bcf.version", "VersionId is \"" + checked_.version + "\", neither 2.1 nor 3.0.");
            return false;
        }
        version_ = versionOf(checked_.version);
        for (const std::string& fault : faultsBySchema(version_, "version", *bytes))
            tell("bcf.version", fault);
        return true;
    }

    void readProject()
    {
        extensionsEntry_ = version_ == Version::V30 ? "extensions.xml" : "";
        if (archive_->find("project.bcfp") != nullptr)
            if (const Xml xml = load("project.bcfp", "project"); xml && version_ == Version::V21) {
                const std::string schema = textOf(xml->document_element().child("ExtensionSchema"));
                if (!isBlank(schema) && !isAddress(schema)) {
                    if (archive_->hasExactly(schema))
                        extensionsEntry_ = schema;
                    else
                        tell("project.bcfp", "The extension schema " + schema + " is not in the archive.");
                }
            }
        if (version_ == Version::V30 && archive_->find("extensions.xml") == nullptr)
            tell("extensions.xml", "There is no extensions.xml, which BCF 3.0 asks for.");
        else if (!extensionsEntry_.empty())
            if (const Xml xml = load(extensionsEntry_, version_ == Version::V30 ? "extensions" : nullptr)) {
                allowed_ = extensionsOf(*xml, version_);
                if (const std::string_view root = xml->document_element().name();
                    version_ == Version::V21 && !root.ends_with("schema"))
                    tell(extensionsEntry_, "The entry is no XML schema.");
            }
    }

    void readDocuments()
    {
        if (archive_->find("documents.xml") == nullptr)
            return;
        const Xml xml = load("documents.xml", "documents");
        if (!xml)
            return;
        for (const auto n : xml->child("DocumentInfo").child("Documents").children("Document")) {
            const std::string guid = lowerCase(n.attribute("Guid").value()), name = textOf(n.child("Filename"));
            if (!documents_.insert(guid).second)
                tell("documents.xml", "Two documents share the GUID " + guid + ".");
            if (archive_->find("Documents/" + guid) == nullptr && archive_->find("Documents/" + name) == nullptr)
                tell("documents.xml", "The document " + guid + " (" + name + ") is not in the Documents folder.");
        }
    }

    void allow(const std::string& entry, const std::vector<std::string>& list, const std::string& value,
               const char* what)
    {
        if (!value.empty() && !list.empty() && std::find(list.begin(), list.end(), value) == list.end())
            tell(entry, std::string(what) + " '" + value + "' is not listed in " + extensionsEntry_ + ".");
    }

    /// The entry of a plain file name beside the markup, or null.
    const Archive::Entry* beside(const std::string& entry, const std::string& folder, const std::string& name,
                                 const char* what)
    {
        if (name.empty())
            tell(entry, std::string("The ") + what + " has an empty file name.");
        else if (!isPlainName(name))
            tell(entry, std::string("The ") + what + " " + name + " is not a plain file name in the topic's folder.");
        else if (archive_->hasExactly(folder + "/" + name))
            return archive_->find(folder + "/" + name);
        else if (const auto* near = archive_->find(folder + "/" + name))
            tell(entry, std::string("The ") + what + " " + name + " is not in the topic's folder (there is " +
                            near->name.substr(folder.size() + 1) + ").");
        else
            tell(entry, std::string("The ") + what + " " + name + " is not in the topic's folder.");
        return nullptr;
    }

    void inside(const std::string& entry, const std::string& folder, const std::string& reference, const char* what)
    {
        if (isBlank(reference))
            return tell(entry, std::string("The ") + what + " names no file.");
        if (isAddress(reference))
            return tell(entry,
                        std::string("The ") + what + " is marked internal but is an address: " + reference + ".");
        const std::string target = entryOf(folder, reference);
        if (target.empty() || reference.find('\\') != std::string::npos)
            tell(entry, std::string("The ") + what + " " + reference + " leads out of the archive.");
        else if (!archive_->hasExactly(target) && !archive_->hasExactly(reference))
            tell(entry, std::string("The ") + what + " " + reference + " is not in the archive.");
    }

    void checkMarkup(const std::string& folder, pugi::xml_document& xml, std::map<std::string, std::string>& seen)
    {
        const std::string entry = folder + "/markup.bcf";
        const pugi::xml_node markup = xml.child("Markup"), topic = markup.child("Topic");
        if (!topic)
            return; // the schema says so
        const std::string guid = topic.attribute("Guid").value();
        if (!isUuid(folder))
            tell(entry, "The folder's name is no GUID.");
        else if (folder != guid)
            tell(entry, "The folder's name is not the topic's GUID " + guid + ".");
        if (const auto [other, isNew] = seen.emplace(lowerCase(guid), folder); !isNew && !guid.empty())
            tell(entry, "The topic's GUID is also used in " + other->second + "/.");
        const bool isNew = version_ == Version::V30;
        for (const auto file :
             (isNew ? markup.child("Header").child("Files") : markup.child("Header")).children("File"))
            if (!isExternal(file, true))
                inside(entry, folder, textOf(file.child("Reference")), "header file");
        allow(entry, allowed_.types, topic.attribute("TopicType").value(), "TopicType");
        allow(entry, allowed_.statuses, topic.attribute("TopicStatus").value(), "TopicStatus");
        allow(entry, allowed_.priorities, textOf(topic.child("Priority")), "Priority");
        allow(entry, allowed_.stages, textOf(topic.child("Stage")), "Stage");
        allow(entry, allowed_.users, textOf(topic.child("AssignedTo")), "AssignedTo");
        for (const auto label : isNew ? topic.child("Labels").children("Label") : topic.children("Labels"))
            allow(entry, allowed_.labels, textOf(label), "The label");
        if (isNew && topic.child("Title") && isBlank(textOf(topic.child("Title"))))
            tell(entry, "The Title is empty.");
        if (const auto snippet = topic.child("BimSnippet")) {
            allow(entry, allowed_.snippetTypes, snippet.attribute("SnippetType").value(), "SnippetType");
            if (!isExternal(snippet, false))
                inside(entry, folder, textOf(snippet.child("Reference")), "BimSnippet");
        }
        if (isNew) {
            for (const auto d : topic.child("DocumentReferences").children("DocumentReference"))
                if (const auto target = d.child("DocumentGuid");
                    target && !documents_.contains(lowerCase(textOf(target))))
                    tell(entry, "The document " + textOf(target) + " is not listed in documents.xml.");
        } else {
            for (const auto d : topic.children("DocumentReference"))
                if (!isExternal(d, false))
                    inside(entry, folder, textOf(d.child("ReferencedDocument")), "document reference");
        }
        for (const auto related :
             isNew ? topic.child("RelatedTopics").children("RelatedTopic") : topic.children("RelatedTopic"))
            if (lowerCase(related.attribute("Guid").value()) == lowerCase(guid))
                tell(entry, "The topic is related to itself.");
        if (isNew && topic.child("Viewpoints").child("Viewpoint"))
            tell(entry, "The items of Viewpoints are called ViewPoint.");
        std::set<std::string> views, comments;
        for (const auto view : isNew ? topic.child("Viewpoints").children("ViewPoint") : markup.children("Viewpoints"))
            checkView(entry, folder, view, views);
        for (const auto comment : isNew ? topic.child("Comments").children("Comment") : markup.children("Comment")) {
            const std::string own = comment.attribute("Guid").value();
            if (!comments.insert(lowerCase(own)).second)
                tell(entry, "Two comments share the GUID " + own + ".");
            if (const auto view = comment.child("Viewpoint");
                view && !views.contains(lowerCase(view.attribute("Guid").value())))
                tell(entry, "The comment " + own + " refers to the viewpoint " + view.attribute("Guid").value() +
                                ", which the topic does not have.");
        }
    }

    void checkPicture(const Archive::Entry& entry, const char* what, const std::string& declared)
    {
        const auto bytes = bytesOf(entry);
        if (!bytes)
            return;
        if (bytes->empty())
            return tell(entry.name, std::string("The ") + what + " is empty.");
        const PictureFacts facts = factsOf(*bytes, true);
        if (facts.kind.empty())
            return tell(entry.name, std::string("The ") + what + " is neither PNG nor JPEG by its first bytes.");
        if (!facts.trouble.empty())
            tell(entry.name, std::string("The ") + what + " " + facts.trouble + ".");
        const std::string lower = lowerCase(entry.name);
        const std::string named = lower.ends_with(".png")                               ? "png"
                                  : lower.ends_with(".jpg") || lower.ends_with(".jpeg") ? "jpg"
                                                                                        : "";
        if (!named.empty() && named != facts.kind)
            tell(entry.name, std::string("The ") + what + " is a " + std::string(facts.kind) +
                                 " picture by its first bytes, not " + named + ".");
        std::string kind = lowerCase(declared);
        kind = kind == "jpeg" ? "jpg" : kind;
        if (!kind.empty() && kind != facts.kind)
            tell(entry.name, std::string("The ") + what + " is declared as " + declared + " but is a " +
                                 std::string(facts.kind) + " picture.");
        if (isTooLarge(facts))
            tell(entry.name, std::string("The ") + what + " claims " + std::to_string(facts.width) + " x " +
                                 std::to_string(facts.height) + " pixels.");
    }

    void checkView(const std::string& entry, const std::string& folder, pugi::xml_node view,
                   std::set<std::string>& known)
    {
        const std::string guid = view.attribute("Guid").value();
        if (!known.insert(lowerCase(guid)).second)
            tell(entry, "Two viewpoints share the GUID " + guid + ".");
        if (const auto snapshot = view.child("Snapshot"))
            if (const auto* picture = beside(entry, folder, textOf(snapshot), "snapshot"))
                checkPicture(*picture, "snapshot", "");
        if (!view.child("Viewpoint"))
            return;
        const auto* file = beside(entry, folder, textOf(view.child("Viewpoint")), "viewpoint");
        const Xml xml = file != nullptr ? load(file->name, "visinfo") : Xml();
        if (!xml)
            return;
        const auto info = xml->child("VisualizationInfo");
        if (info.attribute("Guid").value() != guid)
            tell(file->name, std::string("The GUID ") + info.attribute("Guid").value() +
                                 " is not the one in the markup, " + guid + ".");
        checkVisualisation(file->name, folder, info);
    }

    static bool hasNoLength(const std::optional<Vector3>& v) { return v && length(*v) == 0; }

    void checkVisualisation(const std::string& entry, const std::string& folder, pugi::xml_node info)
    {
        for (const char* name : {"OrthogonalCamera", "PerspectiveCamera"}) {
            const auto camera = info.child(name);
            if (!camera)
                continue;
            const auto along = vectorOf(camera.child("CameraDirection")), up = vectorOf(camera.child("CameraUpVector"));
            if (hasNoLength(along))
                tell(entry, "CameraDirection has no length.");
            if (hasNoLength(up))
                tell(entry, "CameraUpVector has no length.");
            if (along && up && !hasNoLength(along) && !hasNoLength(up) &&
                length(cross(*along, *up)) <= 1e-6 * length(*along) * length(*up))
                tell(entry, "CameraUpVector runs along CameraDirection.");
            if (const auto scale = numberIn(textOf(camera.child("ViewToWorldScale")));
                scale && *scale <= 0 && version_ == Version::V21)
                tell(entry, "ViewToWorldScale is not above 0.");
        }
        for (const auto plane : info.child("ClippingPlanes").children("ClippingPlane"))
            if (hasNoLength(vectorOf(plane.child("Direction"))))
                tell(entry, "A clipping plane's Direction has no length.");
        static const std::set<std::string_view> kNumbers{"X",           "Y",           "Z",     "ViewToWorldScale",
                                                         "FieldOfView", "AspectRatio", "Height"};
        (void)info.find_node([&](pugi::xml_node n) {
            if (kNumbers.contains(n.name()))
                if (const std::string text = textOf(n);
                    !numberIn(text) && (text.find("NaN") != std::string::npos || text.find("INF") != std::string::npos))
                    tell(entry, std::string(n.name()) + " is " + text + ", not a finite number.");
            return false;
        });
        for (const auto colour : info.child("Components").child("Coloring").children("Color"))
            if (!colour.attribute("Color"))
                tell(entry, "A Color has no Color attribute.");
        const bool isNew = version_ == Version::V30;
        for (const auto bitmap : (isNew ? info.child("Bitmaps") : info).children("Bitmap")) {
            if (const auto* picture = beside(entry, folder, textOf(bitmap.child("Reference")), "bitmap"))
                checkPicture(*picture, "bitmap", textOf(bitmap.child(isNew ? "Format" : "Bitmap")));
            for (const char* name : {"Normal", "Up"})
                if (hasNoLength(vectorOf(bitmap.child(name))))
                    tell(entry, std::string("A bitmap's ") + name + " has no length.");
        }
    }

    std::shared_ptr<const Archive> archive_;
    Checked checked_;
    Version version_ = Version::V21;
    std::string extensionsEntry_;
    Extensions allowed_;
    std::set<std::string> documents_, told_;
    std::set<std::uint64_t> read_;
};

} // namespace

Result<Checked> check(const std::filesystem::path& path)
{
    auto archive = Archive::open(path);
    if (!archive)
        return fail(archive.error());
    return Checker(std::move(*archive)).run();
}

} // namespace wendrix::bcf
