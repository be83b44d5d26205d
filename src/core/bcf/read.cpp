#include "core/bcf/archive.h"
#include "core/bcf/bcf.h"

#include "core/base/file.h"
#include "core/base/guid.h"
#include "core/base/number.h"
#include "core/base/text.h"

#include <pugixml.hpp>

#include <algorithm>
#include <cmath>
#include <optional>

namespace wendrix::bcf {

using issues::Issue;
using issues::Viewpoint;

namespace {

constexpr std::uintmax_t kMostFileBytes = 1u << 30;
constexpr std::size_t kMostXmlBytes = 64u << 20;

/// Reads topics, and notes what it can not use.
class Reader {
public:
    explicit Reader(const Entries& entries) : entries_(entries) {}

    Document read()
    {
        if (const auto version = xml("bcf.version"))
            document_.version = version->child("Version").attribute("VersionId").as_string();
        else
            note(Severity::Warning, "bcf.version", "The entry is missing; the file is read as 2.1.");
        if (entries_.contains("project.bcfp"))
            if (const auto project = xml("project.bcfp")) {
                const auto node = project->first_child().child("Project");
                document_.projectId = node.attribute("ProjectId").as_string();
                document_.projectName = node.child("Name").text().as_string();
            }
        for (const auto& [name, bytes] : entries_)
            if (name.ends_with("/markup.bcf"))
                readTopic(name.substr(0, name.size() - 11));
        std::stable_sort(document_.issues.begin(), document_.issues.end(),
                         [](const Issue& a, const Issue& b) { return a.createdAt < b.createdAt; });
        return std::move(document_);
    }

private:
    void note(Severity severity, const std::string& entry, const std::string& message)
    {
        document_.diagnostics.push_back({severity, "bcf.entry", entry, message});
    }

    std::optional<pugi::xml_document> xml(const std::string& entry)
    {
        const auto found = entries_.find(entry);
        if (found == entries_.end())
            return {};
        const std::string& bytes = found->second;
        // A document type would allow entities; no honest file has one.
        if (bytes.size() > kMostXmlBytes || bytes.find("<!DOCTYPE") != std::string::npos) {
            note(Severity::Error, entry, "The entry is too large or declares a document type; it was not read.");
            return {};
        }
        std::optional<pugi::xml_document> document(std::in_place);
        const auto result =
            document->load_buffer(bytes.data(), bytes.size(), pugi::parse_default | pugi::parse_ws_pcdata_single);
        if (!result) {
            note(Severity::Error, entry,
                 std::string("The entry is no well-formed XML: ") + result.description() + " at byte " +
                     std::to_string(result.offset) + ".");
            return {};
        }
        return document;
    }

    /// 3.0 wraps lists in an element, 2.1 does not; both are taken in either version.
    template <class Each>
    static void each(pugi::xml_node parent, const char* wrapper, const char* item, Each take)
    {
        for (const auto node : parent.children(wrapper)) {
            if (node.child(item)) {
                for (const auto inner : node.children(item))
                    take(inner);
            } else {
                take(node);
            }
        }
    }

    void readTopic(const std::string& folder)
    {
        const auto document = xml(folder + "/markup.bcf");
        if (!document)
            return;
        const auto markup = document->child("Markup");
        const auto topic = markup.child("Topic");
        if (!topic) {
            note(Severity::Error, folder + "/markup.bcf", "The entry holds no Topic.");
            return;
        }
        Issue issue;
        issue.uuid = lowerCase(topic.attribute("Guid").as_string(folder.c_str()));
        issue.type = topic.attribute("TopicType").as_string();
        issue.status = topic.attribute("TopicStatus").as_string();
        issue.title = topic.child("Title").text().as_string();
        issue.priority = topic.child("Priority").text().as_string();
        issue.createdAt = topic.child("CreationDate").text().as_string();
        issue.createdBy = topic.child("CreationAuthor").text().as_string();
        issue.modifiedAt = topic.child("ModifiedDate").text().as_string();
        issue.modifiedBy = topic.child("ModifiedAuthor").text().as_string();
        issue.dueAt = topic.child("DueDate").text().as_string();
        issue.assignee = topic.child("AssignedTo").text().as_string();
        issue.stage = topic.child("Stage").text().as_string();
        issue.description = topic.child("Description").text().as_string();
        each(topic, "Labels", "Label", [&](pugi::xml_node n) {
            if (*n.text().as_string() != '\0')
                issue.labels.emplace_back(n.text().as_string());
        });
        const auto comment = [&](pugi::xml_node n) {
            issue.comments.push_back({lowerCase(n.attribute("Guid").as_string()), n.child("Date").text().as_string(),
                                      n.child("Author").text().as_string(), n.child("Comment").text().as_string(),
                                      lowerCase(n.child("Viewpoint").attribute("Guid").as_string())});
        };
        for (const auto n : markup.children("Comment"))
            comment(n);
        for (const auto n : topic.child("Comments").children("Comment"))
            comment(n);
        std::vector<std::pair<int, Viewpoint>> viewpoints;
        const auto viewpoint = [&](pugi::xml_node n) {
            viewpoints.emplace_back(n.child("Index").text().as_int(static_cast<int>(viewpoints.size())),
                                    readViewpoint(folder, n));
        };
        for (const auto n : markup.children("Viewpoints"))
            viewpoint(n);
        for (const auto n : topic.child("Viewpoints").children())
            viewpoint(n);
        std::stable_sort(viewpoints.begin(), viewpoints.end(),
                         [](const auto& a, const auto& b) { return a.first < b.first; });
        for (auto& [index, v] : viewpoints)
            issue.viewpoints.push_back(std::move(v));
        document_.issues.push_back(std::move(issue));
    }

