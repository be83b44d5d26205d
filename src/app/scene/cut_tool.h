#pragma once

#include "scene/scene_tool.h"
#include "scene/scene_view.h"

#include <QObject>

namespace wendrix::app {

/// Making cuts and moving them: each face of a cut has a knob that is dragged along its normal.
class CutTool final : public QObject, public SceneTool {
    Q_OBJECT
public:
    explicit CutTool(SceneView& scene, QObject* parent) : QObject(parent), scene_(scene) {}

    enum class Wanted { Nothing, Face, ThreePlaces };
    void want(Wanted wanted); ///< the next clicks make a plane
    void cutAcross(int axis); ///< 0 x, 1 y, 2 z: in the middle of what is shown
    void boxAroundSelection();
    void turnOver(); ///< the plane in hand shows its other side
    void endInHand();
    void endAll();

    /// The face in hand, how far along its normal it stands, in metres; nothing where none is.
    [[nodiscard]] std::optional<double> position() const;
    void setPosition(double metres);
    [[nodiscard]] QPoint knobOf(int face) const; ///< where it is drawn
    [[nodiscard]] int inHand() const { return inHand_; }

    void taken() override { want(Wanted::Nothing); }
    void putDown() override { want(Wanted::Nothing); }
    bool click(QMouseEvent& event) override;
    bool grab(QMouseEvent& event) override;
    void drag(QMouseEvent& event) override;
    void paint(QPainter& painter) override;
    [[nodiscard]] QString hint() const override;

signals:
    void changed();
    void said(const QString& words);

private:
    struct Face { ///< one that can be moved
        geometry::Plane plane;
        int boxAxis = -1, boxSide = 0; ///< of the box; else a plane
        int index = -1;
    };
    [[nodiscard]] std::vector<Face> faces() const;
    [[nodiscard]] Point3 middleOf(const Face& face) const;
    void put(const view::Cuts& cuts, int inHand);
    void add(const geometry::Plane& plane);
    void move(double metres);

    SceneView& scene_;
    Wanted wanted_ = Wanted::Nothing;
    std::vector<Point3> places_;
    int inHand_ = -1;
    QPointF last_;
};

} // namespace wendrix::app
