#include "core/view/picking.h"

#include "core/geometry/triangle_tree.h"

#include <tbb/parallel_for.h>

#include <cmath>
#include <numbers>

namespace wendrix::view {

namespace {

/// The part of a convex polygon behind a plane. Source: Sutherland and Hodgman, CACM 17(1), 1974.
std::vector<Point3> clippedBehind(const std::vector<Point3>& polygon, const geometry::Plane& plane)
{
    std::vector<Point3> kept;
    for (std::size_t i = 0; i < polygon.size(); ++i) {
        const Point3 a = polygon[i], b = polygon[(i + 1) % polygon.size()];
        const double da = plane.distance(a), db = plane.distance(b);
        if (da <= 0)
            kept.push_back(a);
        if ((da < 0 && db > 0) || (da > 0 && db < 0))
            kept.push_back(a + (da / (da - db)) * (b - a));
    }
    return kept;
}

} // namespace

Picker::Picker(std::span<const federation::Member> members) : members_(members.begin(), members.end())
{
    for (std::uint32_t m = 0; m < members_.size(); ++m) {
        const Transform fit = members_[m].fit.transform();
        const auto& elements = members_[m].geometry->elements();
        for (ifc::ElementIndex e = 0; e < elements.size(); ++e)
            for (const geometry::PlacedShape& placed : elements[e].placed) {
                const Transform toWorld = fit * placed.placement;
                items_.push_back({{m, e}, placed.shape, toWorld, toWorld.inverse()});
            }
    }
    std::vector<Box3> boxes(items_.size());
    tbb::parallel_for(std::size_t{0}, items_.size(), [&](std::size_t i) {
        const federation::Member& member = members_[items_[i].key.member];
        const geometry::ElementShape& element = member.geometry->elements()[items_[i].key.element];
        // A fit that does not turn takes a box to a box: then the one known since building is exact here too.
        if (member.fit.rotation.value == 0 && element.placed.size() == 1) {
            boxes[i] = member.fit.transform().apply(element.bounds);
            return;
        }
        for (const Point3 p : members_[items_[i].key.member].geometry->shapes()[items_[i].shape].mesh.points)
            boxes[i].add(items_[i].toWorld.apply(p));
    });
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

bool Picker::Filter::shows(Point3 place) const
{
    return std::all_of(cuts.begin(), cuts.end(), [&](const geometry::Plane& p) { return p.distance(place) <= 1e-9; });
}

std::optional<Picked> Picker::pick(const Ray& ray, const Colours& colours, const Filter& filter)
{
    // What the cuts leave of the ray, and the face of the cuts through which it comes.
    double first = 0, last = std::numeric_limits<double>::infinity();
    std::optional<Vector3> entry;
    for (const geometry::Plane& cut : filter.cuts) {
        const double along = dot(ray.direction, cut.normal), away = cut.distance(ray.origin);
        if (along == 0 && away > 0)
            return {};
        if (along < 0 && away > 0 && -away / along > first) {
            first = -away / along;
            entry = cut.normal;
        } else if (along > 0) {
            last = std::min(last, -away / along);
        }
    }
    std::optional<Picked> best;
    double nearest = last;
    const auto isDrawn = [&](const ElementKey& key) {
        return filter.takes(key.member) && colours.of(key).alpha >= filter.leastAlpha &&
               !(filter.reachesThrough && filter.reachesThrough(key));
    };
    tree_.alongRay(
        // A body that the cut opens is met at the cut, though its own faces lie farther off.
        ray.origin, ray.direction, [&] { return entry ? last : nearest; },
        [&](std::uint32_t i) {
            const Item& item = items_[i];
            if (!isDrawn(item.key))
                return;
            const auto& mesh = members_[item.key.member].geometry->shapes()[item.shape].mesh;
            // Not normalised: distances along it stay those of the world.
            const Point3 origin = item.toShape.apply(ray.origin);
            const Vector3 direction = item.toShape.turn(ray.direction);
            double own = entry ? last : nearest;
            std::optional<std::uint32_t> triangle;
            treeOf(item).alongRay(
                origin, direction, [&] { return own; },
                [&](std::uint32_t t) {
                    const auto hit = geometry::meet(origin, direction, mesh.corners(t));
                    if (hit && hit->distance < own && hit->distance >= first) {
                        own = hit->distance;
                        triangle = t;
                    }
                });
            if (!triangle)
                return;
            const auto c = mesh.corners(*triangle);
            const Vector3 u = item.toWorld.turn(c[1] - c[0]), v = item.toWorld.turn(c[2] - c[0]);
            Vector3 normal = normalised(item.toWorld.determinant() < 0 ? cross(v, u) : cross(u, v));
            const bool isInside = dot(normal, ray.direction) > 0;
            double distance = own;
            if (isInside && entry && members_[item.key.member].geometry->shapes()[item.shape].isClosed) {
                distance = first;
                normal = *entry;
            } else if (isInside) {
                normal = -normal;
            }
            if (distance < nearest || (!best && distance <= nearest)) {
                nearest = distance;
                best = Picked{item.key, ray.origin + distance * ray.direction, normal};
            }
        });
    return best;
}

std::set<ElementKey> Picker::within(const Camera& camera, Viewport viewport, const Rectangle& r, bool isWhole,
                                    const Colours& colours, const Filter& filter)
{
    // The four sides of what is seen through the rectangle, facing outwards.
    const Ray rays[] = {rayThrough(camera, viewport, r.left, r.top), rayThrough(camera, viewport, r.right, r.top),
                        rayThrough(camera, viewport, r.right, r.bottom),
                        rayThrough(camera, viewport, r.left, r.bottom)};
    const Ray middle = rayThrough(camera, viewport, 0.5 * (r.left + r.right), 0.5 * (r.top + r.bottom));
    std::vector<geometry::Plane> sides;
    for (std::size_t i = 0; i < 4; ++i) {
        const Ray &a = rays[i], &b = rays[(i + 1) % 4];
        Vector3 n = normalised(cross(a.direction, b.origin + b.direction - a.origin));
        if (dot(middle.origin + middle.direction - a.origin, n) > 0)
            n = -n;
        sides.push_back({a.origin, n});
    }
    if (!camera.isParallel)
        sides.push_back({camera.eye, -camera.forward()});
    const std::size_t windowSides = sides.size();
    sides.insert(sides.end(), filter.cuts.begin(), filter.cuts.end());

    std::set<ElementKey> found, outside;
    for (const Item& item : items_) {
        if (!filter.takes(item.key.member) || outside.contains(item.key) ||
            colours.of(item.key).alpha < filter.leastAlpha || (!isWhole && found.contains(item.key)))
            continue;
        const auto& mesh = members_[item.key.member].geometry->shapes()[item.shape].mesh;
        const Box3 box = boundsOf(item.key);
        const Vector3 half = 0.5 * box.size();
        const auto isBeyond = [&](const geometry::Plane& p) {
            return p.distance(box.centre()) >
                   half.x * std::abs(p.normal.x) + half.y * std::abs(p.normal.y) + half.z * std::abs(p.normal.z);
        };
        if (std::any_of(sides.begin(), sides.end(), isBeyond))
            continue;
        const auto leaves = [&](Point3 p) {
            return std::any_of(sides.begin(), sides.begin() + static_cast<std::ptrdiff_t>(windowSides),
                               [&](const geometry::Plane& side) { return side.distance(p) > 0; });
        };
        bool isSeen = false, isOut = false;
        for (std::size_t t = 0; t < mesh.triangles.size() && !(isSeen && !isWhole) && !isOut; ++t) {
            auto corners = mesh.corners(t);
            for (Point3& p : corners)
                p = item.toWorld.apply(p);
            std::vector<Point3> polygon(corners.begin(), corners.end());
            // What the cuts take away does not count, nor can it stick out.
            for (const geometry::Plane& cut : filter.cuts)
                polygon = clippedBehind(polygon, cut);
            isOut = isWhole && std::any_of(polygon.begin(), polygon.end(), leaves);
            for (std::size_t i = 0; i < windowSides; ++i)
                polygon = clippedBehind(polygon, sides[i]);
            isSeen = isSeen || !polygon.empty();
        }
        if (isOut) {
            outside.insert(item.key);
            found.erase(item.key);
        } else if (isSeen) {
            found.insert(item.key);
        }
    }
    return found;
}

Box3 boundsOf(std::span<const federation::Member> members, const ElementKey& key)
{
    const federation::Member& member = members[key.member];
    return member.fit.transform().apply(member.geometry->elements()[key.element].bounds);
}

std::vector<ElementKey> Picker::overlapping(const Box3& box) const
{
    std::vector<ElementKey> keys;
    tree_.overlapping(box, [&](std::uint32_t item) { keys.push_back(items_[item].key); });
    std::sort(keys.begin(), keys.end());
    keys.erase(std::unique(keys.begin(), keys.end()), keys.end());
    return keys;
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

double Picker::lastOf(std::span<const ElementKey> elements, Point3 from, Vector3 direction, double most)
{
    double last = 0;
    for (const ElementKey& key : elements) {
        auto item = std::lower_bound(items_.begin(), items_.end(), key,
                                     [](const Item& one, const ElementKey& wanted) { return one.key < wanted; });
        for (; item != items_.end() && item->key == key; ++item) {
            const auto& mesh = members_[item->key.member].geometry->shapes()[item->shape].mesh;
            const Point3 origin = item->toShape.apply(from);
            const Vector3 along = item->toShape.turn(direction);
            treeOf(*item).alongRay(
                origin, along, [&] { return most; },
                [&](std::uint32_t t) {
                    if (const auto hit = geometry::meet(origin, along, mesh.corners(t)); hit && hit->distance <= most)
                        last = std::max(last, hit->distance);
                });
        }
    }
    return last;
}

Vector3 freeDirection(Picker& picker, Point3 place, double reach, Vector3 preferred, std::span<const ElementKey> about)
{
    constexpr std::size_t kMostHiding = 20; // of a crowd each hides others from everywhere
    constexpr double kWellHidden = 0.4;     // metres
    const auto own = about.first(std::min(about.size(), kMostHiding));
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
            // What is hidden by the two themselves stays hidden; what stands before them is cut away around a place.
            const double hidden = picker.lastOf(own, place, d, reach) / kWellHidden;
            const double score =
                clear + 0.5 * dot(d, normalised(preferred)) - 0.2 * std::abs(elevation - 0.45) - std::min(1.2, hidden);
            if (score > bestScore) {
                bestScore = score;
                best = d;
            }
        }
    return best;
}

std::optional<geometry::Plane> planeThatOpens(Picker& picker, Point3 place, double size, Vector3 from,
                                              std::span<const ElementKey> about)
{
    constexpr double kSkin = 0.25, kFarthest = 50; // metres
    if (about.empty() || picker.lastOf(about, place, from, kFarthest) <= kSkin + 0.75 * size)
        return {};
    const bool isSteep = std::abs(from.z) > 0.85;
    const Vector3 normal = isSteep ? Vector3{0, 0, from.z > 0 ? 1.0 : -1.0} : normalised({from.x, from.y, 0});
    return geometry::Plane{place, normal};
}

} // namespace wendrix::view
