#include "core/clash/shared_body.h"

#include "core/clash/hard.h"
#include "core/geometry/boolean.h"
#include "core/geometry/thickness.h"

#include <algorithm>

namespace wendrix::clash {

std::optional<geometry::Mesh> sharedBody(const Body& a, const Body& b, Point3 origin)
{
    const Transform about = Transform::translation(-origin);
    geometry::Mesh all;
    for (const PlacedPart& pa : a.parts)
        for (const PlacedPart& pb : b.parts) {
            if (!pa.bounds().isWithin(pb.bounds(), 0))
                continue;
            const auto shared = geometry::combine(geometry::transformed(pa.shape().mesh(), about * pa.at()),
                                                  geometry::transformed(pb.shape().mesh(), about * pb.at()),
                                                  geometry::BooleanKind::Intersection);
            if (!shared)
                return {};
            all.append(*shared);
        }
    return all;
}

std::optional<double> sharedVolume(const Body& a, const Body& b)
{
    if (a.parts.empty())
        return 0;
    const auto shared = sharedBody(a, b, a.parts.front().bounds().middle);
    return shared ? std::optional(geometry::volumeOf(*shared)) : std::nullopt;
}

bool meetWithout(const Body& a, const Body& b, std::span<const Body* const> without, double tolerance)
{
    const auto about = [&](const PlacedPart& part) {
        return geometry::transformed(part.shape().mesh(),
                                     Transform::translation(-a.parts.front().bounds().middle) * part.at());
    };
    std::vector<geometry::Mesh> tools;
    for (const Body* other : without)
        for (const PlacedPart& part : other->parts)
            tools.push_back(about(part));
    for (const PlacedPart& pa : a.parts)
        for (const PlacedPart& pb : b.parts) {
            if (!pa.bounds().isWithin(pb.bounds(), -tolerance))
                continue;
            std::vector<std::size_t> leftOut;
            const auto shared = geometry::combine(about(pa), about(pb), geometry::BooleanKind::Intersection);
            const auto rest = shared ? geometry::subtractAll(*shared, tools, leftOut) : shared;
            if (!rest || !leftOut.empty())
                return true;
            // A skin that rounding leaves is none.
            for (const geometry::Piece& piece : geometry::pieces(*rest))
                if (piece.width > std::max(tolerance, kLeastDepth))
                    return true;
        }
    return false;
}

} // namespace wendrix::clash
