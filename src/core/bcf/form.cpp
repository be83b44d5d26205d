#include "core/bcf/form.h"

#include "core/base/guid.h"
#include "core/base/text.h"

#include <algorithm>
#include <vector>

namespace wendrix::bcf {

namespace {

struct ListForm {
    const char *wrapper, *item;
};

/// By kind; 2.1 has no wrappers.
constexpr ListForm kLists21[] = {{nullptr, "ReferenceLink"}, {nullptr, "Labels"},  {nullptr, "DocumentReference"},
                                 {nullptr, "RelatedTopic"},  {nullptr, "Comment"}, {nullptr, "Viewpoints"},
                                 {nullptr, "File"}};
constexpr ListForm kLists30[] = {{"ReferenceLinks", "ReferenceLink"},
                                 {"Labels", "Label"},
                                 {"DocumentReferences", "DocumentReference"},
                                 {"RelatedTopics", "RelatedTopic"},
                                 {"Comments", "Comment"},
                                 {"Viewpoints", "ViewPoint"},
                                 {"Files", "File"}};

const ListForm& formOf(ItemList::Kind kind, Version v)
{
    return (v == Version::V21 ? kLists21 : kLists30)[static_cast<int>(kind)];
}

bool isElement(pugi::xml_node node) { return node.type() == pugi::node_element; }

/// Neither an element nor a text in it.
bool isEmpty(pugi::xml_node node)
{
    return isBlank(textOf(node)) && !node.find_child([](pugi::xml_node n) { return isElement(n); });
}

/// Whether this element of a list's name is the wrapper of 3.0, not an item of 2.1.
bool isWrapper(pugi::xml_node node, ItemList::Kind kind)
{
    const std::string_view name = node.name();
    if (kind == ItemList::Kind::Labels)
        return name == "Labels" && (node.child("Label") || isEmpty(node));
    if (kind == ItemList::Kind::Viewpoints)
        return name == "Viewpoints" && !node.attribute("Guid") &&
               (isEmpty(node) || node.child("ViewPoint") || node.child("Viewpoint").attribute("Guid"));
    return name == kLists30[static_cast<int>(kind)].wrapper;
}

bool isItem(pugi::xml_node node, ItemList::Kind kind)
{
    const std::string_view name = node.name();
    if (kind == ItemList::Kind::Viewpoints)
        return name == "Viewpoints" || name == "ViewPoint" || (name == "Viewpoint" && node.attribute("Guid"));
    if (kind == ItemList::Kind::Labels)
        return name == "Labels" || name == "Label";
    return name == kLists30[static_cast<int>(kind)].item;
}

/// Finds a list's items wherever either version puts them, and puts them where this one does.
void bringList(pugi::xml_document& document, ItemList::Kind kind, Version version, const Telling& tell)
{
    pugi::xml_node markup = document.child("Markup"), topic = markup.child("Topic");
    std::vector<pugi::xml_node> items, wrappers, strays;
    const auto gather = [&](pugi::xml_node parent) {
        for (const pugi::xml_node node : parent.children()) {
            if (!isElement(node))
                continue;
            if (isWrapper(node, kind)) {
                wrappers.push_back(node);
                for (const pugi::xml_node inner : node.children())
                    (isElement(inner) && isItem(inner, kind) ? items : strays).push_back(inner);
            } else if (isItem(node, kind)) {
                items.push_back(node);
            }
        }
    };
    if (kind == ItemList::Kind::Files) {
        gather(markup.child("Header"));
    } else {
        if (kind == ItemList::Kind::Comments || kind == ItemList::Kind::Viewpoints)
            gather(markup);
        gather(topic);
    }
    const ListForm& form = formOf(kind, version);
    const bool isFormed = std::all_of(items.begin(), items.end(), [&](pugi::xml_node n) {
        const std::string_view parent = n.parent().name();
        return n.name() == std::string_view(form.item) &&
               (form.wrapper != nullptr ? parent == form.wrapper && wrappers.size() == 1
                : kind == ItemList::Kind::Comments || kind == ItemList::Kind::Viewpoints ? parent == "Markup"
                                                                                         : wrappers.empty());
    });
    if (isFormed && (form.wrapper != nullptr || wrappers.empty()))
        return;
    if (!items.empty())
        tell(Severity::Warning, std::string("The ") + form.item + " elements are not where BCF " + nameOf(version) +
                                    " has them; they were read all the same.");
    pugi::xml_node home = kind == ItemList::Kind::Files ? markup.child("Header") : topic;
    if (form.wrapper == nullptr) {
        if (kind == ItemList::Kind::Comments || kind == ItemList::Kind::Viewpoints)
            home = markup;
        for (const pugi::xml_node stray : strays)
            topic.append_move(stray);
        for (pugi::xml_node item : items) {
            home.append_move(item);
            item.set_name(form.item);
        }
        for (pugi::xml_node wrapper : wrappers)
            wrapper.parent().remove_child(wrapper);
        return;
    }
    pugi::xml_node wrapper = wrappers.empty() ? pugi::xml_node() : wrappers[0];
    if (!wrapper) // under a name nobody has, so that an item of the same name is not taken for it
        wrapper = home.append_child("\x01");
    for (pugi::xml_node item : items) {
        wrapper.append_move(item);
        item.set_name(form.item);
    }
    for (const pugi::xml_node stray : strays)
        if (stray.parent() != wrapper)
            wrapper.append_move(stray);
    for (pugi::xml_node other : wrappers)
        if (other != wrapper)
            other.parent().remove_child(other);
    wrapper.set_name(form.wrapper);
}

void bringExternal(pugi::xml_node node, Version version)
{
    for (const char* name : {"isExternal", "IsExternal"})
        if (pugi::xml_attribute a = node.attribute(name); a && std::string_view(name) != externalName(version))
            a.set_name(externalName(version));
}

/// A GUID in lower case that nothing else in `taken` has.
void bringGuid(pugi::xml_node node, const char* what, const std::string& seed, std::set<std::string>& taken,
               const Telling& tell)
{
    const std::string given = node.attribute("Guid").value(), lower = lowerCase(given);
    std::string guid = lower;
    if (!isUuid(lower)) {
        tell(Severity::Error, std::string(what) +
                                  (given.empty() ? " has no GUID" : " has " + given + ", which is no GUID") +
                                  "; it was given one.");
        guid = uuidFromText(seed + "|" + given);
    } else if (given != lower) {
        tell(Severity::Warning, std::string(what) + " " + lower + " has its GUID in capitals.");
    }
    if (taken.contains(guid)) {
        tell(Severity::Error, "Two of this topic share the GUID " + guid + ": " + what +
                                  "; they are kept apart, and the second one was given another.");
        for (int n = 2; taken.contains(guid); ++n)
            guid = uuidFromText(seed + "|" + lower + "|" + std::to_string(n));
    }
    taken.insert(guid);
    setAttribute(node, "Guid", guid);
}

void lowerGuid(pugi::xml_node node)
{
    if (pugi::xml_attribute a = node.attribute("Guid"))
        a.set_value(lowerCase(a.value()).c_str());
}

void arrange(pugi::xml_node node, Order of, const Telling& tell)
{
    if (putInOrder(node, of))
        tell(Severity::Warning,
             std::string("The children of ") + node.name() + " are not in the order of the standard.");
}

} // namespace

namespace order {

Order markup(Version v)
{
    static constexpr const char* k21[] = {"Header", "Topic", "Comment", "Viewpoints"};
    return v == Version::V21 ? Order(k21) : Order(k21).first(2);
}

Order topic(Version v)
{
    static constexpr const char* k21[] = {"ReferenceLink",  "Title",        "Priority",          "Index",
                                          "Labels",         "CreationDate", "CreationAuthor",    "ModifiedDate",
                                          "ModifiedAuthor", "DueDate",      "AssignedTo",        "Stage",
                                          "Description",    "BimSnippet",   "DocumentReference", "RelatedTopic"};
    static constexpr const char* k30[] = {
        "ReferenceLinks", "Title",        "Priority",           "Index",         "Labels",     "CreationDate",
        "CreationAuthor", "ModifiedDate", "ModifiedAuthor",     "DueDate",       "AssignedTo", "Stage",
        "Description",    "BimSnippet",   "DocumentReferences", "RelatedTopics", "Comments",   "Viewpoints"};
    return v == Version::V21 ? Order(k21) : Order(k30);
}

Order header()
{
    static constexpr const char* k[] = {"Files", "File"};
    return k;
}

Order file()
{
    static constexpr const char* k[] = {"Filename", "Date", "Reference"};
    return k;
}

Order snippet()
{
    static constexpr const char* k[] = {"Reference", "ReferenceSchema"};
    return k;
}

Order document(Version v)
{
    static constexpr const char *k21[] = {"ReferencedDocument", "Description"},
                                *k30[] = {"DocumentGuid", "Url", "Description"};
    return v == Version::V21 ? Order(k21) : Order(k30);
}

Order comment()
{
    static constexpr const char* k[] = {"Date", "Author", "Comment", "Viewpoint", "ModifiedDate", "ModifiedAuthor"};
    return k;
}

Order view()
{
    static constexpr const char* k[] = {"Viewpoint", "Snapshot", "Index"};
    return k;
}

Order visualisation(Version v)
{
    static constexpr const char *k21[] = {"Components", "OrthogonalCamera", "PerspectiveCamera",
                                          "Lines",      "ClippingPlanes",   "Bitmap"},
                                *k30[] = {"Components", "OrthogonalCamera", "PerspectiveCamera",
                                          "Lines",      "ClippingPlanes",   "Bitmaps"};
    return v == Version::V21 ? Order(k21) : Order(k30);
}

Order components(Version v)
{
    static constexpr const char* k21[] = {"ViewSetupHints", "Selection", "Visibility", "Coloring"};
    return v == Version::V21 ? Order(k21) : Order(k21).subspan(1);
}

Order visibility()
{
    static constexpr const char* k[] = {"ViewSetupHints", "Exceptions"};
    return k;
}

Order camera()
{
    static constexpr const char* k[] = {"CameraViewPoint", "CameraDirection",  "CameraUpVector",
                                        "FieldOfView",     "ViewToWorldScale", "AspectRatio"};
    return k;
}

Order bitmap(Version v)
{
    static constexpr const char *k21[] = {"Bitmap", "Reference", "Location", "Normal", "Up", "Height"},
                                *k30[] = {"Format", "Reference", "Location", "Normal", "Up", "Height"};
    return v == Version::V21 ? Order(k21) : Order(k30);
}

} // namespace order

ItemList::ItemList(pugi::xml_document& document, Kind kind, Version version)
    : wrapper_(formOf(kind, version).wrapper), item_(formOf(kind, version).item)
{
    const pugi::xml_node markup = document.child("Markup");
    if (kind == Kind::Files) {
        parent_ = childOrNew(markup, "Header", order::markup(version));
        order_ = order::header();
    } else if (wrapper_ == nullptr && (kind == Kind::Comments || kind == Kind::Viewpoints)) {
        parent_ = markup;
        order_ = order::markup(version);
    } else {
        parent_ = markup.child("Topic");
        order_ = order::topic(version);
    }
}

std::vector<pugi::xml_node> ItemList::items() const
{
    std::vector<pugi::xml_node> found;
    for (const pugi::xml_node item : (wrapper_ != nullptr ? parent_.child(wrapper_) : parent_).children(item_))
        found.push_back(item);
    return found;
}

pugi::xml_node ItemList::add()
{
    return wrapper_ != nullptr ? childOrNew(parent_, wrapper_, order_).append_child(item_)
                               : inserted(parent_, item_, order_);
}

void ItemList::remove(pugi::xml_node item)
{
    pugi::xml_node parent = item.parent();
    parent.remove_child(item);
    if (wrapper_ != nullptr && isEmpty(parent))
        parent.parent().remove_child(parent);
}

bool isExternal(pugi::xml_node node, bool byDefault)
{
    for (const char* name : {"isExternal", "IsExternal"})
        if (const auto truth = truthOf(node.attribute(name)))
            return *truth;
    return byDefault;
}

bool isUuid(std::string_view text)
{
    if (text.size() != 36)
        return false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const bool isHyphen = i == 8 || i == 13 || i == 18 || i == 23;
        if (isHyphen ? text[i] != '-' : std::isxdigit(static_cast<unsigned char>(text[i])) == 0)
            return false;
    }
    return true;
}

