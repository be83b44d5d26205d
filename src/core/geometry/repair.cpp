#include "core/geometry/repair.h"

#include "core/base/text.h"
#include "core/geometry/edge_sides.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace wendrix::geometry {

namespace {

constexpr double kLargestGapMetres = 5e-4;
// Beyond so many free edges the shell is a surface, not a solid with a crack.
constexpr std::size_t kMostCracks = 4000;

using Side = EdgeSide;

/// The sides of edges that only one face has.
std::vector<Side> freeSides(const std::vector<Side>& sides)
{
    std::vector<Side> free;
    eachEdge(sides, [&](std::size_t i, std::size_t j) {
        if (j == i + 1)
            free.push_back(sides[i]);
    });
    return free;
}

Box3 boundsOf(const Mesh& mesh, const std::vector<Side>& edges)
{
    Box3 box;
    for (const Side& edge : edges)
        for (const std::uint32_t i : {edge.low, edge.high})
            box.add(mesh.points[i]);
    return box;
}

/// The axis along which a point has the fewest edges beside it: where their own extents are the least share of all.
int axisToSort(const Mesh& mesh, const std::vector<Side>& edges)
{
    const Vector3 whole = boundsOf(mesh, edges).size();
    Vector3 own;
    for (const Side& edge : edges) {
        const Vector3 d = mesh.points[edge.high] - mesh.points[edge.low];
        own = own + Vector3{std::abs(d.x), std::abs(d.y), std::abs(d.z)};
    }
    int best = 0;
    for (int axis = 1; axis < 3; ++axis)
        if (own[axis] * whole[best] < own[best] * whole[axis])
            best = axis;
    return best;
}

/// The corners of edges by where they are along an axis, in order of it.
std::vector<std::pair<double, std::uint32_t>> cornersAlong(const Mesh& mesh, const std::vector<Side>& edges, int axis)
{
    std::vector<std::pair<double, std::uint32_t>> corners;
    corners.reserve(2 * edges.size());
    for (const Side& edge : edges)
        for (const std::uint32_t v : {edge.low, edge.high})
            corners.emplace_back(mesh.points[v][axis], v);
    std::sort(corners.begin(), corners.end());
    corners.erase(std::unique(corners.begin(), corners.end()), corners.end());
    return corners;
}

/// Free edges, and those around a point of them: the first questions look at all of them, which is all that a surface
/// that was never meant to be closed asks; then they are sorted into slices along one axis.
class FreeEdges {
public:
    FreeEdges(const Mesh& mesh, const std::vector<Side>& edges) : mesh_(mesh), edges_(edges) {}

    /// Whether an edge other than `own` comes within `reach` of a point.
    [[nodiscard]] bool isAnyNear(Point3 p, double reach, std::size_t own)
    {
        Box3 around;
        around.add(p);
        around = around.grownBy(reach);
        const auto isNear = [&](std::size_t i) {
            const Point3 a = mesh_.points[edges_[i].low], b = mesh_.points[edges_[i].high];
            if (i == own || std::max(a.x, b.x) < around.min.x || std::min(a.x, b.x) > around.max.x ||
                std::max(a.y, b.y) < around.min.y || std::min(a.y, b.y) > around.max.y)
                return false;
            const Vector3 d = b - a;
            const double dd = dot(d, d), f = dd > 0 ? std::clamp(dot(p - a, d) / dd, 0.0, 1.0) : 0;
            return length(p - (a + f * d)) <= reach;
        };
        if (asked_++ < kAskedOfAll) {
            for (std::size_t i = 0; i < edges_.size(); ++i)
                if (isNear(i))
                    return true;
            return false;
        }
        if (slices_.empty())
            sort();
        for (std::size_t k = sliceOf(around.min[axis_]); k <= sliceOf(around.max[axis_]); ++k)
            if (std::any_of(slices_[k].begin(), slices_[k].end(), isNear))
                return true;
        return false;
    }

private:
    static constexpr int kAskedOfAll = 8;

