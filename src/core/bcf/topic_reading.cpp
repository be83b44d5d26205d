#include "core/bcf/topic.h"

#include "core/base/date_time.h"
#include "core/base/guid.h"
#include "core/base/number.h"
#include "core/base/text.h"

#include <algorithm>
#include <charconv>
#include <cmath>

namespace wendrix::bcf {

namespace {

using Kind = ItemList::Kind;

std::optional<int> integerOf(pugi::xml_node node, const Telling& tell)
{
    if (!node)
        return {};
    std::string text = textOf(node);
    text.erase(0, std::min(text.find_first_not_of(" \t\r\n+"), text.size()));
    text.erase(text.find_last_not_of(" \t\r\n") + 1);
    int value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error == std::errc() && end == text.data() + text.size())
        return value;
    tell(Severity::Warning, std::string(node.name()) + " is " + text + ", no whole number.");
    return {};
}

/// As it stands there; one that is none is told, and kept.
std::string dateOf(pugi::xml_node node, const Telling& tell)
{
    std::string text = textOf(node);
    text.erase(0, std::min(text.find_first_not_of(" \t\r\n"), text.size()));
    text.erase(text.find_last_not_of(" \t\r\n") + 1);
    if (!text.empty() && !microsecondsOf(text))
        tell(Severity::Warning,
             std::string(node.name()) + " is " + text + ", no date and time of XML; it is kept as a text.");
    return text;
}

issues::Comment commentOf(pugi::xml_node n, const Telling& tell)
{
    return {n.attribute("Guid").value(),
            dateOf(n.child("Date"), tell),
            textOf(n.child("Author")),
            textOf(n.child("Comment")),
            n.child("Viewpoint").attribute("Guid").value(),
            dateOf(n.child("ModifiedDate"), tell),
            textOf(n.child("ModifiedAuthor"))};
}

/// Normalised; a vector that is one already comes back bit for bit.
Vector3 unit(Vector3 v) { return std::abs(dot(v, v) - 1) < 1e-14 ? v : normalised(v); }

std::optional<issues::Camera> cameraOf(pugi::xml_node node, bool isPerspective, const Telling& tell)
{
    if (!node)
        return {};
    issues::Camera camera;
    camera.isPerspective = isPerspective;
    const auto eye = vectorOf(node.child("CameraViewPoint")), along = vectorOf(node.child("CameraDirection")),
               up = vectorOf(node.child("CameraUpVector"));
    if (!eye || !along || length(*along) < 1e-9) {
        tell(Severity::Warning, "The camera has no usable place or direction; the view is framed anew.");
        return {};
    }
    camera.eye = *eye;
    camera.direction = unit(*along);
    // Straightened against the direction only where the file's own is not at right angles.
    Vector3 upright = up.value_or(Vector3{0, 0, 1});
    if (const double lean = dot(upright, camera.direction); std::abs(lean) > 1e-9)
        upright = upright - lean * camera.direction;
    if (length(upright) <= 1e-9)
        tell(Severity::Warning, "The camera's up runs along its direction; another one is taken.");
    camera.up = length(upright) > 1e-9 ? unit(upright) : anyPerpendicular(camera.direction);
    const auto positive = [&](const char* name, double most) -> std::optional<double> {
        const pugi::xml_node child = node.child(name);
        if (!child)
            return {};
        const auto number = numberIn(textOf(child));
        if (number && *number > 0 && *number < most)
            return number;
        tell(Severity::Warning, std::string(name) + " is " + textOf(child) + ", which no camera can have.");
        return {};
    };
    camera.fieldOfViewDegrees = positive("FieldOfView", 180).value_or(camera.fieldOfViewDegrees);
    camera.viewHeightMetres = positive("ViewToWorldScale", 1e9).value_or(camera.viewHeightMetres);
    camera.aspect = positive("AspectRatio", 1e6).value_or(0);
    return camera;
}

/// Elements of a list of components; what another program calls them besides goes to `foreign`.
std::vector<ElementRef> elementsOf(pugi::xml_node parent, std::vector<issues::ForeignName>& foreign)
{
    std::vector<ElementRef> elements;
    for (const pugi::xml_node c : parent.children("Component")) {
        const std::string guid = c.attribute("IfcGuid").value();
        issues::ForeignName name{guid, textOf(c.child("OriginatingSystem")), textOf(c.child("AuthoringToolId"))};
        const bool isElsewhere = !name.system.empty() || !name.id.empty() || (!guid.empty() && !isIfcGuid(guid));
        if (isElsewhere && std::find(foreign.begin(), foreign.end(), name) == foreign.end())
            foreign.push_back(std::move(name));
        if (isIfcGuid(guid))
            elements.push_back({0, "", guid, 0});
    }
    return elements;
}

} // namespace