    /// A file a topic names: a plain name in its own folder.
    const std::string* file(const std::string& folder, const std::string& name)
    {
        if (name.empty() || name.find('/') != std::string::npos || name.find('\\') != std::string::npos)
            return nullptr;
        const auto found = entries_.find(folder + "/" + name);
        return found != entries_.end() ? &found->second : nullptr;
    }

    static std::optional<Vector3> vector(pugi::xml_node n)
    {
        const auto x = numberIn(n.child("X").text().get()), y = numberIn(n.child("Y").text().get()),
                   z = numberIn(n.child("Z").text().get());
        return x && y && z ? std::optional(Vector3{*x, *y, *z}) : std::nullopt;
    }

    static std::vector<ElementRef> guids(pugi::xml_node parent)
    {
        std::vector<ElementRef> list;
        for (const auto n : parent.children("Component"))
            if (const std::string guid = n.attribute("IfcGuid").as_string(); isIfcGuid(guid))
                list.push_back({0, "", guid, 0});
        return list;
    }

    std::optional<issues::Camera> camera(pugi::xml_node info, const std::string& entry)
    {
        auto node = info.child("PerspectiveCamera");
        issues::Camera camera;
        camera.isPerspective = static_cast<bool>(node);
        if (!node)
            node = info.child("OrthogonalCamera");
        if (!node)
            return {};
        const auto eye = vector(node.child("CameraViewPoint")), along = vector(node.child("CameraDirection")),
                   up = vector(node.child("CameraUpVector"));
        if (!eye || !along || length(*along) < 1e-9) {
            note(Severity::Warning, entry, "The camera has no usable place or direction; the view is framed anew.");
            return {};
        }
        camera.eye = *eye;
        camera.direction = unit(*along);
        // Straightened against the direction only where the file's own is not at right angles.
        Vector3 upright = up.value_or(Vector3{0, 0, 1});
        if (const double lean = dot(upright, camera.direction); std::abs(lean) > 1e-9)
            upright = upright - lean * camera.direction;
        camera.up = length(upright) > 1e-9 ? unit(upright) : anyPerpendicular(camera.direction);
        camera.fieldOfViewDegrees =
            numberIn(node.child("FieldOfView").text().get()).value_or(camera.fieldOfViewDegrees);
        camera.viewHeightMetres =
            numberIn(node.child("ViewToWorldScale").text().get()).value_or(camera.viewHeightMetres);
        return camera;
    }

    /// Normalised; a vector that is one already comes back bit for bit.
    static Vector3 unit(Vector3 v) { return std::abs(dot(v, v) - 1) < 1e-14 ? v : normalised(v); }

    Viewpoint readViewpoint(const std::string& folder, pugi::xml_node n)
    {
        Viewpoint viewpoint;
        viewpoint.uuid = lowerCase(n.attribute("Guid").as_string());
        const std::string entry = folder + "/" + n.child("Viewpoint").text().as_string();
        if (const std::string name = n.child("Snapshot").text().as_string(); !name.empty()) {
            if (const std::string* picture = file(folder, name))
                viewpoint.snapshot = *picture;
            else
                note(Severity::Warning, folder + "/" + name, "The snapshot is missing.");
        }
        if (!n.child("Viewpoint") || file(folder, n.child("Viewpoint").text().as_string()) == nullptr) {
            note(Severity::Warning, entry, "The viewpoint is missing.");
            return viewpoint;
        }
        const auto document = xml(entry);
        if (!document)
            return viewpoint;
        const auto info = document->child("VisualizationInfo");
        const auto components = info.child("Components");
        viewpoint.selection = guids(components.child("Selection"));
        const auto visibility = components.child("Visibility");
        viewpoint.isDefaultVisible = components ? visibility.attribute("DefaultVisibility").as_bool(false) : true;
        viewpoint.exceptions = guids(visibility.child("Exceptions"));
        for (const auto colour : components.child("Coloring").children("Color"))
            viewpoint.colouring.push_back({colour.attribute("Color").as_string(),
                                           guids(colour.child("Components") ? colour.child("Components") : colour)});
        viewpoint.camera = camera(info, entry);
        for (const auto plane : info.child("ClippingPlanes").children("ClippingPlane"))
            if (const auto at = vector(plane.child("Location")), away = vector(plane.child("Direction")); at && away)
                viewpoint.planes.push_back({*at, *away});
        return viewpoint;
    }

    const Entries& entries_;
    Document document_;
};

} // namespace

Result<Document> read(std::string_view bytes)
{
    const auto entries = unpack(bytes);
    if (!entries)
        return fail(entries.error());
    const bool hasTopic =
        std::any_of(entries->begin(), entries->end(), [](const auto& e) { return e.first.ends_with("/markup.bcf"); });
    if (!entries->contains("bcf.version") && !hasTopic)
        return fail({kNotBcf, "The archive holds neither a bcf.version nor a topic, so it is no BCF file."});
    return Reader(*entries).read();
}

Result<Document> readFile(const std::filesystem::path& path)
{
    const auto bytes = readFileWhole(path, kMostFileBytes);
    if (!bytes)
        return fail(bytes.error());
    auto document = read(*bytes);
    if (!document) {
        Error error = document.error();
        error.file = path.string();
        return fail(std::move(error));
    }
    return document;
}

} // namespace wendrix::bcf
