#include "core/bcf/picture.h"
#include "core/bcf/topic.h"

#include "core/base/guid.h"
#include "core/base/number.h"
#include "core/base/text.h"

#include <cmath>
#include <numbers>
#include <set>

namespace wendrix::bcf {

namespace {

constexpr double kLeastField21 = 45, kMostField21 = 60; // degrees
/// How far away what a camera looks at is taken to be where nobody says.
constexpr double kUsualDistance = 10; // metres
constexpr double kUsualAspect = 1.5;

const char* truth(bool value) { return value ? "true" : "false"; }

void addVector(pugi::xml_node parent, const char* name, Vector3 v) { setVector(parent.append_child(name), v); }

/// BCF names elements by GlobalId alone, so each is written once.
void addComponents(pugi::xml_node parent, const std::vector<ElementRef>& elements,
                   const std::map<std::string, const issues::ForeignName*>& foreign)
{
    std::set<std::string> written;
    for (const ElementRef& e : elements) {
        if (!isIfcGuid(e.guid) || !written.insert(e.guid).second)
            continue;
        pugi::xml_node node = parent.append_child("Component");
        setAttribute(node, "IfcGuid", e.guid);
        if (const auto name = foreign.find(e.guid); name != foreign.end()) {
            if (!isBlank(name->second->system))
                setText(node.append_child("OriginatingSystem"), name->second->system);
            if (!isBlank(name->second->id))
                setText(node.append_child("AuthoringToolId"), name->second->id);
        }
    }
}

void addHints(pugi::xml_node parent, const issues::ViewHints& hints)
{
    pugi::xml_node node = parent.append_child("ViewSetupHints");
    setAttribute(node, "SpacesVisible", truth(hints.spaces));
    setAttribute(node, "SpaceBoundariesVisible", truth(hints.spaceBoundaries));
    setAttribute(node, "OpeningsVisible", truth(hints.openings));
}

/// A field of view that 2.1 allows, with the eye moved so that what it looks at stays as large; where nobody knows how
/// far off that is, as if it were `kUsualDistance`. That alone is told: the other way shows what was seen.
void clampField(issues::Camera& camera, const Telling& tell)
{
    const double wanted = std::clamp(camera.fieldOfViewDegrees, kLeastField21, kMostField21);
    if (!camera.isPerspective || wanted == camera.fieldOfViewDegrees)
        return;
    const auto half = [](double degrees) { return std::tan(degrees * std::numbers::pi / 360); };
    const double far = camera.distanceMetres > 0 ? camera.distanceMetres : kUsualDistance;
    camera.eye = camera.eye + far * (1 - half(camera.fieldOfViewDegrees) / half(wanted)) * camera.direction;
    if (camera.distanceMetres <= 0)
        tell(Severity::Warning, "BCF 2.1 allows fields of view of 45 to 60 degrees only: " +
                                    plainNumber(camera.fieldOfViewDegrees) + " became " + plainNumber(wanted) +
                                    ", and the eye was moved so that what is 10 m away looks as large.");
    camera.fieldOfViewDegrees = wanted;
}

void addCamera(pugi::xml_node info, issues::Camera camera, Version v, const Telling& tell)
{
    if (v == Version::V21)
        clampField(camera, tell);
    pugi::xml_node node = info.append_child(camera.isPerspective ? "PerspectiveCamera" : "OrthogonalCamera");
    addVector(node, "CameraViewPoint", camera.eye);
    addVector(node, "CameraDirection", camera.direction);
    addVector(node, "CameraUpVector", camera.up);
    if (camera.isPerspective)
        setText(node.append_child("FieldOfView"), exactNumber(camera.fieldOfViewDegrees));
    else
        setText(node.append_child("ViewToWorldScale"), exactNumber(camera.viewHeightMetres));
    if (v == Version::V30)
        setText(node.append_child("AspectRatio"), exactNumber(camera.aspect > 0 ? camera.aspect : kUsualAspect));
}

double aspectOf(std::string_view picture)
{
    const PictureFacts facts = factsOf(picture, false);
    return facts.width > 0 && facts.height > 0 ? static_cast<double>(facts.width) / facts.height : 0;
}

} // namespace

Xml viewpointXml(const issues::Viewpoint& v, Version version, const Telling& tell)
{
    Xml document = emptyXml("VisualizationInfo");
    pugi::xml_node info = document->child("VisualizationInfo");
    setAttribute(info, "Guid", v.uuid);
    std::map<std::string, const issues::ForeignName*> foreign;
    for (const issues::ForeignName& name : v.foreign)
        foreign.emplace(name.guid, &name);
    if (v.saysVisibility || !v.selection.empty() || !v.colouring.empty()) {
        pugi::xml_node components = info.append_child("Components");
        if (version == Version::V21)
            addHints(components, v.hints);
        if (!v.selection.empty())
            addComponents(components.append_child("Selection"), v.selection, foreign);
        pugi::xml_node visibility = components.append_child("Visibility");
        setAttribute(visibility, "DefaultVisibility", truth(v.isDefaultVisible));
        if (version == Version::V30)
            addHints(visibility, v.hints);
        if (!v.exceptions.empty())
            addComponents(visibility.append_child("Exceptions"), v.exceptions, foreign);
        if (!v.colouring.empty()) {
            pugi::xml_node colouring = components.append_child("Coloring");
            for (const issues::Colouring& c : v.colouring) {
                pugi::xml_node colour = colouring.append_child("Color");
                setAttribute(colour, "Color", c.colour);
                addComponents(version == Version::V21 ? colour : colour.append_child("Components"), c.elements,
                              foreign);
                if (!colour.first_child() || (version == Version::V30 && !colour.child("Components").first_child()))
                    colouring.remove_child(colour);
            }
        }
        if (components.child("Selection") && !components.child("Selection").first_child())
            components.remove_child("Selection");
    }
    issues::Camera made;
    made.aspect = aspectOf(v.snapshot);
    if (version == Version::V21 && v.second && !v.second->isPerspective)
        addCamera(info, *v.second, version, tell);
    else if (v.second)
        tell(Severity::Warning, "BCF 3.0 holds one camera only; the parallel one was left out.");
    if (v.camera)
        addCamera(info, *v.camera, version, tell);
    else if (version == Version::V30) {
        tell(Severity::Warning, "BCF 3.0 asks for a camera and the viewpoint has none; one at the origin was put in.");
        addCamera(info, made, version, tell);
    }
    if (!v.lines.empty()) {
        pugi::xml_node lines = info.append_child("Lines");
        for (const issues::Line& line : v.lines) {
            pugi::xml_node node = lines.append_child("Line");
            addVector(node, "StartPoint", line.from);
            addVector(node, "EndPoint", line.to);
        }
    }
    if (!v.planes.empty()) {
        pugi::xml_node planes = info.append_child("ClippingPlanes");
        for (const issues::ClippingPlane& plane : v.planes) {
            pugi::xml_node node = planes.append_child("ClippingPlane");
            addVector(node, "Location", plane.location);
            addVector(node, "Direction", plane.direction);
        }
    }
    if (!v.bitmaps.empty()) {
        pugi::xml_node home = version == Version::V30 ? info.append_child("Bitmaps") : info;
        for (const issues::Bitmap& b : v.bitmaps) {
            pugi::xml_node node = home.append_child("Bitmap");
            setText(node.append_child(version == Version::V21 ? "Bitmap" : "Format"),
                    version == Version::V21 ? upperCase(b.format) : b.format);
            setText(node.append_child("Reference"), b.reference);
            addVector(node, "Location", b.location);
            addVector(node, "Normal", b.normal);
            addVector(node, "Up", b.up);
            setText(node.append_child("Height"), exactNumber(b.heightMetres));
        }
    }
    return document;
}

void convertViewpoint(pugi::xml_document& document, Version to, std::string_view snapshot, const Telling& tell)
{
    pugi::xml_node info = document.child("VisualizationInfo"), components = info.child("Components");
    for (pugi::xml_node list : {components.child("Selection"), components.child("Visibility").child("Exceptions")})
        if (list && !list.child("Component"))
            list.parent().remove_child(list);
    for (pugi::xml_node colour = components.child("Coloring").child("Color"); colour;) {
        const pugi::xml_node next = colour.next_sibling("Color");
        if (!(to == Version::V21 ? colour : colour.child("Components")).child("Component"))
            colour.parent().remove_child(colour);
        colour = next;
    }
    if (components && !components.child("Visibility"))
        setAttribute(childOrNew(components, "Visibility", order::components(to)), "DefaultVisibility", "true");
    const pugi::xml_node perspective = info.child("PerspectiveCamera"), parallel = info.child("OrthogonalCamera");
    if (to == Version::V21) {
        for (pugi::xml_node camera : {perspective, parallel})
            if (camera.remove_child("AspectRatio"))
                tell(Severity::Note, "BCF 2.1 has no place for the camera's AspectRatio.");
        if (const auto field = numberIn(textOf(perspective.child("FieldOfView")));
            field && (*field < kLeastField21 || *field > kMostField21)) {
            issues::Camera camera;
            camera.fieldOfViewDegrees = *field;
            camera.eye = vectorOf(perspective.child("CameraViewPoint")).value_or(Vector3{});
            if (const auto along = vectorOf(perspective.child("CameraDirection")); along && length(*along) > 1e-9)
                camera.direction = normalised(*along);
            clampField(camera, tell);
            setVector(perspective.child("CameraViewPoint"), camera.eye);
            setText(perspective.child("FieldOfView"), exactNumber(camera.fieldOfViewDegrees));
        }
        return;
    }
    if (perspective && parallel) {
        info.remove_child(parallel);
        tell(Severity::Warning, "BCF 3.0 holds one camera only; the parallel one was left out.");
    }
    const double aspect = aspectOf(snapshot);
    if (!perspective && !parallel) {
        tell(Severity::Warning, "BCF 3.0 asks for a camera and the viewpoint has none; one at the origin was put in.");
        issues::Camera made;
        made.aspect = aspect;
        pugi::xml_document holder;
        addCamera(holder.append_child("x"), made, to, tell);
        const pugi::xml_node place = inserted(info, "PerspectiveCamera", order::visualisation(to));
        info.insert_copy_before(holder.child("x").first_child(), place);
        info.remove_child(place);
    }
    for (const char* name : {"PerspectiveCamera", "OrthogonalCamera"})
        if (pugi::xml_node camera = info.child(name); camera && !camera.child("AspectRatio")) {
            setText(childOrNew(camera, "AspectRatio", order::camera()),
                    exactNumber(aspect > 0 ? aspect : kUsualAspect));
            if (aspect <= 0)
                tell(Severity::Note, "BCF 3.0 asks for the camera's AspectRatio and nothing says it; 1.5 was put in.");
        }
}

void convertMarkup(pugi::xml_document& document, Version to, const Telling& tell)
{
    const pugi::xml_node markup = document.child("Markup");
    pugi::xml_node topic = markup.child("Topic");
    ItemList comments(document, ItemList::Kind::Comments, to);
    if (to == Version::V21) {
        if (topic.remove_attribute("ServerAssignedId"))
            tell(Severity::Warning, "BCF 2.1 has no place for the topic's ServerAssignedId.");
        for (const pugi::xml_node comment : comments.items())
            (void)childOrNew(comment, "Comment", order::comment());
        return;
    }
    const auto need = [&](const char* name, const char* value) {
        if (!isBlank(topic.attribute(name).value()))
            return;
        setAttribute(topic, name, value);
        tell(Severity::Warning,
             std::string("BCF 3.0 asks for a ") + name + " and the topic has none; it became " + value + ".");
    };
    need("TopicType", "Issue");
    need("TopicStatus", "Open");
    const auto filled = [&](pugi::xml_node parent, const char* name, const char* value, Order order) {
        if (!isBlank(textOf(parent.child(name))))
            return;
        setChild(parent, name, value, order);
        tell(Severity::Warning, std::string("BCF 3.0 asks for a text in ") + name + "; it became " + value + ".");
    };
    const auto emptied = [](pugi::xml_node parent, std::initializer_list<const char*> names) {
        for (const char* name : names)
            if (const pugi::xml_node child = parent.child(name); child && isBlank(textOf(child)))
                parent.remove_child(child);
    };
    filled(topic, "Title", "Untitled", order::topic(to));
    filled(topic, "CreationAuthor", "unknown", order::topic(to));
    emptied(topic,
            {"Priority", "Index", "ModifiedDate", "ModifiedAuthor", "DueDate", "AssignedTo", "Stage", "Description"});
    for (const auto kind : {ItemList::Kind::Links, ItemList::Kind::Labels}) {
        ItemList list(document, kind, to);
        for (const pugi::xml_node item : list.items())
            if (isBlank(textOf(item)))
                list.remove(item);
    }
    for (const pugi::xml_node comment : comments.items()) {
        emptied(comment, {"Comment", "ModifiedDate", "ModifiedAuthor"});
        filled(comment, "Author", "unknown", order::comment());
    }
    if (markup.child("Header"))
        for (const pugi::xml_node file : ItemList(document, ItemList::Kind::Files, to).items())
            emptied(file, {"Filename", "Date", "Reference"});
    for (const pugi::xml_node n : ItemList(document, ItemList::Kind::Viewpoints, to).items())
        emptied(n, {"Viewpoint", "Snapshot", "Index"});
}

} // namespace wendrix::bcf