    void sort()
    {
        all_ = boundsOf(mesh_, edges_);
        axis_ = axisToSort(mesh_, edges_);
        slices_.resize(std::clamp<std::size_t>(edges_.size() / 8, 1, 256));
        for (std::uint32_t i = 0; i < edges_.size(); ++i) {
            const double a = mesh_.points[edges_[i].low][axis_], b = mesh_.points[edges_[i].high][axis_];
            for (std::size_t k = sliceOf(std::min(a, b)), last = sliceOf(std::max(a, b)); k <= last; ++k)
                slices_[k].push_back(i);
        }
    }
    [[nodiscard]] std::size_t sliceOf(double v) const
    {
        const double whole = all_.size()[axis_], last = static_cast<double>(slices_.size() - 1);
        const double share = whole > 0 ? (v - all_.min[axis_]) / whole : 0;
        return static_cast<std::size_t>(std::clamp(share * static_cast<double>(slices_.size()), 0.0, last));
    }

    const Mesh& mesh_;
    const std::vector<Side>& edges_;
    int asked_ = 0, axis_ = 0;
    Box3 all_;
    std::vector<std::vector<std::uint32_t>> slices_;
};

/// Whether every free edge has another one beside its middle, without which it stays free whatever is joined: of a
/// surface that was never meant to be closed already the first has none.
bool mayMeet(const Mesh& mesh, const std::vector<Side>& free, double tolerance)
{
    const double reach = 4 * tolerance; // both may be moved, and the corners that they are split at
    FreeEdges edges(mesh, free);
    for (std::size_t i = 0; i < free.size(); ++i) {
        const Point3 a = mesh.points[free[i].low], b = mesh.points[free[i].high];
        if (length(b - a) > reach && !edges.isAnyNear(a + 0.5 * (b - a), reach, i))
            return false;
    }
    return true;
}

/// Joins corners of edges that are nearer than the tolerance; false where there are none.
bool joinCorners(Mesh& mesh, const std::vector<Side>& edges, double tolerance)
{
    const std::vector<std::pair<double, std::uint32_t>> corners = cornersAlong(mesh, edges, axisToSort(mesh, edges));
    std::vector<std::uint32_t> to(mesh.points.size());
    std::iota(to.begin(), to.end(), 0u);
    bool isAny = false;
    for (auto at = corners.begin(); at != corners.end(); ++at) {
        const std::uint32_t v = at->second;
        if (to[v] != v)
            continue;
        for (auto other = at + 1; other != corners.end() && other->first - at->first <= tolerance; ++other)
            if (const std::uint32_t w = other->second;
                to[w] == w && length(mesh.points[w] - mesh.points[v]) <= tolerance) {
                to[w] = v;
                isAny = true;
            }
    }
    if (!isAny)
        return false;
    for (Triangle& t : mesh.triangles)
        t = {to[t[0]], to[t[1]], to[t[2]]};
    std::erase_if(mesh.triangles, [](const Triangle& t) { return t[0] == t[1] || t[1] == t[2] || t[2] == t[0]; });
    return true;
}

/// Splits triangles with a free edge at the corners of other free edges that lie on it.
bool splitAtCorners(Mesh& mesh, const std::vector<Side>& free, double tolerance)
{
    if (free.empty() || free.size() > kMostCracks)
        return false;
    const int axis = axisToSort(mesh, free);
    const std::vector<std::pair<double, std::uint32_t>> corners = cornersAlong(mesh, free, axis);
    std::vector<char> isSplit(mesh.triangles.size(), 0);
    std::vector<Triangle> added;
    for (const Side& s : free) {
        if (isSplit[s.triangle] != 0)
            continue; // its other edges come with the next pass
        const Triangle t = mesh.triangles[s.triangle];
        const std::uint32_t a = t[s.corner], b = t[(s.corner + 1u) % 3], c = t[(s.corner + 2u) % 3];
        const Vector3 d = mesh.points[b] - mesh.points[a];
        const double ll = dot(d, d);
        std::vector<std::pair<double, std::uint32_t>> on;
        const double from = std::min(mesh.points[a][axis], mesh.points[b][axis]) - tolerance;
        const double to = std::max(mesh.points[a][axis], mesh.points[b][axis]) + tolerance;
        for (auto at = std::lower_bound(corners.begin(), corners.end(), std::pair{from, 0u});
             at != corners.end() && at->first <= to; ++at) {
            const std::uint32_t v = at->second;
            if (v == a || v == b || v == c || !(ll > 0))
                continue;
            const double f = dot(mesh.points[v] - mesh.points[a], d) / ll;
            if (f > 0 && f < 1 && length(mesh.points[v] - (mesh.points[a] + f * d)) <= tolerance)
                on.emplace_back(f, v);
        }
        if (on.empty())
            continue;
        std::sort(on.begin(), on.end());
        isSplit[s.triangle] = 1;
        std::uint32_t last = a;
        for (const auto& [f, v] : on) {
            added.push_back({last, v, c});
            last = v;
        }
        added.push_back({last, b, c});
    }
    if (added.empty())
        return false;
    std::vector<Triangle> kept;
    for (std::size_t k = 0; k < mesh.triangles.size(); ++k)
        if (isSplit[k] == 0)
            kept.push_back(mesh.triangles[k]);
    kept.insert(kept.end(), added.begin(), added.end());
    mesh.triangles = std::move(kept);
    return true;
}

} // namespace

