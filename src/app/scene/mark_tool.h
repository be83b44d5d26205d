#pragma once

#include "scene/scene_tool.h"
#include "scene/scene_view.h"

#include <QObject>
#include <QPointer>

class QLineEdit;

namespace wendrix::app {

/// Drawing over the view: a drag draws, the middle and right button move the view as ever. Marks belong to the view
/// they were drawn over; in another one drawing starts afresh and the others wait.
class MarkTool final : public QObject, public SceneTool {
    Q_OBJECT
public:
    explicit MarkTool(SceneView& scene, QObject* parent) : QObject(parent), scene_(scene) {}

    enum class Doing { Drawing, Noting, Erasing };
    void draw(view::MarkKind kind);
    void note();  ///< the next click says where a note stands
    void erase(); ///< the next click on a mark takes it away
    [[nodiscard]] Doing doing() const { return doing_; }
    [[nodiscard]] view::MarkKind kind() const { return kind_; }

    void takeBack(); ///< the newest mark of this view
    void clear();    ///< all marks of this view
    /// To the view that other marks belong to, one after the other.
    void toOtherMarks();
    [[nodiscard]] std::size_t marksHere() const;
    [[nodiscard]] std::size_t marksElsewhere() const { return scene_.marks().size() - marksHere(); }

    void putDown() override;
    bool click(QMouseEvent& event) override;
    bool grab(QMouseEvent& event) override;
    void drag(QMouseEvent& event) override;
    void drop(QMouseEvent& event) override;
    bool key(QKeyEvent& event) override;
    bool undo() override;
    void paint(QPainter& painter) override;
    [[nodiscard]] QString hint() const override;

signals:
    void changed();
    void notePlaced(wendrix::Point3 place);
    void said(const QString& words);

private:
    void beginText(QPointF at);
    void add(view::Mark mark);
    [[nodiscard]] Point2 pictureAt(QPointF at) const { return view::toPicture(scene_.viewport(), at.x(), at.y()); }

    SceneView& scene_;
    Doing doing_ = Doing::Drawing;
    view::MarkKind kind_ = view::MarkKind::Cloud;
    std::optional<view::Mark> begun_;
    QPointer<QLineEdit> field_; ///< a text being written
};

} // namespace wendrix::app
