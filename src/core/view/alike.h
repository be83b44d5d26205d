#pragma once

#include "core/view/display.h"

namespace wendrix::view {

/// In what elements are alike.
enum class AlikeIn { Class, Type, System, Storey, Material, Member };
[[nodiscard]] std::string inWords(AlikeIn what); ///< "class"

/// Every element of any member that has one of the given elements' class (or type, ...), compared by name so that the
/// storeys of all disciplines count as one. Nothing for what the given ones have none of.
[[nodiscard]] std::set<ElementKey> alike(const std::set<ElementKey>& given, AlikeIn what,
                                         std::span<const federation::Member> members);

/// What makes a member heavy: elements or types with the triangles they bring, the most first.
struct Weight {
    std::string words; ///< a type's name, or an element's
    std::string kind;  ///< its class, in words
    std::vector<ElementKey> elements;
    std::size_t triangles = 0;
    double share = 0; ///< of all triangles of the members given, 0 to 1
};
[[nodiscard]] std::vector<Weight> heaviestElements(std::span<const federation::Member> members, std::size_t most);
[[nodiscard]] std::vector<Weight> heaviestTypes(std::span<const federation::Member> members, std::size_t most);

} // namespace wendrix::view
