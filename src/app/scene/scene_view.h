#pragma once

#include <QOpenGLFunctions_3_3_Core>
#include <QOpenGLShaderProgram>
#include <QOpenGLWidget>
#include <QVariantAnimation>

#include "core/view/camera.h"
#include "core/view/display.h"
#include "core/view/picking.h"
#include "scene/labels.h"
#include "scene/member_buffers.h"

#include <deque>
#include <memory>
#include <optional>

namespace wendrix::app {

/// OpenGL 3.3 core with a depth buffer for every window; to be called before the application is made.
void setSurfaceFormat();

/// The one 3D view, shared by all stages. It draws what it is told and says what was clicked.
///
/// Mouse: left turns about what is under the cursor, middle or right moves, wheel goes to the cursor.
class SceneView final : public QOpenGLWidget, private QOpenGLFunctions_3_3_Core {
    Q_OBJECT
public:
    explicit SceneView(QWidget* parent = nullptr);
    ~SceneView() override;

    void setMembers(std::vector<federation::Member> members, std::vector<view::MemberLook> looks);
    [[nodiscard]] const std::vector<federation::Member>& members() const { return members_; }
    [[nodiscard]] view::Picker& picker() { return *picker_; }
    [[nodiscard]] Box3 bounds() const;

    [[nodiscard]] view::Display& display() { return display_; }
    void updateDisplay(); ///< after changing it
    [[nodiscard]] const std::vector<std::vector<view::Colour>>& colours() const { return colours_; }
    /// The element with this GlobalId in the first member that has one and is not a revision laid under.
    [[nodiscard]] std::optional<view::ElementKey> find(const std::string& guid) const;

    void setGrid(std::vector<GridLine> lines);
    void setMarkers(std::vector<Marker> markers);
    void setArrows(std::vector<Arrow> arrows);
    /// Shows only what lies between two heights.
    void setCut(std::optional<std::pair<double, double>> heights);
    [[nodiscard]] std::optional<std::pair<double, double>> cut() const { return cut_; }

    [[nodiscard]] const view::Camera& camera() const { return camera_; }
    void setCamera(const view::Camera& camera, bool isSmooth);
    void viewBack(); ///< undo of the view
    void finishMotion(); ///< a view that is moving is there at once
    void fitAll();
    void lookAt(const std::vector<view::ElementKey>& elements);
    [[nodiscard]] view::Viewport viewport() const { return {width(), height()}; }
    [[nodiscard]] QImage picture();

signals:
    void selectionChanged();
    void displayChanged();
    void cursorMoved(bool isOnModel, double x, double y, double z);

protected:
    void initializeGL() override;
    void paintGL() override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

private:
    void rebuild();
    void drawMembers();
    void drawGrid();
    [[nodiscard]] std::optional<view::Picked> pickAt(QPointF at);
    [[nodiscard]] QMatrix4x4 projection() const;
    [[nodiscard]] QMatrix3x3 rotation() const;
    void select(QPointF at, bool isAdding);
    void remember();

    std::vector<federation::Member> members_;
    std::vector<view::MemberLook> looks_;
    std::vector<std::unique_ptr<MemberBuffers>> buffers_;
    std::unique_ptr<view::Picker> picker_;
    view::Display display_;
    std::vector<std::vector<view::Colour>> colours_;
    std::vector<GridLine> grid_;
    std::vector<Marker> markers_;
    std::vector<Arrow> arrows_;
    std::optional<std::pair<double, double>> cut_;
    view::Camera camera_, goal_;
    std::deque<view::Camera> before_;
    QVariantAnimation animation_;
    QOpenGLShaderProgram faceProgram_, edgeProgram_, lineProgram_;
    QOpenGLVertexArrayObject lineArray_;
    QOpenGLBuffer lineBuffer_;
    bool isStale_ = true, areColoursStale_ = true;
    QPointF pressed_, last_;
    Point3 pivot_;
    bool isDragging_ = false;
};

} // namespace wendrix::app
