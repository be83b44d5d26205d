#pragma once

#include <QColor>
#include <QPointF>
#include <QRectF>
#include <QString>

#include "core/view/marks.h"
#include "core/view/signs.h"

#include <vector>

class QPainter;

namespace wendrix::app {

[[nodiscard]] inline QColor toQColor(const view::Colour& c)
{
    return QColor::fromRgbF(c.red, c.green, c.blue, c.alpha);
}
[[nodiscard]] inline view::Colour toColour(const QColor& c) { return {c.redF(), c.greenF(), c.blueF(), c.alphaF()}; }

/// A marker where it is drawn, in pixels, with the number of others that would lie on it and are left out.
struct Sign {
    const view::Marker* marker = nullptr;
    QPointF at;
    int more = 0;
};
/// The markers that are in the picture, each where it has room: of those that would hide each other the first stands
/// for all.
[[nodiscard]] std::vector<Sign> signsOf(const view::Camera& camera, view::Viewport viewport,
                                        const std::vector<view::Marker>& markers);

/// Writes bubbles, arrows and markers over a drawn scene. Nothing here hides behind the model.
void paintLabels(QPainter& painter, const view::Camera& camera, view::Viewport viewport,
                 const std::vector<view::GridLine>& grid, const std::vector<view::Arrow>& arrows,
                 const std::vector<view::Marker>& markers);

/// Writes names where there is room, the nearest first.
void paintNames(QPainter& painter, const view::Camera& camera, view::Viewport viewport,
                const std::vector<view::Marker>& names);

/// Draws marks with a pale rim, so that they are seen on anything.
void paintMarks(QPainter& painter, view::Viewport viewport, const std::vector<view::Mark>& marks);
/// The box a text mark is written in, in pixels.
[[nodiscard]] QRectF textBoxOf(view::Viewport viewport, const view::Mark& mark);

} // namespace wendrix::app
