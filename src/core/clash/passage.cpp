#include "core/clash/passage.h"

#include "core/base/text.h"
#include "core/clash/body.h"
#include "core/geometry/mesh_features.h"
#include "core/geometry/openings.h"

#include <algorithm>
#include <limits>

namespace wendrix::clash {

namespace {

using federation::Member;
using geometry::Mesh;

constexpr double kRim = 0.01; // metres of the host around a hole

bool isOneOf(const ifc::Model& model, ifc::ElementIndex element, std::initializer_list<ifc::Name> classes)
{
    const ifc::Schema& schema = model.source().schema();
    return std::any_of(classes.begin(), classes.end(),
                       [&](ifc::Name name) { return schema.isA(model.elements()[element].type, name); });
}

Mesh meshOf(const Member& member, ifc::ElementIndex element, Point3 origin)
{
    return geometry::transformed(member.geometry->meshOf(element),
                                 Transform::translation(-origin) * member.fit.transform());
}

/// The normals of a body's largest faces: the largest of all, the largest at a right angle to it, and their normal.
std::array<Vector3, 3> frameOf(const Mesh& mesh)
{
    constexpr double kSame = 0.9998, kRight = 0.02;
    struct Face {
        Vector3 normal;
        double area;
    };
    std::vector<Face> faces;
    for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
        const auto c = mesh.corners(t);
        const Vector3 n = cross(c[1] - c[0], c[2] - c[0]);
        const double area = length(n);
        if (!(area > 0))
            continue;
        const Vector3 unit = (1 / area) * n;
        const auto same = std::find_if(faces.begin(), faces.end(),
                                       [&](const Face& f) { return std::abs(dot(f.normal, unit)) > kSame; });
        if (same != faces.end())
            same->area += area;
        else if (faces.size() < 256)
            faces.push_back({unit, area});
    }
    std::sort(faces.begin(), faces.end(), [](const Face& a, const Face& b) { return a.area > b.area; });
    const Vector3 first = faces.empty() ? Vector3{0, 0, 1} : faces.front().normal;
    const auto across = std::find_if(faces.begin(), faces.end(),
                                     [&](const Face& f) { return std::abs(dot(f.normal, first)) < kRight; });
    const Vector3 second = across != faces.end() ? normalised(across->normal - dot(across->normal, first) * first)
                                                 : anyPerpendicular(first);
    return {first, second, cross(first, second)};
}

OrientedBox boxAlong(std::span<const Point3> points, const std::array<Vector3, 3>& axes)
{
    OrientedBox box;
    box.axes = axes;
    Point3 middle;
    for (std::size_t k = 0; k < 3; ++k) {
        double low = std::numeric_limits<double>::infinity(), high = -low;
        for (const Point3& p : points) {
            low = std::min(low, dot(axes[k], p));
            high = std::max(high, dot(axes[k], p));
        }
        middle = middle + (0.5 * (low + high)) * axes[k];
        box.half[k] = 0.5 * (high - low);
    }
    box.centre = middle;
    return box;
}

/// Whether another part of a run lies in a hole: then it is for that one.
bool isTaken(std::span<const Member> members, const OrientedBox& hole, Part own, Point3 origin)
{
    Box3 around;
    for (int corner = 0; corner < 8; ++corner)
        around.add(hole.centre + (corner & 1 ? 1.0 : -1.0) * hole.half[0] * hole.axes[0] +
                   (corner & 2 ? 1.0 : -1.0) * hole.half[1] * hole.axes[1] +
                   (corner & 4 ? 1.0 : -1.0) * hole.half[2] * hole.axes[2]);
    for (std::uint32_t m = 0; m < members.size(); ++m) {
        const Member& member = members[m];
        const Transform place = Transform::translation(-origin) * member.fit.transform();
        for (ifc::ElementIndex e = 0; e < member.geometry->elements().size(); ++e) {
            const geometry::ElementShape& shape = member.geometry->elements()[e];
            if (shape.placed.empty() || Part{m, e} == own || !place.apply(shape.bounds).overlaps(around) ||
                !isOneOf(*member.model, e, {"IfcDistributionElement"}))
                continue;
            const Mesh mesh = meshOf(member, e, origin);
            const OrientedBox box = boxAlong(mesh.points, hole.axes);
            const bool isInside = std::abs(dot(box.centre - hole.centre, hole.axes[0])) < hole.half[0] &&
                                  std::abs(dot(box.centre - hole.centre, hole.axes[1])) < hole.half[1];
            if (isInside && box.mayMeet(hole, 0))
                return true;
        }
    }
    return false;
}

} // namespace

