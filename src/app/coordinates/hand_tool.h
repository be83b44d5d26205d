#pragma once

#include "core/coordinates/hand_fit.h"
#include "core/federation/member.h"
#include "scene/scene_tool.h"
#include "scene/scene_view.h"

#include <QObject>

namespace wendrix::app {

/// Taking hold of things that are to coincide: one in the member, then the one it belongs on in the reference. What is
/// taken stays marked with its number, can be dragged to another hold and taken back. With the keyboard a cross is
/// moved instead of the mouse.
class HandTool final : public QObject, public SceneTool {
    Q_OBJECT
public:
    enum class Kind { Places, Axes, Lines, Faces };

    HandTool(SceneView& scene, QObject* parent) : QObject(parent), scene_(scene) {}

    /// Who is brought onto whom, by discipline. What was taken is dropped where it is of others.
    void setSides(const std::string& moving, const std::string& reference);
    /// The axes that are drawn, as they lie in the scene.
    struct Axis {
        bool isReference = false;
        view::GridLine line;
    };
    void setAxes(std::vector<Axis> axes);
    void setKind(Kind kind);
    [[nodiscard]] Kind kind() const { return kind_; }
    [[nodiscard]] const std::vector<coordinates::HandPair>& pairs() const { return pairs_; }
    void setPairs(std::vector<coordinates::HandPair> pairs);
    void add(const coordinates::HandPair& pair);
    void removeLast();

    void putDown() override;
    bool click(QMouseEvent& event) override;
    bool grab(QMouseEvent& event) override;
    void drag(QMouseEvent& event) override;
    void drop(QMouseEvent& event) override;
    void hover(QMouseEvent& event) override;
    bool key(QKeyEvent& event) override;
    bool undo() override;
    void paint(QPainter& painter) override;
    [[nodiscard]] QString hint() const override;

signals:
    void pairsChanged();
    void hintChanged();

private:
    /// Something under the cursor that could be taken, and how it is drawn.
    struct Under {
        coordinates::Held held;
        view::SnapKind sign = view::SnapKind::Face;
        std::vector<Point3> line; ///< federation frame
    };
    struct Grabbed {
        std::size_t pair = 0;
        bool isReference = false;
    };
    [[nodiscard]] std::optional<Under> under(QPointF at, bool isReference, Kind kind);
    [[nodiscard]] std::optional<Under> axisUnder(QPointF at, bool isReference) const;
    [[nodiscard]] const federation::Member* member(bool isReference) const;
    void take(QPointF at);
    void moveCross(QPointF by);
    [[nodiscard]] QPointF pixelOf(const coordinates::Held& held, bool isReference) const;
    [[nodiscard]] std::optional<Grabbed> markAt(QPointF at) const;
    void paintMark(QPainter& painter, QPointF at, const QString& words, bool isReference) const;

    SceneView& scene_;
    std::string moving_, reference_;
    std::vector<Axis> axes_;
    Kind kind_ = Kind::Places;
    std::vector<coordinates::HandPair> pairs_;
    std::optional<coordinates::Held> first_; ///< of a pair that is begun
    std::optional<Under> under_;
    std::optional<Grabbed> grabbed_;
    std::optional<QPointF> cross_; ///< that the keyboard moves
};

} // namespace wendrix::app
