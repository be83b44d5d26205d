#include "core/clash/separation.h"

#include "core/clash/near_triangles.h"

#include <algorithm>
#include <limits>

namespace wendrix::clash {

namespace {

/// Triangles looked at in all for one pair of bodies.
constexpr std::size_t kMostMeetings = 4'000;
/// Past a surface that was just left, metres.
constexpr double kBeyond = 1e-9;

struct Extent {
    double low = std::numeric_limits<double>::infinity(), high = -std::numeric_limits<double>::infinity();
};
Extent extentOf(const Body& body, Vector3 axis)
{
    Extent e;
    for (const PlacedPart& part : body.parts)
        for (std::uint32_t i = 0; i < part.points(); ++i) {
            const double v = dot(axis, part.point(i));
            e.low = std::min(e.low, v);
            e.high = std::max(e.high, v);
        }
    return e;
}

/// The lengths from 0 on, up to `most`, where the intervals leave something free: the first of each gap.
std::vector<double> freeLengths(std::vector<Stretch>& meetings, double most)
{
    std::sort(meetings.begin(), meetings.end(), [](const Stretch& a, const Stretch& b) { return a.from < b.from; });
    std::vector<double> free;
    double at = 0;
    for (const Stretch& m : meetings) {
        if (m.from > at)
            free.push_back(at);
        at = std::max(at, m.to);
    }
    if (at < most)
        free.push_back(at);
    return free;
}

/// Whether, moved free of its surface, one lies inside the other.
bool isInside(const Body& a, const Body& b, Vector3 shift)
{
    const auto anyInside = [](const Body& one, const Body& other, Vector3 by) {
        for (const PlacedPart& part : one.parts)
            for (const std::uint32_t corner : part.shape().pieces())
                if (other.contains(part.point(corner) + by))
                    return true;
        return false;
    };
    return anyInside(b, a, shift) || anyInside(a, b, -shift);
}

/// How far `b` has to go along a direction to come free, if that is less than `most`.
/// @param least  it is known to be no less than this
std::optional<double> wayOut(const Body& a, const Body& b, Vector3 along, double least, double most,
                             std::size_t& budget)
{
    std::vector<Stretch> meetings;
    // Most ways are hardly longer than what is known of them: a short look costs little.
    for (double reach = std::min(most, std::max(1.01 * least, most / 64));; reach = std::min(most, 4 * reach)) {
        meetings.clear();
        bool isWhole = true;
        const Vector3 half = (0.5 * reach) * along;
        for (const PlacedPart& pa : a.parts)
            for (const PlacedPart& pb : b.parts) {
                // Half way along, grown by the other half, boxes hold all of the way.
                const PlacedPart there = pb.movedBy(half);
                const double margin = std::max({std::abs(half.x), std::abs(half.y), std::abs(half.z)});
                forNearTriangles<false>(pa, there, margin, [&](const Corners& s, const Corners& moved) {
                    if (budget == 0) {
                        isWhole = false;
                        return false;
                    }
                    --budget;
                    const Corners t{moved[0] - half, moved[1] - half, moved[2] - half};
                    if (const auto meeting = meetingAlong(s, t, along); meeting && meeting->to > 0)
                        meetings.push_back(*meeting);
                    return true;
                });
            }
        if (!isWhole)
            return {};
        for (const double free : freeLengths(meetings, reach))
            if (!isInside(a, b, (free + kBeyond) * along))
                return free;
        if (reach >= most)
            return {};
    }
}

} // namespace

Shift separationBeyond(const Body& a, const Body& b, std::span<const Vector3> directions)
{
    Shift least{std::numeric_limits<double>::infinity(), {}};
    const auto look = [&](Vector3 along) {
        const Extent ea = extentOf(a, along), eb = extentOf(b, along);
        if (const double forth = ea.high - eb.low; forth < least.length)
            least = {forth, along};
        if (const double back = eb.high - ea.low; back < least.length)
            least = {back, -along};
    };
    for (const Vector3& d : directions)
        look(d);
    for (const Vector3 axis : {Vector3{1, 0, 0}, Vector3{0, 1, 0}, Vector3{0, 0, 1}})
        look(axis);
    return least;
}

Shift separationAlong(const Body& a, const Body& b, std::span<const Vector3> directions,
                      std::span<const CrossedPair> crossed)
{
    struct Way {
        double least; ///< what crosses does not come free before
        Vector3 along;
    };
    std::vector<Way> ways;
    const auto add = [&](Vector3 along) {
        Way way{0, along};
        for (const CrossedPair& pair : crossed)
            if (const auto meeting = meetingAlong(pair.a, pair.b, along))
                way.least = std::max(way.least, meeting->to);
        ways.push_back(way);
    };
    for (const Vector3& d : directions) {
        add(d);
        add(-d);
    }
    for (const Vector3 axis : {Vector3{1, 0, 0}, Vector3{0, 1, 0}, Vector3{0, 0, 1}}) {
        add(axis);
        add(-axis);
    }
    std::stable_sort(ways.begin(), ways.end(), [](const Way& x, const Way& y) { return x.least < y.least; });
    Shift least{std::numeric_limits<double>::infinity(), {}};
    std::size_t budget = kMostMeetings;
    for (const Way& way : ways) {
        if (way.least >= least.length)
            break;
        const double past = extentOf(a, way.along).high - extentOf(b, way.along).low;
        if (past < least.length)
            least = {past, way.along};
        if (const auto out = wayOut(a, b, way.along, way.least, least.length, budget); out && *out < least.length)
            least = {*out, way.along};
    }
    return least;
}

} // namespace wendrix::clash
