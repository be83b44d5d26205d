#pragma once

#include <QColor>
#include <QString>

#include "core/view/camera.h"

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

/// Writes bubbles, arrows and markers over a drawn scene. Nothing here hides behind the model.
void paintLabels(QPainter& painter, const view::Camera& camera, view::Viewport viewport,
                 const std::vector<GridLine>& grid, const std::vector<Arrow>& arrows,
                 const std::vector<Marker>& markers);

/// Writes names where there is room, the nearest first.
void paintNames(QPainter& painter, const view::Camera& camera, view::Viewport viewport, const std::vector<Marker>& names);

} // namespace wendrix::app
