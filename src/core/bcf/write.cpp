#include "core/bcf/archive.h"
#include "core/bcf/bcf.h"

#include "core/base/guid.h"
#include "core/base/text.h"

#include <pugixml.hpp>

#include <cmath>

#include <set>

namespace wendrix::bcf {

using issues::Issue;
using issues::Viewpoint;

namespace {

std::string text(const pugi::xml_document& document)
{
    struct Text : pugi::xml_writer {
        std::string bytes;
        void write(const void* data, std::size_t size) override { bytes.append(static_cast<const char*>(data), size); }
    } out;
    document.save(out, "  ", pugi::format_indent, pugi::encoding_utf8);
    return std::move(out.bytes);
}

pugi::xml_node root(pugi::xml_document& document, const char* name)
{
    auto declaration = document.append_child(pugi::node_declaration);
    declaration.append_attribute("version") = "1.0";
    declaration.append_attribute("encoding") = "UTF-8";
    return document.append_child(name);
}

void add(pugi::xml_node parent, const char* name, const std::string& value)
{
    parent.append_child(name).text().set(value.c_str());
}

void addIfGiven(pugi::xml_node parent, const char* name, const std::string& value)
{
    if (!value.empty())
        add(parent, name, value);
}

void addVector(pugi::xml_node parent, const char* name, Vector3 v)
{
    auto node = parent.append_child(name);
    add(node, "X", exactNumber(v.x));
    add(node, "Y", exactNumber(v.y));
    add(node, "Z", exactNumber(v.z));
}

/// BCF names elements by GlobalId alone, so each is written once.
void addComponents(pugi::xml_node parent, const std::vector<ElementRef>& elements)
{
    std::set<std::string> written;
    for (const ElementRef& e : elements)
        if (written.insert(e.guid).second)
            parent.append_child("Component").append_attribute("IfcGuid") = e.guid.c_str();
}

std::string markup(const Issue& issue, std::span<const ModelFile> models)
{
    pugi::xml_document document;
    auto markup = root(document, "Markup");
    if (!models.empty()) {
        auto header = markup.append_child("Header");
        for (const ModelFile& model : models) {
            auto file = header.append_child("File");
            if (isIfcGuid(model.projectGuid))
                file.append_attribute("IfcProject") = model.projectGuid.c_str();
            file.append_attribute("isExternal") = true;
            add(file, "Filename", model.fileName);
            addIfGiven(file, "Date", model.date);
        }
    }
    auto topic = markup.append_child("Topic");
    topic.append_attribute("Guid") = issue.uuid.c_str();
    if (!issue.type.empty())
        topic.append_attribute("TopicType") = issue.type.c_str();
    if (!issue.status.empty())
        topic.append_attribute("TopicStatus") = issue.status.c_str();
    add(topic, "Title", issue.title);
    addIfGiven(topic, "Priority", issue.priority);
    for (const std::string& label : issue.labels)
        add(topic, "Labels", label);
    add(topic, "CreationDate", issue.createdAt);
    add(topic, "CreationAuthor", issue.createdBy);
    addIfGiven(topic, "ModifiedDate", issue.modifiedAt);
    addIfGiven(topic, "ModifiedAuthor", issue.modifiedBy);
    addIfGiven(topic, "DueDate", issue.dueAt);
    addIfGiven(topic, "AssignedTo", issue.assignee);
    addIfGiven(topic, "Stage", issue.stage);
    addIfGiven(topic, "Description", issue.description);
    for (const issues::Comment& comment : issue.comments) {
        auto node = markup.append_child("Comment");
        node.append_attribute("Guid") = comment.uuid.c_str();
        add(node, "Date", comment.time);
        add(node, "Author", comment.author);
        add(node, "Comment", comment.text);
        if (!comment.viewpoint.empty())
            node.append_child("Viewpoint").append_attribute("Guid") = comment.viewpoint.c_str();
    }
    int index = 0;
    for (const Viewpoint& viewpoint : issue.viewpoints) {
        auto node = markup.append_child("Viewpoints");
        node.append_attribute("Guid") = viewpoint.uuid.c_str();
        add(node, "Viewpoint", viewpoint.uuid + ".bcfv");
        if (!viewpoint.snapshot.empty())
            add(node, "Snapshot", viewpoint.uuid + ".png");
        add(node, "Index", std::to_string(index++));
    }
    return text(document);
}

void addCamera(pugi::xml_node info, const issues::Camera& camera)
{
    auto node = info.append_child(camera.isPerspective ? "PerspectiveCamera" : "OrthogonalCamera");
    addVector(node, "CameraViewPoint", camera.eye);
    addVector(node, "CameraDirection", camera.direction);
    addVector(node, "CameraUpVector", camera.up);
    if (camera.isPerspective)
        // 2.1 allows 45 to 60 degrees only.
        add(node, "FieldOfView", exactNumber(std::clamp(camera.fieldOfViewDegrees, 45.0, 60.0)));
    else
        add(node, "ViewToWorldScale", exactNumber(camera.viewHeightMetres));
}

std::string visualisation(const Viewpoint& viewpoint)
{
    pugi::xml_document document;
    auto info = root(document, "VisualizationInfo");
    info.append_attribute("Guid") = viewpoint.uuid.c_str();
    auto components = info.append_child("Components");
    auto hints = components.append_child("ViewSetupHints");
    hints.append_attribute("SpacesVisible") = false;
    hints.append_attribute("SpaceBoundariesVisible") = false;
    hints.append_attribute("OpeningsVisible") = false;
    if (!viewpoint.selection.empty())
        addComponents(components.append_child("Selection"), viewpoint.selection);
    auto visibility = components.append_child("Visibility");
    visibility.append_attribute("DefaultVisibility") = viewpoint.isDefaultVisible;
    if (!viewpoint.exceptions.empty())
        addComponents(visibility.append_child("Exceptions"), viewpoint.exceptions);
    if (!viewpoint.colouring.empty()) {
        auto colouring = components.append_child("Coloring");
        for (const issues::Colouring& c : viewpoint.colouring) {
            auto colour = colouring.append_child("Color");
            colour.append_attribute("Color") = c.colour.c_str();
            addComponents(colour, c.elements);
        }
    }
    if (viewpoint.camera)
        addCamera(info, *viewpoint.camera);
    if (!viewpoint.planes.empty()) {
        auto planes = info.append_child("ClippingPlanes");
        for (const issues::ClippingPlane& plane : viewpoint.planes) {
            auto node = planes.append_child("ClippingPlane");
            addVector(node, "Location", plane.location);
            addVector(node, "Direction", plane.direction);
        }
    }
    return text(document);
}

} // namespace

Result<std::string> write21(std::span<const Issue> list, std::span<const ModelFile> models,
                            const std::string& projectId, const std::string& projectName)
{
    Entries entries;
    {
        pugi::xml_document document;
        auto version = root(document, "Version");
        version.append_attribute("VersionId") = "2.1";
        add(version, "DetailedVersion", "2.1");
        entries["bcf.version"] = text(document);
    }
    {
        pugi::xml_document document;
        auto extension = root(document, "ProjectExtension");
        auto project = extension.append_child("Project");
        project.append_attribute("ProjectId") = projectId.c_str();
        addIfGiven(project, "Name", projectName);
        add(extension, "ExtensionSchema", "");
        entries["project.bcfp"] = text(document);
    }
    for (const Issue& issue : list) {
        entries[issue.uuid + "/markup.bcf"] = markup(issue, models);
        for (const Viewpoint& viewpoint : issue.viewpoints) {
            entries[issue.uuid + "/" + viewpoint.uuid + ".bcfv"] = visualisation(viewpoint);
            if (!viewpoint.snapshot.empty())
                entries[issue.uuid + "/" + viewpoint.uuid + ".png"] = viewpoint.snapshot;
        }
    }
    return pack(entries);
}

} // namespace wendrix::bcf
