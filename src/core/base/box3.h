#pragma once

#include "core/base/vector3.h"

#include <limits>

namespace wendrix {

/// An axis-parallel box; empty until something is added.
struct Box3 {
    Point3 min{std::numeric_limits<double>::infinity(), std::numeric_limits<double>::infinity(),
               std::numeric_limits<double>::infinity()};
    Point3 max{-std::numeric_limits<double>::infinity(), -std::numeric_limits<double>::infinity(),
               -std::numeric_limits<double>::infinity()};

    [[nodiscard]] bool isEmpty() const { return !(min.x <= max.x); }
    void add(Point3 p)
    {
        min = {std::min(min.x, p.x), std::min(min.y, p.y), std::min(min.z, p.z)};
        max = {std::max(max.x, p.x), std::max(max.y, p.y), std::max(max.z, p.z)};
    }
    friend bool operator==(const Box3&, const Box3&) = default;
    void add(const Box3& b)
    {
        if (b.isEmpty())
            return;
        add(b.min);
        add(b.max);
    }
    [[nodiscard]] Point3 centre() const { return 0.5 * (min + max); }
    [[nodiscard]] Vector3 size() const { return isEmpty() ? Vector3{} : max - min; }
    [[nodiscard]] Box3 grownBy(double metres) const
    {
        const Vector3 g{metres, metres, metres};
        Box3 b;
        b.min = min - g;
        b.max = max + g;
        return b;
    }
    [[nodiscard]] bool overlaps(const Box3& b) const
    {
        return min.x <= b.max.x && b.min.x <= max.x && min.y <= b.max.y && b.min.y <= max.y && min.z <= b.max.z &&
               b.min.z <= max.z;
    }
    [[nodiscard]] bool contains(Point3 p) const
    {
        return min.x <= p.x && p.x <= max.x && min.y <= p.y && p.y <= max.y && min.z <= p.z && p.z <= max.z;
    }
};

} // namespace wendrix
