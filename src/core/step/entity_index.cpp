#include "core/step/entity_index.h"

#include <algorithm>

namespace wendrix::step {

EntityIndex::EntityIndex(std::vector<Entry> entries, std::vector<std::string> keywords, const Progress& progress)
    : keywords_(std::move(keywords))
{
    const auto byId = [](const Entry& a, const Entry& b) { return a.id() < b.id(); };
    if (!std::is_sorted(entries.begin(), entries.end(), byId))
        std::stable_sort(entries.begin(), entries.end(), byId);
    const auto end =
        std::unique(entries.begin(), entries.end(), [](const Entry& a, const Entry& b) { return a.id() == b.id(); });
    repeated_ = static_cast<std::size_t>(entries.end() - end);
    entries.erase(end, entries.end());
    entries.shrink_to_fit();

    if (progress.isCancelled())
        return;
    // About four entries a bucket where the numbers are dense; as many buckets as a quarter of the entries at most.
    const EntityId last = entries.empty() ? 0 : entries.back().id();
    while ((last >> shift_) > entries.size() / 4)
        ++shift_;
    std::vector<std::uint32_t> buckets((last >> shift_) + 2, 0);
    for (const Entry& e : entries)
        ++buckets[(e.id() >> shift_) + 1];
    for (std::size_t i = 1; i < buckets.size(); ++i)
        buckets[i] += buckets[i - 1];

    if (progress.isCancelled())
        return;
    std::vector<std::uint32_t> firstOf(keywords_.size() + 1, 0);
    for (const Entry& e : entries)
        ++firstOf[e.keyword() + std::size_t{1}];
    for (std::size_t i = 1; i < firstOf.size(); ++i)
        firstOf[i] += firstOf[i - 1];
    std::vector<std::uint32_t> next(firstOf.begin(), firstOf.end() - 1), byKeyword(entries.size());
    if (progress.isCancelled())
        return;
    for (std::size_t i = 0; i < entries.size(); ++i)
        byKeyword[next[entries[i].keyword()]++] = static_cast<std::uint32_t>(i);
    entries_ = std::move(entries);
    buckets_ = std::move(buckets);
    firstOf_ = std::move(firstOf);
    byKeyword_ = std::move(byKeyword);
}

void EntityIndex::save(BinaryWriter& out) const
{
    out.value(static_cast<std::uint64_t>(keywords_.size()));
    for (const std::string& keyword : keywords_)
        out.text(keyword);
    out.value(shift_);
    out.value(static_cast<std::uint64_t>(repeated_));
    out.column(entries_.view());
    out.column(buckets_.view());
    out.column(byKeyword_.view());
    out.column(firstOf_.view());
}

EntityIndex EntityIndex::restore(BinaryReader& in)
{
    EntityIndex index;
    for (std::size_t n = in.count(); n > 0 && in.isSound(); --n)
        index.keywords_.push_back(in.text());
    index.shift_ = in.value<int>();
    index.repeated_ = in.value<std::uint64_t>();
    index.entries_ = in.column<Entry>();
    index.buckets_ = in.column<std::uint32_t>();
    index.byKeyword_ = in.column<std::uint32_t>();
    index.firstOf_ = in.column<std::uint32_t>();
    if (!index.isConsistent())
        in.fail();
    return index;
}

bool EntityIndex::isConsistent() const
{
    const std::size_t n = entries_.size();
    if (shift_ < 0 || shift_ > 63 || buckets_.size() < 2 || firstOf_.size() != keywords_.size() + 1 ||
        byKeyword_.size() != n)
        return false;
    // Each list of places begins at none, ends at all and never goes back; each entity stands in its bucket.
    const auto isRising = [n](const Column<std::uint32_t>& places) {
        return places[0] == 0 && places[places.size() - 1] == n && std::is_sorted(places.begin(), places.end());
    };
    if (!isRising(buckets_) || !isRising(firstOf_) || repeated_ > 0xFFFFFFFFu)
        return false;
    for (std::size_t i = 0; i < n; ++i) {
        const Entry& e = entries_[i];
        const EntityId bucket = e.id() >> shift_;
        if (e.keyword() >= keywords_.size() || (i > 0 && entries_[i - 1].id() >= e.id()) ||
            bucket + 1 >= buckets_.size() || i < buckets_[bucket] || i >= buckets_[bucket + 1])
            return false;
    }
    for (std::size_t keyword = 0; keyword < keywords_.size(); ++keyword)
        for (std::uint32_t at = firstOf_[keyword]; at < firstOf_[keyword + 1]; ++at)
            if (byKeyword_[at] >= n || entries_[byKeyword_[at]].keyword() != keyword ||
                (at > firstOf_[keyword] && byKeyword_[at - 1] >= byKeyword_[at]))
                return false;
    return true;
}

const Entry* EntityIndex::find(EntityId id) const
{
    const EntityId bucket = id >> shift_;
    if (bucket + 1 >= buckets_.size())
        return nullptr;
    // The places may lie in a file that was shortened since; they read as zeros then.
    const std::size_t begin = buckets_[bucket], end = buckets_[bucket + 1];
    if (begin >= end || end > entries_.size())
        return nullptr;
    const auto first = entries_.begin() + static_cast<std::ptrdiff_t>(begin),
               last = entries_.begin() + static_cast<std::ptrdiff_t>(end);
    const auto at = std::lower_bound(first, last, id, [](const Entry& e, EntityId wanted) { return e.id() < wanted; });
    return at != last && at->id() == id ? &*at : nullptr;
}

std::span<const std::uint32_t> EntityIndex::withKeyword(KeywordIndex keyword) const
{
    if (keyword + std::size_t{1} >= firstOf_.size())
        return {};
    const std::size_t first = firstOf_[keyword], end = firstOf_[keyword + std::size_t{1}];
    return first < end && end <= byKeyword_.size() ? byKeyword_.view().subspan(first, end - first)
                                                   : std::span<const std::uint32_t>{};
}

} // namespace wendrix::step
