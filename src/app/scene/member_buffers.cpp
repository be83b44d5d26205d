#include "scene/member_buffers.h"

#include <algorithm>
#include <cstring>

namespace wendrix::app {

namespace {

// Below this a shape is cheaper in the common list than with a call of its own.
constexpr std::size_t kFewestInstances = 6;

struct FaceVertex {
    float x, y, z, nx, ny, nz, element;
};
struct EdgeVertex {
    float x, y, z, element;
};
struct Instance {
    float rows[12];
    float element; // exact up to 16 million elements
};

float f(double v) { return static_cast<float>(v); }

} // namespace

struct MemberBuffers::Vertices {
    std::vector<FaceVertex> faces;
    std::vector<EdgeVertex> edges;
    std::vector<Instance> instances{{{1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0}, 0}}; ///< the first: as it is

    void addShape(const geometry::Shape& shape, const Transform& map, float element)
    {
        const bool isMirrored = map.determinant() < 0;
        std::vector<Vector3> at;
        at.reserve(shape.mesh.points.size());
        for (const Point3 p : shape.mesh.points)
            at.push_back(map.apply(p));
        for (geometry::Triangle t : shape.mesh.triangles) {
            if (isMirrored)
                std::swap(t[1], t[2]);
            const Vector3 n = normalised(cross(at[t[1]] - at[t[0]], at[t[2]] - at[t[0]]));
            for (const std::uint32_t i : t)
                faces.push_back({f(at[i].x), f(at[i].y), f(at[i].z), f(n.x), f(n.y), f(n.z), element});
        }
        for (const auto& edge : shape.edges)
            for (const std::uint32_t i : edge)
                edges.push_back({f(at[i].x), f(at[i].y), f(at[i].z), element});
    }
};

MemberBuffers::MemberBuffers(QOpenGLFunctions_3_3_Core& gl, const federation::Member& member)
    : gl_(gl), faces_(QOpenGLBuffer::VertexBuffer), edges_(QOpenGLBuffer::VertexBuffer), instances_(QOpenGLBuffer::VertexBuffer)
{
    const Transform fit = member.fit.transform();
    origin_ = fit.apply(member.geometry->bounds().isEmpty() ? Point3{} : member.geometry->bounds().centre());
    struct Use {
        std::uint32_t element;
        const geometry::PlacedShape* placed;
        float size;
    };
    const auto& shapes = member.geometry->shapes();
    const auto& elements = member.geometry->elements();
    std::vector<std::vector<Use>> uses(shapes.size());
    for (std::uint32_t e = 0; e < elements.size(); ++e)
        for (const geometry::PlacedShape& placed : elements[e].placed)
            uses[placed.shape].push_back({e, &placed, f(length(elements[e].bounds.size()))});
    const auto bySize = [](const Use& a, const Use& b) { return a.size > b.size; };
    const auto mapOf = [&](const Use& use) {
        Transform map = fit * use.placed->placement;
        map.origin = map.origin - origin_;
        return map;
    };

    Vertices v;
    std::vector<Use> singles;
    order_.emplace_back();
    for (std::size_t s = 0; s < shapes.size(); ++s) {
        if (uses[s].size() < kFewestInstances) {
            singles.insert(singles.end(), uses[s].begin(), uses[s].end());
            continue;
        }
        Group group;
        group.firstFace = static_cast<GLint>(v.faces.size());
        group.firstEdge = static_cast<GLint>(v.edges.size());
        group.firstInstance = v.instances.size();
        v.addShape(shapes[s], {}, 0);
        group.faces = static_cast<GLsizei>(v.faces.size()) - group.firstFace;
        group.edges = static_cast<GLsizei>(v.edges.size()) - group.firstEdge;
        std::stable_sort(uses[s].begin(), uses[s].end(), bySize);
        std::vector<view::DrawStep> order;
        for (const Use& use : uses[s]) {
            const Transform m = mapOf(use);
            v.instances.push_back({{f(m.x.x), f(m.y.x), f(m.z.x), f(m.origin.x), f(m.x.y), f(m.y.y), f(m.z.y), f(m.origin.y),
                                    f(m.x.z), f(m.y.z), f(m.z.z), f(m.origin.z)}, static_cast<float>(use.element)});
            order.push_back({use.size, (order.size() + 1) * shapes[s].mesh.triangles.size()});
        }
        groups_.push_back(group);
        order_.push_back(std::move(order));
    }
    // The common list goes behind the shapes of the groups, so that one buffer holds both.
    std::stable_sort(singles.begin(), singles.end(), bySize);
    Group common;
    common.firstFace = static_cast<GLint>(v.faces.size());
    common.firstEdge = static_cast<GLint>(v.edges.size());
    for (const Use& use : singles) {
        v.addShape(shapes[use.placed->shape], mapOf(use), static_cast<float>(use.element));
        order_[0].push_back({use.size, (v.faces.size() - static_cast<std::size_t>(common.firstFace)) / 3});
        singleEdges_.push_back(static_cast<GLsizei>(v.edges.size()) - common.firstEdge);
    }
    groups_.insert(groups_.begin(), common);
    upload(v);
}

MemberBuffers::MemberBuffers(QOpenGLFunctions_3_3_Core& gl, const view::CutFaces& cut, Vector3 normal,
                             const std::vector<std::vector<view::Colour>>& colours)
    : gl_(gl), faces_(QOpenGLBuffer::VertexBuffer), edges_(QOpenGLBuffer::VertexBuffer), instances_(QOpenGLBuffer::VertexBuffer)
{
    // A hair behind the cut, or it would be cut away itself.
    constexpr double kBehindMetres = 2e-4;
    const Vector3 behind = -kBehindMetres * normal;
    origin_ = cut.outlines.empty() ? Point3{} : cut.outlines.front()[0];
    std::vector<std::size_t> firstOf(colours.size() + 1, 0);
    for (std::size_t m = 0; m < colours.size(); ++m)
        firstOf[m + 1] = firstOf[m] + colours[m].size();
    Vertices v;
    for (std::size_t i = 0; i < cut.faces.size(); ++i) {
        const view::CutFaces::Face& face = cut.faces[i];
        const bool isLast = i + 1 == cut.faces.size();
        const auto element = static_cast<float>(firstOf[face.element.member] + face.element.element);
        const std::size_t lastTriangle = isLast ? cut.fill.triangles.size() : cut.faces[i + 1].firstTriangle;
        for (std::size_t t = face.firstTriangle; t < lastTriangle; ++t)
            for (const Point3 p : cut.fill.corners(t)) {
                const Vector3 d = p + behind - origin_;
                v.faces.push_back({f(d.x), f(d.y), f(d.z), f(normal.x), f(normal.y), f(normal.z), element});
            }
        const std::size_t lastLine = isLast ? cut.outlines.size() : cut.faces[i + 1].firstLine;
        for (std::size_t l = face.firstLine; l < lastLine; ++l)
            for (const Point3 p : cut.outlines[l]) {
                const Vector3 d = p + behind - origin_;
                v.edges.push_back({f(d.x), f(d.y), f(d.z), element});
            }
    }
    groups_.push_back({});
    order_.push_back({{1e9f, v.faces.size() / 3}});
    singleEdges_.push_back(static_cast<GLsizei>(v.edges.size()));
    upload(v);
}

void MemberBuffers::upload(const Vertices& v)
{
    const auto fill = [&](QOpenGLBuffer& buffer, const void* data, std::size_t bytes) {
        buffer.create();
        buffer.bind();
        gl_.glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(bytes), data, GL_STATIC_DRAW); // may pass two gigabytes
        buffer.release();
        bytes_ += bytes;
    };
    fill(faces_, v.faces.data(), v.faces.size() * sizeof(FaceVertex));
    fill(edges_, v.edges.data(), v.edges.size() * sizeof(EdgeVertex));
    fill(instances_, v.instances.data(), v.instances.size() * sizeof(Instance));
    makeArray(faceArray_, faces_, true);
    makeArray(edgeArray_, edges_, false);
    gl_.glGenBuffers(1, &colourBuffer_);
    gl_.glGenTextures(1, &colourTexture_);
}

