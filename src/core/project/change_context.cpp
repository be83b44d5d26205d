#include "core/project/change_context.h"

#include "core/base/fold.h"
#include "core/clash/expected.h"
#include "core/geometry/shortest_distance.h"

#include <algorithm>
#include <set>
#include <unordered_map>

namespace wendrix::project {

using federation::Member;
using geometry::Mesh;
using ifc::ElementIndex;

namespace {

bool isSupport(const ifc::Model& model, const ifc::Element& e)
{
    const ifc::Schema& schema = model.source().schema();
    for (const ifc::TypeId type : {schema.type("IfcDiscreteAccessory"), schema.type("IfcMechanicalFastener")})
        if (type != ifc::kUnknownType && schema.isA(e.type, type))
            return true;
    const std::string words = folded(model.text(e.name) + " " + model.text(e.typeName));
    constexpr const char* kCalled[] = {"support", "hanger", "bracket"};
    return std::any_of(std::begin(kCalled), std::end(kCalled),
                       [&](const char* word) { return words.find(word) != std::string::npos; });
}

} // namespace

struct Surroundings::Index {
    struct Place {
        std::uint32_t member = 0;
        ElementIndex element = 0;
    };
    std::vector<Member> members, before;
    mutable std::vector<Place> places;
    mutable std::vector<Box3> boxes; ///< reference frame
    mutable std::optional<geometry::BoxTree> tree;
    mutable std::unordered_map<std::uint64_t, std::unique_ptr<geometry::TriangleTree>> trees;

