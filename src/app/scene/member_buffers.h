#pragma once

#include <QOpenGLBuffer>
#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLVertexArrayObject>

#include "scene/member_vertices.h"

#include <span>

namespace wendrix::app {

/// One member on the GPU. Shapes that are used often lie there once and are drawn by instance, the others together in
/// one call; each list goes from large to small, so that a view that moves can leave out the small end. A texture
/// holds every element's colour. Positions are floats about the member's own origin, so a site far from zero keeps
/// its tenths of a millimetre. Made and freed with the context current.
class MemberBuffers {
public:
    MemberBuffers(QOpenGLFunctions_3_3_Core& gl, const MemberVertices& vertices);
    ~MemberBuffers();
    MemberBuffers(const MemberBuffers&) = delete;
    MemberBuffers& operator=(const MemberBuffers&) = delete;

    void setColours(const std::vector<view::Colour>& colours);
    struct Replaced {
        ifc::ElementIndex element = 0;
        view::Colour before;
    };
    /// Sends what differs from what was set.
    /// @param replaced  the elements whose colour is another, in order
    void updateColours(const std::vector<view::Colour>& colours, std::span<const Replaced> replaced);
    /// Expects the program bound; binds the colours to texture unit 0.
    /// @param smallest  metres: what is smaller across is left out
    void drawFaces(float smallest) { draw(false, smallest); }
    void drawEdges(float smallest) { draw(true, smallest); }
    /// Where drawing in pieces has come to.
    struct Cursor {
        std::size_t group = 0, index = 0;
    };
    /// Draws the next pieces of about `triangles`, at least one, and moves the cursor behind them.
    /// @return how many triangles that were, also where only their edges were drawn
    std::uint64_t drawSome(bool areEdges, Cursor& at, std::uint64_t triangles);
    [[nodiscard]] bool isAtEnd(const Cursor& at) const { return at.group >= groups_.size(); }
    [[nodiscard]] Point3 origin() const { return origin_; } ///< federation frame
    [[nodiscard]] bool hasFaded() const { return faded_ > 0; }
    [[nodiscard]] bool hasSeenThrough() const { return seenThrough_ > 0; }
    [[nodiscard]] const std::vector<std::vector<view::DrawStep>>& order() const
    {
        return order_;
    } ///< the single ones first
    [[nodiscard]] std::size_t bytes() const { return bytes_; }

private:
    using Group = MemberVertices::Group;
    void makeArray(QOpenGLVertexArrayObject& array, QOpenGLBuffer& buffer, bool hasNormals);
    void setInstanced(bool isInstanced, bool hasNormals);
    void draw(bool isEdges, float smallest);
    void bind(bool areEdges);
    void drawGroup(bool areEdges, std::size_t group, std::size_t from, std::size_t to);

    QOpenGLFunctions_3_3_Core& gl_; // the view's; outlives this
    Point3 origin_;
    QOpenGLVertexArrayObject faceArray_, edgeArray_;
    QOpenGLBuffer faces_, edges_, instances_;
    GLuint colourBuffer_ = 0, colourTexture_ = 0;
    std::vector<Group> groups_;
    std::vector<std::vector<view::DrawStep>> order_;
    std::vector<GLsizei> singleEdges_; ///< edge vertices of this single and all larger ones
    std::size_t bytes_ = 0;
    void count(const view::Colour& colour, int by);
    std::int64_t faded_ = 0, seenThrough_ = 0; ///< elements
};

} // namespace wendrix::app
