#include "core/project/change_list.h"

#include "core/project/change_words.h"

#include <algorithm>

namespace wendrix::project {

bool ChangeQuestion::isNarrowed() const
{
    return kinds != 0 || also != 0 || comparison != 0 || review || among || !storey.empty() || !className.empty() ||
           !type.empty() || !system.empty() || !zone.empty() || !phase.empty();
}

std::string inWords(const ChangeQuestion& q)
{
    std::string words;
    const auto add = [&](const std::string& more) { words += (words.empty() ? "" : ", ") + more; };
    if (q.kinds != 0)
        add(kindsInWords(q.kinds));
    if (q.also != 0)
        add("also " + kindsInWords(q.also));
    if (!q.storey.empty())
        add("on " + q.storey);
    for (const auto& [what, value] :
         {std::pair{"class ", &q.className}, std::pair{"type ", &q.type}, std::pair{"system ", &q.system},
          std::pair{"zone ", &q.zone}, std::pair{"phase ", &q.phase}})
        if (!value->empty())
            add(what + *value);
    if (q.comparison != 0)
        add("of one member");
    if (q.review)
        add(q.review->empty() ? "not looked at" : *q.review);
    if (q.among)
        add(q.amongWords);
    return words.empty() ? "all changes" : words;
}

ChangeList::ChangeList(ChangeBriefs briefs, ChangeQuestion question)
    : briefs_(std::move(briefs)), question_(std::move(question))
{
    std::vector<std::size_t> storeys(briefs_.words.size(), 0);
    for (std::uint32_t i = 0; i < briefs_.changes.size(); ++i) {
        const ChangeBrief& c = briefs_.changes[i];
        ++storeys[c.storey];
        toReview_ += c.isReviewed() ? 0 : 1;
        if (!answers(c, false))
            continue;
        ++counts_[mainKind(c.kinds)];
        ++ofAllKinds_;
        if (answers(c, true))
            order_.push_back(i);
    }
    for (std::size_t i = 0; i < storeys.size(); ++i)
        if (storeys[i] > 0)
            byStorey_[briefs_.words[i]] = storeys[i];
    putTogether();
}

bool ChangeList::answers(const ChangeBrief& c, bool regardsKind) const
{
    const ChangeQuestion& q = question_;
    const auto is = [&](const std::string& wanted, std::uint32_t word) {
        return wanted.empty() || briefs_.words[word] == wanted;
    };
    return (!regardsKind || q.kinds == 0 || (mainKind(c.kinds) & q.kinds) != 0) &&
           (q.also == 0 || (c.kinds & q.also) != 0) && (q.comparison == 0 || c.key.comparison == q.comparison) &&
           is(q.storey, c.storey) && is(q.className, c.className) && is(q.type, c.type) && is(q.system, c.system) &&
           is(q.zone, c.zone) && is(q.phase, c.phase) && (!q.review || briefs_.words[c.review] == *q.review) &&
           (!q.among || q.among->contains(c.key));
}

void ChangeList::putTogether()
{
    // By main kind; within it the groups with the most changes first, then what stands alone, as the file has it.
    using GroupKey = std::pair<std::int64_t, std::int64_t>;
    const auto groupOf = [&](std::uint32_t i) {
        return GroupKey{briefs_.changes[i].key.comparison, briefs_.changes[i].alike};
    };
    std::map<GroupKey, std::size_t> sizes;
    if (question_.isGrouped)
        for (const std::uint32_t i : order_)
            if (briefs_.changes[i].alike != 0)
                ++sizes[groupOf(i)];
    const auto sizeOf = [&](std::uint32_t i) {
        const auto found = sizes.find(groupOf(i));
        return found == sizes.end() ? std::size_t{1} : found->second;
    };
    std::stable_sort(order_.begin(), order_.end(), [&](std::uint32_t a, std::uint32_t b) {
        const unsigned kindA = mainKind(briefs_.changes[a].kinds), kindB = mainKind(briefs_.changes[b].kinds);
        if (kindA != kindB) {
            const auto place = [](unsigned kind) {
                return std::find(std::begin(kAllChangeKinds), std::end(kAllChangeKinds), kind);
            };
            return place(kindA) < place(kindB);
        }
        const std::size_t sizeA = sizeOf(a), sizeB = sizeOf(b);
        if (sizeA != sizeB)
            return sizeA > sizeB;
        return sizeA > 1 && groupOf(a) < groupOf(b);
    });
    for (std::uint32_t at = 0; at < order_.size();) {
        const auto count = static_cast<std::uint32_t>(sizeOf(order_[at]));
        Row row{at, count};
        if (count > 1) {
            rows_.push_back(row);
            rows_.back().isOpen = question_.opened.contains(idOf(rows_.size() - 1));
            if (rows_.back().isOpen)
                for (std::uint32_t k = 0; k < count; ++k)
                    rows_.push_back({at + k, 1, true});
        } else {
            rows_.push_back(row);
        }
        at += count;
    }
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
    return slash == std::string::npos || id[0] == 'g'
               ? ChangeKey{}
               : ChangeKey{std::atoll(id.c_str()), std::atoll(id.c_str() + slash + 1)};
}

std::string ChangeList::idOf(std::size_t row) const
{
    const Row& r = rows_[row];
    const ChangeBrief& first = brief(r.first);
    return r.count > 1 ? "g" + std::to_string(first.key.comparison) + "/" + std::to_string(first.alike)
                       : idOf(first.key);
}

std::ptrdiff_t ChangeList::rowOf(const std::string& id) const
{
    // A row is found by looking, which is rarely asked.
    const ChangeKey key = keyFrom(id);
    std::ptrdiff_t group = -1;
    for (std::size_t row = 0; row < rows_.size(); ++row) {
        const Row& r = rows_[row];
        if (r.count == 1 ? brief(r.first).key == key : idOf(row) == id)
            return static_cast<std::ptrdiff_t>(row);
        for (std::uint32_t k = 0; r.count > 1 && k < r.count && group < 0; ++k)
            if (brief(r.first + k).key == key)
                group = static_cast<std::ptrdiff_t>(row);
    }
    return group;
}

std::vector<ChangeKey> ChangeList::keysOf(std::span<const std::string> ids) const
{
    const std::set<std::string> wanted(ids.begin(), ids.end());
    std::vector<ChangeKey> keys;
    std::set<ChangeKey> taken;
    for (std::size_t row = 0; row < rows_.size(); ++row)
        if (wanted.contains(idOf(row)))
            for (std::uint32_t k = 0; k < rows_[row].count; ++k)
                if (const ChangeKey key = brief(rows_[row].first + k).key; taken.insert(key).second)
                    keys.push_back(key);
    return keys;
}

std::vector<ChangeKey> ChangeList::allKeys() const
{
    std::vector<ChangeKey> keys;
    for (std::uint32_t at = 0; at < order_.size(); ++at)
        keys.push_back(brief(at).key);
    return keys;
}

Result<std::vector<ChangeRow>> ChangeList::page(const ChangesBook& book, std::size_t first, std::size_t count) const
{
    std::vector<ChangeKey> keys;
    const std::size_t last = std::min(rows_.size(), first + count);
    for (std::size_t row = first; row < last; ++row)
        keys.push_back(brief(rows_[row].first).key);
    auto records = book.get(keys);
    if (!records)
        return fail(records.error());
    std::map<ChangeKey, ChangeRecord*> byKey;
    for (ChangeRecord& r : *records)
        byKey[{r.comparison, r.number}] = &r;
    std::vector<ChangeRow> page;
    for (std::size_t row = first; row < last; ++row) {
        const Row& r = rows_[row];
        const auto found = byKey.find(brief(r.first).key);
        if (found == byKey.end())
            continue;
        ChangeRow line{idOf(row), *found->second, r.count > 1, r.isInGroup, r.isOpen, r.count, 0, {}, {}};
        std::set<std::uint32_t> storeys, classes;
        for (std::uint32_t k = 0; k < r.count; ++k) {
            const ChangeBrief& c = brief(r.first + k);
            line.reviewed += c.isReviewed() ? 1 : 0;
            storeys.insert(c.storey);
            classes.insert(c.className);
        }
        for (const std::uint32_t word : storeys)
            line.storeys.push_back(briefs_.words[word]);
        for (const std::uint32_t word : classes)
            line.classes.push_back(briefs_.words[word]);
        page.push_back(std::move(line));
    }
    return page;
}

} // namespace wendrix::project
