#include "core/view/picking.h"

#include "core/geometry/triangle_tree.h"

#include <cmath>
#include <numbers>

namespace wendrix::view {

Picker::Picker(std::span<const federation::Member> members) : members_(members.begin(), members.end())
{
    std::vector<Box3> boxes;
    for (std::uint32_t m = 0; m < members_.size(); ++m) {
        const Transform fit = members_[m].fit.transform();
        const auto& elements = members_[m].geometry->elements();
        for (ifc::ElementIndex e = 0; e < elements.size(); ++e)
            for (const geometry::PlacedShape& placed : elements[e].placed) {
                const Transform toWorld = fit * placed.placement;
                items_.push_back({{m, e}, placed.shape, toWorld, toWorld.inverse()});
                const auto& mesh = members_[m].geometry->shapes()[placed.shape].mesh;
                Box3 box;
                for (const Point3 p : mesh.points)
                    box.add(toWorld.apply(p));
                boxes.push_back(box);
            }
    }
    tree_ = geometry::BoxTree(boxes);
}

const geometry::BoxTree& Picker::treeOf(const Item& item)
{
    const std::uint64_t key = (static_cast<std::uint64_t>(item.key.member) << 32) | item.shape;
    const auto [found, isNew] = shapeTrees_.try_emplace(key);
    if (isNew) {
        const auto& mesh = members_[item.key.member].geometry->shapes()[item.shape].mesh;
        std::vector<Box3> boxes(mesh.triangles.size());
        for (std::size_t i = 0; i < boxes.size(); ++i)
            for (const Point3 p : mesh.corners(i))
                boxes[i].add(p);
        found->second = geometry::BoxTree(boxes);
    }
    return found->second;
}

std::optional<Picked> Picker::pick(const Ray& ray, const std::vector<std::vector<Colour>>& colours, float leastAlpha,
                                   double lowest, double highest)
{
    std::optional<Picked> best;
    double nearest = std::numeric_limits<double>::max();
    tree_.alongRay(
        ray.origin, ray.direction, [&] { return nearest; },
        [&](std::uint32_t i) {
            const Item& item = items_[i];
            if (item.key.member >= colours.size() || item.key.element >= colours[item.key.member].size() ||
                colours[item.key.member][item.key.element].alpha < leastAlpha)
                return;
            const auto& mesh = members_[item.key.member].geometry->shapes()[item.shape].mesh;
            // Not normalised: distances along it stay those of the world.
            const Point3 origin = item.toShape.apply(ray.origin);
            const Vector3 direction = item.toShape.turn(ray.direction);
            treeOf(item).alongRay(
                origin, direction, [&] { return nearest; },
                [&](std::uint32_t t) {
                    const auto hit = geometry::meet(origin, direction, mesh.corners(t));
                    if (!hit || hit->distance >= nearest)
                        return;
                    const Point3 place = ray.origin + hit->distance * ray.direction;
                    if (place.z < lowest || place.z > highest)
                        return;
                    nearest = hit->distance;
                    best = Picked{item.key, place};
                });
        });
    return best;
}

Box3 Picker::boundsOf(const ElementKey& key) const
{
    const federation::Member& member = members_[key.member];
    return member.fit.transform().apply(member.geometry->elements()[key.element].bounds);
}

bool Picker::isFree(Point3 from, Point3 to, std::span<const ElementKey> ignored)
{
    const Vector3 direction = to - from;
    bool isBlocked = false;
    tree_.alongRay(
        from, direction, [&] { return isBlocked ? -1.0 : 1.0; },
        [&](std::uint32_t i) {
            const Item& item = items_[i];
            if (isBlocked || std::find(ignored.begin(), ignored.end(), item.key) != ignored.end())
                return;
            const auto& mesh = members_[item.key.member].geometry->shapes()[item.shape].mesh;
            const Point3 origin = item.toShape.apply(from);
            const Vector3 along = item.toShape.turn(direction);
            treeOf(item).alongRay(
                origin, along, [&] { return isBlocked ? -1.0 : 1.0; },
                [&](std::uint32_t t) {
                    const auto hit = geometry::meet(origin, along, mesh.corners(t));
                    isBlocked = isBlocked || (hit && hit->distance <= 1);
                });
        });
    return !isBlocked;
}

Vector3 freeDirection(Picker& picker, Point3 place, double reach, Vector3 preferred, std::span<const ElementKey> about)
{
    Vector3 best = normalised(preferred);
    double bestScore = -1e9;
    for (const double elevation : {0.45, 0.15, -0.25, 0.8, 1.2})
        for (int k = 0; k < 16; ++k) {
            const double azimuth = k * std::numbers::pi / 8;
            const Vector3 d{std::cos(elevation) * std::cos(azimuth), std::cos(elevation) * std::sin(azimuth),
                            std::sin(elevation)};
            // How far one can stand back before something solid comes between; further than `reach` is no gain.
            double clear = 0;
            for (const double share : {0.3, 0.6, 1.0})
                if (picker.isFree(place, place + (share * reach) * d, about))
                    clear = share;
                else
                    break;
            const double score = 2 * clear + 0.5 * dot(d, normalised(preferred)) - 0.2 * std::abs(elevation - 0.45);
            if (score > bestScore) {
                bestScore = score;
                best = d;
            }
        }
    return best;
}

} // namespace wendrix::view
