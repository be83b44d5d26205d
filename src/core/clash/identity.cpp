#include "core/clash/identity.h"

#include <algorithm>

namespace wendrix::clash {

std::string_view stateInWords(PairState state)
{
    switch (state) {
    case PairState::New:
        return "new";
    case PairState::StillThere:
        return "still there";
    case PairState::Gone:
        return "gone";
    case PairState::Back:
        return "back";
    }
    return "";
}

std::optional<PairState> nextState(std::optional<PairState> before, Outcome outcome)
{
    if (!isTested(outcome))
        return before;
    const bool isFound = outcome == Outcome::Found;
    if (!before)
        return isFound ? std::optional(PairState::New) : std::nullopt;
    if (*before == PairState::Gone)
        return isFound ? PairState::Back : PairState::Gone;
    return isFound ? PairState::StillThere : PairState::Gone;
}

std::int64_t Lineage::rootOf(std::int64_t element) const
{
    const auto found = parent_.find(element);
    return found == parent_.end() ? element : found->second;
}

std::vector<std::int64_t> Lineage::namesOf(std::int64_t element) const
{
    const auto found = names_.find(rootOf(element));
    return found == names_.end() ? std::vector{element} : found->second;
}

void Lineage::unite(std::int64_t element, std::int64_t other)
{
    const std::int64_t a = rootOf(element), b = rootOf(other);
    if (a == b)
        return;
    // The smaller number stays the root; the smaller class would be less to move, but classes hold a few names.
    const std::int64_t root = std::min(a, b), child = std::max(a, b);
    for (const std::int64_t one : {root, child})
        if (parent_.try_emplace(one, one).second)
            names_[one] = {one};
    auto& all = names_[root];
    for (const std::int64_t name : names_[child]) {
        parent_[name] = root;
        all.push_back(name);
    }
    names_.erase(child);
    std::sort(all.begin(), all.end());
}

PairKey pairKey(Kind kind, std::int64_t left, std::int64_t right, const Lineage& lineage)
{
    const std::int64_t a = lineage.rootOf(left), b = lineage.rootOf(right);
    return {kind, std::min(a, b), std::max(a, b)};
}

} // namespace wendrix::clash
