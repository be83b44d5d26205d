#include "core/changes/split_merge.h"

#include "core/changes/frames.h"
#include "core/geometry/boolean.h"
#include "core/geometry/box_tree.h"

#include <algorithm>
#include <cmath>

namespace wendrix::changes {

using federation::Member;
using geometry::Mesh;
using ifc::ElementIndex;

namespace {

constexpr double kMostJoint = 0.05; // of the whole, that saw cuts and joints may leave empty
constexpr std::size_t kMostParts = 64;

/// One revision as a side of the question: what could be a whole or a part.
struct Side {
    const Member& member;
    Transform frame; ///< to the file frame of the later revision
    std::span<const ElementIndex> elements;

    [[nodiscard]] const geometry::ElementShape& shape(ElementIndex i) const { return member.geometry->elements()[i]; }
    [[nodiscard]] Box3 bounds(ElementIndex i) const { return frame.apply(shape(i).bounds); }
    [[nodiscard]] Mesh mesh(ElementIndex i) const { return geometry::transformed(member.geometry->meshOf(i), frame); }
    [[nodiscard]] std::string_view className(ElementIndex i) const
    {
        return plainClass(member.model->className(member.model->elements()[i]));
    }
};

bool isWithin(const Box3& inner, const Box3& outer) { return outer.contains(inner.min) && outer.contains(inner.max); }

/// Whether one takes room of the other.
bool doOverlap(const Side& side, ElementIndex one, ElementIndex other, const Transform& home, double tolerance)
{
    if (!side.bounds(one).grownBy(-tolerance).overlaps(side.bounds(other).grownBy(-tolerance)))
        return false;
    const auto both =
        geometry::combine(geometry::transformed(side.mesh(one), home), geometry::transformed(side.mesh(other), home),
                          geometry::BooleanKind::Intersection);
    return !both || geometry::volumeOf(*both) > std::min(side.shape(one).area, side.shape(other).area) * tolerance;
}

/// Whether the parts make up the whole.
///
/// Closed bodies by exact volumes: nothing of a part outside the whole, none in another's room, and together as much as
/// the whole but for joints. Bodies without an inside by areas and bounds.
bool areWhole(const Side& wholes, ElementIndex whole, const Side& parts, const std::vector<ElementIndex>& some,
              double tolerance)
{
    const Box3 box = wholes.bounds(whole);
    Box3 together;
    bool isClosed = wholes.shape(whole).isClosed;
    double volume = 0, area = 0;
    for (const ElementIndex p : some) {
        together.add(parts.bounds(p));
        isClosed = isClosed && parts.shape(p).isClosed;
        volume += parts.shape(p).volume;
        area += parts.shape(p).area;
    }
    const double joints = kMostJoint * length(box.size()) + 2 * tolerance;
    if (length(together.min - box.min) > joints || length(together.max - box.max) > joints)
        return false;
    const double size = wholes.shape(whole).volume;
    if (!isClosed)
        return std::abs(area - wholes.shape(whole).area) <= 2 * kMostJoint * area;
    const double slack = wholes.shape(whole).area * tolerance;
    if (volume > size + slack || volume < (1 - kMostJoint) * size - slack)
        return false;
    const Transform home = Transform::translation(-box.centre());
    const Mesh body = geometry::transformed(wholes.mesh(whole), home);
    for (const ElementIndex p : some) {
        const auto outside =
            geometry::combine(geometry::transformed(parts.mesh(p), home), body, geometry::BooleanKind::Difference);
        if (!outside || geometry::volumeOf(*outside) > parts.shape(p).area * tolerance)
            return false;
    }
    for (std::size_t i = 0; i < some.size(); ++i)
        for (std::size_t k = i + 1; k < some.size(); ++k)
            if (doOverlap(parts, some[i], some[k], home, tolerance))
                return false;
    return true;
}

/// Of each whole the parts that make it up.
/// @param kept  of the wholes, which part went on under their GlobalId; may be nothing
std::vector<Split> cutUp(const Side& wholes, const Side& parts, std::span<const Same> kept, double tolerance,
                         std::vector<bool>& isPartTaken)
{
    std::vector<Box3> boxes;
    for (const ElementIndex p : parts.elements)
        boxes.push_back(parts.shape(p).placed.empty() ? Box3{} : parts.bounds(p));
    const geometry::BoxTree tree(boxes);
    std::vector<Split> splits;
    const auto tryOne = [&](ElementIndex whole, std::optional<ElementIndex> own) {
        if (wholes.shape(whole).placed.empty())
            return;
        const Box3 around = wholes.bounds(whole).grownBy(2 * tolerance);
        if (own && (parts.shape(*own).placed.empty() || !isWithin(parts.bounds(*own), around)))
            return;
        std::vector<std::uint32_t> places;
        tree.overlapping(around, [&](std::uint32_t k) {
            if (!isPartTaken[k] && parts.className(parts.elements[k]) == wholes.className(whole) &&
                isWithin(boxes[k], around))
                places.push_back(k);
        });
        if (places.size() + (own ? 1 : 0) < 2 || places.size() > kMostParts)
            return;
        std::vector<ElementIndex> some;
        for (const std::uint32_t k : places)
            some.push_back(parts.elements[k]);
        if (own)
            some.push_back(*own);
        std::sort(some.begin(), some.end());
        if (!areWhole(wholes, whole, parts, some, tolerance))
            return;
        for (const std::uint32_t k : places)
            isPartTaken[k] = true;
        splits.push_back({whole, std::move(some)});
    };
    for (const ElementIndex whole : wholes.elements)
        tryOne(whole, {});
    for (const Same& same : kept)
        tryOne(same.before, same.after);
    std::sort(splits.begin(), splits.end(), [](const Split& a, const Split& b) { return a.before < b.before; });
    return splits;
}

} // namespace

SplitsAndMerges splitsAndMerges(const Member& before, std::span<const ElementIndex> removed, const Member& after,
                                std::span<const ElementIndex> added, std::span<const Same> reshaped, double tolerance)
{
    SplitsAndMerges found;
    const Side was{before, frameBetween(before, after), removed}, now{after, {}, added};
    std::vector<bool> isAddedTaken(added.size(), false), isRemovedTaken(removed.size(), false);
    found.splits = cutUp(was, now, reshaped, tolerance, isAddedTaken);
    std::vector<Same> turned;
    for (const Same& same : reshaped)
        turned.push_back({same.after, same.before});
    for (Split& split : cutUp(now, was, turned, tolerance, isRemovedTaken))
        found.merges.push_back({std::move(split.after), split.before});
    return found;
}

} // namespace wendrix::changes
