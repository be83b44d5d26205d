#pragma once

#include "core/clash/body.h"
#include "core/geometry/sweep.h"

#include <memory>

namespace wendrix::test {

inline geometry::Mesh box(Point3 low, Point3 high)
{
    Box3 b;
    b.add(low);
    b.add(high);
    return geometry::boxMesh(b);
}
inline geometry::Mesh prism(const geometry::Area& area, double height)
{
    return *geometry::extruded(area, {0, 0, height});
}
inline geometry::Mesh moved(const geometry::Mesh& mesh, Vector3 by)
{
    return geometry::transformed(mesh, Transform::translation(by));
}
/// About the z axis.
inline geometry::Mesh turned(const geometry::Mesh& mesh, double degrees)
{
    return geometry::transformed(mesh, Transform::rotationZ(fromDegrees(degrees)));
}

/// Bodies of one mesh each, with the shapes they are made of.
class MadeBodies {
public:
    clash::Body body(const geometry::Mesh& mesh, const Transform& at = {})
    {
        clash::Body made;
        add(made, mesh, at);
        return made;
    }
    void add(clash::Body& to, const geometry::Mesh& mesh, const Transform& at = {})
    {
        geometry::Shape shape;
        shape.mesh = mesh;
        shape.isClosed = geometry::isClosed(mesh);
        shape.volume = geometry::volumeOf(mesh);
        shape.area = geometry::areaOf(mesh);
        shapes_.push_back(std::make_unique<geometry::Shape>(std::move(shape)));
        indices_.push_back(std::make_unique<clash::ShapeIndex>(*shapes_.back()));
        to.parts.emplace_back(*indices_.back(), at);
        to.isClosed = to.isClosed && indices_.back()->isClosed();
    }

private:
    std::vector<std::unique_ptr<geometry::Shape>> shapes_;
    std::vector<std::unique_ptr<clash::ShapeIndex>> indices_;
};

} // namespace wendrix::test
