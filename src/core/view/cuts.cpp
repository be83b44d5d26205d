#include "core/view/cuts.h"

#include "core/base/text.h"

#include <algorithm>
#include <cmath>

namespace wendrix::view {

using geometry::Plane;

namespace {

constexpr double kAlongAxis = 1 - 1e-9;

Plane across(int axis, double at, bool isTowardsPlus)
{
    const double sign = isTowardsPlus ? 1 : -1;
    const Vector3 n{axis == 0 ? sign : 0, axis == 1 ? sign : 0, axis == 2 ? sign : 0};
    return {{axis == 0 ? at : 0, axis == 1 ? at : 0, axis == 2 ? at : 0}, n};
}

} // namespace

std::vector<Plane> Cuts::faces() const
{
    std::vector<Plane> all;
    double low = -std::numeric_limits<double>::infinity(), high = -low;
    if (box) {
        for (int axis = 0; axis < 2; ++axis) {
            all.push_back(across(axis, box->min[axis], false));
            all.push_back(across(axis, box->max[axis], true));
        }
        low = box->min.z;
        high = box->max.z;
    }
    if (slice) {
        low = std::max(low, slice->low);
        high = std::min(high, slice->high);
    }
    if (box || slice) {
        all.push_back(across(2, low, false));
        all.push_back(across(2, high, true));
    }
    all.insert(all.end(), planes.begin(), planes.end());
    if (all.size() > kMostFaces)
        all.resize(kMostFaces);
    return all;
}

bool Cuts::shows(Point3 place) const
{
    const auto all = faces();
    return std::all_of(all.begin(), all.end(), [&](const Plane& p) { return p.distance(place) <= 0; });
}

Result<void> Cuts::add(const Plane& plane)
{
    if ((box ? 6u : slice ? 2u : 0u) + planes.size() + 1 > kMostFaces)
        return fail({kTooManyCuts, "Eight faces cut at once are as many as can be shown; end one of the cuts first."});
    planes.push_back(plane);
    return {};
}

std::string Cuts::inWords() const
{
    std::string words;
    const auto add = [&](const std::string& part) { words += (words.empty() ? "cut " : ", ") + part; };
    if (slice)
        add(slice->name.empty()
                ? "between " + elevationInWords(Metres{slice->low}) + " and " + elevationInWords(Metres{slice->high})
                : "to " + slice->name);
    if (!planes.empty())
        add("by " + counted(planes.size(), "plane", "planes"));
    if (box)
        add("to a box");
    return words;
}

std::optional<Plane> planeThrough(Point3 a, Point3 b, Point3 c, Vector3 towards)
{
    const Vector3 n = cross(b - a, c - a);
    if (!(length(n) > 1e-9 * std::max(1.0, length(b - a) * length(c - a))))
        return {};
    const Vector3 unit = normalised(n);
    return Plane{a, dot(unit, towards) >= 0 ? unit : -unit};
}

Plane planeAcross(int axis, double at, Vector3 towards) { return across(axis, at, towards[axis] >= 0); }

std::vector<issues::ClippingPlane> toClippingPlanes(const Cuts& cuts)
{
    std::vector<issues::ClippingPlane> planes;
    for (const Plane& p : cuts.faces())
        planes.push_back({p.at, p.normal});
    return planes;
}

Cuts fromClippingPlanes(const std::vector<issues::ClippingPlane>& planes)
{
    Cuts cuts;
    Box3 box;
    double* const limits[3][2] = {{&box.min.x, &box.max.x}, {&box.min.y, &box.max.y}, {&box.min.z, &box.max.z}};
    int found = 0, heights = 0;
    std::vector<Plane> others;
    for (const issues::ClippingPlane& p : planes) {
        const Vector3 n = normalised(p.direction);
        int axis = -1;
        for (int i = 0; i < 3; ++i)
            if (std::abs(n[i]) > kAlongAxis)
                axis = i;
        if (axis < 0) {
            if (length(n) > 0)
                others.push_back({p.location, n});
            continue;
        }
        double* const limit = limits[axis][n[axis] > 0 ? 1 : 0];
        if (std::isfinite(*limit)) { // a second one the same way stays a plane
            others.push_back({p.location, n});
            continue;
        }
        *limit = p.location[axis];
        ++found;
        heights += axis == 2 ? 1 : 0;
    }
    if (found == 6) {
        cuts.box = box;
    } else {
        const bool isSlice = heights == 2;
        if (isSlice)
            cuts.slice = Cuts::Slice{box.min.z, box.max.z, ""};
        for (int axis = 0; axis < (isSlice ? 2 : 3); ++axis)
            for (int side = 0; side < 2; ++side)
                if (std::isfinite(*limits[axis][side]))
                    cuts.planes.push_back(across(axis, *limits[axis][side], side == 1));
    }
    for (const Plane& p : others)
        (void)cuts.add(p);
    return cuts;
}

} // namespace wendrix::view
