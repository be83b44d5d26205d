#include "core/geometry/shape.h"

namespace wendrix::geometry {

namespace {

// Below this, an edge between two faces is part of a smooth surface.
constexpr Radians kFeatureAngle = fromDegrees(25);

} // namespace

Digest digestOf(const Mesh& mesh, bool isClosed)
{
    Digest digest;
    digest.add(std::uint64_t{isClosed});
    for (const Point3& p : mesh.points)
        digest.add(p);
    for (const Triangle& t : mesh.triangles) {
        digest.add(static_cast<std::uint64_t>(t[0]) << 32 | t[1]);
        digest.add(static_cast<std::uint64_t>(t[2]));
    }
    return digest;
}

Shape shapeOf(std::vector<BodyPart> parts)
{
    Shape shape;
    shape.isClosed = !parts.empty();
    for (BodyPart& part : parts) {
        shape.colours.push_back({static_cast<std::uint32_t>(shape.mesh.triangles.size()), part.colour});
        shape.isClosed = shape.isClosed && part.isClosed;
        shape.volume += volumeOf(part.mesh);
        shape.area += areaOf(part.mesh);
        if (shape.mesh.isEmpty())
            shape.mesh = std::move(part.mesh);
        else
            shape.mesh.append(part.mesh);
    }
    shape.edges = featureEdges(shape.mesh, kFeatureAngle);
    shape.digest = digestOf(shape.mesh, shape.isClosed);
    shape.mesh.points.shrink_to_fit();
    shape.mesh.triangles.shrink_to_fit();
    return shape;
}

} // namespace wendrix::geometry