MemberBuffers::~MemberBuffers()
{
    gl_.glDeleteTextures(1, &colourTexture_);
    gl_.glDeleteBuffers(1, &colourBuffer_);
}

void MemberBuffers::makeArray(QOpenGLVertexArrayObject& array, QOpenGLBuffer& buffer, bool hasNormals)
{
    array.create();
    array.bind();
    buffer.bind();
    const GLsizei stride = hasNormals ? sizeof(FaceVertex) : sizeof(EdgeVertex);
    gl_.glEnableVertexAttribArray(0);
    gl_.glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, stride, nullptr);
    if (hasNormals) {
        gl_.glEnableVertexAttribArray(1);
        gl_.glVertexAttribPointer(1, 3, GL_FLOAT, GL_FALSE, stride, reinterpret_cast<const void*>(offsetof(FaceVertex, nx)));
    }
    gl_.glEnableVertexAttribArray(2);
    for (GLuint row = 3; row < 6; ++row) {
        gl_.glEnableVertexAttribArray(row);
        gl_.glVertexAttribDivisor(row, 1);
    }
    array.release();
    buffer.release();
}

void MemberBuffers::setColours(const std::vector<view::Colour>& colours)
{
    hasFaded_ = hasSeenThrough_ = false;
    for (const view::Colour& c : colours) {
        hasFaded_ = hasFaded_ || (c.alpha > 0 && c.alpha < 0.2f);
        hasSeenThrough_ = hasSeenThrough_ || (c.alpha >= 0.2f && c.alpha < 0.999f);
    }
    gl_.glBindBuffer(GL_TEXTURE_BUFFER, colourBuffer_);
    gl_.glBufferData(GL_TEXTURE_BUFFER, static_cast<GLsizeiptr>(std::max<std::size_t>(1, colours.size()) * sizeof(view::Colour)),
                     colours.empty() ? nullptr : colours.data(), GL_DYNAMIC_DRAW);
    gl_.glBindTexture(GL_TEXTURE_BUFFER, colourTexture_);
    gl_.glTexBuffer(GL_TEXTURE_BUFFER, GL_RGBA32F, colourBuffer_);
    gl_.glBindBuffer(GL_TEXTURE_BUFFER, 0);
}

