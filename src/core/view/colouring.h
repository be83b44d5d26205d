#pragma once

#include "core/sets/elements.h"
#include "core/view/display.h"

namespace wendrix::view {

/// What the colours of a member's elements say.
enum class ColourBy { Discipline, Own, Uniform, Storey, System, Class, Material, Property, Sets };

/// How elements are coloured: by a rule, and for a property, which.
struct ColourRule {
    ColourBy by = ColourBy::Discipline;
    std::string propertySet, property; ///< of ColourBy::Property
    /// Of ColourBy::Sets: lines of the language of sets; an element has the colour of the first that picks it. A line
    /// that is wrong picks nothing.
    std::vector<std::string> sets = {};
    std::shared_ptr<const sets::Knowledge> knowledge = {}; ///< what these ask of the project

    friend bool operator==(const ColourRule& a, const ColourRule& b)
    {
        return a.by == b.by && a.propertySet == b.propertySet && a.property == b.property && a.sets == b.sets;
    }
};

/// One line of a legend: what it says, its colour, and how many elements have it.
struct LegendLine {
    std::string words;
    Colour colour;
    std::size_t count = 0;
};

/// Colours of all elements by a rule, with what they mean. Values get their colours by how often they come, the
/// commonest first (storeys from the top); those past the palette share one grey, "others"; what has no value is pale.
/// Numbers of more different values than the palette has are gathered in equal steps, light to dark.
struct Colouring {
    std::vector<std::vector<Colour>> colours; ///< per member, per element; empty for members with the rule's own look
    std::vector<LegendLine> legend;
};
[[nodiscard]] Colouring colouringBy(const ColourRule& rule, std::span<const federation::Member> members,
                                    std::span<const MemberLook> looks);

/// How many colours a legend has before the rest is gathered.
[[nodiscard]] std::size_t paletteSize();

} // namespace wendrix::view
