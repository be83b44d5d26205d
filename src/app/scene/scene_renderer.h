#pragma once

#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLShaderProgram>

#include "core/view/camera.h"
#include "core/view/cuts.h"
#include "scene/frame_target.h"
#include "scene/labels.h"
#include "scene/member_buffers.h"

#include <QElapsedTimer>

#include <memory>

namespace wendrix::app {

/// Draws a federation: paper, ground shadow, clay and ink, cut faces, what is seen through. Lives with one context.
class SceneRenderer : protected QOpenGLFunctions_3_3_Core {
public:
    /// What is drawn; the renderer keeps none of it.
    struct Frame {
        view::Camera camera;
        QSize size;                    ///< pixels
        GLuint target = 0;             ///< framebuffer to end in
        std::vector<geometry::Plane> cuts;
        Box3 bounds;                   ///< of all that is shown
        const std::vector<GridLine>* grid = nullptr;
        bool isMoving = false;         ///< within a budget of time; else whole, smooth and shaded
        bool isFlat = false;           ///< the cut faces alone, as a drawing
    };

    void initialise();
    void release(); ///< with the context current, before it goes
    void setMembers(const std::vector<federation::Member>& members);
    void setColours(const std::vector<std::vector<view::Colour>>& colours, const std::vector<view::MemberLook>& looks);
    void setCutFaces(const std::vector<view::CutFaces>& faces, const std::vector<geometry::Plane>& planes);
    void draw(const Frame& frame);

    /// How many triangles the last frame drew, and how large everything on the GPU is.
    [[nodiscard]] std::uint64_t drawnTriangles() const { return drawnTriangles_; }
    [[nodiscard]] std::size_t bytes() const;

private:
    enum class What { Faces, Edges };
    void drawMembers(int pass, What what);
    void drawCutFaces(What what);
    void drawSeenThrough();
    void drawLines();
    /// Places relative to the eye with four more numbers each.
    void drawVertices(QOpenGLShaderProgram& program, GLenum mode, const std::vector<float>& vertices);
    void drawShadow();
    void makeShadow();
    void begin(QOpenGLShaderProgram& program, int pass);
    void gatherSeenThrough();
    [[nodiscard]] QMatrix4x4 projection() const;

    const Frame* frame_ = nullptr; ///< while one is drawn
    std::vector<federation::Member> members_;
    std::vector<view::MemberLook> looks_;
    std::vector<std::vector<view::Colour>> colours_;
    std::vector<std::unique_ptr<MemberBuffers>> buffers_, cutBuffers_;
    std::unique_ptr<FrameTarget> target_;
    QOpenGLShaderProgram faces_, edges_, lines_, paper_, finish_, shadow_;
    QOpenGLVertexArrayObject empty_, lineArray_;
    QOpenGLBuffer lineBuffer_{QOpenGLBuffer::VertexBuffer};
    GLuint shadowTexture_ = 0;
    Box3 shadowBounds_;
    bool isShadowStale_ = true;
    std::vector<std::vector<view::DrawStep>> order_; ///< of all members
    view::DrawPace pace_;
    QElapsedTimer clock_;
    float smallest_ = 0;
    std::uint64_t drawnTriangles_ = 0;

    struct SeenTriangle {
        std::array<Point3, 3> corners;
        Point3 middle;
        Vector3 normal;
        view::Colour colour;
    };
    std::vector<SeenTriangle> seenThrough_;
};

} // namespace wendrix::app
