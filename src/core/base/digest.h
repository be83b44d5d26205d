#pragma once

#include "core/base/transform.h"

#include <bit>
#include <compare>
#include <cstdint>
#include <cstring>
#include <string_view>

namespace wendrix {

/// 128 bits that tell contents from each other. Not for what somebody may want to forge.
struct Digest {
    std::uint64_t a = 0x9E3779B97F4A7C15ull, b = 0xC2B2AE3D27D4EB4Full;
    friend auto operator<=>(const Digest&, const Digest&) = default;

    void add(std::uint64_t word)
    {
        a = std::rotl(a ^ word * 0x87C37B91114253D5ull, 31) * 0x4CF5AD432745937Full + b;
        b = std::rotl(b ^ word * 0x52DCE72938495AB5ull, 29) * 0x38B34AE5A1E38B93ull + a;
    }
    void add(const Digest& other)
    {
        add(other.a);
        add(other.b);
    }
    void add(Vector3 v)
    {
        add(v.x);
        add(v.y);
        add(v.z);
    }
    void add(const Transform& t)
    {
        add(t.x);
        add(t.y);
        add(t.z);
        add(t.origin);
    }
    void add(double value) { add(std::bit_cast<std::uint64_t>(value == 0 ? 0.0 : value)); }
    void add(std::string_view text)
    {
        add(static_cast<std::uint64_t>(text.size()));
        for (std::size_t i = 0; i < text.size(); i += 8) {
            std::uint64_t word = 0;
            std::memcpy(&word, text.data() + i, text.size() - i < 8 ? text.size() - i : 8);
            add(word);
        }
    }
};

/// A digest of many in no order.
struct DigestOfAll {
    Digest sum{0, 0};
    void add(const Digest& one)
    {
        sum.a += one.a;
        sum.b += one.b;
    }
};

struct DigestHash {
    std::size_t operator()(const Digest& d) const { return d.a ^ (d.b >> 7); }
};

} // namespace wendrix