void MemberBuffers::setInstanced(bool isInstanced, bool hasNormals)
{
    gl_.glVertexAttribDivisor(2, isInstanced ? 1 : 0);
    if (!isInstanced) {
        (hasNormals ? faces_ : edges_).bind();
        gl_.glVertexAttribPointer(2, 1, GL_FLOAT, GL_FALSE, hasNormals ? sizeof(FaceVertex) : sizeof(EdgeVertex),
                                  reinterpret_cast<const void*>(hasNormals ? offsetof(FaceVertex, element) : offsetof(EdgeVertex, element)));
    }
}

void MemberBuffers::bind(bool areEdges)
{
    gl_.glActiveTexture(GL_TEXTURE0);
    gl_.glBindTexture(GL_TEXTURE_BUFFER, colourTexture_);
    (areEdges ? edgeArray_ : faceArray_).bind();
}

void MemberBuffers::drawGroup(bool areEdges, std::size_t g, std::size_t from, std::size_t to)
{
    const Group& group = groups_[g];
    if (from >= to || (g > 0 && (areEdges ? group.edges : group.faces) == 0))
        return;
    setInstanced(g > 0, !areEdges);
    // OpenGL 3.3 has no first instance: where a group's instances begin is said by the pointers. The common list
    // stands as it is, through the one at the very beginning.
    const std::size_t first = g == 0 ? 0 : group.firstInstance + from;
    instances_.bind();
    for (GLuint row = 0; row < 3; ++row)
        gl_.glVertexAttribPointer(3 + row, 4, GL_FLOAT, GL_FALSE, sizeof(Instance),
                                  reinterpret_cast<const void*>(first * sizeof(Instance) + row * 4 * sizeof(float)));
    GLint begin = areEdges ? group.firstEdge : group.firstFace;
    GLsizei count = areEdges ? group.edges : group.faces;
    if (g == 0) {
        const auto verticesUpTo = [&](std::size_t n) -> GLsizei {
            return n == 0 ? 0 : areEdges ? singleEdges_[n - 1] : static_cast<GLsizei>(order_[0][n - 1].triangles * 3);
        };
        begin += verticesUpTo(from);
        count = verticesUpTo(to) - verticesUpTo(from);
    } else {
        gl_.glVertexAttribPointer(2, 1, GL_FLOAT, GL_FALSE, sizeof(Instance),
                                  reinterpret_cast<const void*>(first * sizeof(Instance) + offsetof(Instance, element)));
    }
    if (count > 0)
        gl_.glDrawArraysInstanced(areEdges ? GL_LINES : GL_TRIANGLES, begin, count, g == 0 ? 1 : static_cast<GLsizei>(to - from));
    instances_.release();
}

void MemberBuffers::draw(bool areEdges, float smallest)
{
    bind(areEdges);
    for (std::size_t g = 0; g < groups_.size(); ++g)
        drawGroup(areEdges, g, 0, view::countFrom(order_[g], smallest));
    (areEdges ? edgeArray_ : faceArray_).release();
}

std::uint64_t MemberBuffers::drawSome(bool areEdges, Cursor& at, std::uint64_t triangles)
{
    bind(areEdges);
    std::uint64_t drawn = 0;
    while (!isAtEnd(at) && drawn < triangles) {
        const std::vector<view::DrawStep>& list = order_[at.group];
        const std::uint64_t before = at.index == 0 ? 0 : list[at.index - 1].triangles;
        const auto enough = std::partition_point(list.begin() + static_cast<std::ptrdiff_t>(at.index), list.end(),
                                                 [&](const view::DrawStep& s) { return s.triangles - before < triangles - drawn; });
        const std::size_t to = std::min(list.size(), static_cast<std::size_t>(enough - list.begin()) + 1);
        drawGroup(areEdges, at.group, at.index, to);
        drawn += to > at.index ? list[to - 1].triangles - before : 0;
        at.index = to;
        if (at.index >= list.size())
            at = {at.group + 1, 0};
    }
    (areEdges ? edgeArray_ : faceArray_).release();
    return drawn;
}

} // namespace wendrix::app
