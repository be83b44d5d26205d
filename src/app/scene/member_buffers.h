#pragma once

#include <QOpenGLBuffer>
#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLVertexArrayObject>

#include "core/view/display.h"

#include <memory>
#include <vector>

namespace wendrix::app {

/// One member on the GPU: faces and ink edges in two draw calls, each vertex knowing its element, and a texture
/// with every element's colour. Positions are floats about the member's own origin, so a site far from zero
/// keeps its tenths of a millimetre. Made and freed with the context current.
class MemberBuffers {
public:
    MemberBuffers(QOpenGLFunctions_3_3_Core& gl, const federation::Member& member);
    ~MemberBuffers();
    MemberBuffers(const MemberBuffers&) = delete;
    MemberBuffers& operator=(const MemberBuffers&) = delete;

    void setColours(const std::vector<view::Colour>& colours);
    /// Expects the program bound; binds the colours to texture unit 0.
    void drawFaces();
    void drawEdges();
    [[nodiscard]] Point3 origin() const { return origin_; } ///< federation frame
    [[nodiscard]] bool hasFaded() const { return hasFaded_; }

private:
    void bindVertices(QOpenGLVertexArrayObject& array, QOpenGLBuffer& buffer, const void* data, std::size_t bytes,
                      bool hasNormals);
    void bindColours();

    QOpenGLFunctions_3_3_Core& gl_; // the view's; outlives this
    Point3 origin_;
    QOpenGLVertexArrayObject faceArray_, edgeArray_;
    QOpenGLBuffer faces_, edges_;
    GLuint colourBuffer_ = 0, colourTexture_ = 0;
    GLsizei faceVertices_ = 0, edgeVertices_ = 0;
    bool hasFaded_ = false;
};

} // namespace wendrix::app
