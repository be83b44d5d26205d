#pragma once

#include <QOpenGLWidget>
#include <QTimer>

#include "core/view/cut_picture.h"
#include "core/view/measure.h"
#include "core/view/scene_state.h"
#include "scene/ahead.h"
#include "scene/labels.h"
#include "scene/scene_renderer.h"
#include "scene/scene_tool.h"
#include "scene/storey_plan.h"
#include "scene/view_motion.h"

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
    /// The same members in other fits, as for a look at one that is proposed.
    void placeMembers(const std::function<federation::Fit(const federation::Member&)>& fitOf);
    [[nodiscard]] const std::vector<federation::Member>& members() const { return scene_.members(); }
    /// Waits for it where the members are new and it is still being made.
    [[nodiscard]] view::Picker& picker();
    /// Whether what is under the cursor can be told without waiting.
    [[nodiscard]] bool isPickerReady() const
    {
        return picker_ != nullptr || !pickerToBe_.isBegun() || pickerToBe_.isReady();
    }
    /// From where a place can be seen, as view::freeDirection says; as wished while it is not known yet what stands in
    /// the way.
    [[nodiscard]] Vector3 freeDirection(Point3 place, double reach, Vector3 wished,
                                        std::span<const view::ElementKey> about);

    /// What is shown and how.
    [[nodiscard]] const view::Scene& document() const { return scene_; }
    [[nodiscard]] const view::Display& display() const { return scene_.display(); }
    [[nodiscard]] view::Colours colours() const { return scene_.colours(); }
    [[nodiscard]] std::optional<view::ElementKey> find(const ElementRef& ref) const { return scene_.find(ref); }
    /// Changes what is shown by commands of the scene; it is drawn, and told of, once.
    template <class Edit>
    void change(Edit&& edit)
    {
        edit(scene_);
        follow();
    }

    /// The storey of which a small plan shows where one is while something is in focus.
    void setPlanStorey(std::optional<StoreyPlan::Storey> storey);
    [[nodiscard]] const StoreyPlan& plan() const { return *plan_; }
    void setFoot(int pixels); ///< taken at the lower left by what others write over the scene
    /// What heights are told by.
    void setGeoreference(ifc::Georeference georeference) { georeference_ = std::move(georeference); }
    [[nodiscard]] const ifc::Georeference& georeference() const { return georeference_; }
    void setGridShown(bool isShown);
    [[nodiscard]] bool isGridShown() const { return isGridShown_; }
    /// What is drawn over views; only what belongs to the present one is seen.
    void setMarks(std::vector<view::Mark> marks);
    [[nodiscard]] const std::vector<view::Mark>& marks() const { return marks_; }
    /// How far a mark is from a point of the picture, in halves of its height; nothing inside a text's box.
    [[nodiscard]] double distanceToMark(const view::Mark& mark, Point2 point) const;
    void setCuts(view::Cuts cuts);
    [[nodiscard]] const view::Cuts& cuts() const { return scene_.cuts(); }

    /// Two members laid over each other, seen straight on. Nothing: the model again.
    void setOverlay(std::optional<view::Overlay> overlay);
    [[nodiscard]] const std::optional<view::Overlay>& overlay() const { return scene_.overlay(); }

    /// How members are shown, and what their colours say.
    [[nodiscard]] const std::vector<view::MemberLook>& looks() const { return scene_.looks(); }
    void setLooks(std::vector<view::MemberLook> looks);
    [[nodiscard]] const view::ColourRule& rule() const { return scene_.rule(); }
    void setRule(const view::ColourRule& rule);
    [[nodiscard]] const std::vector<view::LegendLine>& legend() const { return scene_.legend(); }

    /// The tool in hand, owned elsewhere; nothing for looking around.
    void setTool(SceneTool* tool);
    [[nodiscard]] SceneTool* tool() const { return tool_; }
    /// Nothing while it can not be told without waiting, as snapAt().
    [[nodiscard]] std::optional<view::Picked> pickAt(QPointF at);
    /// The same with what there is to take hold of near the cursor.
    [[nodiscard]] std::optional<view::Snap> snapAt(QPointF at);
    /// The same of some members only, as if the others were not there.
    [[nodiscard]] std::optional<view::Snap> snapAt(QPointF at, view::SnapKinds kinds,
                                                   const std::function<bool(const federation::Member&)>& isWanted);
    [[nodiscard]] std::set<view::ElementKey> elementsIn(QRectF rectangle, bool isWhole);
    void choose(std::set<view::ElementKey> elements); ///< as the selection

    [[nodiscard]] const view::Camera& camera() const { return posing_ ? *posing_ : motion_.camera(); }
    void setCamera(const view::Camera& camera, bool isSmooth);
    void steer(const view::Camera& camera) { motion_.steer(camera); }
    void viewBack() { motion_.back(); }
    void finishMotion() { motion_.finish(); }
    void remember() { motion_.remember(); }
    void fitAll();
    /// Looks from a side at what is seen now; `from` is towards the eye.
    void lookFrom(Vector3 from);
    void setParallel(bool isParallel);
    void lookAt(const std::vector<view::ElementKey>& elements);
    /// All that a kept view restores, but for measurements.
    [[nodiscard]] view::SceneState state() const;
    /// @return how many elements of it are no longer there
    std::size_t restore(const view::SceneState& state);
    [[nodiscard]] view::Viewport viewport() const { return {width(), height()}; }
    [[nodiscard]] QImage picture();
    /// The scene at any size up to 8K, whatever the window's.
    [[nodiscard]] QImage picture(QSize size, bool hasLabels);
    /// The scene as it would be of something else, with labels and without the person's own cuts and selection; what is
    /// on the screen stays.
    [[nodiscard]] QImage pictureOf(view::Subject subject, view::Illustration illustration, const view::Camera& camera,
                                   QSize size);
    [[nodiscard]] const SceneRenderer& renderer() const { return renderer_; }

