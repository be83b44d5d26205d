#pragma once

#include <QImage>
#include <QTimer>
#include <QWidget>

#include "core/federation/member.h"
#include "core/view/camera.h"
#include "scene/ahead.h"

#include <optional>

namespace wendrix::app {

/// A small plan of a storey: what a level cut through one member shows, the place in focus, and from where one looks.
/// North of the federation frame is up.
class StoreyPlan final : public QWidget {
    Q_OBJECT
public:
    explicit StoreyPlan(QWidget* parent);

    struct Storey {
        federation::Member member; ///< whose walls are shown
        double height = 0;         ///< of the floor, metres, federation frame
        QString name;
    };
    /// The cut is made beside; until it is there, the place is shown on the bare extent.
    void setStorey(std::optional<Storey> storey);
    /// Nothing hides the plan.
    void setPlace(const std::optional<Box3>& place, const view::Camera& camera);
    [[nodiscard]] bool isDrawn() const { return !drawing_.isNull(); }
    [[nodiscard]] QString storeyName() const { return storey_ ? storey_->name : QString(); }
    /// Where a place lies in it, in pixels.
    [[nodiscard]] QPointF pixelOf(const Point3& place) const;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    [[nodiscard]] QRectF room() const; ///< for the drawing
    std::optional<Storey> storey_;
    Box3 extent_;
    std::optional<Box3> place_;
    view::Camera camera_;
    QImage drawing_;
    Ahead<QImage> drawingToBe_;
    QTimer ready_;
};

} // namespace wendrix::app