void bringMarkup(pugi::xml_document& document, Version version, const std::string& folder, const Telling& tell)
{
    const pugi::xml_node markup = document.child("Markup");
    pugi::xml_node topic = markup.child("Topic");
    using Kind = ItemList::Kind;
    for (const Kind kind :
         {Kind::Links, Kind::Labels, Kind::Documents, Kind::Related, Kind::Comments, Kind::Viewpoints})
        bringList(document, kind, version, tell);
    if (markup.child("Header")) {
        bringList(document, Kind::Files, version, tell);
        for (const pugi::xml_node file : ItemList(document, Kind::Files, version).items()) {
            bringExternal(file, version);
            arrange(file, order::file(), tell);
        }
    }
    if (const pugi::xml_node snippet = topic.child("BimSnippet")) {
        bringExternal(snippet, version);
        arrange(snippet, order::snippet(), tell);
    }
    std::set<std::string> topics;
    if (!topic.attribute("Guid") && isUuid(folder)) {
        tell(Severity::Error, "The topic has no GUID; its folder's name is taken.");
        topic.prepend_attribute("Guid") = folder.c_str();
    }
    bringGuid(topic, "The topic", folder, topics, tell);
    const std::string own = topic.attribute("Guid").value();
    for (const pugi::xml_node n : ItemList(document, Kind::Related, version).items())
        lowerGuid(n);
    for (const pugi::xml_node n : ItemList(document, Kind::Documents, version).items()) {
        lowerGuid(n);
        if (version == Version::V21)
            bringExternal(n, version);
        arrange(n, order::document(version), tell);
    }
    std::set<std::string> views, comments;
    for (const pugi::xml_node n : ItemList(document, Kind::Viewpoints, version).items()) {
        bringGuid(n, "A viewpoint", own + "/viewpoint/" + textOf(n.child("Viewpoint")) + textOf(n.child("Snapshot")),
                  views, tell);
        arrange(n, order::view(), tell);
    }
    for (const pugi::xml_node n : ItemList(document, Kind::Comments, version).items()) {
        bringGuid(n, "A comment", own + "/comment/" + textOf(n.child("Date")) + textOf(n.child("Comment")), comments,
                  tell);
        lowerGuid(n.child("Viewpoint"));
        arrange(n, order::comment(), tell);
    }
    arrange(topic, order::topic(version), tell);
    arrange(markup, order::markup(version), tell);
}