signals:
    void selectionChanged();
    void displayChanged();
    void viewRested();                     ///< it moved, and no longer does
    void drawnWhole();                     ///< a frame that lacks nothing is there
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
    /// A click that came before it could be told what lies there: done when it can, in the view it was made in.
    struct Click {
        QPointF at;
        view::Camera camera;
        bool isAdding = false;
    };
    /// Sends the renderer what changed. @return false while members are still made ready and `mayWait`
    bool rebuild(bool mayWait);
    void follow(); ///< the scene was changed
    void showPlan();
    void placePlan();
    void takePicker(); ///< it is made, or has to be waited for
    void nameSpaces();
    void cutFacesAnew();
    [[nodiscard]] std::vector<view::Mark> marksOf(const view::Camera& camera) const;
    void paintOver(QPainter& painter, view::Viewport viewport);
    /// The edges of what is selected, while the picture that has it in its colour is still being drawn.
    void paintSelected(QPainter& painter);
    [[nodiscard]] SceneRenderer::Frame frame(QSize pixels, GLuint target) const;
    [[nodiscard]] view::Picker::Filter filter(float leastAlpha) const;
    [[nodiscard]] std::optional<view::Picked> pickFrom(const view::Camera& camera, QPointF at);
    void select(const Click& click);

    view::Scene scene_;
    ifc::Georeference georeference_;
    SceneRenderer renderer_;
    [[nodiscard]] view::Snapper& snapper();
    /// Made beside the interface thread: a tree of a hundred thousand boxes, or as many shapes in order, takes a while.
    Ahead<std::unique_ptr<view::Picker>> pickerToBe_;
    Ahead<std::vector<SceneRenderer::Prepared>> verticesToBe_;
    std::unique_ptr<view::Picker> picker_;
    std::unique_ptr<view::Snapper> snapper_;
    std::optional<Click> click_;
    std::vector<view::Marker> spaceNames_;
    std::vector<view::Mark> marks_;
    std::vector<std::array<Point3, 2>> outline_, surroundings_; ///< of the overlay, and of what is there besides
    ViewMotion motion_{this};
    QTimer ready_; ///< looks whether what is to be sent is
    SceneTool* tool_ = nullptr;
    CompassLevel* compass_;
    StoreyPlan* plan_;
    std::optional<view::Camera> posing_; ///< for a picture, instead of the own one
    int foot_ = 10;
    bool isGridShown_ = true;
    QPointF pressed_, last_;
    std::optional<QRectF> box_; ///< being drawn
    Point3 pivot_;
    std::uint64_t gridVersion_ = 0;
    bool isResizing_ = false;
    bool isWholeWanted_ = false; ///< for a picture, however long it takes
    bool isDragging_ = false, isGrabbed_ = false;
};

} // namespace wendrix::app
