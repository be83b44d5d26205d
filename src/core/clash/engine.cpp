#include "core/clash/engine.h"

#include "core/clash/overlap.h"

#include <tbb/parallel_for.h>

#include <algorithm>
#include <chrono>
#include <memory>
#include <mutex>

namespace wendrix::clash {

namespace {

bool isBuilt(const ifc::Model& model, const ifc::Element& element)
{
    const ifc::Schema& schema = model.source().schema();
    return !schema.isA(element.type, "IfcSpatialStructureElement") && !schema.isA(element.type, "IfcSpatialElement") &&
           !schema.isA(element.type, "IfcVirtualElement");
}

/// One side's elements with their bounds in the federation's frame; triangles are placed when first needed.
class Side {
public:
    Side(std::span<const federation::Member> members, std::span<const std::uint32_t> which) : members_(members)
    {
        std::vector<Box3> boxes;
        for (const std::uint32_t m : which) {
            const federation::Member& member = members[m];
            const Transform map = member.fit.transform();
            const auto& elements = member.model->elements();
            for (ifc::ElementIndex e = 0; e < elements.size(); ++e) {
                if (!isTestable(member, e))
                    continue;
                parts_.push_back({m, e});
                boxes.push_back(map.apply(member.geometry->elements()[e].bounds));
            }
        }
        tree_ = geometry::BoxTree(boxes);
        bodies_.resize(parts_.size());
        once_ = std::make_unique<std::once_flag[]>(parts_.size());
    }
    [[nodiscard]] const geometry::BoxTree& tree() const { return tree_; }
    [[nodiscard]] Part part(std::uint32_t i) const { return parts_[i]; }
    [[nodiscard]] const geometry::TriangleTree& body(std::uint32_t i)
    {
        std::call_once(once_[i], [&] {
            const federation::Member& member = members_[parts_[i].member];
            bodies_[i] = std::make_unique<geometry::TriangleTree>(
                geometry::transformed(member.geometry->meshOf(parts_[i].element), member.fit.transform()));
        });
        return *bodies_[i];
    }

private:
    std::span<const federation::Member> members_;
    std::vector<Part> parts_;
    geometry::BoxTree tree_;
    std::vector<std::unique_ptr<geometry::TriangleTree>> bodies_;
    std::unique_ptr<std::once_flag[]> once_;
};

} // namespace

bool isTestable(const federation::Member& member, ifc::ElementIndex element)
{
    return !member.geometry->elements()[element].placed.empty() &&
           isBuilt(*member.model, member.model->elements()[element]);
}

Result<Findings> findHard(std::span<const federation::Member> members, std::span<const std::uint32_t> left,
                          std::span<const std::uint32_t> right, const HardTest& test, Progress& progress)
{
    const auto start = std::chrono::steady_clock::now();
    Side leftSide(members, left), rightSide(members, right);
    std::vector<std::pair<std::uint32_t, std::uint32_t>> candidates;
    leftSide.tree().overlappingPairs(rightSide.tree(), -0.5 * test.tolerance, [&](std::uint32_t i, std::uint32_t j) {
        const Part a = leftSide.part(i), b = rightSide.part(j);
        // Of a member against itself, each pair once and nothing against itself.
        if (a == b || (a.member == b.member && b.element < a.element))
            return;
        candidates.emplace_back(i, j);
    });
    std::vector<std::optional<Overlap>> overlaps(candidates.size());
    std::atomic<std::size_t> done{0};
    tbb::parallel_for(std::size_t{0}, candidates.size(), [&](std::size_t k) {
        if (progress.isCancelled())
            return;
        const auto [i, j] = candidates[k];
        overlaps[k] = overlapOf(leftSide.body(i), rightSide.body(j), test.tolerance);
        progress.report("Looking for clashes", static_cast<double>(++done) / static_cast<double>(candidates.size()));
    });
    if (progress.isCancelled())
        return fail({kCancelled, "The clash test was cancelled; the earlier result stays."});
    Findings findings;
    findings.pairsTested = candidates.size();
    for (std::size_t k = 0; k < candidates.size(); ++k)
        if (overlaps[k]) {
            const auto [i, j] = candidates[k];
            findings.clashes.push_back({leftSide.part(i), rightSide.part(j), overlaps[k]->depth, overlaps[k]->point,
                                        overlaps[k]->isApproximate});
        }
    const auto guid = [&](Part part) -> const std::string& {
        return members[part.member].model->elements()[part.element].guid;
    };
    std::sort(findings.clashes.begin(), findings.clashes.end(), [&](const Clash& a, const Clash& b) {
        return std::tie(guid(a.left), guid(a.right), a.left, a.right) <
               std::tie(guid(b.left), guid(b.right), b.left, b.right);
    });
    findings.seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    return findings;
}

} // namespace wendrix::clash
