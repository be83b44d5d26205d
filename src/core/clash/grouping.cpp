#include "core/clash/grouping.h"

#include <algorithm>
#include <queue>

namespace wendrix::clash {

std::vector<Group> groupBySharedElement(std::span<const PairEnds> pairs)
{
    // Elements as 0, 1, 2 … in the order of their numbers, and the pairs of each in one array.
    std::vector<std::int64_t> elements;
    elements.reserve(2 * pairs.size());
    for (const PairEnds& p : pairs) {
        elements.push_back(p.left);
        elements.push_back(p.right);
    }
    std::sort(elements.begin(), elements.end());
    elements.erase(std::unique(elements.begin(), elements.end()), elements.end());
    const auto placeOf = [&](std::int64_t element) {
        return static_cast<std::uint32_t>(std::lower_bound(elements.begin(), elements.end(), element) -
                                          elements.begin());
    };
    std::vector<std::uint32_t> first(elements.size() + 1, 0), open(elements.size(), 0), ends(2 * pairs.size());
    for (std::size_t i = 0; i < pairs.size(); ++i) {
        ends[2 * i] = placeOf(pairs[i].left);
        ends[2 * i + 1] = placeOf(pairs[i].right);
        ++open[ends[2 * i]];
        if (ends[2 * i + 1] != ends[2 * i])
            ++open[ends[2 * i + 1]];
    }
    for (std::size_t e = 0; e < elements.size(); ++e)
        first[e + 1] = first[e] + open[e];
    std::vector<std::uint32_t> ofElement(first.back()), next(first.begin(), first.end() - 1);
    for (std::uint32_t i = 0; i < pairs.size(); ++i) {
        ofElement[next[ends[2 * i]]++] = i;
        if (ends[2 * i + 1] != ends[2 * i])
            ofElement[next[ends[2 * i + 1]]++] = i;
    }

    // Most open pairs first, then the smaller number; what is out of date when it comes up goes back with its count of
    // now.
    using Entry = std::pair<std::uint32_t, std::uint32_t>; // open pairs, element counted from the end
    std::priority_queue<Entry> queue;
    const auto last = static_cast<std::uint32_t>(elements.size());
    for (std::uint32_t e = 0; e < last; ++e)
        queue.emplace(open[e], last - e);
    std::vector<bool> taken(pairs.size(), false);
    std::vector<Group> groups;
    while (!queue.empty()) {
        const auto [count, fromEnd] = queue.top();
        queue.pop();
        const std::uint32_t element = last - fromEnd;
        if (count != open[element]) {
            if (open[element] > 0)
                queue.emplace(open[element], fromEnd);
            continue;
        }
        if (count == 0)
            continue;
        Group group{elements[element], {}};
        for (std::uint32_t k = first[element]; k < first[element + 1]; ++k) {
            const std::uint32_t i = ofElement[k];
            if (taken[i])
                continue;
            taken[i] = true;
            group.pairs.push_back(i);
            --open[ends[2 * i]];
            if (ends[2 * i + 1] != ends[2 * i])
                --open[ends[2 * i + 1]];
        }
        groups.push_back(std::move(group));
    }
    return groups;
}

} // namespace wendrix::clash
