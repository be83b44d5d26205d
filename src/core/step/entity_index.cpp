#include "core/step/entity_index.h"

#include <algorithm>

namespace wendrix::step {

EntityIndex::EntityIndex(std::vector<Entry> entries, std::vector<std::string> keywords)
    : entries_(std::move(entries)), keywords_(std::move(keywords))
{
    const auto byId = [](const Entry& a, const Entry& b) { return a.id() < b.id(); };
    if (!std::is_sorted(entries_.begin(), entries_.end(), byId))
        std::stable_sort(entries_.begin(), entries_.end(), byId);
    const auto end = std::unique(entries_.begin(), entries_.end(),
                                 [](const Entry& a, const Entry& b) { return a.id() == b.id(); });
    repeated_ = static_cast<std::size_t>(entries_.end() - end);
    entries_.erase(end, entries_.end());
    entries_.shrink_to_fit();

    // About four entries a bucket where the numbers are dense; as many buckets as a quarter of the entries at most.
    const EntityId last = entries_.empty() ? 0 : entries_.back().id();
    while ((last >> shift_) > entries_.size() / 4)
        ++shift_;
    buckets_.assign((last >> shift_) + 2, 0);
    for (const Entry& e : entries_)
        ++buckets_[(e.id() >> shift_) + 1];
    for (std::size_t i = 1; i < buckets_.size(); ++i)
        buckets_[i] += buckets_[i - 1];

    firstOf_.assign(keywords_.size() + 1, 0);
    for (const Entry& e : entries_)
        ++firstOf_[e.keyword() + std::size_t{1}];
    for (std::size_t i = 1; i < firstOf_.size(); ++i)
        firstOf_[i] += firstOf_[i - 1];
    std::vector<std::uint32_t> next(firstOf_.begin(), firstOf_.end() - 1);
    byKeyword_.resize(entries_.size());
    for (std::size_t i = 0; i < entries_.size(); ++i)
        byKeyword_[next[entries_[i].keyword()]++] = static_cast<std::uint32_t>(i);
}

const Entry* EntityIndex::find(EntityId id) const
{
    const EntityId bucket = id >> shift_;
    if (bucket + 1 >= buckets_.size())
        return nullptr;
    const auto first = entries_.begin() + buckets_[bucket], last = entries_.begin() + buckets_[bucket + 1];
    const auto at = std::lower_bound(first, last, id, [](const Entry& e, EntityId wanted) { return e.id() < wanted; });
    return at != last && at->id() == id ? &*at : nullptr;
}

std::span<const std::uint32_t> EntityIndex::withKeyword(KeywordIndex keyword) const
{
    if (keyword + std::size_t{1} >= firstOf_.size())
        return {};
    return std::span(byKeyword_).subspan(firstOf_[keyword], firstOf_[keyword + std::size_t{1}] - firstOf_[keyword]);
}

} // namespace wendrix::step
