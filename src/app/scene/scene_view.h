#pragma once

#include <QOpenGLWidget>
#include <QTimer>
#include <QVariantAnimation>

#include "core/view/camera.h"
#include "core/view/colouring.h"
#include "core/view/cuts.h"
#include "core/view/display.h"
#include "core/view/measure.h"
#include "core/view/scene_state.h"
#include "scene/labels.h"
#include "scene/ahead.h"
#include "scene/scene_renderer.h"
#include "scene/scene_tool.h"

#include <deque>
#include <memory>
#include <optional>

namespace wendrix::app {

class CompassLevel;

/// OpenGL 3.3 core with a depth buffer for every window; to be called before the application is made.
void setSurfaceFormat();

/// The one 3D view, shared by all stages. It draws what it is told and says what was clicked.
///
/// Mouse: left turns about what is under the cursor, middle or right moves, the wheel goes to the cursor; with Alt the
/// left one draws a box to pick in. Touchpad: two fingers move, a pinch zooms. Keys: arrows turn, with Ctrl they move,
/// plus and minus zoom.
class SceneView final : public QOpenGLWidget {
    Q_OBJECT
public:
    explicit SceneView(QWidget* parent = nullptr);
    ~SceneView() override;

    void setMembers(std::vector<federation::Member> members, std::vector<view::MemberLook> looks);
    [[nodiscard]] const std::vector<federation::Member>& members() const { return members_; }
    /// Waits for it where the members are new and it is still being made.
    [[nodiscard]] view::Picker& picker() const;
    /// Puts a place into focus: what is painted there and what stands around it is shown, nothing else; shown with
    /// updateDisplay(). Nothing to leave it.
    void putInFocus(const std::optional<Box3>& place, std::span<const view::ElementKey> about = {});
    /// From where a place can be seen, as view::freeDirection says; as wished while it is not known yet what stands in the way.
    [[nodiscard]] Vector3 freeDirection(Point3 place, double reach, Vector3 wished, std::span<const view::ElementKey> about) const;
    [[nodiscard]] Box3 bounds() const;

    [[nodiscard]] view::Display& display() { return display_; }
    [[nodiscard]] const view::Display& display() const { return display_; }
    void updateDisplay(); ///< after changing it
    [[nodiscard]] const std::vector<std::vector<view::Colour>>& colours() const { return colours_; }
    /// The element of this name, unless it is only in a revision laid under.
    [[nodiscard]] std::optional<view::ElementKey> find(const ElementRef& ref) const;

    void setGrid(std::vector<GridLine> lines);
    void setGridShown(bool isShown);
    [[nodiscard]] bool isGridShown() const { return isGridShown_; }
    void setMarkers(std::vector<Marker> markers);
    void setArrows(std::vector<Arrow> arrows);
    /// Numbered notes; drawn over everything else.
    void setNoteSigns(std::vector<Marker> signs);
    /// What is drawn over views; only what belongs to the present one is seen.
    void setMarks(std::vector<view::Mark> marks);
    [[nodiscard]] const std::vector<view::Mark>& marks() const { return marks_; }
    /// How far a mark is from a point of the picture, in halves of its height; nothing inside a text's box.
    [[nodiscard]] double distanceToMark(const view::Mark& mark, Point2 point) const;
    void setCuts(view::Cuts cuts);
    [[nodiscard]] const view::Cuts& cuts() const { return cuts_; }

    /// Two members or revisions laid over each other in the face of the last cut, seen straight on: one filled, the
    /// other as a coloured outline. Nothing: the model again.
    struct Overlay {
        std::uint32_t filled = 0, outlined = 0; ///< members
    };
    void setOverlay(std::optional<Overlay> overlay);
    [[nodiscard]] const std::optional<Overlay>& overlay() const { return overlay_; }

    /// How members are shown, and what their colours say.
    [[nodiscard]] const std::vector<view::MemberLook>& looks() const { return looks_; }
    void setLooks(std::vector<view::MemberLook> looks);
    [[nodiscard]] const view::ColourRule& rule() const { return rule_; }
    void setRule(const view::ColourRule& rule);
    [[nodiscard]] const std::vector<view::LegendLine>& legend() const { return colouring_.legend; }

    /// The tool in hand, owned elsewhere; nothing for looking around.
    void setTool(SceneTool* tool);
    [[nodiscard]] SceneTool* tool() const { return tool_; }
    [[nodiscard]] std::optional<view::Picked> pickAt(QPointF at);
    /// The same with what there is to take hold of near the cursor.
    [[nodiscard]] std::optional<view::Snap> snapAt(QPointF at);
    [[nodiscard]] std::set<view::ElementKey> elementsIn(QRectF rectangle, bool isWhole);
    void choose(std::set<view::ElementKey> elements); ///< as the selection