ViewFiles filesOf(pugi::xml_node view) { return {textOf(view.child("Viewpoint")), textOf(view.child("Snapshot"))}; }

bool isPlainName(std::string_view name)
{
    return !isBlank(name) && name != "." && name != ".." && name.find_first_of("/\\") == std::string_view::npos;
}

std::string entryOf(const std::string& folder, std::string_view reference)
{
    std::vector<std::string> parts;
    const auto add = [&](std::string_view path) {
        for (std::size_t at = 0; at <= path.size();) {
            const std::size_t end = std::min(path.find('/', at), path.size());
            const std::string_view part = path.substr(at, end - at);
            at = end + 1;
            if (part == "..") {
                if (parts.empty())
                    return false;
                parts.pop_back();
            } else if (!part.empty() && part != ".") {
                parts.emplace_back(part);
            }
        }
        return true;
    };
    std::string turned(reference);
    std::replace(turned.begin(), turned.end(), '\\', '/');
    if (turned.starts_with('/') || !add(folder) || !add(turned))
        return {};
    std::string entry;
    for (const std::string& part : parts)
        entry += (entry.empty() ? "" : "/") + part;
    return entry;
}

issues::Issue issueOf(pugi::xml_document& document, Version version, const Telling& tell)
{
    const pugi::xml_node markup = document.child("Markup"), topic = markup.child("Topic");
    const auto text = [&](const char* name) { return textOf(topic.child(name)); };
    issues::Issue issue;
    issue.uuid = topic.attribute("Guid").value();
    issue.serverId = topic.attribute("ServerAssignedId").value();
    issue.type = topic.attribute("TopicType").value();
    issue.status = topic.attribute("TopicStatus").value();
    issue.title = text("Title");
    issue.priority = text("Priority");
    issue.index = integerOf(topic.child("Index"), tell);
    issue.createdAt = dateOf(topic.child("CreationDate"), tell);
    issue.createdBy = text("CreationAuthor");
    issue.modifiedAt = dateOf(topic.child("ModifiedDate"), tell);
    issue.modifiedBy = text("ModifiedAuthor");
    issue.dueAt = dateOf(topic.child("DueDate"), tell);
    issue.assignee = text("AssignedTo");
    issue.stage = text("Stage");
    issue.description = text("Description");
    for (const pugi::xml_node n : ItemList(document, Kind::Links, version).items())
        issue.links.push_back(textOf(n));
    for (const pugi::xml_node n : ItemList(document, Kind::Labels, version).items())
        if (const std::string label = textOf(n); !isBlank(label))
            issue.labels.push_back(label);
    if (const pugi::xml_node n = topic.child("BimSnippet"))
        issue.snippet = issues::Snippet{n.attribute("SnippetType").value(), textOf(n.child("Reference")),
                                        textOf(n.child("ReferenceSchema")), isExternal(n, false)};
    for (const pugi::xml_node n : ItemList(document, Kind::Documents, version).items()) {
        issues::DocumentReference d;
        d.uuid = n.attribute("Guid").value();
        d.description = textOf(n.child("Description"));
        if (version == Version::V21) {
            d.isExternal = isExternal(n, false);
            d.target = textOf(n.child("ReferencedDocument"));
        } else {
            d.isExternal = !n.child("DocumentGuid");
            d.target = textOf(n.child(d.isExternal ? "Url" : "DocumentGuid"));
        }
        issue.documents.push_back(std::move(d));
    }
    for (const pugi::xml_node n : ItemList(document, Kind::Related, version).items())
        issue.related.emplace_back(n.attribute("Guid").value());
    for (const pugi::xml_node n : ItemList(document, Kind::Comments, version).items())
        issue.comments.push_back(commentOf(n, tell));
    for (const pugi::xml_node n : ItemList(document, Kind::Viewpoints, version).items()) {
        issues::Viewpoint v;
        v.uuid = n.attribute("Guid").value();
        v.index = integerOf(n.child("Index"), tell);
        issue.viewpoints.push_back(std::move(v));
    }
    if (markup.child("Header"))
        for (const pugi::xml_node n : ItemList(document, Kind::Files, version).items())
            issue.files.push_back({n.attribute("IfcProject").value(), n.attribute("IfcSpatialStructureElement").value(),
                                   textOf(n.child("Filename")), dateOf(n.child("Date"), tell),
                                   textOf(n.child("Reference")), isExternal(n, true)});
    return issue;
}

