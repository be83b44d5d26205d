#include "core/changes/volume_change.h"

#include "core/changes/comparison.h"
#include "core/changes/frames.h"
#include "core/geometry/boolean.h"
#include "core/geometry/thickness.h"
#include "core/geometry/triangle_tree.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <atomic>
#include <limits>

namespace wendrix::changes {

using federation::Member;
using geometry::Mesh;
using ifc::ElementIndex;

namespace {

/// The triangles of `mesh` that do not lie on `other`; `farthest` grows to how far a corner is off.
Mesh facesApart(const Mesh& mesh, const geometry::TriangleTree& other, double tolerance, double& farthest)
{
    std::vector<bool> isOff(mesh.points.size());
    for (std::size_t i = 0; i < mesh.points.size(); ++i) {
        const double off = other.distanceTo(mesh.points[i], std::numeric_limits<double>::max()).value_or(0);
        isOff[i] = off > tolerance;
        farthest = std::max(farthest, off);
    }
    Mesh apart;
    apart.points = mesh.points;
    for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
        const auto corners = mesh.corners(t);
        const Point3 middle = (1.0 / 3) * (corners[0] + corners[1] + corners[2]);
        if (isOff[mesh.triangles[t][0]] || isOff[mesh.triangles[t][1]] || isOff[mesh.triangles[t][2]] ||
            !other.distanceTo(middle, tolerance))
            apart.triangles.push_back(mesh.triangles[t]);
    }
    return apart;
}

/// One way: of each element of `from` what nothing of `other` fills.
void unfilled(const Member& from, const Transform& fromFrame, const Member& other, const Transform& otherFrame,
              double tolerance, Progress& progress, double share, std::vector<UnmatchedVolume>& found,
              std::vector<ElementIndex>& notSolid)
{
    std::vector<Box3> boxes;
    for (const geometry::ElementShape& shape : other.geometry->elements())
        boxes.push_back(shape.placed.empty() || !shape.isClosed ? Box3{} : otherFrame.apply(shape.bounds));
    const geometry::BoxTree tree(boxes);
    const std::size_t count = from.geometry->elements().size();
    std::vector<UnmatchedVolume> parts(count);
    std::vector<std::uint8_t> isOpen(count, 0);
    std::atomic<std::size_t> done{0};
    tbb::parallel_for(std::size_t{0}, count, [&](std::size_t i) {
        const auto element = static_cast<ElementIndex>(i);
        const geometry::ElementShape& shape = from.geometry->elements()[i];
        if (progress.isCancelled() || shape.placed.empty())
            return;
        progress.report("Comparing volumes", share + 0.5 * static_cast<double>(++done) / static_cast<double>(count));
        const Mesh body = geometry::transformed(from.geometry->meshOf(element), fromFrame);
        const Transform home = Transform::translation(-geometry::boundsOf(body).centre());
        std::vector<Mesh> tools;
        tree.overlapping(geometry::boundsOf(body), [&](std::uint32_t k) {
            tools.push_back(geometry::transformed(other.geometry->meshOf(k), home * otherFrame));
        });
        std::vector<std::size_t> leftOut;
        const auto rest = geometry::subtractAll(geometry::transformed(body, home), tools, leftOut);
        if (!shape.isClosed || !rest) {
            isOpen[i] = 1;
            return;
        }
        UnmatchedVolume& part = parts[i];
        part.element = element;
        for (const geometry::Piece& piece : geometry::pieces(*rest))
            if (piece.width > tolerance && geometry::innerThickness(piece.mesh) > tolerance) {
                part.volume += geometry::volumeOf(piece.mesh);
                part.body.append(geometry::transformed(piece.mesh, home.inverse()));
            }
    });
    for (std::size_t i = 0; i < count; ++i) {
        if (isOpen[i] != 0)
            notSolid.push_back(static_cast<ElementIndex>(i));
        if (parts[i].volume > 0)
            found.push_back(std::move(parts[i]));
    }
}

} // namespace

VolumeChange volumeChange(const Mesh& was, const Mesh& now, double tolerance)
{
    VolumeChange change;
    change.areaBefore = geometry::areaOf(was);
    change.areaAfter = geometry::areaOf(now);
    // Measured about the element: exact solids do not mind the distance, rounding on the way does.
    const Transform home = Transform::translation(-geometry::boundsOf(now.isEmpty() ? was : now).centre());
    const bool areClosed = (was.isEmpty() || geometry::isClosed(was)) && (now.isEmpty() || geometry::isClosed(now));
    const bool areApart = !geometry::boundsOf(was).overlaps(geometry::boundsOf(now));
    const auto without = [&](const Mesh& a, const Mesh& b) -> Result<Mesh> {
        if (areApart || a.isEmpty() || b.isEmpty())
            return a;
        auto rest = geometry::combine(geometry::transformed(a, home), geometry::transformed(b, home),
                                      geometry::BooleanKind::Difference);
        if (rest)
            *rest = geometry::transformed(*rest, home.inverse());
        return rest;
    };
    if (areClosed) {
        auto added = without(now, was), removed = without(was, now);
        if (added && removed) {
            change.added = std::move(*added);
            change.removed = std::move(*removed);
            change.addedVolume = geometry::volumeOf(change.added);
            change.removedVolume = geometry::volumeOf(change.removed);
            return change;
        }
    }
    change.isExact = false;
    if (was.isEmpty() || now.isEmpty()) {
        change.added = now;
        change.removed = was;
        return change;
    }
    change.added = facesApart(now, geometry::TriangleTree(was), tolerance, change.farthest);
    change.removed = facesApart(was, geometry::TriangleTree(now), tolerance, change.farthest);
    return change;
}

Result<MemberVolumes> volumesBetween(const Member& before, const Member& after, double tolerance, Progress& progress)
{
    MemberVolumes volumes;
    const Transform frame = frameBetween(before, after);
    unfilled(after, {}, before, frame, tolerance, progress, 0, volumes.added, volumes.notSolidAfter);
    unfilled(before, frame, after, {}, tolerance, progress, 0.5, volumes.removed, volumes.notSolidBefore);
    if (progress.isCancelled())
        return fail({kCancelled, "Comparing was cancelled."});
    return volumes;
}

} // namespace wendrix::changes
