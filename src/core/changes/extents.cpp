#include "core/changes/extents.h"

#include "core/base/text.h"
#include "core/clash/oriented_box.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace wendrix::changes {

using geometry::Mesh;

namespace {

using Axes = std::array<Vector3, 3>;

std::array<double, 3> sizesAlong(const Axes& axes, const Mesh& mesh)
{
    std::array<double, 3> sizes{};
    for (std::size_t k = 0; k < 3; ++k) {
        double low = std::numeric_limits<double>::infinity(), high = -low;
        for (const Point3& p : mesh.points) {
            low = std::min(low, dot(axes[k], p));
            high = std::max(high, dot(axes[k], p));
        }
        sizes[k] = mesh.points.empty() ? 0 : high - low;
    }
    return sizes;
}

Axes axesOf(const Mesh& mesh, const Transform& own)
{
    const clash::OrientedBox box = clash::orientedBoxOf(mesh.points);
    const Axes candidates[] = {{normalised(own.x), normalised(own.y), normalised(own.z)},
                               {Vector3{1, 0, 0}, Vector3{0, 1, 0}, Vector3{0, 0, 1}},
                               box.axes};
    constexpr double kAsTight = 1.02; // the element's own frame is what people measure in
    const auto volume = [&](const Axes& axes) {
        const auto sizes = sizesAlong(axes, mesh);
        return (sizes[0] + 1e-6) * (sizes[1] + 1e-6) * (sizes[2] + 1e-6);
    };
    double least = std::numeric_limits<double>::infinity();
    for (const Axes& axes : candidates)
        least = std::min(least, volume(axes));
    return *std::find_if(std::begin(candidates), std::end(candidates),
                         [&](const Axes& axes) { return volume(axes) <= kAsTight * least; });
}

const char* comparative(Extent::Along along, bool isMore)
{
    switch (along) {
    case Extent::Along::Length:
        return isMore ? "longer" : "shorter";
    case Extent::Along::Height:
        return isMore ? "higher" : "lower";
    case Extent::Along::Width:
        return isMore ? "wider" : "narrower";
    case Extent::Along::Depth:
        return isMore ? "deeper" : "shallower";
    case Extent::Along::Thickness:
        return isMore ? "thicker" : "thinner";
    }
    return "";
}

} // namespace

std::array<Extent, 3> extentsOf(const Mesh& was, const Mesh& now, const Transform& own, Vector3 up)
{
    const Axes axes = axesOf(now, own);
    const auto before = sizesAlong(axes, was), after = sizesAlong(axes, now);
    std::array<std::size_t, 3> order{0, 1, 2};
    const auto size = [&](std::size_t k) { return std::max(before[k], after[k]); };
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return size(a) > size(b); });
    const auto isUpright = [&](std::size_t k) { return std::abs(dot(axes[k], up)) > 0.9; };
    using Along = Extent::Along;
    constexpr double kLong = 3, kFlat = 3; // times
    std::array<Along, 3> along{Along::Length, Along::Width, Along::Height};
    if (size(order[0]) >= kLong * size(order[1])) {
        along = {Along::Length, Along::Width, Along::Depth};
        if (isUpright(order[1])) // of a beam, the side that stands is its depth
            std::swap(along[1], along[2]);
    } else if (size(order[1]) >= kFlat * size(order[2])) {
        along = {Along::Length, Along::Width, Along::Thickness};
        for (std::size_t k = 0; k < 2; ++k)
            if (isUpright(order[k])) {
                along[k] = Along::Height;
                along[1 - k] = Along::Length;
            }
    } else {
        std::size_t next = 0;
        for (std::size_t k = 0; k < 3; ++k)
            along[k] = isUpright(order[k]) ? Along::Height : next++ == 0 ? Along::Length : Along::Width;
        if (next == 3) // nothing stands upright
            along = {Along::Length, Along::Width, Along::Depth};
    }
    // A thin wall is longer than three times its height without being a beam: its thickness and height say more.
    if (along[0] == Along::Length && along[2] == Along::Depth && size(order[1]) >= kFlat * size(order[2])) {
        along = {Along::Length, isUpright(order[1]) ? Along::Height : Along::Width, Along::Thickness};
    }
    std::array<Extent, 3> extents;
    for (std::size_t k = 0; k < 3; ++k)
        extents[k] = {along[k], before[order[k]], after[order[k]]};
    return extents;
}

std::string inWords(const std::array<Extent, 3>& extents, double tolerance)
{
    std::vector<Extent> changed;
    for (const Extent& e : extents)
        if (std::abs(e.after - e.before) > tolerance)
            changed.push_back(e);
    const auto change = [](const Extent& e) { return e.after - e.before; };
    std::stable_sort(changed.begin(), changed.end(),
                     [&](const Extent& a, const Extent& b) { return std::abs(change(a)) < std::abs(change(b)); });
    std::string words;
    const auto isAcross = [](const Extent& e) {
        return e.along == Extent::Along::Width || e.along == Extent::Along::Depth;
    };
    for (std::size_t i = 0; i < changed.size(); ++i) {
        const Extent& e = changed[i];
        const bool isBothWays = i + 1 < changed.size() && isAcross(e) && isAcross(changed[i + 1]) &&
                                std::abs(change(e) - change(changed[i + 1])) <= tolerance;
        words += (words.empty() ? "" : ", ") + lengthInWords(Metres{std::abs(change(e))}) + " " +
                 comparative(isBothWays ? Extent::Along::Width : e.along, change(e) > 0) +
                 (isBothWays ? " both ways" : "");
        i += isBothWays ? 1 : 0;
    }
    return words;
}

} // namespace wendrix::changes
