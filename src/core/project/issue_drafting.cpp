#include "core/project/issue_making.h"

#include "core/base/text.h"
#include "core/clash/test_sheet.h"
#include "core/clash/words.h"
#include "core/project/test_sheets.h"

#include <algorithm>

/// What issues begin with.
namespace wendrix::project {

namespace {

std::string joined(const std::set<std::string>& words, const char* between)
{
    std::string all;
    for (const std::string& word : words)
        all += (all.empty() ? "" : between) + word;
    return all;
}

/// Storeys and bays in one: "Level 2, bay B-C / 4", or every bay once; past three only how many.
std::string placesInWords(const std::set<std::string>& storeys, const std::set<std::string>& bays)
{
    const std::string where = joined(storeys, ", ");
    if (bays.empty())
        return where;
    const std::string in = bays.size() == 1   ? "bay " + *bays.begin()
                           : bays.size() <= 3 ? "bays " + joined(bays, "; ")
                                              : std::to_string(bays.size()) + " bays";
    return where.empty() ? in : where + ", " + in;
}

} // namespace

Weight weightOf(double depth)
{
    return depth > 0.1 ? Weight{3, "High"} : depth > 0.02 ? Weight{2, "Normal"} : Weight{1, "Low"};
}

std::string whereInWords(std::span<const Pair> pairs)
{
    std::set<std::string> storeys, bays; // where the reference has no storeys or no grid there are none
    for (const Pair& p : pairs) {
        if (!p.storey.empty())
            storeys.insert(p.storey);
        if (!p.bay.empty())
            bays.insert(p.bay);
    }
    return placesInWords(storeys, bays);
}

std::string elevationsInWords(std::span<const Pair> pairs)
{
    constexpr double kSame = 0.005; // metres
    const auto [low, high] = std::minmax_element(pairs.begin(), pairs.end(),
                                                 [](const Pair& a, const Pair& b) { return a.point.z < b.point.z; });
    return elevationInWords(Metres{low->point.z}) +
           (high->point.z - low->point.z > kSame ? " to " + elevationInWords(Metres{high->point.z}) : "");
}

issues::Issue draftIssue(const std::string& title, std::span<const Pair> pairs, const Timestamp& now,
                         const issues::IssueTemplate& with, const std::string& decider)
{
    const Pair& first = pairs[0];
    std::set<std::string> storeys, bays, revisions;
    std::set<clash::Kind> kinds;
    std::string lines;
    for (const Pair& p : pairs) {
        if (!p.storey.empty())
            storeys.insert(p.storey);
        if (!p.bay.empty())
            bays.insert(p.bay);
        kinds.insert(p.kind);
        revisions.insert({p.left.memberTitle(), p.right.memberTitle()});
        lines += (lines.empty() ? "" : "\n") + p.left.name + " and " + p.right.name + ": " + clash::inWords(p.extent());
    }
    const auto side = [&](PairSide Pair::*of) {
        const bool isOne = std::all_of(pairs.begin(), pairs.end(),
                                       [&](const Pair& p) { return (p.*of).element == (first.*of).element; });
        return isOne ? (first.*of).name : std::to_string(pairs.size()) + " elements";
    };
    issues::Ground ground;
    for (const clash::Kind kind : kinds)
        ground.kinds.emplace_back(clash::nameOf(kind));
    ground.words = {{"title", title},
                    {"left", side(&Pair::left)},
                    {"right", side(&Pair::right)},
                    {"where", placesInWords(storeys, bays)},
                    {"storey", joined(storeys, ", ")},
                    {"bay", joined(bays, "; ")},
                    {"elevation", elevationsInWords(pairs)},
                    {"depth", clash::inWords(first.extent())},
                    {"kind", joined({ground.kinds.begin(), ground.kinds.end()}, ", ")},
                    {"test", first.test},
                    {"revisions", joined(revisions, ", ")},
                    {"count", std::to_string(pairs.size())},
                    {"pairs", lines},
                    {"decider", decider.empty() ? first.right.discipline : decider}};
    ground.sides = {{"left", first.left.discipline}, {"right", first.right.discipline}};
    ground.weight = weightOf(first.extent().missing()).priority;
    ground.location = {joined(storeys, ", "), joined(bays, "; "), {}};
    return issues::drafted(with, ground, now);
}

std::vector<std::string> assigneesOf(const Project& project)
{
    std::set<std::string> all;
    for (const Discipline& d : orNothing(project.setup().disciplines())) {
        all.insert(d.name);
        all.insert(d.people.begin(), d.people.end());
    }
    for (const PersonGroup& g : orNothing(project.setup().personGroups())) {
        all.insert(g.name);
        all.insert(g.people.begin(), g.people.end());
    }
    return {all.begin(), all.end()};
}

issues::Issue draftIssue(const Material& m, const Timestamp& now, const issues::IssueTemplate& with)
{
    std::string lines, kinds;
    for (const std::string& line : m.elements)
        lines += (lines.empty() ? "" : "\n") + line;
    if (m.more > 0)
        lines += "\nand " + std::to_string(m.more) + " more";
    for (const std::string& kind : m.kinds)
        kinds += (kinds.empty() ? "" : ", ") + kind;
    const std::size_t count = m.elements.size() + m.more;
    const std::string storeys = joined(m.storeys, ", "), bays = joined(m.bays, "; ");
    return issues::drafted(with,
                           {{{"title", m.title},
                             {"said", m.said},
                             {"kind", kinds},
                             {"discipline", m.discipline},
                             {"revisions", m.revisions},
                             {"where", placesInWords(m.storeys, m.bays)},
                             {"storey", storeys},
                             {"bay", bays},
                             {"count", count == 0 ? std::string() : std::to_string(count)},
                             {"elements", lines}},
                            {},
                            m.kinds,
                            {},
                            {storeys, bays, {}}},
                           now);
}

void assignBySets(const Project& project, const issues::IssueTemplate& with, const sets::Elements& elements,
                  std::span<const federation::Member> members, std::span<issues::Issue* const> several)
{
    std::set<const issues::Issue*> given;
    for (const auto& [set, assignee] : with.assigneeFor) {
        const auto parsed = sets::parse(set);
        if (!parsed.expression)
            continue;
        const auto knowledge = knowledgeFor(project, *parsed.expression);
        const auto answer = elements.in(*parsed.expression, knowledge.value_or(sets::Knowledge{}));
        const auto isIn = [&](const ElementRef& e) {
            for (std::size_t m = 0; m < members.size() && m < answer.picked.size(); ++m)
                if (const auto at = members[m].find(e); at && *at < answer.picked[m].size())
                    return answer.picked[m][*at] != 0;
            return false;
        };
        for (issues::Issue* issue : several)
            for (const issues::Viewpoint& v : issue->viewpoints)
                if (!given.contains(issue) && std::any_of(v.selection.begin(), v.selection.end(), isIn)) {
                    issue->assignee = assignee;
                    given.insert(issue);
                }
    }
}

} // namespace wendrix::project
