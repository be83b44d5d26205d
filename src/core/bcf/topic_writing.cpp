#include "core/bcf/topic.h"

#include "core/base/date_time.h"
#include "core/base/guid.h"
#include "core/base/text.h"

#include <algorithm>

namespace wendrix::bcf {

namespace {

using Kind = ItemList::Kind;
using issues::Issue;

/// Texts of a list: those that are gone are taken away, new ones come behind.
void layTexts(pugi::xml_document& document, Kind kind, Version v, const std::vector<std::string>& was,
              const std::vector<std::string>& now, std::string (*textIn)(pugi::xml_node),
              void (*setIn)(pugi::xml_node, const std::string&))
{
    if (was == now)
        return;
    ItemList list(document, kind, v);
    std::vector<std::string> missing = now;
    for (const pugi::xml_node item : list.items()) {
        const auto kept = std::find(missing.begin(), missing.end(), textIn(item));
        if (kept != missing.end())
            missing.erase(kept);
        else
            list.remove(item);
    }
    for (const std::string& text : missing)
        if (!isBlank(text))
            setIn(list.add(), text);
}

std::string guidIn(pugi::xml_node node) { return node.attribute("Guid").value(); }
void setGuid(pugi::xml_node node, const std::string& guid) { setAttribute(node, "Guid", guid); }
void setItemText(pugi::xml_node node, const std::string& text) { setText(node, text); }

void layComment(pugi::xml_node node, const issues::Comment& c, const issues::Comment* was, Version v)
{
    const Order order = order::comment();
    setAttribute(node, "Guid", c.uuid);
    const auto lay = [&](const char* name, const std::string issues::Comment::*field) {
        if (was == nullptr || was->*field != c.*field)
            setChild(node, name, c.*field, order);
    };
    lay("Date", &issues::Comment::time);
    lay("Author", &issues::Comment::author);
    lay("Comment", &issues::Comment::text);
    lay("ModifiedDate", &issues::Comment::modifiedAt);
    lay("ModifiedAuthor", &issues::Comment::modifiedBy);
    if (v == Version::V21)
        (void)childOrNew(node, "Comment", order); // it may be empty, but not missing
    if (was == nullptr || was->viewpoint != c.viewpoint) {
        if (c.viewpoint.empty())
            node.remove_child("Viewpoint");
        else
            setAttribute(childOrNew(node, "Viewpoint", order), "Guid", c.viewpoint);
    }
}

void layComments(pugi::xml_document& document, Version v, const Issue& was, const Issue& issue)
{
    ItemList list(document, Kind::Comments, v);
    const auto items = list.items();
    std::map<std::string, std::size_t> there;
    for (std::size_t i = 0; i < items.size(); ++i)
        there.emplace(guidIn(items[i]), i);
    for (const issues::Comment& c : issue.comments) {
        const auto found = there.find(c.uuid);
        if (found == there.end()) {
            layComment(list.add(), c, nullptr, v);
            continue;
        }
        const auto before = std::find_if(was.comments.begin(), was.comments.end(),
                                         [&](const issues::Comment& w) { return w.uuid == c.uuid; });
        if (before == was.comments.end() || !(*before == c))
            layComment(items[found->second], c, before == was.comments.end() ? nullptr : &*before, v);
        there.erase(found);
    }
    for (const auto& [guid, index] : there)
        list.remove(items[index]);
}

void layViewpoints(pugi::xml_document& document, Version v, const Issue& issue)
{
    ItemList list(document, Kind::Viewpoints, v);
    std::map<std::string, pugi::xml_node> there;
    for (const pugi::xml_node item : list.items())
        there.emplace(guidIn(item), item);
    int next = static_cast<int>(there.size());
    for (const issues::Viewpoint& viewpoint : issue.viewpoints) {
        if (there.erase(viewpoint.uuid) > 0)
            continue;
        const pugi::xml_node node = list.add();
        setAttribute(node, "Guid", viewpoint.uuid);
        setChild(node, "Index", std::to_string(viewpoint.index.value_or(next++)), order::view());
    }
    for (const auto& [guid, item] : there)
        list.remove(item);
}

void layDocument(pugi::xml_node node, const issues::DocumentReference& d, Version v,
                 const std::map<std::string, std::string>& entries)
{
    setAttribute(node, "Guid", d.uuid.empty() && v == Version::V30 ? uuidFromText("document|" + d.target) : d.uuid);
    const auto entry = entries.find(d.target);
    const std::string inside = entry == entries.end() ? d.target : entry->second;
    if (v == Version::V21) {
        setAttribute(node, "isExternal", d.isExternal ? "true" : "false");
        setChild(node, "ReferencedDocument", d.isExternal ? d.target : "../" + inside, order::document(v));
    } else {
        setChild(node, "DocumentGuid", d.isExternal ? "" : inside.substr(inside.find_last_of('/') + 1),
                 order::document(v));
        setChild(node, "Url", d.isExternal ? d.target : "", order::document(v));
    }
    setChild(node, "Description", d.description, order::document(v));
}

void layDocuments(pugi::xml_document& document, Version v, const Issue& was, const Issue& issue,
                  const std::map<std::string, std::string>& entries)
{
    if (was.documents == issue.documents)
        return;
    ItemList list(document, Kind::Documents, v);
    auto items = list.items();
    std::vector<bool> isUsed(items.size(), false);
    const auto same = [](const issues::DocumentReference& a, const issues::DocumentReference& b) {
        return a.isExternal == b.isExternal && a.target == b.target;
    };
    for (const issues::DocumentReference& d : issue.documents) {
        std::size_t at = 0;
        while (at < items.size() && at < was.documents.size() && (isUsed[at] || !same(was.documents[at], d)))
            ++at;
        if (at >= items.size() || at >= was.documents.size()) {
            layDocument(list.add(), d, v, entries);
            continue;
        }
        isUsed[at] = true;
        if (was.documents[at].description != d.description)
            setChild(items[at], "Description", d.description, order::document(v));
    }
    for (std::size_t i = 0; i < items.size(); ++i)
        if (!isUsed[i])
            list.remove(items[i]);
}

void layFiles(pugi::xml_document& document, Version v, const Issue& was, const Issue& issue)
{
    if (was.files == issue.files)
        return;
    ItemList list(document, Kind::Files, v);
    const auto items = list.items();
    for (std::size_t i = 0; i < items.size() && i < was.files.size(); ++i)
        if (std::find(issue.files.begin(), issue.files.end(), was.files[i]) == issue.files.end())
            list.remove(items[i]);
    for (const issues::ModelFile& file : issue.files) {
        if (std::find(was.files.begin(), was.files.end(), file) != was.files.end())
            continue;
        const pugi::xml_node node = list.add();
        if (isIfcGuid(file.project))
            setAttribute(node, "IfcProject", file.project);
        if (isIfcGuid(file.part))
            setAttribute(node, "IfcSpatialStructureElement", file.part);
        setAttribute(node, externalName(v), file.isExternal ? "true" : "false");
        setChild(node, "Filename", file.fileName, order::file());
        setChild(node, "Date", microsecondsOf(file.date) ? file.date : "", order::file());
        setChild(node, "Reference", file.reference, order::file());
    }
    pugi::xml_node markup = document.child("Markup");
    if (const pugi::xml_node header = markup.child("Header");
        header && !header.find_child([](pugi::xml_node n) { return n.type() == pugi::node_element; }))
        markup.remove_child("Header");
}

} // namespace

void layOver(pugi::xml_document& document, Version v, const Issue& was, const Issue& issue,
             const std::map<std::string, std::string>& entries)
{
    pugi::xml_node topic = childOrNew(document.child("Markup"), "Topic", order::markup(v));
    setAttribute(topic, "Guid", issue.uuid);
    const auto attribute = [&](const char* name, const std::string Issue::*field) {
        if (was.*field != issue.*field)
            setAttribute(topic, name, issue.*field);
    };
    if (v == Version::V30)
        attribute("ServerAssignedId", &Issue::serverId);
    attribute("TopicType", &Issue::type);
    // What has no status begins as open here, which is no change of what a file says.
    if (was.status != issue.status)
        setAttribute(topic, "TopicStatus", issue.status);
    const auto child = [&](const char* name, const std::string Issue::*field) {
        if (was.*field != issue.*field)
            setChild(topic, name, issue.*field, order::topic(v));
    };
    layTexts(document, Kind::Links, v, was.links, issue.links, textOf, setItemText);
    child("Title", &Issue::title);
    (void)childOrNew(topic, "Title", order::topic(v));
    child("Priority", &Issue::priority);
    if (was.index != issue.index)
        setChild(topic, "Index", issue.index ? std::to_string(*issue.index) : std::string(), order::topic(v));
    layTexts(document, Kind::Labels, v, was.labels, issue.labels, textOf, setItemText);
    child("CreationDate", &Issue::createdAt);
    child("CreationAuthor", &Issue::createdBy);
    child("ModifiedDate", &Issue::modifiedAt);
    child("ModifiedAuthor", &Issue::modifiedBy);
    child("DueDate", &Issue::dueAt);
    child("AssignedTo", &Issue::assignee);
    child("Stage", &Issue::stage);
    child("Description", &Issue::description);
    if (was.snippet != issue.snippet) {
        topic.remove_child("BimSnippet");
        if (issue.snippet) {
            const pugi::xml_node node = inserted(topic, "BimSnippet", order::topic(v));
            setAttribute(node, "SnippetType", issue.snippet->type);
            setAttribute(node, externalName(v), issue.snippet->isExternal ? "true" : "false");
            setChild(node, "Reference", issue.snippet->reference, order::snippet());
            setChild(node, "ReferenceSchema", issue.snippet->schema, order::snippet());
        }
    }
    layDocuments(document, v, was, issue, entries);
    layTexts(document, Kind::Related, v, was.related, issue.related, guidIn, setGuid);
    layComments(document, v, was, issue);
    layViewpoints(document, v, issue);
    layFiles(document, v, was, issue);
}

} // namespace wendrix::bcf
