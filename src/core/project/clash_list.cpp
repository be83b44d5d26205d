#include "core/project/clash_list.h"

#include "core/clash/grouping.h"
#include "core/clash/words.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numeric>
#include <set>

namespace wendrix::project {

namespace {

constexpr std::size_t kNamesRead = 40; // as many as tell what a group's others have in common

ClashCounts countsOf(const PairBriefs& briefs, const ClashChoice& choice)
{
    ClashCounts counts;
    std::vector<std::size_t> storeys(briefs.texts.size(), 0);
    const auto one = [](const PairBrief& p, ClashFilter filter) -> std::size_t {
        return ClashChoice::isIn(p, filter) ? 1 : 0;
    };
    for (const PairBrief& p : briefs.pairs) {
        counts.undecidedOfAll += one(p, ClashFilter::Undecided);
        if (!choice.isNarrowedTo(p))
            continue;
        counts.undecided += one(p, ClashFilter::Undecided);
        counts.isNew += one(p, ClashFilter::New);
        counts.stillThere += one(p, ClashFilter::StillThere);
        counts.back += one(p, ClashFilter::Back);
        counts.gone += one(p, ClashFilter::Gone);
        counts.goneNow += one(p, ClashFilter::GoneNow);
        counts.notTested += one(p, ClashFilter::NotTested);
        counts.there += one(p, ClashFilter::There);
        storeys[p.storey] += choice.isWanted(p) ? 1 : 0;
    }
    for (std::size_t i = 0; i < storeys.size(); ++i)
        if (storeys[i] > 0)
            counts.byStorey[briefs.texts[i]] = storeys[i];
    return counts;
}

int millimetres(const PairBrief& p) { return static_cast<int>(std::lround(p.missing * 1000.0f)); }

/// Pairs that hang together, each no farther from the next than kNear: of each the number of its bunch.
std::vector<std::uint32_t> bunchesOf(const PairBriefs& briefs, const std::vector<std::uint32_t>& pairs)
{
    std::vector<std::uint32_t> parent(pairs.size());
    std::iota(parent.begin(), parent.end(), 0u);
    const auto root = [&](std::uint32_t i) {
        while (parent[i] != i)
            i = parent[i] = parent[parent[i]];
        return i;
    };
    // Cells as wide as what is near: only what lies in one of the 27 around can be.
    using Cell = std::array<std::int32_t, 3>;
    std::map<Cell, std::vector<std::uint32_t>> cells;
    const auto cellOf = [&](std::uint32_t i) {
        Cell cell{};
        for (std::size_t k = 0; k < 3; ++k)
            cell[k] = static_cast<std::int32_t>(std::floor(briefs.pairs[pairs[i]].place[k] / ClashQuestion::kNear));
        return cell;
    };
    const auto areNear = [&](std::uint32_t i, std::uint32_t j) {
        double sum = 0;
        for (std::size_t k = 0; k < 3; ++k) {
            const double d = static_cast<double>(briefs.pairs[pairs[i]].place[k]) - briefs.pairs[pairs[j]].place[k];
            sum += d * d;
        }
        return sum <= ClashQuestion::kNear * ClashQuestion::kNear;
    };
    for (std::uint32_t i = 0; i < pairs.size(); ++i) {
        const Cell own = cellOf(i);
        for (std::int32_t x = -1; x <= 1; ++x)
            for (std::int32_t y = -1; y <= 1; ++y)
                for (std::int32_t z = -1; z <= 1; ++z) {
                    const auto at = cells.find({own[0] + x, own[1] + y, own[2] + z});
                    if (at == cells.end())
                        continue;
                    for (const std::uint32_t j : at->second)
                        if (root(i) != root(j) && areNear(i, j))
                            parent[root(j)] = root(i);
                }
        cells[own].push_back(i);
    }
    for (std::uint32_t i = 0; i < pairs.size(); ++i)
        parent[i] = root(i);
    return parent;
}

std::string placeInWords(const PairBriefs& briefs, const PairBrief& p)
{
    const std::string &storey = briefs.texts[p.storey], &bay = briefs.texts[p.bay];
    return (storey.empty() ? std::string("No storey") : storey) + (bay.empty() ? "" : " · " + bay);
}

/// What stands above the groups of a pair; nothing where groups stand by themselves.
std::optional<std::string> sectionOf(const PairBriefs& briefs, const PairBrief& p, ClashOrder order)
{
    const auto text = [&](std::uint32_t own, const char* otherwise) {
        return briefs.texts[own].empty() ? std::string(otherwise) : briefs.texts[own];
    };
    const auto typeOf = [&](std::uint32_t element) {
        const ElementBrief& e = briefs.elements[element];
        return briefs.texts[e.type].empty() ? text(e.className, "No type") : briefs.texts[e.type];
    };
    switch (order) {
    case ClashOrder::Place:
        return placeInWords(briefs, p);
    case ClashOrder::LeftType:
        return typeOf(p.leftElement);
    case ClashOrder::RightType:
        return typeOf(p.rightElement);
    case ClashOrder::LeftSystem:
        return text(briefs.elements[p.leftElement].system, "No system");
    case ClashOrder::RightSystem:
        return text(briefs.elements[p.rightElement].system, "No system");
    case ClashOrder::Test:
        return text(p.test, "No test");
    case ClashOrder::Fewest:
    case ClashOrder::LeftElement:
    case ClashOrder::RightElement:
    case ClashOrder::Nearness:
        break;
    }
    return {};
}

} // namespace

ClashList::ClashList(PairBriefs briefs, const ClashQuestion& question) : briefs_(std::move(briefs)), question_(question)
{
    const ClashChoice choice(briefs_, question_);
    counts_ = countsOf(briefs_, choice);
    std::vector<std::uint32_t> wanted;
    for (std::uint32_t i = 0; i < briefs_.pairs.size(); ++i)
        if (choice.isWanted(briefs_.pairs[i]) && choice.isOnStorey(briefs_.pairs[i]))
            wanted.push_back(i);
    shown_ = wanted.size();
    // Sections by what they are called, largest first; bunches by where their first pair is.
    std::map<std::string, std::vector<std::uint32_t>> sections;
    if (question_.order == ClashOrder::Nearness) {
        const auto bunches = bunchesOf(briefs_, wanted);
        std::map<std::uint32_t, std::vector<std::uint32_t>> byBunch;
        for (std::uint32_t k = 0; k < wanted.size(); ++k)
            byBunch[bunches[k]].push_back(wanted[k]);
        std::map<std::string, int> used;
        for (auto& [bunch, pairs] : byBunch) {
            const std::string place = placeInWords(briefs_, briefs_.pairs[pairs[0]]);
            const int number = ++used[place];
            sections["Around " + place + (number > 1 ? ", " + std::to_string(number) : "")] = std::move(pairs);
        }
    } else {
        for (const std::uint32_t i : wanted)
            sections[sectionOf(briefs_, briefs_.pairs[i], question_.order).value_or("")].push_back(i);
    }
    std::vector<std::pair<const std::string*, const std::vector<std::uint32_t>*>> order;
    for (const auto& [title, pairs] : sections)
        order.emplace_back(&title, &pairs);
    std::stable_sort(order.begin(), order.end(),
                     [](const auto& a, const auto& b) { return a.second->size() > b.second->size(); });
    for (const auto& [title, pairs] : order) {
        const auto number = static_cast<std::uint32_t>(sections_.size());
        const auto first = static_cast<std::uint32_t>(groups_.size());
        group(number, *pairs);
        sections_.push_back({*title, first, static_cast<std::uint32_t>(groups_.size()) - first, pairs->size()});
    }
    if (sections_.size() == 1 && sections_[0].title.empty())
        sections_.clear();
    writeRows();
}

/// Groups of a section: what settles most first, then what is deepest.
void ClashList::group(std::uint32_t section, const std::vector<std::uint32_t>& pairs)
{
    const std::size_t first = groups_.size();
    std::map<std::uint32_t, std::vector<std::uint32_t>> byTest;
    for (const std::uint32_t i : pairs)
        byTest[briefs_.pairs[i].test].push_back(i);
    for (const auto& [test, members] : byTest) {
        std::vector<clash::Group> made;
        if (question_.order == ClashOrder::LeftElement || question_.order == ClashOrder::RightElement) {
            std::map<std::int64_t, std::vector<std::uint32_t>> byElement;
            for (std::uint32_t k = 0; k < members.size(); ++k) {
                const PairBrief& p = briefs_.pairs[members[k]];
                byElement[question_.order == ClashOrder::LeftElement ? p.left : p.right].push_back(k);
            }
            for (auto& [element, own] : byElement)
                made.push_back({element, std::move(own)});
        } else {
            std::vector<clash::PairEnds> ends;
            ends.reserve(members.size());
            for (const std::uint32_t i : members)
                ends.push_back({briefs_.pairs[i].left, briefs_.pairs[i].right});
            made = clash::groupBySharedElement(ends);
        }
        for (clash::Group& g : made) {
            Group group{g.shared, test, section, std::move(g.pairs)};
            for (std::uint32_t& i : group.pairs)
                i = members[i];
            // Deepest first; what differs by less than a millimetre goes by the other element.
            const auto other = [&](std::uint32_t i) {
                return briefs_.pairs[i].left == group.shared ? briefs_.pairs[i].right : briefs_.pairs[i].left;
            };
            std::sort(group.pairs.begin(), group.pairs.end(), [&](std::uint32_t a, std::uint32_t b) {
                const int da = millimetres(briefs_.pairs[a]), db = millimetres(briefs_.pairs[b]);
                return da != db ? da > db : other(a) < other(b);
            });
            groups_.push_back(std::move(group));
        }
    }
    std::stable_sort(groups_.begin() + static_cast<std::ptrdiff_t>(first), groups_.end(),
                     [&](const Group& a, const Group& b) {
                         return a.pairs.size() != b.pairs.size()
                                    ? a.pairs.size() > b.pairs.size()
                                    : millimetres(briefs_.pairs[a.pairs[0]]) > millimetres(briefs_.pairs[b.pairs[0]]);
                     });
}

void ClashList::writeRows()
{
    rows_.reserve(sections_.size() + groups_.size() + shown_);
    pairRows_.assign(briefs_.pairs.size(), -1);
    groupRows_.reserve(groups_.size());
    for (std::uint32_t g = 0; g < groups_.size(); ++g) {
        if (!sections_.empty() && sections_[groups_[g].section].firstGroup == g) {
            sectionRows_.push_back(static_cast<std::uint32_t>(rows_.size()));
            rows_.push_back({g, -1, static_cast<std::int32_t>(groups_[g].section)});
        }
        const auto head = static_cast<std::uint32_t>(rows_.size());
        rows_.push_back({g, -1, -1});
        groupRows_.push_back(head);
        groupsOf_[groups_[g].shared].push_back(g);
        const bool isAlone = groups_[g].pairs.size() == 1;
        for (std::uint32_t k = 0; k < groups_[g].pairs.size(); ++k) {
            pairRows_[groups_[g].pairs[k]] = static_cast<std::int32_t>(isAlone ? head : rows_.size());
            if (!isAlone)
                rows_.push_back({g, static_cast<std::int32_t>(k), -1});
        }
    }
}

std::string ClashList::idOf(const Group& group) const
{
    return "g:" + (sections_.empty() ? std::string() : sections_[group.section].title) + ":" +
           briefs_.texts[group.test] + ":" + std::to_string(group.shared);
}

std::string ClashList::idOf(std::size_t row) const
{
    const Place& at = rows_[row];
    const Group& group = groups_[at.group];
    if (at.section >= 0)
        return "s:" + sections_[static_cast<std::size_t>(at.section)].title;
    return at.pair < 0 ? idOf(group) : std::to_string(briefs_.pairs[group.pairs[static_cast<std::size_t>(at.pair)]].id);
}

std::int32_t ClashList::rowOf(PairId pair) const
{
    const auto at = briefs_.find(pair);
    return at == briefs_.pairs.end() ? -1 : pairRows_[static_cast<std::size_t>(at - briefs_.pairs.begin())];
}

std::ptrdiff_t ClashList::rowOf(const std::string& id) const
{
    if (id.starts_with("s:")) {
        for (std::size_t k = 0; k < sections_.size(); ++k)
            if (id.compare(2, std::string::npos, sections_[k].title) == 0)
                return sectionRows_[k];
        return -1;
    }
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
    std::int64_t upTo = -1; // groups all of whose pairs are taken already
    const auto takeWhole = [&](std::uint32_t g) {
        if (static_cast<std::int64_t>(g) <= upTo)
            return;
        upTo = g;
        for (const std::uint32_t i : groups_[g].pairs)
            pairs.push_back(briefs_.pairs[i].id);
    };
    for (const std::ptrdiff_t row : rows) {
        const Place& at = rows_[static_cast<std::size_t>(row)];
        if (at.section >= 0) {
            const Section& section = sections_[static_cast<std::size_t>(at.section)];
            for (std::uint32_t g = section.firstGroup; g < section.firstGroup + section.groups; ++g)
                takeWhole(g);
        } else if (at.pair < 0) {
            takeWhole(at.group);
        } else if (static_cast<std::int64_t>(at.group) > upTo) {
            pairs.push_back(briefs_.pairs[groups_[at.group].pairs[static_cast<std::size_t>(at.pair)]].id);
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
    return clash::groupTitle(name(group.shared), others, group.pairs.size(), briefs_.pairs[group.pairs[0]].kind);
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
        r.isSection = at.section >= 0;
        r.isGroup = at.pair < 0 && !r.isSection;
        r.pairs = r.isSection ? sections_[static_cast<std::size_t>(at.section)].pairs : group.pairs.size();
        r.groups = r.isSection ? sections_[static_cast<std::size_t>(at.section)].groups : 0;
        r.number = static_cast<std::size_t>(at.pair + 1);
        if (next < pairs->size() && (*pairs)[next].id == ids[row - first])
            r.pair = std::move((*pairs)[next++]);
        const PairBrief& brief = briefs_.pairs[group.pairs[static_cast<std::size_t>(std::max(0, at.pair))]];
        const PairSide& other = brief.left == group.shared ? r.pair.right : r.pair.left;
        r.other = other.discipline;
        if (r.isSection) {
            r.title = sections_[static_cast<std::size_t>(at.section)].title;
        } else if (r.isGroup) {
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
