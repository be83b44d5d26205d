#include "core/clash/oriented_box.h"

#include <Eigen/Eigenvalues>

#include <algorithm>
#include <cmath>
#include <limits>

namespace wendrix::clash {

OrientedBox orientedBoxOf(std::span<const Point3> points)
{
    OrientedBox box;
    if (points.empty())
        return box;
    Vector3 sum;
    for (const Point3& p : points)
        sum = sum + p;
    const Point3 mean = (1.0 / static_cast<double>(points.size())) * sum;
    Eigen::Matrix3d spread = Eigen::Matrix3d::Zero();
    for (const Point3& p : points) {
        const Vector3 d = p - mean;
        const Eigen::Vector3d v(d.x, d.y, d.z);
        spread += v * v.transpose();
    }
    Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> solver;
    solver.computeDirect(spread);
    const auto axis = [&](int k) {
        return normalised({solver.eigenvectors()(0, k), solver.eigenvectors()(1, k), solver.eigenvectors()(2, k)});
    };
    const Vector3 z = axis(2);
    Vector3 x = axis(0);
    x = normalised(x - dot(x, z) * z);
    if (std::isfinite(length(z)) && std::isfinite(length(x)) && length(z) > 0.5 && length(x) > 0.5)
        box.axes = {x, cross(z, x), z};
    Vector3 centre;
    for (std::size_t k = 0; k < 3; ++k) {
        double low = std::numeric_limits<double>::infinity(), high = -low;
        for (const Point3& p : points) {
            const double at = dot(box.axes[k], p - mean);
            low = std::min(low, at);
            high = std::max(high, at);
        }
        centre = centre + (0.5 * (low + high)) * box.axes[k];
        box.half[k] = 0.5 * (high - low);
    }
    box.centre = mean + centre;
    return box;
}

bool OrientedBox::mayMeet(const OrientedBox& other, double margin) const
{
    constexpr double kRounding = 1e-9;
    const Vector3 d = other.centre - centre;
    for (const auto& [one, two] : {std::pair{this, &other}, std::pair{&other, this}})
        for (std::size_t k = 0; k < 3; ++k) {
            double reach = one->half[k];
            for (std::size_t i = 0; i < 3; ++i)
                reach += two->half[i] * std::abs(dot(one->axes[k], two->axes[i]));
            if (std::abs(dot(one->axes[k], d)) > reach + margin + kRounding)
                return false;
        }
    return true;
}

} // namespace wendrix::clash
