#include "core/geometry/edge_sides.h"

#include <algorithm>
#include <tuple>

namespace wendrix::geometry {

namespace {

// So few are put in order faster by shifting than by std::sort.
constexpr std::size_t kFew = 24;

bool comesBefore(const EdgeSide& a, const EdgeSide& b)
{
    return std::tie(a.high, a.triangle, a.corner) < std::tie(b.high, b.triangle, b.corner);
}

} // namespace

std::vector<EdgeSide> sortedSides(const Mesh& mesh)
{
    std::vector<std::uint32_t> ends(mesh.points.size() + 1, 0); // by lower point: where its sides end so far
    for (const Triangle& t : mesh.triangles)
        for (std::size_t i = 0; i < 3; ++i)
            ++ends[std::min(t[i], t[(i + 1) % 3]) + 1];
    for (std::size_t p = 1; p < ends.size(); ++p)
        ends[p] += ends[p - 1];
    std::vector<EdgeSide> sides(mesh.triangles.size() * 3);
    for (std::uint32_t k = 0; k < mesh.triangles.size(); ++k)
        for (std::uint8_t i = 0; i < 3; ++i) {
            const std::uint32_t a = mesh.triangles[k][i], b = mesh.triangles[k][(i + 1) % 3];
            sides[ends[std::min(a, b)]++] = {std::min(a, b), std::max(a, b), k, i, a < b};
        }
    std::size_t first = 0;
    for (std::size_t p = 0; p + 1 < ends.size(); ++p) {
        const std::size_t end = ends[p];
        const auto from = sides.begin() + static_cast<std::ptrdiff_t>(first),
                   to = sides.begin() + static_cast<std::ptrdiff_t>(end);
        if (end - first > kFew)
            std::sort(from, to, comesBefore);
        else // they stand in order of triangle and corner already
            for (std::size_t i = first + 1; i < end; ++i) {
                const EdgeSide side = sides[i];
                std::size_t at = i;
                for (; at > first && side.high < sides[at - 1].high; --at)
                    sides[at] = sides[at - 1];
                sides[at] = side;
            }
        first = end;
    }
    return sides;
}

bool isClosed(const std::vector<EdgeSide>& sides)
{
    return !sides.empty() && allEdges(sides, [&](std::size_t i, std::size_t j) {
        int balance = 0;
        for (std::size_t k = i; k < j; ++k)
            balance += sides[k].isForward ? 1 : -1;
        return balance == 0;
    });
}

} // namespace wendrix::geometry
