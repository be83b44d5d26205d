#include "core/clash/shared_body.h"
#include "core/clash/side.h"

namespace wendrix::clash {

namespace {

/// Bodies of the federation's provided holes.
std::vector<Body> provisionsOf(std::span<const federation::Member> members, Vector3 origin)
{
    std::vector<Body> provisions;
    for (const federation::Member& m : members) {
        const auto index = MemberIndex::of(m.geometry);
        for (const ifc::ElementIndex e : index->provisions(*m.model))
            provisions.push_back(bodyOf(*index, e, Transform::translation(-origin) * m.fit.transform()));
    }
    return provisions;
}

/// Whether all that two bodies share lies in provided holes.
bool isProvided(const Body& a, const Body& b, const std::vector<Body>& provisions, double tolerance)
{
    const auto meets = [](const Body& one, const Body& other) {
        return std::any_of(one.parts.begin(), one.parts.end(), [&](const PlacedPart& p) {
            return std::any_of(other.parts.begin(), other.parts.end(),
                               [&](const PlacedPart& q) { return p.bounds().isWithin(q.bounds(), 0); });
        });
    };
    std::vector<const Body*> there;
    for (const Body& p : provisions)
        if (meets(p, a) && meets(p, b))
            there.push_back(&p);
    return !there.empty() && !meetWithout(a, b, there, tolerance);
}

/// Whether two pieces of one system meet at an end of one of them, no further in than a joint reaches.
bool isJoint(const ifc::Model& model, const Body& a, const Body& b, const Clash& clash, Vector3 origin, double joint)
{
    const ifc::Element &left = model.elements()[clash.left.element], &right = model.elements()[clash.right.element];
    const ifc::Schema& schema = model.source().schema();
    if (left.system == 0 || left.system != right.system || clash.depth > joint ||
        !schema.isA(left.type, "IfcDistributionFlowElement") || !schema.isA(right.type, "IfcDistributionFlowElement"))
        return false;
    const Point3 point = clash.point - origin;
    const auto isAtEnd = [&](const Body& body) {
        return std::any_of(body.parts.begin(), body.parts.end(), [&](const PlacedPart& part) {
            const OrientedBox& box = part.oriented();
            const auto longest =
                static_cast<std::size_t>(std::max_element(box.half.begin(), box.half.end()) - box.half.begin());
            return std::abs(dot(point - box.centre, box.axes[longest])) >= box.half[longest] - joint;
        });
    };
    return isAtEnd(a) || isAtEnd(b);
}

} // namespace

void leaveOut(std::span<const federation::Member> members, const Question& question, const Side& a, const Side& b,
              Vector3 origin, std::vector<FoundClash>& all, std::vector<Expected>& expected)
{
    if ((question.ignored == Meetings::none() && question.joint <= 0) || all.empty())
        return;
    std::optional<std::vector<Body>> provisions;
    const auto ruleOf = [&](const FoundClash& f) -> std::optional<Meeting> {
        const Part p = f.clash.left, q = f.clash.right;
        const auto isHole = [&](Part part) {
            const ifc::Model& model = *members[part.member].model;
            return isProvision(model, model.elements()[part.element]);
        };
        const bool hasOpenings = question.ignored.has(Meeting::Openings);
        if (hasOpenings && (isHole(p) || isHole(q)))
            return Meeting::Openings;
        if (hasOpenings && question.kind == Kind::Hard) {
            if (!provisions)
                provisions = provisionsOf(members, origin);
            if (isProvided(a.body(f.i), b.body(f.j), *provisions, question.tolerance))
                return Meeting::Openings;
        }
        if (p.member != q.member)
            return {};
        const federation::Member& member = members[p.member];
        const auto related =
            MemberIndex::of(member.geometry)->meetings(*member.model).between(p.element, q.element, question.ignored);
        if (related || question.joint <= 0 ||
            !isJoint(*member.model, a.body(f.i), b.body(f.j), f.clash, origin, question.joint))
            return related;
        return Meeting::Run;
    };
    std::erase_if(all, [&](const FoundClash& f) {
        const auto rule = ruleOf(f);
        if (rule)
            expected.push_back({*rule, f.clash.left, f.clash.right});
        return rule.has_value();
    });
    std::sort(expected.begin(), expected.end());
}

} // namespace wendrix::clash
