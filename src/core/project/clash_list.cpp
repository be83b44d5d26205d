#include "core/project/clash_list.h"

#include "core/clash/grouping.h"
#include "core/clash/words.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace wendrix::project {

using clash::PairState;

namespace {

constexpr std::size_t kNamesRead = 40; // as many as tell what a group's others have in common

bool isWanted(const PairBrief& p, ClashFilter filter)
{
    switch (filter) {
    case ClashFilter::Undecided:
        return p.isUndecided();
    case ClashFilter::New:
        return p.state == PairState::New;
    case ClashFilter::Back:
        return p.state == PairState::Back;
    case ClashFilter::Gone:
        return p.isGone();
    case ClashFilter::NotTested:
        return !p.isGone() && !clash::isTested(p.outcome);
    case ClashFilter::There:
        break;
    }
    return !p.isGone();
}

ClashCounts countsOf(const PairBriefs& briefs)
{
    ClashCounts counts;
    std::vector<std::size_t> storeys(briefs.texts.size(), 0);
    for (const PairBrief& p : briefs.pairs) {
        counts.undecided += isWanted(p, ClashFilter::Undecided) ? 1 : 0;
        counts.isNew += isWanted(p, ClashFilter::New) ? 1 : 0;
        counts.back += isWanted(p, ClashFilter::Back) ? 1 : 0;
        counts.gone += p.isGone() ? 1 : 0;
        counts.notTested += isWanted(p, ClashFilter::NotTested) ? 1 : 0;
        counts.there += p.isGone() ? 0 : 1;
        storeys[p.storey] += p.isGone() ? 0 : 1;
    }
    for (std::size_t i = 0; i < storeys.size(); ++i)
        if (storeys[i] > 0)
            counts.byStorey[briefs.texts[i]] = storeys[i];
    return counts;
}

int millimetres(const PairBrief& p) { return static_cast<int>(std::lround(p.depth * 1000.0f)); }

} // namespace

ClashList::ClashList(PairBriefs briefs, const ClashQuestion& question)
    : briefs_(std::move(briefs)), counts_(countsOf(briefs_))
{
    std::map<std::uint32_t, std::vector<std::uint32_t>> byTest;
    std::vector<int> depths(briefs_.pairs.size());
    std::transform(briefs_.pairs.begin(), briefs_.pairs.end(), depths.begin(), millimetres);
    for (std::uint32_t i = 0; i < briefs_.pairs.size(); ++i) {
        const PairBrief& p = briefs_.pairs[i];
        if (isWanted(p, question.filter) && (question.storey.empty() || briefs_.texts[p.storey] == question.storey))
            byTest[p.test].push_back(i);
    }
    for (const auto& [test, members] : byTest) {
        std::vector<clash::PairEnds> ends;
        ends.reserve(members.size());
        for (const std::uint32_t i : members)
            ends.push_back({briefs_.pairs[i].left, briefs_.pairs[i].right});
        for (clash::Group& g : clash::groupBySharedElement(ends)) {
            Group group{g.shared, test, std::move(g.pairs)};
            for (std::uint32_t& i : group.pairs)
                i = members[i];
            // Deepest first; what differs by less than a millimetre goes by the other element.
            const auto other = [&](std::uint32_t i) {
                return briefs_.pairs[i].left == group.shared ? briefs_.pairs[i].right : briefs_.pairs[i].left;
            };
            std::sort(group.pairs.begin(), group.pairs.end(), [&](std::uint32_t a, std::uint32_t b) {
                return depths[a] != depths[b] ? depths[a] > depths[b] : other(a) < other(b);
            });
            shown_ += group.pairs.size();
            groups_.push_back(std::move(group));
        }
    }
    std::stable_sort(groups_.begin(), groups_.end(),
                     [&](const Group& a, const Group& b) { return depths[a.pairs[0]] > depths[b.pairs[0]]; });
    rows_.reserve(groups_.size() + shown_);
    pairRows_.assign(briefs_.pairs.size(), -1);
    groupRows_.reserve(groups_.size());
    for (std::uint32_t g = 0; g < groups_.size(); ++g) {
        const auto head = static_cast<std::uint32_t>(rows_.size());
        rows_.push_back({g, -1});
        groupRows_.push_back(head);
        groupsOf_[groups_[g].shared].push_back(g);
        const bool isAlone = groups_[g].pairs.size() == 1;
        for (std::uint32_t k = 0; k < groups_[g].pairs.size(); ++k) {
            pairRows_[groups_[g].pairs[k]] = static_cast<std::int32_t>(isAlone ? head : rows_.size());
            if (!isAlone)
                rows_.push_back({g, static_cast<std::int32_t>(k)});
        }
    }
}

std::string ClashList::idOf(const Group& group) const
{
    return "g:" + briefs_.texts[group.test] + ":" + std::to_string(group.shared);
}