std::string EdgeFaults::inWords() const
{
    std::string words;
    if (free > 0)
        words = counted(free, "edge has", "edges have") + " a face on one side only";
    if (crowded > 0)
        words +=
            (words.empty() ? "" : ", and ") + counted(crowded, "edge has", "edges have") + " faces that do not pair up";
    return words;
}

EdgeFaults edgeFaults(const Mesh& mesh)
{
    EdgeFaults faults;
    const std::vector<Side> sides = sortedSides(mesh);
    eachEdge(sides, [&](std::size_t i, std::size_t j) {
        int balance = 0;
        for (std::size_t k = i; k < j; ++k)
            balance += sides[k].isForward ? 1 : -1;
        if (j == i + 1)
            ++faults.free;
        else if (balance != 0)
            ++faults.crowded;
    });
    return faults;
}

namespace {

std::size_t makeConsistent(Mesh& mesh, const std::vector<Side>& sides)
{
    struct Neighbour {
        std::uint32_t triangle;
        bool agrees;
    };
    std::vector<std::array<Neighbour, 3>> neighbours(mesh.triangles.size(),
                                                     {{{UINT32_MAX, true}, {UINT32_MAX, true}, {UINT32_MAX, true}}});
    bool allAgree = true;
    eachEdge(sides, [&](std::size_t i, std::size_t j) {
        if (j != i + 2)
            return;
        const Side &a = sides[i], &b = sides[i + 1];
        const bool agrees = a.isForward != b.isForward;
        allAgree = allAgree && agrees;
        neighbours[a.triangle][a.corner] = {b.triangle, agrees};
        neighbours[b.triangle][b.corner] = {a.triangle, agrees};
    });
    if (allAgree)
        return 0;
    std::size_t turned = 0;
    std::vector<std::int8_t> state(mesh.triangles.size(), -1); // 1: to be turned
    std::vector<std::uint32_t> part;
    for (std::uint32_t seed = 0; seed < mesh.triangles.size(); ++seed) {
        if (state[seed] >= 0)
            continue;
        part.assign(1, seed);
        state[seed] = 0;
        for (std::size_t at = 0; at < part.size(); ++at)
            for (const Neighbour& n : neighbours[part[at]])
                if (n.triangle != UINT32_MAX && state[n.triangle] < 0) {
                    state[n.triangle] = static_cast<std::int8_t>(n.agrees ? state[part[at]] : 1 - state[part[at]]);
                    part.push_back(n.triangle);
                }
        double six = 0;
        const Point3 o = mesh.points[mesh.triangles[seed][0]];
        for (const std::uint32_t k : part) {
            const Triangle& t = mesh.triangles[k];
            const double v = dot(mesh.points[t[0]] - o, cross(mesh.points[t[1]] - o, mesh.points[t[2]] - o));
            six += state[k] == 1 ? -v : v;
        }
        for (const std::uint32_t k : part)
            if ((state[k] == 1) != (six < 0)) {
                std::swap(mesh.triangles[k][1], mesh.triangles[k][2]);
                ++turned;
            }
    }
    return turned;
}

std::optional<Metres> closeGaps(Mesh& mesh, const std::vector<Side>& sides, Metres most)
{
    const std::vector<Side> given = freeSides(sides);
    if (given.empty() || given.size() > kMostCracks || !mayMeet(mesh, given, most.value))
        return {};
    for (double tolerance = 1e-6; tolerance <= most.value * 1.0001; tolerance *= tolerance < 1e-4 ? 10 : 5) {
        Mesh tried = mesh;
        const bool isJoined = joinCorners(tried, given, tolerance);
        std::vector<Side> free = isJoined ? freeSides(sortedSides(tried)) : given;
        for (int pass = 0; pass < 4 && !free.empty() && splitAtCorners(tried, free, tolerance); ++pass)
            free = freeSides(sortedSides(tried));
        if (free.empty() && !tried.isEmpty()) {
            mesh = std::move(tried);
            return Metres{tolerance};
        }
    }
    return {};
}

} // namespace

