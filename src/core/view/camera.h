#pragma once

#include "core/base/box3.h"
#include "core/base/quantity.h"
#include "core/issues/issue.h"

#include <span>

namespace wendrix::view {

/// Where one looks from, and the place one turns about. Metres, Z up, federation frame; doubles throughout.
struct Camera {
    Point3 eye{30, -40, 30};
    Point3 target{};          ///< what the view turns about; in front of the eye
    double fieldOfView = 0.7; ///< whole vertical angle, radians
    bool isParallel = false;  ///< then as much is seen as the angle takes in at the target
    double roll = 0;          ///< radians that the head is held aslant, to the right; for views that others made

    [[nodiscard]] Vector3 forward() const { return normalised(target - eye); }
    [[nodiscard]] Vector3 right() const;
    [[nodiscard]] Vector3 up() const { return cross(right(), forward()); }
    [[nodiscard]] Vector3 levelRight() const; ///< right() of a head held upright
    /// Half of what is seen from bottom to top, in metres, at a depth.
    [[nodiscard]] double halfHeight(double depth) const;
    friend bool operator==(const Camera&, const Camera&) = default;
};

struct Ray {
    Point3 origin;
    Vector3 direction; ///< unit
};

/// A window on the scene, in pixels.
struct Viewport {
    int width = 1, height = 1;
    [[nodiscard]] double aspect() const { return static_cast<double>(width) / height; }
};

/// The ray through a pixel (x right, y down, from the top left).
[[nodiscard]] Ray rayThrough(const Camera& camera, Viewport viewport, double x, double y);
/// Where a place shows, in pixels; `isInFront` is false behind the eye.
struct ScreenPlace {
    double x = 0, y = 0, depth = 0; ///< depth: metres along the view
    bool isInFront = false;
};
[[nodiscard]] ScreenPlace project(const Camera& camera, Viewport viewport, Point3 place);

/// Turned about `pivot`: yaw about the vertical, pitch about the view's horizontal, kept off the poles.
[[nodiscard]] Camera orbited(const Camera& camera, Point3 pivot, Radians yaw, Radians pitch);
/// Shifted so that what is at `depth` metres follows the cursor by (dx, dy) pixels.
[[nodiscard]] Camera panned(const Camera& camera, Viewport viewport, double dx, double dy, double depth);
/// Brought nearer to (factor < 1) or away from `place`, which stays under the cursor.
[[nodiscard]] Camera zoomed(const Camera& camera, Point3 place, double factor);
/// Turned where one stands: the eye stays.
[[nodiscard]] Camera lookedAround(const Camera& camera, Radians yaw, Radians pitch);
/// A step on the level, as one walks, whichever way one looks; metres.
[[nodiscard]] Camera walked(const Camera& camera, double ahead, double aside, double up);
/// At this height, looking the same way.
[[nodiscard]] Camera atHeight(const Camera& camera, double eyeHeight);
/// A view along an axis, or from above, of what is seen now; the target and its distance stay.
/// @param from  towards the eye
[[nodiscard]] Camera turnedTo(const Camera& camera, Vector3 from);
/// From the direction `from` (towards the eye), so far off that all boxes are seen and fill the window.
[[nodiscard]] Camera lookingAt(std::span<const Box3> boxes, Vector3 from, double aspect, double fieldOfView = 0.7);
[[nodiscard]] inline Camera lookingAt(const Box3& box, Vector3 from, double aspect)
{
    return lookingAt(std::span(&box, 1), from, aspect);
}
/// The same direction as now, so far off that the box fills the window.
[[nodiscard]] Camera fitted(const Camera& camera, const Box3& box, double aspect);
/// Between two cameras, t from 0 to 1.
[[nodiscard]] Camera between(const Camera& a, const Camera& b, double t);

/// @param aspect  of the window, width to height; 0 where it has none
[[nodiscard]] issues::Camera toViewpoint(const Camera& camera, double aspect = 0);
/// The same view: what was seen in a wider window is seen whole in one of this aspect, too.
/// @param targetDistance  of a view in perspective: how far off what it turns about is, metres
/// @param aspect          of the window; 0 takes the view as it is
[[nodiscard]] Camera fromViewpoint(const issues::Camera& camera, double targetDistance, double aspect = 0);

} // namespace wendrix::view
