#pragma once

#include "core/base/result.h"
#include "core/geometry/plane_cut.h"
#include "core/issues/issue.h"

#include <optional>
#include <string>
#include <vector>

namespace wendrix::view {

inline constexpr ErrorCode kTooManyCuts{"view.cuts"};

/// What is cut away from the view, all in the federation's frame: a slice between two heights, planes, a box.
///
/// Of each plane the side goes that its normal points to; of the box, what is outside. All count at once.
struct Cuts {
    /// Heights that are seen, with the storey's name.
    struct Slice {
        double low = 0, high = 0; ///< metres
        std::string name;
        friend bool operator==(const Slice&, const Slice&) = default;
    };
    std::optional<Slice> slice;
    std::vector<geometry::Plane> planes;
    std::optional<Box3> box;

    /// As many faces as are drawn at once; the slice and the box share theirs where they can.
    static constexpr std::size_t kMostFaces = 8;

    [[nodiscard]] bool isEmpty() const { return !slice && planes.empty() && !box; }
    [[nodiscard]] std::vector<geometry::Plane> faces() const;
    [[nodiscard]] bool shows(Point3 place) const;
    /// @return kTooManyCuts, and nothing changed, where there are as many as can be drawn
    [[nodiscard]] Result<void> add(const geometry::Plane& plane);
    /// "cut to Level 2, by 1 plane, by a box"; empty where nothing is cut.
    [[nodiscard]] std::string inWords() const;
};

/// Through three places, facing `towards` the viewer; nothing where they are on one line.
[[nodiscard]] std::optional<geometry::Plane> planeThrough(Point3 a, Point3 b, Point3 c, Vector3 towards);
/// Across an axis (0 x, 1 y, 2 z) at a place on it, facing the viewer.
[[nodiscard]] geometry::Plane planeAcross(int axis, double at, Vector3 towards);

[[nodiscard]] std::vector<issues::ClippingPlane> toClippingPlanes(const Cuts& cuts);
/// As planes; six that face each other in pairs along the axes come back as a box, two as a slice.
[[nodiscard]] Cuts fromClippingPlanes(const std::vector<issues::ClippingPlane>& planes);

} // namespace wendrix::view
