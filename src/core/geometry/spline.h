#pragma once

#include "core/base/vector3.h"
#include "core/geometry/fineness.h"
#include "core/geometry/path.h"

#include <algorithm>
#include <vector>

namespace wendrix::geometry {

/// A B-spline curve, rational where it has weights.
struct Spline {
    int degree = 1;
    std::vector<Point3> poles;
    std::vector<double> weights; ///< empty: all 1
    std::vector<double> knots;   ///< with repetitions, poles + degree + 1 of them, not descending

    [[nodiscard]] bool isWellFormed() const;
    [[nodiscard]] double first() const { return knots[static_cast<std::size_t>(degree)]; }
    [[nodiscard]] double last() const { return knots[poles.size()]; }
    /// de Boor's algorithm in homogeneous coordinates (L. Piegl, W. Tiller, The NURBS Book, A4.1).
    [[nodiscard]] Point3 at(double parameter) const;
    /// The unit direction of growing parameters: how the curve comes to a place, or leaves it; zero where it stands
    /// still.
    [[nodiscard]] Vector3 directionAt(double parameter, bool isArriving) const;

private:
    struct Last { ///< the last two points of de Boor's scheme and how the place lies between them
        Vector3 a, b;
        double weightOfA, weightOfB, share;
    };
    [[nodiscard]] Last scheme(double parameter, bool isArriving) const;
};

/// Points along a curve and where each stands in the curve's own parameter.
struct Sampled : Path {
    std::vector<double> parameters;

    void add(Point3 p, double parameter, Vector3 arriving = {}, Vector3 leaving = {})
    {
        Path::add(p, arriving, leaving);
        parameters.push_back(parameter);
    }
    void reverse()
    {
        Path::reverse();
        std::reverse(parameters.begin(), parameters.end());
    }
};

/// The spline between two parameters, halved until no chord leaves it by more than the fineness allows.
[[nodiscard]] Sampled sampled(const Spline& spline, double from, double to, const Fineness& fineness);

/// The part of a sampled curve between two parameters, running from the first to the second.
[[nodiscard]] Sampled cut(const Sampled& curve, double from, double to);

/// The parameter of the place on the sampled curve that is nearest to a point.
[[nodiscard]] double nearestParameter(const Sampled& curve, Point3 point);

} // namespace wendrix::geometry