std::string ClashList::idOf(std::size_t row) const
{
    const Place& at = rows_[row];
    const Group& group = groups_[at.group];
    return at.pair < 0 ? idOf(group) : std::to_string(briefs_.pairs[group.pairs[static_cast<std::size_t>(at.pair)]].id);
}

std::int32_t ClashList::rowOf(PairId pair) const
{
    const auto at = briefs_.find(pair);
    return at == briefs_.pairs.end() ? -1 : pairRows_[static_cast<std::size_t>(at - briefs_.pairs.begin())];
}

std::ptrdiff_t ClashList::rowOf(const std::string& id) const
{
    if (!id.starts_with("g:"))
        return rowOf(static_cast<PairId>(std::atoll(id.c_str())));
    // A test's name may hold anything, so the number is what follows the last colon.
    const auto groups = groupsOf_.find(std::atoll(id.c_str() + id.rfind(':') + 1));
    if (groups != groupsOf_.end())
        for (const std::uint32_t g : groups->second)
            if (idOf(groups_[g]) == id)
                return groupRows_[g];
    return -1;
}

std::vector<PairId> ClashList::pairsOf(std::span<const std::string> ids) const
{
    std::set<std::ptrdiff_t> rows;
    for (const std::string& id : ids)
        if (const std::ptrdiff_t row = rowOf(id); row >= 0)
            rows.insert(row);
    std::vector<PairId> pairs;
    std::int64_t whole = -1; // the group all of whose pairs are taken
    for (const std::ptrdiff_t row : rows) {
        const Place& at = rows_[static_cast<std::size_t>(row)];
        const Group& group = groups_[at.group];
        if (at.pair < 0) {
            whole = at.group;
            for (const std::uint32_t i : group.pairs)
                pairs.push_back(briefs_.pairs[i].id);
        } else if (at.group != whole) {
            pairs.push_back(briefs_.pairs[group.pairs[static_cast<std::size_t>(at.pair)]].id);
        }
    }
    return pairs;
}

const ClashList::Group* ClashList::groupOf(const std::string& id) const
{
    const std::ptrdiff_t row = rowOf(id);
    return row < 0 ? nullptr : &groups_[rows_[static_cast<std::size_t>(row)].group];
}

std::size_t ClashList::groupsOf(std::span<const PairId> pairs) const
{
    std::set<std::uint32_t> groups;
    for (const PairId pair : pairs)
        if (const std::int32_t row = rowOf(pair); row >= 0)
            groups.insert(rows_[static_cast<std::size_t>(row)].group);
    return groups.size();
}

Result<std::string> ClashList::titleOf(const ClashesBook& book, const Group& group) const
{
    std::vector<std::int64_t> numbers{group.shared};
    for (std::size_t k = 0; k < std::min(group.pairs.size(), kNamesRead); ++k) {
        const PairBrief& p = briefs_.pairs[group.pairs[k]];
        numbers.push_back(p.left == group.shared ? p.right : p.left);
    }
    const auto elements = book.elements(numbers);
    if (!elements)
        return fail(elements.error());
    const auto name = [&](std::int64_t number) {
        const auto found = elements->find(number);
        return found == elements->end() ? std::string("?") : found->second.name;
    };
    std::vector<std::string> others;
    for (std::size_t i = 1; i < numbers.size(); ++i)
        others.push_back(name(numbers[i]));
    return clash::groupTitle(name(group.shared), others, group.pairs.size());
}

Result<std::vector<ClashRow>> ClashList::page(const ClashesBook& book, std::size_t first, std::size_t count) const
{
    std::vector<ClashRow> page;
    const std::size_t end = std::min(rows_.size(), first + count);
    std::vector<PairId> ids;
    for (std::size_t row = first; row < end; ++row) {
        const Group& group = groups_[rows_[row].group];
        ids.push_back(briefs_.pairs[group.pairs[static_cast<std::size_t>(std::max(0, rows_[row].pair))]].id);
    }
    auto pairs = book.get(ids);
    if (!pairs)
        return fail(pairs.error());
    std::size_t next = 0;
    for (std::size_t row = first; row < end; ++row) {
        const Place& at = rows_[row];
        const Group& group = groups_[at.group];
        ClashRow r;
        r.id = idOf(row);
        r.isGroup = at.pair < 0;
        r.pairs = group.pairs.size();
        r.number = static_cast<std::size_t>(at.pair + 1);
        if (next < pairs->size() && (*pairs)[next].id == ids[row - first])
            r.pair = std::move((*pairs)[next++]);
        const PairBrief& brief = briefs_.pairs[group.pairs[static_cast<std::size_t>(std::max(0, at.pair))]];
        const PairSide& other = brief.left == group.shared ? r.pair.right : r.pair.left;
        r.other = other.discipline;
        if (r.isGroup) {
            auto title = titleOf(book, group);
            if (!title)
                return fail(title.error());
            r.title = std::move(*title);
        } else {
            r.title = other.name;
        }
        page.push_back(std::move(r));
    }
    return page;
}

} // namespace wendrix::project