std::optional<Passage> passageOf(std::span<const Member> members, Part left, Part right, const Mesh& shared,
                                 Point3 origin)
{
    const auto isHost = [&](Part p) {
        return isOneOf(*members[p.member].model, p.element,
                       {"IfcWall", "IfcSlab", "IfcRoof", "IfcBeam", "IfcFooting", "IfcPlate"});
    };
    const auto isRun = [&](Part p) { return isOneOf(*members[p.member].model, p.element, {"IfcDistributionElement"}); };
    if (shared.isEmpty() || !((isHost(left) && isRun(right)) || (isHost(right) && isRun(left))))
        return {};
    Passage passage;
    passage.host = isHost(left) ? left : right;
    const Part run = isHost(left) ? right : left;
    const Member& hostMember = members[passage.host.member];
    const Mesh host = meshOf(hostMember, passage.host.element, origin),
               through = meshOf(members[run.member], run.element, origin);

    const std::array<Vector3, 3> frame = frameOf(host);
    const OrientedBox hostBox = boxAlong(host.points, frame);
    const auto line = geometry::centreLine(through);
    const OrientedBox runBox = orientedBoxOf(through.points);
    const auto longestOf = [](const OrientedBox& box) {
        return static_cast<std::size_t>(std::max_element(box.half.begin(), box.half.end()) - box.half.begin());
    };
    const Vector3 way = line ? normalised((*line)[1] - (*line)[0]) : runBox.axes[longestOf(runBox)];
    std::size_t out = 0;
    for (std::size_t k = 1; k < 3; ++k)
        if (std::abs(dot(frame[k], way)) > std::abs(dot(frame[out], way)))
            out = k;
    // What lies lengthways within a wall, or runs in the plane of a slab, passes through nothing.
    if (out == longestOf(hostBox) || (out != 0 && !isOneOf(*hostMember.model, passage.host.element, {"IfcBeam"})))
        return {};
    std::array<Vector3, 3> axes{frame[(out + 1) % 3], frame[(out + 2) % 3], frame[out]};
    if (std::abs(axes[0].z) > std::abs(axes[1].z))
        std::swap(axes[0], axes[1]);
    if (axes[1].z < 0)
        axes[1] = -axes[1];
    const OrientedBox needed = boxAlong(shared.points, axes);
    // What reaches over the border of the face would need a notch, or another way, and no hole.
    const OrientedBox face = boxAlong(host.points, axes);
    for (const std::size_t k : {std::size_t{0}, std::size_t{1}})
        if (std::abs(dot(needed.centre - face.centre, axes[k])) + needed.half[k] > face.half[k] - kRim)
            return {};

    double nearest = Passage::kReach;
    const auto offer = [&](std::uint32_t member, std::optional<ifc::ElementIndex> element, std::string name,
                           const Mesh& body) {
        NearHole hole{member, element, std::move(name), boxAlong(body.points, axes)};
        hole.across = dot(needed.centre - hole.box.centre, axes[0]);
        hole.along = dot(needed.centre - hole.box.centre, axes[1]);
        hole.tooNarrow = std::max(0.0, 2 * (needed.half[0] - hole.box.half[0]));
        hole.tooLow = std::max(0.0, 2 * (needed.half[1] - hole.box.half[1]));
        const double beside = std::max(0.0, std::abs(hole.across) - needed.half[0] - hole.box.half[0]),
                     above = std::max(0.0, std::abs(hole.along) - needed.half[1] - hole.box.half[1]);
        // How far the two are from each other in the face; where they overlap, the nearer middle.
        const double gap = std::hypot(beside, above);
        const double far = gap > 0 ? gap + 1e-3 : -1 / (1 + std::hypot(hole.across, hole.along));
        if (gap <= Passage::kReach && (!passage.hole || far < nearest) && !isTaken(members, hole.box, run, origin)) {
            nearest = far;
            passage.hole = std::move(hole);
        }
    };
    for (std::uint32_t m = 0; m < members.size(); ++m)
        for (const ifc::ElementIndex e : MemberIndex::of(members[m].geometry)->provisions(*members[m].model)) {
            const Mesh body = meshOf(members[m], e, origin);
            if (boxAlong(body.points, axes).mayMeet(face, 0))
                offer(m, e, members[m].model->displayName(members[m].model->elements()[e]), body);
        }
    const ifc::Model& model = *hostMember.model;
    for (const geometry::OpeningBody& opening :
         geometry::freeOpeningsOf(model, model.elements()[passage.host.element])) {
        const std::string name = model.source().entity(opening.entity)["Name"].text();
        offer(passage.host.member, {}, name.empty() ? ifc::entityName(opening.entity) : name,
              geometry::transformed(opening.mesh, Transform::translation(-origin) * hostMember.fit.transform()));
    }
    passage.needed = needed;
    passage.needed.centre = passage.needed.centre + origin;
    if (passage.hole)
        passage.hole->box.centre = passage.hole->box.centre + origin;
    return passage;
}

std::string inWords(const Passage& passage)
{
    constexpr double kSame = 5e-4;
    const auto millimetres = [](double metres) { return std::to_string(std::lround(1000 * metres)); };
    if (!passage.hole)
        return "no hole is provided near by; " + millimetres(2 * passage.needed.half[0]) + " x " +
               millimetres(2 * passage.needed.half[1]) + " mm pass through";
    const NearHole& hole = *passage.hole;
    const bool isUpright = std::abs(passage.needed.axes[1].z) > 0.5;
    std::vector<std::string> place, size;
    const auto say = [&](std::vector<std::string>& list, double by, const char* words) {
        if (std::abs(by) >= kSame)
            list.push_back(lengthInWords(Metres{std::abs(by)}) + " " + words);
    };
    say(place, isUpright ? hole.across : std::hypot(hole.across, hole.along), "beside");
    if (isUpright)
        say(place, hole.along, hole.along > 0 ? "below" : "above");
    say(size, hole.tooNarrow, "too narrow");
    say(size, hole.tooLow, isUpright ? "too low" : "too short");
    const auto joined = [](const std::vector<std::string>& list) {
        return list.size() == 2 ? list[0] + " and " + list[1] : list[0];
    };
    std::string words = (hole.element ? "provided hole " : "hole ") + hole.name + " is ";
    words += place.empty() ? (size.empty() ? "where it passes" : "") : joined(place) + " what passes";
    if (!size.empty())
        words += (place.empty() ? "" : ", and ") + joined(size);
    return words;
}

} // namespace wendrix::clash
