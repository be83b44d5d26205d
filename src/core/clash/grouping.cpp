#include "core/clash/grouping.h"

#include <algorithm>
#include <map>
#include <set>
#include <tuple>

namespace wendrix::clash {

std::vector<Group> groupBySharedElement(std::span<const PairEnds> pairs)
{
    struct Element {
        bool isLeft = true;
        std::vector<std::uint32_t> pairs;
        std::size_t open = 0;
    };
    std::map<std::pair<bool, std::string>, Element> elements; // right side sorts after left: false < true
    for (std::uint32_t i = 0; i < pairs.size(); ++i)
        for (const bool isRight : {false, true}) {
            Element& e = elements[{isRight, isRight ? pairs[i].rightGuid : pairs[i].leftGuid}];
            e.isLeft = !isRight;
            e.pairs.push_back(i);
            ++e.open;
        }
    // Most open pairs first; then left before right; then by GlobalId.
    using Key = std::tuple<std::int64_t, bool, std::string>;
    std::set<Key> queue;
    const auto keyOf = [](const auto& entry) {
        return Key{-static_cast<std::int64_t>(entry.second.open), entry.first.first, entry.first.second};
    };
    for (const auto& entry : elements)
        queue.insert(keyOf(entry));
    std::vector<bool> taken(pairs.size(), false);
    std::vector<Group> groups;
    while (!queue.empty() && std::get<0>(*queue.begin()) < 0) {
        const auto [minusOpen, isRight, guid] = *queue.begin();
        queue.erase(queue.begin());
        Group group{guid, !isRight, {}};
        for (const std::uint32_t i : elements[{isRight, guid}].pairs) {
            if (taken[i])
                continue;
            taken[i] = true;
            group.pairs.push_back(i);
            const auto other = elements.find({!isRight, isRight ? pairs[i].leftGuid : pairs[i].rightGuid});
            queue.erase(keyOf(*other));
            --other->second.open;
            queue.insert(keyOf(*other));
        }
        groups.push_back(std::move(group));
    }
    return groups;
}

} // namespace wendrix::clash