void bringViewpoint(pugi::xml_document& document, Version version, const Telling& tell)
{
    const pugi::xml_node info = document.child("VisualizationInfo");
    const bool isNew = version == Version::V30;
    lowerGuid(info);
    if (pugi::xml_node components = info.child("Components")) {
        pugi::xml_node visibility = components.child("Visibility");
        const pugi::xml_node outer = components.child("ViewSetupHints"), inner = visibility.child("ViewSetupHints");
        if (isNew && outer) {
            if (!visibility)
                visibility = childOrNew(components, "Visibility", order::components(version));
            if (inner)
                components.remove_child(outer);
            else
                visibility.prepend_move(outer);
        } else if (!isNew && inner) {
            if (outer)
                visibility.remove_child(inner);
            else
                components.prepend_move(inner);
        }
        if (pugi::xml_node hints = isNew ? visibility.child("ViewSetupHints") : components.child("ViewSetupHints"))
            if (pugi::xml_attribute misspelt = hints.attribute("SpacesBoundariesVisible"))
                misspelt.set_name("SpaceBoundariesVisible");
        for (pugi::xml_node colour : components.child("Coloring").children("Color")) {
            pugi::xml_node wrapper = colour.child("Components");
            if (isNew && !wrapper && colour.child("Component")) {
                wrapper = colour.prepend_child("Components");
                while (const pugi::xml_node component = colour.child("Component"))
                    wrapper.append_move(component);
            } else if (!isNew && wrapper) {
                while (const pugi::xml_node component = wrapper.child("Component"))
                    colour.append_move(component);
                colour.remove_child(wrapper);
            }
        }
        if (isNew)
            arrange(visibility, order::visibility(), tell);
        arrange(components, order::components(version), tell);
    }
    for (const char* name : {"OrthogonalCamera", "PerspectiveCamera"})
        arrange(info.child(name), order::camera(), tell);
    std::vector<pugi::xml_node> bitmaps;
    for (const pugi::xml_node n : info.children("Bitmap"))
        bitmaps.push_back(n);
    for (const pugi::xml_node n : info.child("Bitmaps").children("Bitmap"))
        bitmaps.push_back(n);
    if (!bitmaps.empty()) {
        pugi::xml_node home = info;
        if (isNew && !(home = info.child("Bitmaps")))
            home = inserted(info, "Bitmaps", order::visualisation(version));
        for (pugi::xml_node bitmap : bitmaps) {
            if (bitmap.parent() != home)
                home.append_move(bitmap);
            // What the picture is called in one version is what the element around it is called in the other.
            if (pugi::xml_node format = bitmap.child(isNew ? "Bitmap" : "Format")) {
                format.set_name(isNew ? "Format" : "Bitmap");
                setText(format, isNew ? lowerCase(textOf(format)) : upperCase(textOf(format)));
            }
            arrange(bitmap, order::bitmap(version), tell);
        }
        if (!isNew)
            info.parent().child("VisualizationInfo").remove_child("Bitmaps");
    }
    arrange(info, order::visualisation(version), tell);
}

} // namespace wendrix::bcf
