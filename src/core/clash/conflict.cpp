#include "core/clash/conflict.h"

#include "core/clash/shared_body.h"

namespace wendrix::clash {

Conflict conflictOf(std::span<const federation::Member> members, Part left, Part right, const Question& question,
                    Point3 point)
{
    Conflict conflict;
    conflict.origin = point;
    const auto body = [&](Part p) {
        const federation::Member& member = members[p.member];
        return bodyOf(*MemberIndex::of(member.geometry), p.element,
                      Transform::translation(-point) * member.fit.transform());
    };
    const Body a = body(left), b = body(right);
    if (question.kind == Kind::Clearance) {
        if (const auto gap = gapOf(a, b, question.direction, question.clearance))
            conflict.gap = {gap->left + point, gap->right + point};
        return conflict;
    }
    if (question.kind != Kind::Hard)
        return conflict;
    std::size_t triangles = 0;
    for (const Body* one : {&a, &b})
        for (const PlacedPart& part : one->parts)
            triangles += part.triangles();
    auto shared = triangles <= Conflict::kMostTriangles ? sharedBody(a, b, {}) : std::nullopt;
    conflict.isTold = shared.has_value();
    if (!shared)
        return conflict;
    conflict.shared = std::move(*shared);
    conflict.passage = passageOf(members, left, right, conflict.shared, point);
    return conflict;
}

} // namespace wendrix::clash