    /// Over all elements of the members; made when it is first asked, as a million boxes take a second.
    [[nodiscard]] const geometry::BoxTree& boxTree() const
    {
        if (tree)
            return *tree;
        for (std::uint32_t m = 0; m < members.size(); ++m) {
            const Transform fit = members[m].fit.transform();
            for (ElementIndex e = 0; e < members[m].geometry->elements().size(); ++e)
                if (const geometry::ElementShape& shape = members[m].geometry->elements()[e]; !shape.placed.empty()) {
                    places.push_back({m, e});
                    boxes.push_back(fit.apply(shape.bounds));
                }
        }
        return tree.emplace(boxes);
    }
    /// Nothing where it has no body.
    [[nodiscard]] const geometry::TriangleTree* treeOf(const Member& member, std::uint64_t key,
                                                       ElementIndex element) const
    {
        constexpr std::size_t kMostKept = 20'000;
        if (trees.size() > kMostKept)
            trees.clear();
        auto& kept = trees[key];
        if (kept == nullptr)
            kept = std::make_unique<geometry::TriangleTree>(
                geometry::transformed(member.geometry->meshOf(element), member.fit.transform()));
        return kept->mesh().isEmpty() ? nullptr : kept.get();
    }
    [[nodiscard]] const geometry::TriangleTree* treeAt(const Place& place) const
    {
        return treeOf(members[place.member], std::uint64_t{place.member} << 32 | place.element, place.element);
    }
    [[nodiscard]] const geometry::TriangleTree* find(const std::vector<Member>& among, bool isBefore,
                                                     const ElementRef& ref) const
    {
        for (std::uint32_t m = 0; m < among.size(); ++m)
            if (const auto element = among[m].find(ref))
                return treeOf(among[m], (isBefore ? std::uint64_t{1} << 63 : 0) | std::uint64_t{m} << 32 | *element,
                              *element);
        return nullptr;
    }
};

Surroundings::Surroundings(std::vector<Member> members, std::vector<Member> before) : index_(std::make_unique<Index>())
{
    index_->members = std::move(members);
    index_->before = std::move(before);
}
Surroundings::~Surroundings() = default;
Surroundings::Surroundings(Surroundings&&) noexcept = default;

namespace {

/// Metres between two bodies; 0 where they meet or one is inside the other.
std::optional<double> distanceBetween(const geometry::TriangleTree& a, const geometry::TriangleTree& b)
{
    const auto nearest = geometry::shortestDistance(a, b);
    if (!nearest)
        return {};
    const auto isInside = [](const geometry::TriangleTree& inner, const geometry::TriangleTree& outer) {
        return outer.bounds().contains(inner.mesh().points[0]) && geometry::isClosed(outer.mesh()) &&
               outer.contains(inner.mesh().points[0]);
    };
    return isInside(a, b) || isInside(b, a) ? 0 : nearest->distance;
}

} // namespace

std::vector<Neighbour> Surroundings::near(const ChangeRecord& change, double distance) const
{
    std::vector<Neighbour> found;
    const auto isRoom = [](const Member& member, ElementIndex element) {
        const ifc::Schema& schema = member.model->source().schema();
        return schema.isA(member.model->elements()[element].type, schema.type("IfcSpatialStructureElement"));
    };
    const geometry::TriangleTree* body = (change.kinds & Removed) != 0
                                             ? index_->find(index_->before, true, change.element)
                                             : index_->find(index_->members, false, change.element);
    if (body == nullptr)
        return found;
    index_->boxTree().overlapping(body->bounds().grownBy(distance), [&](std::uint32_t at) {
        const Index::Place& place = index_->places[at];
        const Member& member = index_->members[place.member];
        if (member.disciplineId == change.element.discipline || isRoom(member, place.element))
            return;
        const geometry::TriangleTree* other = index_->treeAt(place);
        const auto off = other != nullptr ? distanceBetween(*body, *other) : std::nullopt;
        if (!off || *off > distance)
            return;
        const ifc::Element& e = member.model->elements()[place.element];
        found.push_back({member.refOf(place.element), member.discipline, member.model->displayName(e),
                         std::string(member.model->className(e)), *off});
    });
    std::sort(found.begin(), found.end(), [](const Neighbour& a, const Neighbour& b) {
        return std::tie(a.distance, a.discipline, a.name) < std::tie(b.distance, b.discipline, b.name);
    });
    return found;
}

bool Surroundings::isNear(const Box3& place, const ElementRef& element, const std::string& discipline,
                          double distance) const
{
    if (place.isEmpty())
        return false;
    const geometry::TriangleTree* body = index_->find(index_->members, false, element);
    if (body == nullptr)
        body = index_->find(index_->before, true, element);
    bool isFound = false;
    index_->boxTree().overlapping(place.grownBy(distance), [&](std::uint32_t at) {
        const Index::Place& other = index_->places[at];
        if (isFound || index_->members[other.member].discipline != discipline || body == nullptr ||
            !body->bounds().grownBy(distance).overlaps(index_->boxes[at]))
            return;
        const geometry::TriangleTree* tree = index_->treeAt(other);
        const auto off = tree != nullptr ? distanceBetween(*body, *tree) : std::nullopt;
        isFound = off && *off <= distance;
    });
    return isFound;
}

std::vector<LeftBehind> Surroundings::leftBehind(const ChangeRecord& change) const
{
    std::vector<LeftBehind> found;
    constexpr double kTouching = 0.02; // metres: a clip and its liner
    const geometry::TriangleTree* was = index_->find(index_->before, true, change.continues.value_or(change.element));
    const geometry::TriangleTree* now =
        (change.kinds & Removed) != 0 ? nullptr : index_->find(index_->members, false, change.element);
    if (was == nullptr || (change.kinds & (Removed | Moved | Reshaped | CutUp | Joined)) == 0)
        return found;
    const auto isAt = [&](const geometry::TriangleTree* body, const geometry::TriangleTree& other) {
        if (body == nullptr || !body->bounds().grownBy(kTouching).overlaps(other.bounds()))
            return false;
        const auto off = distanceBetween(*body, other);
        return off && *off <= kTouching;
    };
    index_->boxTree().overlapping(was->bounds().grownBy(kTouching), [&](std::uint32_t at) {
        const Index::Place& place = index_->places[at];
        const Member& member = index_->members[place.member];
        const ifc::Element& e = member.model->elements()[place.element];
        const bool isHole = clash::isProvision(*member.model, e);
        if (!isHole && !isSupport(*member.model, e))
            return;
        const ElementRef ref = member.refOf(place.element);
        if (ref == change.element)
            return;
        const geometry::TriangleTree* other = index_->treeAt(place);
        if (other != nullptr && isAt(was, *other) && !isAt(now, *other))
            found.push_back({ref, member.discipline, member.model->displayName(e), isHole});
    });
    std::sort(found.begin(), found.end(), [](const LeftBehind& a, const LeftBehind& b) {
        return std::tie(a.discipline, a.name, a.element) < std::tie(b.discipline, b.name, b.element);
    });
    return found;
}

std::set<ChangeKey> changesNear(const ChangeBriefs& briefs, const Surroundings& surroundings,
                                const std::string& discipline, double distance, const std::function<bool()>& isVoid)
{
    std::set<ChangeKey> near;
    for (const ChangeBrief& c : briefs.changes) {
        if (isVoid())
            break;
        if (surroundings.isNear(c.place, c.element, discipline, distance))
            near.insert(c.key);
    }
    return near;
}

Result<ChangeRecordsMet> recordsMet(const Project& project, const ChangeRecord& change)
{
    ChangeRecordsMet met;
    std::vector<ElementRef> names{change.element};
    names.insert(names.end(), change.parts.begin(), change.parts.end());
    if (change.continues)
        names.push_back(*change.continues);
    const auto run = project.clashes().firstRunWith(change.to);
    if (!run)
        return fail(run.error());
    std::set<PairId> seen;
    std::set<std::string> issues;
    for (const ElementRef& name : names) {
        const auto about = project.issues().about(name);
        if (!about)
            return fail(about.error());
        for (const IssueBrief& issue : *about)
            if (issues.insert(issue.uuid).second)
                met.issues.push_back(issue);
        auto pairs = *run != 0 ? project.clashes().ofElement(name) : Result<std::vector<Pair>>(std::vector<Pair>{});
        if (!pairs)
            return fail(pairs.error());
        for (Pair& pair : *pairs) {
            if (!seen.insert(pair.id).second)
                continue;
            const auto history = project.clashes().historyOf(pair.id);
            if (!history)
                return fail(history.error());
            for (const PairMoment& m : *history) {
                if (m.run != *run || !clash::isTested(m.outcome))
                    continue;
                if (m.state == clash::PairState::New || m.state == clash::PairState::Back)
                    met.caused.push_back(pair);
                else if (m.state == clash::PairState::Gone)
                    met.cured.push_back(pair);
            }
        }
    }
    return met;
}

} // namespace wendrix::project
