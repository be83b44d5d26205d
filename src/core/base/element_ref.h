#pragma once

#include <compare>
#include <cstdint>
#include <functional>
#include <optional>
#include <string>

namespace wendrix {

/// A discipline of a project by a number that is given once, so that it may be renamed. 0: not known.
using DisciplineId = std::int64_t;

/// The lasting name of an element outside a member's arrays: it holds for every revision of its discipline.
///
/// GlobalIds alone do not do: files repeat them, and several models of one delivery may share them.
struct ElementRef {
    DisciplineId discipline = 0; ///< 0 where only the GlobalId is known, as in a BCF file
    std::string part;            ///< which of several models of a delivery; empty where it has one
    std::string guid;            ///< as the file has it
    std::uint32_t ordinal = 0;   ///< which of the elements that share the GlobalId in one file, in file order

    friend bool operator==(const ElementRef&, const ElementRef&) = default;
    friend auto operator<=>(const ElementRef&, const ElementRef&) = default;
};

/// "3|2O2Fr$t4X7Zf8NOew3FLOH|0|heating": what a list's row or a kept view calls it.
[[nodiscard]] std::string toText(const ElementRef& ref);
/// A text without bars is a bare GlobalId. @return nothing where it is neither
[[nodiscard]] std::optional<ElementRef> elementRefFrom(const std::string& text);

} // namespace wendrix

template <>
struct std::hash<wendrix::ElementRef> {
    std::size_t operator()(const wendrix::ElementRef& ref) const noexcept
    {
        const std::hash<std::string> text;
        return ((text(ref.guid) * 31 + ref.ordinal) * 31 + static_cast<std::size_t>(ref.discipline)) * 31 +
               text(ref.part);
    }
};
