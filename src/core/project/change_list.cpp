#include "core/project/change_list.h"

#include <algorithm>

namespace wendrix::project {

ChangeList::ChangeList(ChangeBriefs briefs, const ChangeQuestion& question) : briefs_(std::move(briefs))
{
    std::vector<std::size_t> storeys(briefs_.storeys.size(), 0);
    for (std::uint32_t i = 0; i < briefs_.changes.size(); ++i) {
        const ChangeBrief& c = briefs_.changes[i];
        for (const ChangeKind kind : {Added, Removed, Reshaped, Moved, Redescribed, Rekeyed})
            if ((c.kinds & kind) != 0)
                ++counts_[kind];
        ++storeys[c.storey];
        toReview_ += c.isReviewed ? 0 : 1;
        if ((question.kinds == 0 || (c.kinds & question.kinds) != 0) &&
            (question.storey.empty() || briefs_.storeys[c.storey] == question.storey))
            rows_.push_back(i);
    }
    for (std::size_t i = 0; i < storeys.size(); ++i)
        byStorey_[briefs_.storeys[i]] = storeys[i];
    std::stable_sort(rows_.begin(), rows_.end(), [&](std::uint32_t a, std::uint32_t b) {
        return mainKind(briefs_.changes[a].kinds) < mainKind(briefs_.changes[b].kinds);
    });
}

std::size_t ChangeList::countOf(ChangeKind kind) const
{
    const auto found = counts_.find(kind);
    return found == counts_.end() ? 0 : found->second;
}

std::string ChangeList::idOf(const ChangeKey& key)
{
    return std::to_string(key.comparison) + "/" + std::to_string(key.number);
}

ChangeKey ChangeList::keyFrom(const std::string& id)
{
    const std::size_t slash = id.find('/');
    return slash == std::string::npos ? ChangeKey{}
                                      : ChangeKey{std::atoll(id.c_str()), std::atoll(id.c_str() + slash + 1)};
}

std::ptrdiff_t ChangeList::rowOf(const std::string& id) const
{
    // The briefs are in the order of keys within a comparison; a row is found by looking, which is rarely asked.
    const ChangeKey key = keyFrom(id);
    for (std::size_t row = 0; row < rows_.size(); ++row)
        if (briefs_.changes[rows_[row]].key == key)
            return static_cast<std::ptrdiff_t>(row);
    return -1;
}

Result<std::vector<ChangeRecord>> ChangeList::page(const ChangesBook& book, std::size_t first, std::size_t count) const
{
    std::vector<ChangeKey> keys;
    for (std::size_t row = first; row < std::min(rows_.size(), first + count); ++row)
        keys.push_back(keyOf(row));
    return book.get(keys);
}

} // namespace wendrix::project
