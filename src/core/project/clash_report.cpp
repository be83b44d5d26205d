#include "core/project/clash_report.h"

#include "core/base/html.h"
#include "core/base/text.h"
#include "core/clash/words.h"
#include "core/project/issue_making.h"

#include <fmt/format.h>

#include <algorithm>

namespace wendrix::project {

namespace {

std::string decisionInWords(std::span<const Pair> pairs)
{
    const auto isSame = [&](const Pair& p) {
        return p.decision == pairs[0].decision && p.reason == pairs[0].reason && p.until == pairs[0].until;
    };
    if (!std::all_of(pairs.begin(), pairs.end(), isSame))
        return "decided pair by pair";
    const Pair& p = pairs[0];
    if (p.decision.empty())
        return p.returned.empty() ? "undecided" : "undecided: " + p.returned;
    return p.decision + (p.reason.empty() ? "" : ": " + p.reason) + ", " + p.decidedBy.person + ", " +
           dayInWords(p.decidedBy.time) + (p.until.empty() ? "" : ", until " + dayInWords(p.until));
}

ClashReport::Group groupOf(std::vector<Pair> pairs, std::string title, const std::map<std::string, std::string>& issues)
{
    ClashReport::Group group;
    group.title = std::move(title);
    group.where = whereInWords(pairs);
    std::size_t tied = 0;
    for (const Pair& p : pairs) {
        tied += p.issue.empty() || p.issue != pairs[0].issue ? 0 : 1;
    }
    group.elevation = elevationsInWords(pairs);
    group.extent = clash::inWords(pairs[0].extent());
    group.decision = decisionInWords(pairs);
    if (const auto issue = issues.find(pairs[0].issue); issue != issues.end() && tied == pairs.size())
        group.issue = issue->second;
    group.pairs = std::move(pairs);
    return group;
}

Markup sideInHtml(const PairSide& side)
{
    Markup text = markup("{}<br><small>{} · {}", side.name, side.memberTitle(), classInWords(side.className));
    for (const std::string& more : {side.type, side.system})
        if (!more.empty())
            text += markup(" · {}", more);
    return text + markup("<br><tt>{}</tt></small>", side.element.guid);
}

} // namespace

std::string inWords(const ClashQuestion& q)
{
    constexpr std::pair<ClashFilter, const char*> kWords[] = {{ClashFilter::Undecided, "pairs nobody has decided yet"},
                                                              {ClashFilter::New, "new pairs"},
                                                              {ClashFilter::StillThere, "pairs that are still there"},
                                                              {ClashFilter::Back, "pairs that are back"},
                                                              {ClashFilter::Gone, "pairs that are gone"},
                                                              {ClashFilter::GoneNow, "pairs that are gone now"},
                                                              {ClashFilter::NotTested, "pairs that were not tested"},
                                                              {ClashFilter::There, "all pairs that are there"}};
    std::string words;
    for (const auto& [filter, text] : kWords)
        if (filter == q.filter)
            words = text;
    if (!q.storey.empty())
        words += " on " + q.storey;
    if (!q.bay.empty())
        words += " in bay " + q.bay;
    if (!q.discipline.empty())
        words += ", " + q.discipline + (q.against.empty() ? " with any other" : " against " + q.against);
    for (const auto& [what, value] : {std::pair{"class ", &q.className}, std::pair{"system ", &q.system},
                                      std::pair{"test ", &q.test}, std::pair{"decided by ", &q.decider}})
        if (!value->empty())
            words += std::string(", ") + what + *value;
    if (q.decision)
        words += *q.decision == PairBrief::Decision::None       ? ", undecided"
                 : *q.decision == PairBrief::Decision::Fix      ? ", to be fixed"
                 : *q.decision == PairBrief::Decision::LetStand ? ", let stand"
                                                                : ", put off";
    if (q.cause)
        words += ", of one cause";
    return words;
}

Result<ClashReport> reportOf(const Project& project, const ClashList& list, const WhoAndWhen& by)
{
    const auto run = project.clashes().lastRun();
    const auto issues = project.issues().all();
    if (const auto error = firstError(run, issues))
        return fail(*error);
    std::map<std::string, std::string> numbers;
    for (const issues::Issue& issue : *issues)
        numbers[issue.uuid] = issue.number;
    ClashReport report;
    report.project = project.name();
    report.narrowed = inWords(list.question());
    report.by = by;
    report.pairs = list.pairCount();
    if (*run)
        report.run =
            "Run " + std::to_string((*run)->id) + ", " + dayInWords((*run)->by.time) + ": " + (*run)->inWords();
    for (std::size_t row = 0; row < list.rowCount(); ++row) {
        const std::string id = list.idOf(row);
        const ClashList::Group* group = list.groupOf(id);
        if (group == nullptr || !list.isGroup(row))
            continue;
        if (report.groups.size() == ClashReport::kMostGroups) {
            ++report.groupsLeftOut;
            continue;
        }
        const auto ids = list.pairsOf(std::span(&id, 1));
        auto pairs = project.clashes().get(ids);
        const auto title = list.titleOf(project.clashes(), *group);
        if (const auto error = firstError(pairs, title))
            return fail(*error);
        if (!pairs->empty())
            report.groups.push_back(groupOf(std::move(*pairs), *title, numbers));
    }
    return report;
}

std::string toHtml(const ClashReport& r)
{
    Markup html =
        markup("<h1>Clashes: {}</h1><p>{} in {}: {}.</p><p>{}</p><p>Written by {}, {}.</p>", r.project,
               counted(r.pairs, "pair", "pairs"), counted(r.groups.size() + r.groupsLeftOut, "group", "groups"),
               r.narrowed, r.run, r.by.person, timeInWords(r.by.time));
    for (std::size_t g = 0; g < r.groups.size(); ++g) {
        const ClashReport::Group& group = r.groups[g];
        html += markup("<h2>{}. {}</h2><p>{}{}{} m · {} · {}{}</p>", g + 1, group.title, group.where,
                       group.where.empty() ? "" : " · ", group.elevation, counted(group.pairs.size(), "pair", "pairs"),
                       group.decision, group.issue.empty() ? "" : " · " + group.issue);
        if (!group.picture.empty())
            html += markup("<p><img src='{}' width='640' alt='{}'></p>", group.picture, group.title);
        html += markup("<table border='1' cellspacing='0' cellpadding='4' width='100%'><tr><th></th><th>How much</th>"
                       "<th>Left</th><th>Right</th><th>State</th></tr>");
        for (std::size_t i = 0; i < std::min(ClashReport::kMostRows, group.pairs.size()); ++i) {
            const Pair& p = group.pairs[i];
            html += markup("<tr><td>{}</td><td>{}<br><small>{} · {}</small></td><td>{}</td><td>{}</td><td>{}</td></tr>",
                           i + 1, clash::inWords(p.extent()), p.test, p.bay, sideInHtml(p.left), sideInHtml(p.right),
                           p.stateInWords());
        }
        html += markup("</table>");
        if (group.pairs.size() > ClashReport::kMostRows)
            html += markup("<p>The first {} of {}; the table of the list has them all.</p>", ClashReport::kMostRows,
                           group.pairs.size());
    }
    if (r.groupsLeftOut > 0)
        html += markup("<p>{} not shown: narrow the list, or write its table, which has them all.</p>",
                       counted(r.groupsLeftOut, "more group is", "more groups are"));
    return pageOf("Clashes " + r.project, kPageStyle, html);
}

} // namespace wendrix::project
