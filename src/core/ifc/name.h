#pragma once

#include <cstdint>
#include <string_view>

namespace wendrix::ifc {

/// The name of an entity or attribute ("IfcWall", "GlobalId") as a number, so that asking for one costs a
/// comparison. Literals are turned into it when compiling; tools/schema_tables.py refuses names that collide.
class Name {
public:
    template <std::size_t N>
    consteval Name(const char (&literal)[N]) : text_(literal, N - 1), hash_(hashOf(text_))
    {
    }
    constexpr explicit Name(std::string_view text) : text_(text), hash_(hashOf(text)) {}

    [[nodiscard]] constexpr std::uint32_t hash() const { return hash_; }
    [[nodiscard]] constexpr std::string_view text() const { return text_; }

    /// FNV-1a, 32 bits.
    [[nodiscard]] static constexpr std::uint32_t hashOf(std::string_view text)
    {
        std::uint32_t hash = 2166136261u;
        for (const char c : text)
            hash = (hash ^ static_cast<unsigned char>(c)) * 16777619u;
        return hash;
    }

private:
    std::string_view text_;
    std::uint32_t hash_;
};

} // namespace wendrix::ifc
