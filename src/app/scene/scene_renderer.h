#pragma once

#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLShaderProgram>

#include "core/view/camera.h"
#include "core/view/colours.h"
#include "core/view/cuts.h"
#include "core/view/signs.h"
#include "scene/frame_target.h"
#include "scene/labels.h"
#include "scene/member_buffers.h"

#include <QElapsedTimer>

#include <memory>
#include <optional>

namespace wendrix::app {

[[nodiscard]] inline QVector3D vectorOf(Vector3 v)
{
    return {static_cast<float>(v.x), static_cast<float>(v.y), static_cast<float>(v.z)};
}

/// Draws a federation: paper, ground shadow, clay and ink, cut faces, what is seen through. Lives with one context.
class SceneRenderer : protected QOpenGLFunctions_3_3_Core {
public:
    /// What is drawn; the renderer keeps none of it.
    struct Frame {
        view::Camera camera;
        QSize size;        ///< pixels
        GLuint target = 0; ///< framebuffer to end in
        std::vector<geometry::Plane> cuts;
        Box3 bounds; ///< of all that is shown
        const std::vector<view::GridLine>* grid = nullptr;
        bool isMoving = false;     ///< within a budget of time; else whole, smooth and shaded
        bool isFlat = false;       ///< the cut faces alone, as a drawing
        bool isWaiting = false;    ///< the picture before does once more: something else takes this frame's time
        bool mayPause = false;     ///< at rest: a piece at a time, and meanwhile what was drawn before
        std::uint64_t version = 0; ///< another where the grid is another
        std::optional<view::Focus>
            focus; ///< the place the view is about; what setFocus() was given is drawn, and fades out around it
    };

    void initialise();
    void release(); ///< with the context current, before it goes
    /// What of a member is made beforehand, on another thread.
    struct Prepared {
        std::shared_ptr<const geometry::MemberGeometry> geometry;
        Transform place;
        MemberVertices vertices;
    };
    /// Whether a member is there already, in this place.
    [[nodiscard]] bool has(const federation::Member& member) const;
    /// What is neither there nor prepared is made now.
    void setMembers(const std::vector<federation::Member>& members, const std::vector<Prepared>& prepared);
    void setLooks(const std::vector<view::MemberLook>& looks); ///< one a member; before their colours
    void setColours(const view::ColourTable& colours);
    /// Takes over what differs from what was set; costs as much.
    void updateColours(const view::ColourTable& colours, std::span<const view::ElementKey> changed);
    /// Draws these elements alone, until it is called with null: they are few, so that each picture is there at once.
    void setFocus(const view::ColourList* shown);
    void setCutFaces(const std::vector<view::CutFaces>& faces, const std::vector<geometry::Plane>& planes,
                     const view::Colours& colours);
    void setFigures(const std::vector<view::Figure>& figures);
    /// Those that can not be read are left out.
    void setPictures(const std::vector<view::StandingPicture>& pictures);
    /// @return whether the picture is whole; if not, draw it again to go on
    bool draw(const Frame& frame);

