#include "core/ifc/details.h"

#include "core/ifc/properties.h"

#include <algorithm>
#include <unordered_set>

namespace wendrix::ifc {

namespace {

// What one element may show; a file may relate everything to everything.
constexpr std::size_t kMostRelated = 2000;
constexpr int kDeepestMaterial = 4;
constexpr int kDeepestClassification = 16;

/// How a relationship reads from either end.
struct Wording {
    Name relation;
    const char* fromRelated;
    const char* fromRelating;
};
constexpr Wording kWordings[] = {
    {"IfcRelDefinesByType", "type", nullptr},
    {"IfcRelAggregates", "part of", "has part"},
    {"IfcRelNests", "nested in", "has nested"},
    {"IfcRelContainedInSpatialStructure", "in", "contains"},
    {"IfcRelReferencedInSpatialStructure", "also in", "refers to"},
    {"IfcRelVoidsElement", "opening in", "has opening"},
    {"IfcRelFillsElement", "fills", "filled by"},
    {"IfcRelProjectsElement", "projects from", "has projection"},
    {"IfcRelCoversBldgElements", "covers", "covered by"},
    {"IfcRelCoversSpaces", "covers", "covered by"},
    {"IfcRelSpaceBoundary", "bounds", "bounded by"},
    {"IfcRelConnectsPortToElement", "port of", "has port"},
    {"IfcRelConnectsElements", "connected to", "connected to"},
    {"IfcRelConnectsPorts", "connected to", "connected to"},
    {"IfcRelInterferesElements", "interferes with", "interferes with"},
    {"IfcRelServicesBuildings", "served by", "serves"},
    {"IfcRelFlowControlElements", "controls the flow of", "controlled by"},
    {"IfcRelAssignsToActor", "assigned to actor", nullptr},
    {"IfcRelAssignsToProcess", "in task", nullptr},
    {"IfcRelAssignsToProduct", "assigned to", nullptr},
    {"IfcRelAssignsToControl", "controlled by", nullptr},
    {"IfcRelAssignsToResource", "made with", nullptr},
};

class DetailsReader {
public:
    DetailsReader(const Model& model, const Element& element)
        : model_(model), source_(model.source()), element_(element), entity_(model.source().entity(element.entity))
    {
    }

    ElementDetails read()
    {
        attributes();
        details_.sets = model_.properties(element_);
        for (const Link& link : model_.relations().of(element_.entity))
            relation(link);
        connections();
        materials(element_.materialEntity, 0, {}, true);
        layers();
        ownership();
        return std::move(details_);
    }

private:
    void attributes()
    {
        for (const Name name : source_.schema().attributes(element_.type)) {
            const Value value = entity_[name];
            if (!value.isGiven() || value.reference() != 0 || value.isList())
                continue;
            Property p{std::string(name.text()), {}, {}};
            if (const auto item = value.enumeration(); !item.empty()) {
                p.value = item;
            } else if (const auto number = value.number()) {
                // The only numbers among an element's own attributes are lengths: widths, heights, elevations.
                p.value = plainNumber(*number * model_.units().lengthToMetres);
                p.unit = "m";
            } else {
                p.value = value.text();
            }
            details_.attributes.push_back(std::move(p));
        }
    }

    void add(const std::string& how, EntityId id)
    {
        const Entity e = source_.entity(id);
        if (!e || details_.related.size() >= kMostRelated || !seen_.insert(how + "#" + std::to_string(id)).second)
            return;
        std::string name = e["Name"].text();
        if (e.isA("IfcActor"))
            name = actorName(source_.entity(e["TheActor"]));
        details_.related.push_back({how, id, std::string(e.typeName()), name, e["GlobalId"].text()});
    }

    void relation(const Link& link)
    {
        const Schema& schema = source_.schema();
        const EntityId far = model_.relations().idOf(link.far);
        if (schema.isA(link.type, "IfcRelAssignsToGroup")) {
            const TypeId type = source_.typeOf(far);
            if (link.isRelating == 0)
                add(schema.isA(type, "IfcZone")     ? "in zone"
                    : schema.isA(type, "IfcSystem") ? "in system"
                                                    : "in group",
                    far);
        } else if (schema.isA(link.type, "IfcRelAssociatesClassification")) {
            if (link.isRelating == 0)
                classification(far);
        } else {
            for (const Wording& w : kWordings)
                if (schema.isA(link.type, w.relation)) {
                    if (const char* how = link.isRelating != 0 ? w.fromRelating : w.fromRelated)
                        add(how, far);
                    throughOpening(link, far);
                    return;
                }
        }
    }

    /// On through an opening to what a person sees: the wall a door stands in, the door a wall holds.
    void throughOpening(const Link& link, EntityId opening)
    {
        const Schema& schema = source_.schema();
        if (schema.isA(link.type, "IfcRelFillsElement") && link.isRelating == 0)
            for (const EntityId host : model_.relations().others(opening, "IfcRelVoidsElement", false))
                add("stands in", host);
        if (schema.isA(link.type, "IfcRelVoidsElement") && link.isRelating != 0)
            for (const EntityId filling : model_.relations().others(opening, "IfcRelFillsElement", true))
                add("holds", filling);
    }

