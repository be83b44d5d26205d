#pragma once

#include <QColor>
#include <QPointF>
#include <QRectF>
#include <QString>

#include "core/view/marks.h"

#include <vector>

class QPainter;

namespace wendrix::app {

/// A grid axis drawn on the storey one looks at, with its bubble.
struct GridLine {
    Point3 start, end;
    QString tag; ///< empty: no bubble
    QColor colour;
};

/// A sign at a place: a number in a disc, a dot.
struct Marker {
    Point3 place;
    QString text;
    QColor fill, ink;
    bool isSmall = false;
};

/// A shift, with its length in words.
struct Arrow {
    Point3 from, to;
    QString words;
    QColor colour;
};

/// A marker where it is drawn, in pixels, with the number of others that would lie on it and are left out.
struct Sign {
    const Marker* marker = nullptr;
    QPointF at;
    int more = 0;
};
/// The markers that are in the picture, each where it has room: of those that would hide each other the first stands for all.
[[nodiscard]] std::vector<Sign> signsOf(const view::Camera& camera, view::Viewport viewport, const std::vector<Marker>& markers);

/// Writes bubbles, arrows and markers over a drawn scene. Nothing here hides behind the model.
void paintLabels(QPainter& painter, const view::Camera& camera, view::Viewport viewport,
                 const std::vector<GridLine>& grid, const std::vector<Arrow>& arrows,
                 const std::vector<Marker>& markers);

/// Writes names where there is room, the nearest first.
void paintNames(QPainter& painter, const view::Camera& camera, view::Viewport viewport, const std::vector<Marker>& names);

/// Draws marks with a pale rim, so that they are seen on anything.
void paintMarks(QPainter& painter, view::Viewport viewport, const std::vector<view::Mark>& marks);
/// The box a text mark is written in, in pixels.
[[nodiscard]] QRectF textBoxOf(view::Viewport viewport, const view::Mark& mark);

} // namespace wendrix::app