    /// How many triangles the last frame drew, and how large everything on the GPU is.
    [[nodiscard]] std::uint64_t drawnTriangles() const { return drawnTriangles_; }
    [[nodiscard]] std::size_t bytes() const;
    /// Whether what was shown last is drawn to the end, as at rest.
    [[nodiscard]] bool isWhole() const { return isKeptWhole_; }

private:
    enum class What { Faces, Edges };
    struct Standing {
        view::StandingPicture picture;
        bool isMade = false; ///< once it is drawn first
        GLuint texture = 0;  ///< 0 where it can not be read
    };
    /// What a picture is of: equal ones need not be drawn twice.
    struct Key {
        view::Camera camera;
        QSize size;
        std::vector<geometry::Plane> cuts;
        Box3 bounds;
        bool isFlat = false;
        std::uint64_t version = 0, contents = 0;
        Box3 focus;
        friend bool operator==(const Key&, const Key&) = default;
    };
    enum class Phase {
        Paper,
        FadedDepth,
        FadedFaces,
        FadedEdges,
        Faces,
        CutFaces,
        Edges,
        CutEdges,
        Pictures,
        Figures,
        Finish,
        Done
    };
    /// A picture being drawn, and how far it is.
    struct Job {
        Key key;
        bool isRough = false;
        Phase phase = Phase::Paper;
        std::size_t member = 0;
        MemberBuffers::Cursor at;
    };
    [[nodiscard]] Key keyOf(const Frame& frame) const;
    void drawRough(const Key& key);
    /// So little is in focus that a rough picture of it first would only delay the whole one.
    [[nodiscard]] bool isQuick() const;
    void step(Job& job);
    /// One step, or more of them until the time is up. @return whether the job is done
    bool goOn(Job& job, double milliseconds);
    void keep(const Key& key, bool isWhole);
    void prepare(); ///< the state every step begins with
    void drawPaper();
    void finish();
    void shade(); ///< what was drawn, onto the frame's target
    void setCutting(bool isOn);
    void drawOverWindow(QOpenGLShaderProgram& program);
    /// @return whether all are drawn; a rough job draws them at once
    bool drawMembers(Job& job, int pass, What what);
    void drawCutFaces(What what);
    void drawSeenThrough();
    void drawLines();
    void drawPictures();
    void forgetPictures();
    void makeTexture(Standing& one);
    /// Over everything, each hiding what of it lies behind.
    void drawFigures();
    /// Places relative to the eye with four more numbers each.
    void drawVertices(QOpenGLShaderProgram& program, GLenum mode, const std::vector<float>& vertices);
    void drawShadow();
    void makeShadow();
    /// The program for it, bound; one that cuts only where there are cuts, since that costs for every corner.
    QOpenGLShaderProgram& begin(What what, int pass);
    void gatherSeenThrough();
    void addSeenThrough(const view::ElementKey& key, const view::Colour& colour);
    /// What is drawn: the members, or what is in focus of them.
    [[nodiscard]] const std::vector<std::unique_ptr<MemberBuffers>>& drawn() const
    {
        return isInFocus_ ? focus_ : buffers_;
    }
    [[nodiscard]] const std::vector<std::vector<view::DrawStep>>& order() const
    {
        return isInFocus_ ? focusOrder_ : order_;
    }
    [[nodiscard]] QMatrix4x4 projection() const;

    const Frame* frame_ = nullptr; ///< while one is drawn
    std::vector<federation::Member> members_;
    std::vector<view::MemberLook> looks_;
    view::ColourTable colours_;
    std::vector<std::unique_ptr<MemberBuffers>> buffers_, cutBuffers_;
    std::vector<std::unique_ptr<MemberBuffers>> focus_; ///< a member each
    bool isInFocus_ = false;
    std::unique_ptr<FrameTarget> target_, kept_; ///< drawn into; what was shown last
    std::optional<Key> keptKey_;
    bool isKeptWhole_ = false, isRough_ = false;
    std::optional<Job> job_;
    std::uint64_t contents_ = 0;   ///< counts changes of what there is to draw
    std::uint64_t piece_ = 40'000; ///< triangles, learned
    QOpenGLShaderProgram faces_, edges_, cutOpenFaces_, cutOpenEdges_, lines_, paper_, finish_, shadow_, standing_;
    QOpenGLVertexArrayObject empty_, lineArray_;
    QOpenGLBuffer lineBuffer_{QOpenGLBuffer::VertexBuffer};
    GLuint shadowTexture_ = 0;
    Box3 shadowBounds_;
    bool isShadowStale_ = true;
    std::vector<std::vector<view::DrawStep>> order_, focusOrder_; ///< of all members
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
    std::vector<Standing> pictures_;
    std::vector<view::Figure> figures_;
    std::vector<std::vector<std::array<Point3, 2>>> figureEdges_; ///< of each, about its origin
};

} // namespace wendrix::app
