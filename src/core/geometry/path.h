#pragma once

#include "core/base/vector3.h"

#include <vector>

namespace wendrix::geometry {

/// A way through space cut into chords, metres, with the curve's own direction at its points where that is known: a
/// chord leaves its curve by half a step, which is millimetres at the rim of a pipe.
struct Path {
    std::vector<Point3> points;
    std::vector<Vector3> in, out; ///< unit directions in which it comes to and leaves each point; zero: along the chord

    Path() = default;
    Path(std::vector<Point3> corners) : points(std::move(corners)), in(points.size()), out(points.size()) {}

    void add(Point3 p, Vector3 arriving = {}, Vector3 leaving = {})
    {
        points.push_back(p);
        in.push_back(arriving);
        out.push_back(leaving);
    }
    void reverse();

    /// The direction in which it comes to point i > 0: of the curve, or of the chord where that is not known or is not
    /// on the chord's side.
    [[nodiscard]] Vector3 arrivingAt(std::size_t i) const;
    /// The same for how it leaves a point that is not the last.
    [[nodiscard]] Vector3 leavingAt(std::size_t i) const;
    /// The place at a length along it, and the direction there: at a corner, between its pieces'.
    [[nodiscard]] std::pair<Point3, Vector3> at(double length) const;
};

/// The path with neighbours closer than 1e-7 m made one.
[[nodiscard]] Path withoutRepeats(const Path& path);

} // namespace wendrix::geometry
