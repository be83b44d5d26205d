#pragma once

#include "core/ifc/model.h"

#include <array>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>

namespace wendrix::clash {

/// Why two elements are expected to meet, so that their meeting is no clash. The first that holds counts.
enum class Meeting {
    Openings,  ///< an element in the opening it fills; a provided hole and what goes through it
    Connected, ///< by ports, or by one of the IfcRelConnects... relations
    Assembly,  ///< parts of one whole, and the whole
    Covering,  ///< an element and its covering or insulation
    Hosted,    ///< what is fixed to the other by a relation
    Run,       ///< pieces of one system that meet within a joint's distance of an end; asked for by Question::joint
};
/// Those that relations tell of.
inline constexpr std::array kMeetings{Meeting::Openings, Meeting::Connected, Meeting::Assembly, Meeting::Covering,
                                      Meeting::Hosted};
/// "connected"
[[nodiscard]] std::string_view nameOf(Meeting meeting);
[[nodiscard]] std::optional<Meeting> meetingFrom(std::string_view name);

/// Some of them that relations tell of.
class Meetings {
public:
    [[nodiscard]] static Meetings all() { return Meetings(0x1F); }
    [[nodiscard]] static Meetings none() { return Meetings(0); }
    [[nodiscard]] bool has(Meeting m) const { return (bits_ >> static_cast<unsigned>(m) & 1u) != 0; }
    void set(Meeting m, bool isOn)
    {
        const unsigned bit = 1u << static_cast<unsigned>(m);
        bits_ = isOn ? bits_ | bit : bits_ & ~bit;
    }
    friend bool operator==(const Meetings&, const Meetings&) = default;

private:
    explicit Meetings(unsigned bits) : bits_(bits) {}
    unsigned bits_;
};
/// "openings,connected"; "none".
[[nodiscard]] std::string toText(Meetings meetings);
/// The other way; "all" and "none" are texts as well. Nothing where a name is none.
[[nodiscard]] std::optional<Meetings> meetingsFrom(std::string_view text);

/// What a file's relations say of who meets whom. Relations read (ISO 16739-1): IfcRelVoidsElement and
/// IfcRelFillsElement; IfcRelConnectsPorts by IfcRelConnectsPortToElement or IfcRelNests, IfcRelConnectsElements with
/// its subtypes, the realizing elements included; IfcRelAggregates and IfcRelNests of elements;
/// IfcRelCoversBldgElements; IfcRelFlowControlElements, IfcRelProjectsElement and IfcRelAdheresToElement.
class ExpectedMeetings {
public:
    explicit ExpectedMeetings(const ifc::Model& model);

    /// The first reason for two elements of the file that is among `rules`.
    [[nodiscard]] std::optional<Meeting> between(ifc::ElementIndex a, ifc::ElementIndex b, Meetings rules) const;

private:
    void add(Meeting meeting, ifc::EntityId a, ifc::EntityId b);

    std::unordered_map<ifc::EntityId, ifc::ElementIndex> byEntity_;
    std::unordered_map<std::uint64_t, std::uint8_t> pairs_;  ///< bits of Meeting
    std::unordered_map<std::uint64_t, std::uint8_t> wholes_; ///< the same of topmost wholes, for all their parts
    std::vector<std::uint32_t> whole_;                       ///< of each element: the number of its topmost whole
};

/// Whether an element keeps room for a hole that another team is to make: IfcBuildingElementProxy of the type
/// PROVISIONFORVOID, in IFC2X3 of the object type ProvisionForVoid.
[[nodiscard]] bool isProvision(const ifc::Model& model, const ifc::Element& element);

} // namespace wendrix::clash