std::size_t makeConsistent(Mesh& mesh) { return makeConsistent(mesh, sortedSides(mesh)); }

std::optional<Metres> closeGaps(Mesh& mesh, Metres most) { return closeGaps(mesh, sortedSides(mesh), most); }

bool putInOrder(Mesh& shell, bool isHollow, Repairs& repairs)
{
    if (shell.isEmpty())
        return false;
    std::vector<Side> sides = sortedSides(shell);
    bool isWhole = isClosed(sides);
    if (!isWhole) {
        repairs.gap = closeGaps(shell, sides, Metres{kLargestGapMetres});
        if (repairs.gap)
            sides = sortedSides(shell);
        const std::size_t turned = makeConsistent(shell, sides);
        repairs.turned += turned;
        isWhole = turned > 0 ? isClosed(shell) : repairs.gap && isClosed(sides);
    }
    if (!isWhole)
        return false;
    if (const double volume = volumeOf(shell); (volume < 0) != isHollow && volume != 0) {
        turnOver(shell);
        repairs.wasInsideOut = true;
    }
    return true;
}

void Repairs::say(std::vector<Diagnostic>& diagnostics, const std::string& entity) const
{
    const auto note = [&](Severity severity, const char* code, std::string message) {
        diagnostics.push_back({severity, code, entity, std::move(message)});
    };
    if (lostFaces > 0)
        note(Severity::Warning, "geometry.face",
             counted(lostFaces, "face has", "faces have") +
                 " no outline, or one that crosses itself, and was left out.");
    if (flatFaces > 0)
        note(Severity::Note, "geometry.flat-face", counted(flatFaces, "face has", "faces have") + " no area.");
    if (swappedBounds > 0)
        note(Severity::Note, "geometry.swapped-bounds",
             counted(swappedBounds, "face names", "faces name") +
                 " a hole as the outer bound; the largest bound is taken.");
    if (nonPlanarFaces > 0)
        note(Severity::Note, "geometry.non-planar",
             counted(nonPlanarFaces, "face is", "faces are") + " not flat; triangles through the corners are taken.");
    if (repeatedPoints > 0)
        note(Severity::Note, "geometry.repeated-point",
             counted(repeatedPoints, "outline repeats", "outlines repeat") + " a point; it is taken once.");
    if (collinearPoints > 0)
        note(Severity::Note, "geometry.collinear-point",
             counted(collinearPoints, "point lies", "points lie") +
                 " on the straight line between neighbours in an outline; profiles are built without, faces "
                 "keep them since others may meet them there.");
    if (touchingOutlines > 0)
        note(Severity::Note, "geometry.touching-outline",
             counted(touchingOutlines, "outline comes", "outlines come") +
                 " back to a corner of its own; it is filled as it encloses.");
    if (gap)
        note(Severity::Note, "geometry.gap-closed",
             "The faces did not meet; points up to " + plainNumber(gap->value * 1000) + " mm apart were joined.");
    if (turned > 0)
        note(Severity::Note, "geometry.turned-faces",
             counted(turned, "triangle faces", "triangles face") + " against their neighbours and were turned over.");
    if (wasInsideOut)
        note(Severity::Note, "geometry.inside-out", "The shell is inside out and was turned over.");
}

} // namespace wendrix::geometry
