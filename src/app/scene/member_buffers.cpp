#include "scene/member_buffers.h"

#include <algorithm>
#include <cstddef>

namespace wendrix::app {

namespace {

using Face = MemberVertices::Face;
using Edge = MemberVertices::Edge;
using Instance = MemberVertices::Instance;

} // namespace

MemberBuffers::MemberBuffers(QOpenGLFunctions_3_3_Core& gl, const MemberVertices& v)
    : gl_(gl), origin_(v.origin), faces_(QOpenGLBuffer::VertexBuffer), edges_(QOpenGLBuffer::VertexBuffer),
      instances_(QOpenGLBuffer::VertexBuffer), groups_(v.groups), order_(v.order), singleEdges_(v.singleEdges)
{
    const auto fill = [&](QOpenGLBuffer& buffer, const void* data, std::size_t bytes) {
        buffer.create();
        buffer.bind();
        gl_.glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(bytes), data,
                         GL_STATIC_DRAW); // may pass two gigabytes
        buffer.release();
        bytes_ += bytes;
    };
    fill(faces_, v.faces.data(), v.faces.size() * sizeof(Face));
    fill(edges_, v.edges.data(), v.edges.size() * sizeof(Edge));
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
    const GLsizei stride = hasNormals ? sizeof(Face) : sizeof(Edge);
    gl_.glEnableVertexAttribArray(0);
    gl_.glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, stride, nullptr);
    if (hasNormals) {
        gl_.glEnableVertexAttribArray(1);
        gl_.glVertexAttribPointer(1, 3, GL_FLOAT, GL_FALSE, stride, reinterpret_cast<const void*>(offsetof(Face, nx)));
    }
    gl_.glEnableVertexAttribArray(2);
    for (GLuint row = 3; row < 6; ++row) {
        gl_.glEnableVertexAttribArray(row);
        gl_.glVertexAttribDivisor(row, 1);
    }
    array.release();
    buffer.release();
}

void MemberBuffers::count(const view::Colour& colour, int by)
{
    if (colour.alpha > 0 && colour.alpha < 0.2f)
        faded_ += by;
    if (colour.alpha >= 0.2f && colour.alpha < 0.999f)
        seenThrough_ += by;
}

void MemberBuffers::setColours(const std::vector<view::Colour>& colours)
{
    faded_ = seenThrough_ = 0;
    for (const view::Colour& c : colours)
        count(c, 1);
    gl_.glBindBuffer(GL_TEXTURE_BUFFER, colourBuffer_);
    gl_.glBufferData(GL_TEXTURE_BUFFER,
                     static_cast<GLsizeiptr>(std::max<std::size_t>(1, colours.size()) * sizeof(view::Colour)),
                     colours.empty() ? nullptr : colours.data(), GL_DYNAMIC_DRAW);
    gl_.glBindTexture(GL_TEXTURE_BUFFER, colourTexture_);
    gl_.glTexBuffer(GL_TEXTURE_BUFFER, GL_RGBA32F, colourBuffer_);
    gl_.glBindBuffer(GL_TEXTURE_BUFFER, 0);
}

void MemberBuffers::updateColours(const std::vector<view::Colour>& colours, std::span<const Replaced> replaced)
{
    gl_.glBindBuffer(GL_TEXTURE_BUFFER, colourBuffer_);
    for (std::size_t i = 0, end = 0; i < replaced.size(); i = end) {
        // A call for what lies together; a few between that did not change cost less than another call.
        constexpr ifc::ElementIndex kGap = 64;
        for (end = i + 1; end < replaced.size() && replaced[end].element - replaced[end - 1].element <= kGap;)
            ++end;
        const std::size_t first = replaced[i].element, number = replaced[end - 1].element - first + 1;
        gl_.glBufferSubData(GL_TEXTURE_BUFFER, static_cast<GLintptr>(first * sizeof(view::Colour)),
                            static_cast<GLsizeiptr>(number * sizeof(view::Colour)), &colours[first]);
    }
    gl_.glBindBuffer(GL_TEXTURE_BUFFER, 0);
    for (const Replaced& r : replaced) {
        count(r.before, -1);
        count(colours[r.element], 1);
    }
}

void MemberBuffers::setInstanced(bool isInstanced, bool hasNormals)
{
    gl_.glVertexAttribDivisor(2, isInstanced ? 1 : 0);
    if (!isInstanced) {
        (hasNormals ? faces_ : edges_).bind();
        gl_.glVertexAttribPointer(
            2, 1, GL_FLOAT, GL_FALSE, hasNormals ? sizeof(Face) : sizeof(Edge),
            reinterpret_cast<const void*>(hasNormals ? offsetof(Face, element) : offsetof(Edge, element)));
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
        gl_.glVertexAttribPointer(
            2, 1, GL_FLOAT, GL_FALSE, sizeof(Instance),
            reinterpret_cast<const void*>(first * sizeof(Instance) + offsetof(Instance, element)));
    }
    if (count > 0)
        gl_.glDrawArraysInstanced(areEdges ? GL_LINES : GL_TRIANGLES, begin, count,
                                  g == 0 ? 1 : static_cast<GLsizei>(to - from));
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
        const auto enough =
            std::partition_point(list.begin() + static_cast<std::ptrdiff_t>(at.index), list.end(),
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
