#include "core/changes/assignment.h"

#include <algorithm>
#include <limits>
#include <map>
#include <numeric>
#include <span>
#include <unordered_map>

namespace wendrix::changes {

namespace {

using Pairs = std::vector<std::pair<std::uint32_t, std::uint32_t>>;

/// The numbers of one side of a group, in order.
template <std::uint32_t Candidate::*Side>
std::vector<std::uint32_t> sideOf(std::span<const Candidate> group)
{
    std::vector<std::uint32_t> side;
    for (const Candidate& c : group)
        side.push_back(c.*Side);
    std::sort(side.begin(), side.end());
    side.erase(std::unique(side.begin(), side.end()), side.end());
    return side;
}

std::size_t placeIn(const std::vector<std::uint32_t>& side, std::uint32_t number)
{
    return static_cast<std::size_t>(std::lower_bound(side.begin(), side.end(), number) - side.begin());
}

void assignExactly(std::span<const Candidate> group, const std::vector<std::uint32_t>& rows,
                   const std::vector<std::uint32_t>& columns, Pairs& out)
{
    // Whoever stays alone is paired with an empty column of weight 0.
    const std::size_t n = rows.size(), m = columns.size() + rows.size();
    std::vector<double> cost((n + 1) * (m + 1), 0);
    const auto at = [&](std::size_t row, std::size_t column) -> double& { return cost[row * (m + 1) + column]; };
    for (const Candidate& c : group)
        at(placeIn(rows, c.before) + 1, placeIn(columns, c.after) + 1) = -c.weight;
    constexpr double kInfinite = std::numeric_limits<double>::infinity();
    std::vector<double> u(n + 1, 0), v(m + 1, 0);
    std::vector<std::size_t> rowOf(m + 1, 0), way(m + 1, 0);
    for (std::size_t row = 1; row <= n; ++row) {
        rowOf[0] = row;
        std::size_t column = 0;
        std::vector<double> least(m + 1, kInfinite);
        std::vector<bool> isDone(m + 1, false);
        do {
            isDone[column] = true;
            const std::size_t from = rowOf[column];
            double delta = kInfinite;
            std::size_t next = 0;
            for (std::size_t j = 1; j <= m; ++j) {
                if (isDone[j])
                    continue;
                const double reduced = at(from, j) - u[from] - v[j];
                if (reduced < least[j]) {
                    least[j] = reduced;
                    way[j] = column;
                }
                if (least[j] < delta) {
                    delta = least[j];
                    next = j;
                }
            }
            for (std::size_t j = 0; j <= m; ++j)
                if (isDone[j]) {
                    u[rowOf[j]] += delta;
                    v[j] -= delta;
                } else {
                    least[j] -= delta;
                }
            column = next;
        } while (rowOf[column] != 0);
        do {
            const std::size_t previous = way[column];
            rowOf[column] = rowOf[previous];
            column = previous;
        } while (column != 0);
    }
    for (std::size_t j = 1; j <= columns.size(); ++j)
        if (rowOf[j] != 0 && at(rowOf[j], j) < 0)
            out.emplace_back(rows[rowOf[j] - 1], columns[j - 1]);
}

void assignHeaviestFirst(std::vector<Candidate> group, Pairs& out)
{
    std::stable_sort(group.begin(), group.end(),
                     [](const Candidate& a, const Candidate& b) { return a.weight > b.weight; });
    std::unordered_map<std::uint32_t, bool> before, after;
    for (const Candidate& c : group)
        if (!before[c.before] && !after[c.after]) {
            before[c.before] = after[c.after] = true;
            out.emplace_back(c.before, c.after);
        }
}

} // namespace

Pairs assigned(std::vector<Candidate> candidates)
{
    // One of several candidates of the same two is enough.
    std::sort(candidates.begin(), candidates.end(), [](const Candidate& a, const Candidate& b) {
        return std::tie(a.before, a.after, b.weight) < std::tie(b.before, b.after, a.weight);
    });
    candidates.erase(
        std::unique(candidates.begin(), candidates.end(),
                    [](const Candidate& a, const Candidate& b) { return a.before == b.before && a.after == b.after; }),
        candidates.end());
    // Groups that hang together: after-sides are united through each before-side.
    std::unordered_map<std::uint32_t, std::uint32_t> parent;
    const auto rootOf = [&](std::uint32_t x) {
        while (parent.at(x) != x)
            x = parent[x] = parent[parent[x]];
        return x;
    };
    for (const Candidate& c : candidates)
        parent.try_emplace(c.after, c.after);
    for (std::size_t i = 1; i < candidates.size(); ++i)
        if (candidates[i].before == candidates[i - 1].before) {
            const std::uint32_t a = rootOf(candidates[i].after), b = rootOf(candidates[i - 1].after);
            parent[std::max(a, b)] = std::min(a, b);
        }
    std::map<std::uint32_t, std::vector<Candidate>> groups;
    for (const Candidate& c : candidates)
        groups[rootOf(c.after)].push_back(c);
    Pairs pairs;
    for (auto& [root, group] : groups) {
        const auto rows = sideOf<&Candidate::before>(group), columns = sideOf<&Candidate::after>(group);
        if (rows.size() == 1 && columns.size() == 1)
            pairs.emplace_back(rows[0], columns[0]);
        else if (rows.size() <= kMostExact && columns.size() <= kMostExact)
            assignExactly(group, rows, columns, pairs);
        else
            assignHeaviestFirst(std::move(group), pairs);
    }
    std::sort(pairs.begin(), pairs.end(), [](const auto& a, const auto& b) { return a.second < b.second; });
    return pairs;
}

} // namespace wendrix::changes
