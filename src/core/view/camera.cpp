#include "core/view/camera.h"

#include "core/base/quantity.h"
#include "core/base/transform.h"

#include <cmath>
#include <numbers>

namespace wendrix::view {

namespace {

constexpr double kBehindMetres = 1e4;                 // farther back than any site is wide
constexpr double kSteepest = 0.49 * std::numbers::pi; // at the pole left and right would be lost

Vector3 turned(Vector3 v, Vector3 axis, double angle)
{
    const double c = std::cos(angle), s = std::sin(angle);
    return c * v + s * cross(axis, v) + ((1 - c) * dot(axis, v)) * axis;
}

} // namespace

Vector3 Camera::right() const
{
    const Vector3 level = levelRight();
    return roll == 0 ? level : turned(level, forward(), roll);
}

Vector3 Camera::levelRight() const
{
    const Vector3 f = forward();
    const Vector3 r = cross(f, Vector3{0, 0, 1});
    return length(r) > 1e-9 ? normalised(r) : Vector3{1, 0, 0};
}

double Camera::halfHeight(double depth) const
{
    return std::tan(fieldOfView / 2) * (isParallel ? length(target - eye) : depth);
}

Ray rayThrough(const Camera& camera, Viewport viewport, double x, double y)
{
    if (camera.isParallel) {
        const double h = camera.halfHeight(0);
        const double u = (2 * x / viewport.width - 1) * h * viewport.aspect(), v = (1 - 2 * y / viewport.height) * h;
        // From far back: what lies behind the eye's plane is seen as well.
        return {camera.eye + u * camera.right() + v * camera.up() - kBehindMetres * camera.forward(), camera.forward()};
    }
    const double t = std::tan(camera.fieldOfView / 2);
    const double u = (2 * x / viewport.width - 1) * t * viewport.aspect(), v = (1 - 2 * y / viewport.height) * t;
    return {camera.eye, normalised(camera.forward() + u * camera.right() + v * camera.up())};
}

ScreenPlace project(const Camera& camera, Viewport viewport, Point3 place)
{
    const Vector3 d = place - camera.eye;
    ScreenPlace s;
    s.depth = dot(d, camera.forward());
    s.isInFront = camera.isParallel || s.depth > 1e-6;
    if (!s.isInFront)
        return s;
    const double t = camera.halfHeight(s.depth);
    s.x = (dot(d, camera.right()) / (t * viewport.aspect()) + 1) / 2 * viewport.width;
    s.y = (1 - dot(d, camera.up()) / t) / 2 * viewport.height;
    return s;
}

Camera orbited(const Camera& camera, Point3 pivot, Radians yaw, Radians pitch)
{
    const double elevation = std::asin(std::clamp(-camera.forward().z, -1.0, 1.0));
    const double tilt = std::clamp(elevation + pitch.value, -kSteepest, kSteepest) - elevation;
    const Vector3 side = camera.levelRight();
    const auto turn = [&](Vector3 v) { return turned(turned(v, side, -tilt), {0, 0, 1}, yaw.value); };
    Camera result = camera;
    result.roll = 0; // whoever turns the view holds the head upright
    result.eye = pivot + turn(camera.eye - pivot);
    result.target = pivot + turn(camera.target - pivot);
    return result;
}

Camera panned(const Camera& camera, Viewport viewport, double dx, double dy, double depth)
{
    const double metresPerPixel = 2 * camera.halfHeight(depth) / viewport.height;
    const Vector3 shift = (-dx * metresPerPixel) * camera.right() + (dy * metresPerPixel) * camera.up();
    Camera result = camera;
    result.eye = camera.eye + shift;
    result.target = camera.target + shift;
    return result;
}

Camera zoomed(const Camera& camera, Point3 place, double factor)
{
    Camera result = camera;
    result.eye = place + factor * (camera.eye - place);
    result.target = place + factor * (camera.target - place);
    return result;
}

Camera lookedAround(const Camera& camera, Radians yaw, Radians pitch)
{
    return orbited(camera, camera.eye, yaw, pitch);
}

Camera walked(const Camera& camera, double ahead, double aside, double up)
{
    const Vector3 right = camera.levelRight(), level = cross(Vector3{0, 0, 1}, right);
    const Vector3 step = ahead * level + aside * right + Vector3{0, 0, up};
    Camera result = camera;
    result.eye = camera.eye + step;
    result.target = camera.target + step;
    return result;
}

Camera atHeight(const Camera& camera, double eyeHeight) { return walked(camera, 0, 0, eyeHeight - camera.eye.z); }

Camera turnedTo(const Camera& camera, Vector3 from)
{
    // A view straight down keeps its up side where the nearest one off the pole has it.
    Vector3 d = normalised(from);
    const double flat = std::hypot(d.x, d.y), least = std::cos(kSteepest);
    if (flat < least) {
        const Vector3 f = camera.forward();
        const Vector3 back = flat > 1e-6 ? Vector3{d.x, d.y, 0} : Vector3{-f.x, -f.y, 0};
        const Vector3 level = length(back) > 1e-6 ? normalised(back) : Vector3{0, -1, 0};
        d = normalised(least * level + Vector3{0, 0, d.z > 0 ? std::sin(kSteepest) : -std::sin(kSteepest)});
    }
    Camera result = camera;
    result.roll = 0;
    result.eye = camera.target + length(camera.target - camera.eye) * d;
    return result;
}

Camera lookingAt(std::span<const Box3> boxes, Vector3 from, double aspect, double fieldOfView)
{
    Box3 all;
    for (const Box3& box : boxes)
        all.add(box);
    Camera camera;
    camera.fieldOfView = fieldOfView;
    if (all.isEmpty())
        return camera;
    camera.target = all.centre();
    camera.eye = camera.target + normalised(from);
    const Vector3 right = camera.right(), up = camera.up(), forward = camera.forward();
    const double ty = std::tan(fieldOfView / 2), tx = ty * aspect;
    const auto eachCorner = [&](auto take) {
        for (const Box3& box : boxes)
            for (int corner = 0; corner < 8; ++corner)
                take(Point3{corner & 1 ? box.max.x : box.min.x, corner & 2 ? box.max.y : box.min.y,
                            corner & 4 ? box.max.z : box.min.z} -
                     camera.target);
    };
    // Each side plane of the view must pass outside every corner; the two planes of a pair then say where
    // between them the eye has to be, and how far back.
    double left = -1e300, rightmost = -1e300, low = -1e300, high = -1e300;
    eachCorner([&](Vector3 d) {
        const double along = dot(d, forward);
        rightmost = std::max(rightmost, dot(d, right) - tx * along);
        left = std::max(left, -dot(d, right) - tx * along);
        high = std::max(high, dot(d, up) - ty * along);
        low = std::max(low, -dot(d, up) - ty * along);
    });
    const double distance = std::max({(left + rightmost) / (2 * tx), (low + high) / (2 * ty), 0.5});
    const Vector3 shift = (0.5 * (rightmost - left)) * right + (0.5 * (high - low)) * up;
    camera.target = camera.target + shift;
    camera.eye = camera.target - (1.06 * distance) * forward;
    return camera;
}

Camera fitted(const Camera& camera, const Box3& box, double aspect)
{
    Camera result = lookingAt(std::span(&box, 1), -camera.forward(), aspect, camera.fieldOfView);
    result.isParallel = camera.isParallel;
    return result;
}

Camera between(const Camera& a, const Camera& b, double t)
{
    const double s = t * t * (3 - 2 * t);
    Camera c = b;
    c.roll = a.roll + s * (b.roll - a.roll);
    c.eye = a.eye + s * (b.eye - a.eye);
    c.target = a.target + s * (b.target - a.target);
    return c;
}

issues::Camera toViewpoint(const Camera& camera, double aspect)
{
    issues::Camera c;
    c.eye = camera.eye;
    c.direction = camera.forward();
    c.up = camera.up();
    c.isPerspective = !camera.isParallel;
    c.fieldOfViewDegrees = toDegrees(Radians{camera.fieldOfView});
    c.viewHeightMetres = 2 * camera.halfHeight(length(camera.target - camera.eye));
    c.aspect = aspect;
    c.distanceMetres = length(camera.target - camera.eye);
    return c;
}

Camera fromViewpoint(const issues::Camera& c, double targetDistance, double aspect)
{
    constexpr double kNarrowest = 1, kWidest = 160; // degrees
    // A window that is narrower has to take in more from bottom to top to show all from left to right.
    const double more = aspect > 0 && c.aspect > aspect ? c.aspect / aspect : 1;
    Camera camera;
    camera.eye = c.eye;
    camera.isParallel = !c.isPerspective;
    if (c.isPerspective) {
        const double half = std::tan(fromDegrees(std::clamp(c.fieldOfViewDegrees, kNarrowest, kWidest)).value / 2);
        camera.fieldOfView = more == 1 ? fromDegrees(std::clamp(c.fieldOfViewDegrees, kNarrowest, kWidest)).value
                                       : std::min(2 * std::atan(half * more), fromDegrees(kWidest).value);
    } else if (c.viewHeightMetres > 0) {
        targetDistance = 0.5 * more * c.viewHeightMetres / std::tan(camera.fieldOfView / 2);
    }
    camera.target = c.eye + targetDistance * normalised(c.direction);
    const Vector3 level = camera.levelRight(), up = cross(level, camera.forward());
    camera.roll = std::atan2(dot(c.up, level), dot(c.up, up));
    if (std::abs(camera.roll) < 1e-9)
        camera.roll = 0; // rounding is no slant
    return camera;
}

} // namespace wendrix::view
