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

std::vector<std::uint32_t> cornersOf(const std::vector<Side>& sides)
{
    std::vector<std::uint32_t> corners;
    for (const Side& s : sides) {
        corners.push_back(s.low);
        corners.push_back(s.high);
    }
    std::sort(corners.begin(), corners.end());
    corners.erase(std::unique(corners.begin(), corners.end()), corners.end());
    return corners;
}

/// Edges in order of where they start along the axis they spread along most, so that those around a point are found
/// without looking at all.
class EdgesAlongAxis {
public:
    EdgesAlongAxis(const Mesh& mesh, const std::vector<Side>& edges)
    {
        Box3 all;
        for (const Side& edge : edges)
            for (const std::uint32_t i : {edge.low, edge.high})
                all.add(mesh.points[i]);
        const Vector3 size = all.size();
        axis_ = size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
        for (std::size_t i = 0; i < edges.size(); ++i) {
            const Point3 a = mesh.points[edges[i].low], b = mesh.points[edges[i].high];
            spans_.push_back({std::min(a[axis_], b[axis_]), std::max(a[axis_], b[axis_]), 0, i, a, b - a});
        }
        std::sort(spans_.begin(), spans_.end(), [](const Span& a, const Span& b) { return a.low < b.low; });
        double highest = -1e300;
        for (Span& span : spans_)
            span.highestUpToHere = highest = std::max(highest, span.high);
    }

    /// Whether an edge other than `own` comes within `reach` of a point.
    [[nodiscard]] bool isAnyNear(Point3 p, double reach, std::size_t own) const
    {
        const double from = p[axis_] - reach, to = p[axis_] + reach;
        auto at = std::upper_bound(spans_.begin(), spans_.end(), to, [](double v, const Span& s) { return v < s.low; });
        while (at != spans_.begin() && (--at)->highestUpToHere >= from) {
            if (at->high < from || at->edge == own)
                continue;
            const double dd = dot(at->along, at->along);
            const double f = dd > 0 ? std::clamp(dot(p - at->from, at->along) / dd, 0.0, 1.0) : 0;
            if (length(p - (at->from + f * at->along)) <= reach)
                return true;
        }
        return false;
    }

private:
    struct Span {
        double low, high, highestUpToHere;
        std::size_t edge;
        Point3 from;
        Vector3 along;
    };
    int axis_ = 0;
    std::vector<Span> spans_;
};

/// Whether every free edge has another one beside its middle, without which it stays free whatever is joined: of a
/// surface that was never meant to be closed already the first has none.
bool mayMeet(const Mesh& mesh, const std::vector<Side>& free, double tolerance)
{
    const double reach = 4 * tolerance; // both may be moved, and the corners that they are split at
    const EdgesAlongAxis edges(mesh, free);
    for (std::size_t i = 0; i < free.size(); ++i) {
        const Point3 a = mesh.points[free[i].low], b = mesh.points[free[i].high];
        if (length(b - a) > reach && !edges.isAnyNear(a + 0.5 * (b - a), reach, i))
            return false;
    }
    return true;
}

/// Joins corners of free edges that are nearer than the tolerance; false where there are none.
bool joinCorners(Mesh& mesh, const std::vector<std::uint32_t>& corners, double tolerance)
{
    std::vector<std::uint32_t> byX = corners;
    std::sort(byX.begin(), byX.end(), [&](std::uint32_t a, std::uint32_t b) {
        return mesh.points[a].x != mesh.points[b].x ? mesh.points[a].x < mesh.points[b].x : a < b;
    });
    std::vector<std::uint32_t> to(mesh.points.size());
    std::iota(to.begin(), to.end(), 0u);
    bool isAny = false;
    for (std::size_t i = 0; i < byX.size(); ++i) {
        if (to[byX[i]] != byX[i])
            continue;
        for (std::size_t j = i + 1; j < byX.size() && mesh.points[byX[j]].x - mesh.points[byX[i]].x <= tolerance; ++j)
            if (to[byX[j]] == byX[j] && length(mesh.points[byX[j]] - mesh.points[byX[i]]) <= tolerance) {
                to[byX[j]] = byX[i];
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
    const std::vector<std::uint32_t> corners = cornersOf(free);
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
        for (const std::uint32_t v : corners) {
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
        std::uint32_t from = a;
        for (const auto& [f, v] : on) {
            added.push_back({from, v, c});
            from = v;
        }
        added.push_back({from, b, c});
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
        const bool isJoined = joinCorners(tried, cornersOf(given), tolerance);
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
