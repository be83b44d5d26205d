#include "scene/member_buffers.h"

#include <cstring>

namespace wendrix::app {

namespace {

struct FaceVertex {
    float x, y, z, nx, ny, nz, element;
};
struct EdgeVertex {
    float x, y, z, element;
};

} // namespace

MemberBuffers::MemberBuffers(QOpenGLFunctions_3_3_Core& gl, const federation::Member& member)
    : gl_(gl), faces_(QOpenGLBuffer::VertexBuffer), edges_(QOpenGLBuffer::VertexBuffer)
{
    const Transform fit = member.fit.transform();
    origin_ = fit.apply(member.geometry->bounds().isEmpty() ? Point3{} : member.geometry->bounds().centre());
    std::vector<FaceVertex> faces;
    std::vector<EdgeVertex> edges;
    const auto& elements = member.geometry->elements();
    for (std::size_t e = 0; e < elements.size(); ++e)
        for (const geometry::PlacedShape& placed : elements[e].placed) {
            const geometry::Shape& shape = member.geometry->shapes()[placed.shape];
            const Transform map = fit * placed.placement;
            const bool isMirrored = map.determinant() < 0;
            std::vector<Vector3> at;
            at.reserve(shape.mesh.points.size());
            for (const Point3 p : shape.mesh.points)
                at.push_back(map.apply(p) - origin_);
            const auto index = static_cast<float>(e); // exact up to 16 million elements
            for (geometry::Triangle t : shape.mesh.triangles) {
                if (isMirrored)
                    std::swap(t[1], t[2]);
                const Vector3 n = normalised(cross(at[t[1]] - at[t[0]], at[t[2]] - at[t[0]]));
                for (const std::uint32_t i : t)
                    faces.push_back({static_cast<float>(at[i].x), static_cast<float>(at[i].y), static_cast<float>(at[i].z),
                                     static_cast<float>(n.x), static_cast<float>(n.y), static_cast<float>(n.z), index});
            }
            for (const auto& edge : shape.edges)
                for (const std::uint32_t i : edge)
                    edges.push_back({static_cast<float>(at[i].x), static_cast<float>(at[i].y), static_cast<float>(at[i].z), index});
        }
    faceVertices_ = static_cast<GLsizei>(faces.size());
    edgeVertices_ = static_cast<GLsizei>(edges.size());
    bindVertices(faceArray_, faces_, faces.data(), faces.size() * sizeof(FaceVertex), true);
    bindVertices(edgeArray_, edges_, edges.data(), edges.size() * sizeof(EdgeVertex), false);
    gl_.glGenBuffers(1, &colourBuffer_);
    gl_.glGenTextures(1, &colourTexture_);
}

MemberBuffers::~MemberBuffers()
{
    gl_.glDeleteTextures(1, &colourTexture_);
    gl_.glDeleteBuffers(1, &colourBuffer_);
}

void MemberBuffers::bindVertices(QOpenGLVertexArrayObject& array, QOpenGLBuffer& buffer, const void* data,
                                 std::size_t bytes, bool hasNormals)
{
    array.create();
    array.bind();
    buffer.create();
    buffer.bind();
    buffer.allocate(data, static_cast<int>(bytes));
    const GLsizei stride = hasNormals ? sizeof(FaceVertex) : sizeof(EdgeVertex);
    const auto attribute = [&](GLuint index, GLint size, std::size_t offset) {
        gl_.glEnableVertexAttribArray(index);
        gl_.glVertexAttribPointer(index, size, GL_FLOAT, GL_FALSE, stride, reinterpret_cast<const void*>(offset));
    };
    attribute(0, 3, 0);
    if (hasNormals)
        attribute(1, 3, offsetof(FaceVertex, nx));
    attribute(2, 1, hasNormals ? offsetof(FaceVertex, element) : offsetof(EdgeVertex, element));
    array.release();
    buffer.release();
}

void MemberBuffers::setColours(const std::vector<view::Colour>& colours)
{
    hasFaded_ = false;
    for (const view::Colour& c : colours)
        hasFaded_ = hasFaded_ || (c.alpha > 0 && c.alpha < 1);
    gl_.glBindBuffer(GL_TEXTURE_BUFFER, colourBuffer_);
    gl_.glBufferData(GL_TEXTURE_BUFFER, static_cast<GLsizeiptr>(std::max<std::size_t>(1, colours.size()) * sizeof(view::Colour)),
                     colours.empty() ? nullptr : colours.data(), GL_DYNAMIC_DRAW);
    gl_.glBindTexture(GL_TEXTURE_BUFFER, colourTexture_);
    gl_.glTexBuffer(GL_TEXTURE_BUFFER, GL_RGBA32F, colourBuffer_);
    gl_.glBindBuffer(GL_TEXTURE_BUFFER, 0);
}

void MemberBuffers::bindColours()
{
    gl_.glActiveTexture(GL_TEXTURE0);
    gl_.glBindTexture(GL_TEXTURE_BUFFER, colourTexture_);
}

void MemberBuffers::drawFaces()
{
    bindColours();
    const QOpenGLVertexArrayObject::Binder binder(&faceArray_);
    gl_.glDrawArrays(GL_TRIANGLES, 0, faceVertices_);
}

void MemberBuffers::drawEdges()
{
    bindColours();
    const QOpenGLVertexArrayObject::Binder binder(&edgeArray_);
    gl_.glDrawArrays(GL_LINES, 0, edgeVertices_);
}

} // namespace wendrix::app