    /// Through its ports: the elements that the ports at the other ends belong to.
    void connections()
    {
        const Relations& relations = model_.relations();
        const auto portsOf = [&](EntityId element) {
            auto ports = relations.others(element, "IfcRelConnectsPortToElement", true);
            const auto related = relations.others(element, "IfcRelConnectsPortToElement", false);
            ports.insert(ports.end(), related.begin(), related.end());
            for (const EntityId nested : relations.others(element, "IfcRelNests", true))
                if (source_.schema().isA(source_.typeOf(nested), "IfcPort"))
                    ports.push_back(nested);
            return ports;
        };
        const auto ownerOf = [&](EntityId port) {
            for (const bool asRelating : {true, false})
                if (const EntityId e = relations.other(port, "IfcRelConnectsPortToElement", asRelating); e != 0)
                    return e;
            return relations.other(port, "IfcRelNests", false);
        };
        for (const EntityId port : portsOf(element_.entity))
            for (const bool asRelating : {true, false})
                for (const EntityId other : relations.others(port, "IfcRelConnectsPorts", asRelating))
                    if (const EntityId owner = ownerOf(other); owner != 0 && owner != element_.entity)
                        add("connected to", owner);
    }

    void classification(EntityId id)
    {
        ClassificationReference c;
        Entity e = source_.entity(id);
        if (!e)
            return;
        c.code = e["Identification"].text();
        if (c.code.empty())
            c.code = e["ItemReference"].text(); // IFC2X3
        c.name = e["Name"].text();
        for (int depth = 0; e && depth < kDeepestClassification; ++depth) {
            if (e.isA("IfcClassification")) {
                c.system = e["Name"].text();
                break;
            }
            const EntityId up = e["ReferencedSource"].reference();
            e = source_.entity(up);
        }
        details_.classifications.push_back(std::move(c));
    }

    /// @param own  what the layer or constituent around the material says
    void materials(EntityId id, int depth, MaterialPart own, bool mayBeMany)
    {
        const Entity e = source_.entity(id);
        if (!e || depth > kDeepestMaterial || details_.materials.size() >= kMostRelated)
            return;
        if (e.isA("IfcMaterial")) {
            const std::string name = e["Name"].text();
            own.name = own.name.empty() || own.name == name ? name : own.name + " (" + name + ")";
            if (own.category.empty())
                own.category = e["Category"].text();
            details_.materials.push_back(own);
            materialProperties(id);
            return;
        }
        if (const auto thickness = e["LayerThickness"].number())
            own.thickness = Metres{*thickness * model_.units().lengthToMetres};
        if (e.isA("IfcMaterialConstituent")) {
            if (const auto share = e["Fraction"].number())
                own.share = *share;
            own.name = e["Name"].text();
        }
        for (const Name inner : {Name("ForLayerSet"), Name("ForProfileSet"), Name("Material")})
            if (const EntityId next = e[inner].reference(); next != 0)
                return materials(next, depth + 1, own, mayBeMany);
        if (e.isA("IfcMaterialLayer")) { // a layer of air has no material
            own.name = e["Name"].text().empty() ? "(no material)" : e["Name"].text();
            details_.materials.push_back(own);
            return;
        }
        if (mayBeMany)
            for (const Name list :
                 {Name("MaterialLayers"), Name("MaterialProfiles"), Name("MaterialConstituents"), Name("Materials")})
                for (const Value one : e[list])
                    materials(one.reference(), depth + 1, own, false);
    }

    void materialProperties(EntityId material)
    {
        source_.forEach("IfcMaterialProperties", [&](const Entity& set) {
            if (set["Material"].reference() != material)
                return;
            PropertySet properties = readMaterialProperties(source_, model_.units(), set);
            if (!properties.properties.empty())
                details_.sets.push_back(std::move(properties));
        });
    }

    void layers()
    {
        std::unordered_set<EntityId> assigned(element_.representations.begin(), element_.representations.end());
        for (const EntityId id : element_.representations)
            for (const Value item : source_.entity(id)["Items"]) {
                assigned.insert(item.reference());
                const Entity map = source_.entity(source_.entity(item)["MappingSource"]);
                assigned.insert(map["MappedRepresentation"].reference());
                for (const Value inner : source_.entity(map["MappedRepresentation"])["Items"])
                    assigned.insert(inner.reference());
            }
        assigned.erase(0);
        source_.forEach("IfcPresentationLayerAssignment", [&](const Entity& layer) {
            for (const Value item : layer["AssignedItems"])
                if (assigned.contains(item.reference())) {
                    details_.layers.push_back(layer["Name"].text());
                    return;
                }
        });
    }

    std::string actorName(const Entity& actor) const
    {
        const Entity person = actor.isA("IfcPersonAndOrganization") ? source_.entity(actor["ThePerson"]) : actor;
        if (person.isA("IfcPerson")) {
            const std::string given = person["GivenName"].text(), family = person["FamilyName"].text();
            const std::string both = given + (given.empty() || family.empty() ? "" : " ") + family;
            return !both.empty()                        ? both
                   : person["Identification"].isGiven() ? person["Identification"].text()
                                                        : person["Id"].text();
        }
        return person["Name"].text();
    }

    void ownership()
    {
        const Entity history = source_.entity(entity_["OwnerHistory"]);
        if (!history)
            return;
        Ownership o;
        const Entity user = source_.entity(history["OwningUser"]);
        o.person = actorName(user);
        o.organisation = source_.entity(user["TheOrganization"])["Name"].text();
        const Entity application = source_.entity(history["OwningApplication"]);
        o.application = application["ApplicationFullName"].text();
        if (const std::string version = application["Version"].text(); !version.empty())
            o.application += " " + version;
        o.created = history["CreationDate"].integer();
        o.changed = history["LastModifiedDate"].integer();
        details_.ownership = std::move(o);
    }

    const Model& model_;
    const Source& source_;
    const Element& element_;
    Entity entity_;
    ElementDetails details_;
    std::unordered_set<std::string> seen_;
};

} // namespace

ElementDetails readDetails(const Model& model, const Element& element) { return DetailsReader(model, element).read(); }

} // namespace wendrix::ifc