    [[nodiscard]] const view::Camera& camera() const { return camera_; }
    void setCamera(const view::Camera& camera, bool isSmooth);
    void steer(const view::Camera& camera); ///< a little further on a way that remember() began
    void viewBack(); ///< undo of the view
    void finishMotion(); ///< a view that is moving is there at once
    void fitAll();
    /// Looks from a side at what is seen now; `from` is towards the eye.
    void lookFrom(Vector3 from);
    void setParallel(bool isParallel);
    void remember(); ///< the view, to come back to
    void lookAt(const std::vector<view::ElementKey>& elements);
    /// All that a kept view restores, but for measurements.
    [[nodiscard]] view::SceneState state() const;
    /// @return how many elements of it are no longer there
    std::size_t restore(const view::SceneState& state);
    [[nodiscard]] view::Viewport viewport() const { return {width(), height()}; }
    [[nodiscard]] QImage picture();
    /// The scene at any size up to 8K, whatever the window's.
    [[nodiscard]] QImage picture(QSize size, bool hasLabels);
    [[nodiscard]] const SceneRenderer& renderer() const { return renderer_; }

signals:
    void selectionChanged();
    void displayChanged();
    void viewRested(); ///< it moved, and no longer does
    void drawnWhole(); ///< a frame that lacks nothing is there
    void menuWanted(const QPoint& global); ///< a right click that was no drag
    void cursorMoved(bool isOnModel, double x, double y, double z);

protected:
    bool event(QEvent* event) override;
    void initializeGL() override;
    void paintGL() override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    /// Sends the renderer what changed. @return false while members are still made ready and `mayWait`
    bool rebuild(bool mayWait);
    void sendColours();
    void sendFocus();
    void cutFacesAnew();
    [[nodiscard]] std::vector<view::Mark> marksOf(const view::Camera& camera) const;
    void paintOver(QPainter& painter, view::Viewport viewport);
    [[nodiscard]] SceneRenderer::Frame frame(QSize pixels, GLuint target) const;
    [[nodiscard]] view::Picker::Filter filter(float leastAlpha) const;
    void select(QPointF at, bool isAdding);
    [[nodiscard]] view::Camera whereItGoes() const; ///< the view, or the one it is moving to
    void moved(); ///< the view changed: quickly now, whole when it rests

    std::vector<federation::Member> members_;
    std::vector<view::MemberLook> looks_;
    SceneRenderer renderer_;
    [[nodiscard]] view::Snapper& snapper();
    /// Made beside the interface thread: a tree of a hundred thousand boxes, or as many shapes in order, takes a while.
    mutable Ahead<std::unique_ptr<view::Picker>> pickerToBe_;
    Ahead<std::vector<SceneRenderer::Prepared>> verticesToBe_;
    mutable std::unique_ptr<view::Picker> picker_;
    std::unique_ptr<view::Snapper> snapper_;
    view::Display display_;
    view::ColourRule rule_;
    view::Colouring colouring_;
    std::vector<std::vector<view::Colour>> colours_;
    std::vector<view::ElementKey> changedColours_; ///< not sent yet, where not all are stale
    std::optional<view::Display> coloured_; ///< the display that colours_ are of; nothing where they have to be made anew
    std::vector<GridLine> grid_;
    std::vector<Marker> markers_, spaceNames_, noteSigns_;
    std::vector<view::Mark> marks_;
    std::vector<Arrow> arrows_;
    view::Cuts cuts_;
    std::optional<Overlay> overlay_;
    std::vector<std::array<Point3, 2>> outline_; ///< of the overlay
    view::Camera camera_, goal_;
    std::deque<view::Camera> before_;
    QVariantAnimation animation_;
    QTimer rest_, ready_; ///< ready: looks whether what is to be sent is
    SceneTool* tool_ = nullptr;
    CompassLevel* compass_;
    bool areMembersStale_ = true, areColoursStale_ = true, areCutFacesStale_ = false, isFocusStale_ = false, isMoving_ = false, isGridShown_ = true;
    QPointF pressed_, last_;
    std::optional<QRectF> box_; ///< being drawn
    Point3 pivot_;
    std::uint64_t gridVersion_ = 0;
    bool isResizing_ = false;
    bool isWholeWanted_ = false; ///< for a picture, however long it takes
    bool isDragging_ = false, isGrabbed_ = false;
};

} // namespace wendrix::app
