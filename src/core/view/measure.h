#pragma once

#include "core/base/result.h"
#include "core/geometry/mesh_features.h"
#include "core/ifc/georeference.h"
#include "core/view/picking.h"

#include <string>
#include <vector>

namespace wendrix::view {

inline constexpr ErrorCode kCanNotMeasure{"view.measure"};

enum class MeasureKind { Distance, Perpendicular, Shortest, Opening, Angle, Area, Elevation };
[[nodiscard]] std::string inWords(MeasureKind kind); ///< "distance"

/// One measurement: what was measured, where it is drawn, and what it says.
struct Measurement {
    MeasureKind kind = MeasureKind::Distance;
    std::vector<Point3> places; ///< as picked or found, drawn in this order; federation frame
    std::string value;          ///< the one figure: "180 mm", "34.2°"
    std::vector<std::pair<std::string, std::string>> parts; ///< the rest of it: "along X", "1 200.0 mm"
    double number = 0;                                      ///< the figure in metres, square metres or radians
    friend bool operator==(const Measurement&, const Measurement&) = default;
};

/// Between two places: straight, along the axes, level and upright.
[[nodiscard]] Measurement distanceBetween(Point3 a, Point3 b);
/// From a place at right angles onto the plane of a face.
[[nodiscard]] Measurement perpendicular(Point3 from, Point3 onFace, Vector3 normal);
/// Where two elements come nearest. @return kCanNotMeasure where one has no body
[[nodiscard]] Result<Measurement> shortestBetween(std::span<const federation::Member> members, ElementKey a,
                                                  ElementKey b);
/// Width and height of the hole in the flat face nearest to the place.
/// @return kCanNotMeasure where the face there has no hole
[[nodiscard]] Result<Measurement> openingAt(std::span<const federation::Member> members, const Picked& picked);
/// At `corner` between the ways to the other two.
[[nodiscard]] Measurement angleAt(Point3 a, Point3 corner, Point3 b);
/// Of the flat face under the place.
[[nodiscard]] Measurement areaOf(std::span<const federation::Member> members, const Picked& picked);
/// Above the project's zero, and above sea level where the reference says where that is.
[[nodiscard]] Measurement elevationOf(Point3 place, const ifc::Georeference& georeference);

/// "1 234.5 mm": tenths of a millimetre, as a person measures.
[[nodiscard]] std::string measuredLength(double metres);

/// What the cursor takes hold of.
enum class SnapKind { Corner, Midpoint, CentreLine, Edge, Face };
[[nodiscard]] std::string inWords(SnapKind kind); ///< "corner"

using SnapKinds = unsigned; ///< a bit each
inline constexpr SnapKinds kAllSnapKinds = ~0u;
template <class... More>
[[nodiscard]] constexpr SnapKinds snapKinds(SnapKind first, More... more)
{
    return ((1u << static_cast<unsigned>(first)) | ... | (1u << static_cast<unsigned>(more)));
}

struct Snap {
    SnapKind kind = SnapKind::Face;
    Picked picked;            ///< with the place snapped to
    std::vector<Point3> line; ///< the edge or centre line held, two places; empty for a face
};

/// Finds what there is to take hold of near a pixel. Keeps the features of the last elements asked for.
class Snapper {
public:
    Snapper(std::span<const federation::Member> members, Picker& picker)
        : members_(members.begin(), members.end()), picker_(picker)
    {
    }
    /// @param reach  pixels
    [[nodiscard]] std::optional<Snap> at(const Camera& camera, Viewport viewport, double x, double y, double reach,
                                         const Colours& colours, const Picker::Filter& filter,
                                         SnapKinds kinds = kAllSnapKinds);

private:
    struct Features {
        std::vector<std::array<Point3, 2>> edges;
        std::optional<std::array<Point3, 2>> centreLine;
    };
    [[nodiscard]] const Features& featuresOf(ElementKey key);

    std::vector<federation::Member> members_;
    Picker& picker_;
    std::map<ElementKey, Features> known_;
};

} // namespace wendrix::view
