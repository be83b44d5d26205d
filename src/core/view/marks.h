#pragma once

#include "core/view/camera.h"

#include <string>
#include <vector>

namespace wendrix::view {

enum class MarkKind { Cloud, Ellipse, Rectangle, Line, Arrow, FreeLine, Text };

/// "cloud", "free line".
[[nodiscard]] std::string inWords(MarkKind kind);

/// Something drawn over a view, as lines and not as pixels. It belongs to that one view and is seen only there.
///
/// Points are in the picture: from its middle, x to the right and y up, in halves of its height. So they stay on what
/// they point at whatever the window's size and shape.
struct Mark {
    MarkKind kind = MarkKind::Line;
    std::vector<Point2> points; ///< two corners or ends; a free line's every point; where a text begins
    std::string words;          ///< of a text
    Camera from;                ///< the view
};

/// A pixel as a point of the picture, and back.
[[nodiscard]] Point2 toPicture(Viewport viewport, double x, double y);
[[nodiscard]] Point2 toPixel(Viewport viewport, Point2 point);

/// Whether two views show the same, as far as a line drawn over one still fits the other.
[[nodiscard]] bool isSameView(const Camera& a, const Camera& b);

/// A mark as open lines to draw; a closed shape ends where it began. Text has one point, where it begins.
[[nodiscard]] std::vector<std::vector<Point2>> strokesOf(const Mark& mark);

/// How far a point of the picture is from the nearest line of a mark. Of a text, from its beginning.
[[nodiscard]] double distanceTo(const Mark& mark, Point2 point);

/// A hand-drawn line with as few points as keep within `tolerance` of it; the ends stay.
/// Source: D. Douglas, T. Peucker, Cartographica 10 (1973).
[[nodiscard]] std::vector<Point2> simplified(const std::vector<Point2>& line, double tolerance);

} // namespace wendrix::view