issues::Viewpoint viewpointOf(const pugi::xml_document& document, Version version, const Telling& tell)
{
    const pugi::xml_node info = document.child("VisualizationInfo"), components = info.child("Components"),
                         visibility = components.child("Visibility");
    issues::Viewpoint v;
    v.uuid = info.attribute("Guid").value();
    v.selection = elementsOf(components.child("Selection"), v.foreign);
    v.saysVisibility = static_cast<bool>(visibility);
    v.isDefaultVisible = visibility ? truthOf(visibility.attribute("DefaultVisibility")).value_or(false) : true;
    v.exceptions = elementsOf(visibility.child("Exceptions"), v.foreign);
    const pugi::xml_node hints = (version == Version::V21 ? components : visibility).child("ViewSetupHints");
    const auto seen = [&](const char* name) { return truthOf(hints.attribute(name)).value_or(false); };
    v.hints = {seen("SpacesVisible"), seen("SpaceBoundariesVisible"), seen("OpeningsVisible")};
    for (const pugi::xml_node colour : components.child("Coloring").children("Color"))
        v.colouring.push_back({colour.attribute("Color").value(),
                               elementsOf(version == Version::V21 ? colour : colour.child("Components"), v.foreign)});
    v.camera = cameraOf(info.child("PerspectiveCamera"), true, tell);
    (v.camera ? v.second : v.camera) = cameraOf(info.child("OrthogonalCamera"), false, tell);
    for (const pugi::xml_node n : info.child("Lines").children("Line"))
        if (const auto from = vectorOf(n.child("StartPoint")), to = vectorOf(n.child("EndPoint")); from && to)
            v.lines.push_back({*from, *to});
    for (const pugi::xml_node n : info.child("ClippingPlanes").children("ClippingPlane"))
        if (const auto at = vectorOf(n.child("Location")), away = vectorOf(n.child("Direction"));
            at && away && length(*away) > 1e-9)
            v.planes.push_back({*at, *away});
        else
            tell(Severity::Warning, "A clipping plane has no usable place or direction; it cuts nothing.");
    for (const pugi::xml_node n : (version == Version::V21 ? info : info.child("Bitmaps")).children("Bitmap")) {
        const auto at = vectorOf(n.child("Location")), normal = vectorOf(n.child("Normal")),
                   up = vectorOf(n.child("Up"));
        const auto height = numberIn(textOf(n.child("Height")));
        if (at && normal && up && height)
            v.bitmaps.push_back({lowerCase(textOf(n.child(version == Version::V21 ? "Bitmap" : "Format"))),
                                 textOf(n.child("Reference")), *at, *normal, *up, *height});
        else
            tell(Severity::Warning, "A bitmap has no usable place; it is not shown.");
    }
    return v;
}

} // namespace wendrix::bcf
