#pragma once

#include <QWidget>

#include "core/view/camera.h"

namespace wendrix::app {

/// A compass and a level: from which side and how steeply one looks. A letter on the ring is clicked to look from
/// there, the scale beside it to look from above, from the side or from below; the ring can be dragged. Below it,
/// whether far things look smaller.
class CompassLevel final : public QWidget {
    Q_OBJECT
public:
    explicit CompassLevel(QWidget* parent = nullptr);
    void setCamera(const view::Camera& camera);
    /// Where the sides are drawn, for a click: 'N', 'E', 'S', 'W', 'A' above, 'L' level, 'B' below, 'P' parallel.
    [[nodiscard]] QPoint placeOf(char what) const;

signals:
    void sideChosen(Vector3 from); ///< towards the eye
    void parallelChosen(bool isParallel);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;

private:
    view::Camera camera_;
    double draggedFrom_ = 0;
    bool isDragging_ = false;
};

} // namespace wendrix::app
