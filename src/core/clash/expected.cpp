#include "core/clash/expected.h"

#include "core/base/text.h"

#include <algorithm>

namespace wendrix::clash {

using ifc::ElementIndex;
using ifc::Entity;
using ifc::EntityId;

namespace {

constexpr std::array<std::string_view, 6> kNames{"openings", "connected", "assembly", "covering", "hosted", "run"};
constexpr std::uint32_t kOnItsOwn = ~std::uint32_t{0};

std::uint64_t keyOf(ElementIndex a, ElementIndex b)
{
    return static_cast<std::uint64_t>(std::min(a, b)) << 32 | std::max(a, b);
}

/// What one relation says: its one side and all of its other.
template <class Each>
void forRelated(const ifc::Model& model, const char* relation, const char* one, const char* others, Each each)
{
    model.source().forEach(ifc::Name(std::string_view(relation)), [&](const Entity& e) {
        const EntityId first = e[ifc::Name(std::string_view(one))].reference();
        const auto value = e[ifc::Name(std::string_view(others))];
        if (const EntityId only = value.reference(); only != 0)
            each(first, only, e);
        else
            for (const step::Value item : value)
                each(first, item.reference(), e);
    });
}

} // namespace

std::string_view nameOf(Meeting meeting) { return kNames[static_cast<std::size_t>(meeting)]; }

std::optional<Meeting> meetingFrom(std::string_view name)
{
    const auto at = std::find(kNames.begin(), kNames.end(), name);
    const auto number = static_cast<std::size_t>(at - kNames.begin());
    return number < kMeetings.size() ? std::optional(static_cast<Meeting>(number)) : std::nullopt;
}

std::string toText(Meetings meetings)
{
    std::string text;
    for (const Meeting m : kMeetings)
        if (meetings.has(m))
            text += (text.empty() ? "" : ",") + std::string(nameOf(m));
    return text.empty() ? "none" : text;
}

std::optional<Meetings> meetingsFrom(std::string_view text)
{
    if (text == "none" || text == "all")
        return text == "all" ? Meetings::all() : Meetings::none();
    Meetings meetings = Meetings::none();
    for (std::size_t from = 0; from <= text.size();) {
        const std::size_t end = std::min(text.find(',', from), text.size());
        const auto meeting = meetingFrom(text.substr(from, end - from));
        if (!meeting)
            return {};
        meetings.set(*meeting, true);
        from = end + 1;
    }
    return meetings;
}

ExpectedMeetings::ExpectedMeetings(const ifc::Model& model)
{
    const ifc::Schema& schema = model.source().schema();
    const auto& elements = model.elements();
    for (ElementIndex i = 0; i < elements.size(); ++i)
        byEntity_.emplace(elements[i].entity, i);

    std::unordered_map<EntityId, EntityId> hostOf; // of each opening
    forRelated(model, "IfcRelVoidsElement", "RelatingBuildingElement", "RelatedOpeningElement",
               [&](EntityId host, EntityId opening, const Entity&) { hostOf.emplace(opening, host); });
    forRelated(model, "IfcRelFillsElement", "RelatingOpeningElement", "RelatedBuildingElement",
               [&](EntityId opening, EntityId filling, const Entity&) {
                   if (const auto host = hostOf.find(opening); host != hostOf.end())
                       add(Meeting::Openings, host->second, filling);
               });

    std::unordered_map<EntityId, EntityId> ownerOf; // of each port
    forRelated(model, "IfcRelConnectsPortToElement", "RelatedElement", "RelatingPort",
               [&](EntityId element, EntityId port, const Entity&) { ownerOf.emplace(port, element); });
    std::unordered_map<EntityId, EntityId> partOf; // of each element that is part of another
    const auto takeParts = [&](EntityId whole, EntityId part, const Entity&) {
        const bool isPort = schema.isA(model.source().typeOf(part), "IfcPort");
        (isPort ? ownerOf : partOf).emplace(part, whole);
    };
    forRelated(model, "IfcRelNests", "RelatingObject", "RelatedObjects", takeParts);
    forRelated(model, "IfcRelAggregates", "RelatingObject", "RelatedObjects", takeParts);
    forRelated(model, "IfcRelConnectsPorts", "RelatingPort", "RelatedPort", [&](EntityId a, EntityId b, const Entity&) {
        const auto one = ownerOf.find(a), other = ownerOf.find(b);
        if (one != ownerOf.end() && other != ownerOf.end())
            add(Meeting::Connected, one->second, other->second);
    });
    forRelated(model, "IfcRelConnectsElements", "RelatingElement", "RelatedElement",
               [&](EntityId a, EntityId b, const Entity& e) {
                   add(Meeting::Connected, a, b);
                   for (const step::Value realizing : e["RealizingElements"]) {
                       add(Meeting::Connected, a, realizing.reference());
                       add(Meeting::Connected, b, realizing.reference());
                   }
               });
    forRelated(model, "IfcRelCoversBldgElements", "RelatingBuildingElement", "RelatedCoverings",
               [&](EntityId a, EntityId b, const Entity&) { add(Meeting::Covering, a, b); });
    forRelated(model, "IfcRelFlowControlElements", "RelatingFlowElement", "RelatedControlElements",
               [&](EntityId a, EntityId b, const Entity&) { add(Meeting::Hosted, a, b); });
    forRelated(model, "IfcRelProjectsElement", "RelatingElement", "RelatedFeatureElement",
               [&](EntityId a, EntityId b, const Entity&) { add(Meeting::Hosted, a, b); });
    forRelated(model, "IfcRelAdheresToElement", "RelatingElement", "RelatedSurfaceFeatures",
               [&](EntityId a, EntityId b, const Entity&) { add(Meeting::Hosted, a, b); });

    // The whole of a part may be part of another; wholes that are places (a storey, a building) are none.
    std::unordered_map<EntityId, std::uint32_t> numbers;
    whole_.assign(elements.size(), kOnItsOwn);
    for (ElementIndex i = 0; i < elements.size(); ++i) {
        EntityId top = elements[i].entity;
        for (int depth = 0; depth < 64; ++depth) {
            const auto whole = partOf.find(top);
            if (whole == partOf.end() || !schema.isA(model.source().typeOf(whole->second), "IfcElement"))
                break;
            top = whole->second;
        }
        whole_[i] = numbers.try_emplace(top, static_cast<std::uint32_t>(numbers.size())).first->second;
    }
    // What fills or covers a whole, or is a whole itself, meets all of its parts.
    constexpr auto kOfWholes = static_cast<std::uint8_t>(1u << static_cast<unsigned>(Meeting::Openings) |
                                                         1u << static_cast<unsigned>(Meeting::Covering));
    for (const auto& [pair, bits] : pairs_)
        if ((bits & kOfWholes) != 0)
            wholes_[keyOf(whole_[pair >> 32], whole_[pair & 0xFFFFFFFFu])] |= bits & kOfWholes;
}

void ExpectedMeetings::add(Meeting meeting, EntityId a, EntityId b)
{
    const auto one = byEntity_.find(a), other = byEntity_.find(b);
    if (one != byEntity_.end() && other != byEntity_.end() && one->second != other->second)
        pairs_[keyOf(one->second, other->second)] |= static_cast<std::uint8_t>(1u << static_cast<unsigned>(meeting));
}

std::optional<Meeting> ExpectedMeetings::between(ElementIndex a, ElementIndex b, Meetings rules) const
{
    const auto bitsOf = [](const auto& map, std::uint64_t key) {
        const auto at = map.find(key);
        return at != map.end() ? at->second : std::uint8_t{0};
    };
    unsigned bits = bitsOf(pairs_, keyOf(a, b)) | bitsOf(wholes_, keyOf(whole_[a], whole_[b]));
    bits |= whole_[a] == whole_[b] ? 1u << static_cast<unsigned>(Meeting::Assembly) : 0u;
    for (const Meeting m : kMeetings)
        if (rules.has(m) && (bits >> static_cast<unsigned>(m) & 1u) != 0)
            return m;
    return {};
}

bool isProvision(const ifc::Model& model, const ifc::Element& element)
{
    if (!model.source().schema().isA(element.type, "IfcBuildingElementProxy"))
        return false;
    const Entity e = model.source().entity(element.entity);
    return e["PredefinedType"].enumeration() == "PROVISIONFORVOID" ||
           upperCase(e["ObjectType"].text()) == "PROVISIONFORVOID";
}

} // namespace wendrix::clash
