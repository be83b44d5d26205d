#include "scene/scene_renderer.h"

#include <algorithm>

/// Bodies that are no elements, over everything else.
namespace wendrix::app {

namespace {

constexpr double kInkEdge = 0.35;           // radians
constexpr double kDash = 0.06, kGap = 0.03; // metres
constexpr double kNearest = 0.01;           // of the depth buffer
constexpr view::Colour kInk{0.12f, 0.17f, 0.19f, 1};

void append(std::vector<float>& vertices, Vector3 place, const view::Colour& colour, double light = 1)
{
    for (const double v : {place.x, place.y, place.z, colour.red * light, colour.green * light, colour.blue * light,
                           static_cast<double>(colour.alpha)})
        vertices.push_back(static_cast<float>(v));
}

} // namespace

void SceneRenderer::setFigures(const std::vector<view::Figure>& figures)
{
    ++contents_;
    figures_ = figures;
    figureEdges_.clear();
    for (const view::Figure& figure : figures_) {
        std::vector<std::array<Point3, 2>> edges;
        for (const auto& edge : geometry::featureEdges(*figure.mesh, Radians{kInkEdge}))
            edges.push_back({figure.mesh->points[edge[0]], figure.mesh->points[edge[1]]});
        figureEdges_.push_back(std::move(edges));
    }
}

void SceneRenderer::drawFigures()
{
    if (figures_.empty())
        return;
    const Vector3 light = normalised(Vector3{-0.45, -0.62, 0.64});
    std::vector<float> faces, edges;
    for (std::size_t f = 0; f < figures_.size(); ++f) {
        const view::Figure& figure = figures_[f];
        const Vector3 offset = figure.origin - frame_->camera.eye;
        for (std::size_t t = 0; t < figure.mesh->triangles.size() && !figure.isOutline; ++t) {
            const auto c = figure.mesh->corners(t);
            const double shade = 0.80 + 0.20 * dot(normalised(cross(c[1] - c[0], c[2] - c[0])), light);
            for (const Point3& p : c)
                append(faces, offset + p, figure.colour, shade);
        }
        for (const auto& [from, to] : figureEdges_[f]) {
            const double whole = length(to - from), step = figure.isOutline ? kDash + kGap : whole + 1;
            for (double at = 0; at < whole; at += step)
                for (const double end : {at, figure.isOutline ? std::min(at + kDash, whole) : whole})
                    append(edges, offset + from + (end / whole) * (to - from), figure.isOutline ? figure.colour : kInk);
        }
    }
    glDepthRange(0, kNearest); // nothing else is as near, and what was drawn keeps its depth for the shade
    glEnable(GL_BLEND);
    glEnable(GL_POLYGON_OFFSET_FILL);
    glPolygonOffset(1.0f, 1.0f);
    drawVertices(lines_, GL_TRIANGLES, faces);
    glDisable(GL_POLYGON_OFFSET_FILL);
    drawVertices(lines_, GL_LINES, edges);
    glDepthRange(0, 1);
}

} // namespace wendrix::app
