#include "core/project/change_digest.h"

#include "core/base/html.h"
#include "core/base/text.h"
#include "core/project/change_report.h"
#include "core/project/change_words.h"

#include <fmt/format.h>

#include <algorithm>
#include <set>

namespace wendrix::project {

namespace {

/// Whether the pair has a side of the discipline, and the change is of the other.
bool isWith(const Pair& pair, const std::string& discipline)
{
    return pair.left.discipline == discipline || pair.right.discipline == discipline;
}

/// What is gathered over the changes of one row.
struct Gathered {
    std::set<PairId> caused, cured;
    std::optional<Neighbour> nearest;
    std::size_t near = 0;
    std::set<std::string> leftBehind, issues;

    [[nodiscard]] bool isAny() const
    {
        return !caused.empty() || !cured.empty() || nearest || !leftBehind.empty() || !issues.empty();
    }
};

class Gathering {
public:
    Gathering(const Project& project, const std::string& discipline, const Surroundings& surroundings, double distance)
        : project_(project), discipline_(discipline), surroundings_(surroundings), distance_(distance)
    {
    }

    /// Whom issues are assigned to that are for the discipline.
    Result<void> readPeople()
    {
        const auto disciplines = project_.setup().disciplines();
        if (!disciplines)
            return fail(disciplines.error());
        for (const Discipline& d : *disciplines)
            if (d.name == discipline_) {
                assignees_.insert({d.name, d.company});
                assignees_.insert(d.people.begin(), d.people.end());
            }
        assignees_.erase("");
        return {};
    }

    Result<Gathered> gather(std::span<const ChangeRecord> changes) const
    {
        Gathered all;
        for (const ChangeRecord& c : changes) {
            const auto met = recordsMet(project_, c);
            if (!met)
                return fail(met.error());
            for (const auto& [pairs, into] : {std::pair(&met->caused, &all.caused), std::pair(&met->cured, &all.cured)})
                for (const Pair& p : *pairs)
                    if (isWith(p, discipline_))
                        into->insert(p.id);
            for (const IssueBrief& issue : met->issues)
                if (assignees_.contains(issue.assignee))
                    all.issues.insert(issue.name() + " " + issue.title);
            if (c.discipline != discipline_ && c.mainKind() != Rekeyed && c.mainKind() != Redescribed)
                for (const Neighbour& n : surroundings_.near(c, distance_))
                    if (n.discipline == discipline_) {
                        ++all.near;
                        if (!all.nearest || n.distance < all.nearest->distance)
                            all.nearest = n;
                    }
            for (const LeftBehind& l : surroundings_.leftBehind(c))
                if (l.discipline == discipline_)
                    all.leftBehind.insert((l.isHole ? "hole " : "support ") + l.name);
        }
        return all;
    }

    [[nodiscard]] static std::vector<std::string> whyOf(const Gathered& g)
    {
        std::vector<std::string> why;
        if (!g.caused.empty())
            why.push_back(counted(g.caused.size(), "new clash", "new clashes") + " with its elements");
        if (!g.cured.empty())
            why.push_back(counted(g.cured.size(), "clash", "clashes") + " with its elements gone");
        for (const std::string& left : g.leftBehind)
            why.push_back(left + " has lost what it was for");
        for (const std::string& issue : g.issues)
            why.push_back("touches " + issue);
        if (g.nearest)
            why.push_back(
                (g.nearest->distance < 0.0005 ? "meets " : lengthInWords(Metres{g.nearest->distance}) + " from ") +
                g.nearest->name + (g.near > 1 ? " and " + std::to_string(g.near - 1) + " more" : ""));
        return why;
    }

private:
    const Project& project_;
    const std::string& discipline_;
    const Surroundings& surroundings_;
    double distance_;
    std::set<std::string> assignees_;
};

Markup listInHtml(const char* title, const std::vector<std::string>& lines)
{
    if (lines.empty())
        return {};
    Markup html = markup("<h2>{}</h2><ul>", title);
    for (const std::string& line : lines)
        html += markup("<li>{}</li>", line);
    return html + markup("</ul>");
}

} // namespace

Result<ChangeDigest> digestFor(const Project& project, const ChangeList& list, const std::string& discipline,
                               const Surroundings& surroundings, double distance, const WhoAndWhen& by,
                               Progress& progress)
{
    ChangeDigest digest;
    digest.project = project.name();
    digest.discipline = discipline;
    digest.distance = distance;
    digest.by = by;
    digest.changes = list.shown();
    auto compared = comparedInWords(project, list, true);
    const auto rows = list.page(project.changes(), 0, list.rowCount());
    Gathering work(project, discipline, surroundings, distance);
    const auto people = work.readPeople();
    if (const auto error = firstError(compared, rows, people))
        return fail(*error);
    digest.compared = std::move(*compared);
    std::set<std::string> leftBehind, issues;
    std::set<PairId> caused, cured;
    for (std::size_t i = 0; i < rows->size() && !progress.isCancelled(); ++i) {
        const ChangeRow& row = (*rows)[i];
        progress.report("Digest for " + discipline, i, rows->size(), "rows");
        if (row.isInGroup)
            continue;
        const auto changes = project.changes().get(list.keysOf({&row.id, 1}));
        if (!changes)
            return fail(changes.error());
        const auto gathered = work.gather(*changes);
        if (!gathered)
            return fail(gathered.error());
        if (!gathered->isAny())
            continue;
        digest.concerning += row.count;
        caused.insert(gathered->caused.begin(), gathered->caused.end());
        cured.insert(gathered->cured.begin(), gathered->cured.end());
        leftBehind.insert(gathered->leftBehind.begin(), gathered->leftBehind.end());
        issues.insert(gathered->issues.begin(), gathered->issues.end());
        ChangeDigest::Line line{titleOf(row),
                                measureInWords(row.first),
                                row.first.storey,
                                row.count,
                                Gathering::whyOf(*gathered),
                                gathered->caused.size(),
                                gathered->cured.size(),
                                0};
        line.weight = 100.0 * static_cast<double>(line.caused) +
                      50.0 * static_cast<double>(gathered->leftBehind.size() + gathered->issues.size()) +
                      10.0 * static_cast<double>(line.cured) +
                      (gathered->nearest ? 1 / (0.1 + gathered->nearest->distance) : 0);
        digest.lines.push_back(std::move(line));
    }
    std::stable_sort(digest.lines.begin(), digest.lines.end(),
                     [](const auto& a, const auto& b) { return a.weight > b.weight; });
    if (digest.lines.size() > ChangeDigest::kMostLines) {
        digest.linesLeftOut = digest.lines.size() - ChangeDigest::kMostLines;
        digest.lines.resize(ChangeDigest::kMostLines);
    }
    digest.caused = caused.size();
    digest.cured = cured.size();
    digest.leftBehind.assign(leftBehind.begin(), leftBehind.end());
    digest.issues.assign(issues.begin(), issues.end());
    return digest;
}

std::string toHtml(const ChangeDigest& d)
{
    Markup html = markup("<h1>What concerns {}</h1><p>{}</p><p>", d.discipline, d.project);
    for (const std::string& line : d.compared)
        html += markup("{}.<br>", line);
    html += markup("</p><p><b>{} of {} concern {}</b>: {} with its elements, {} gone; near means within {}.</p>",
                   d.concerning, counted(d.changes, "change", "changes"), d.discipline,
                   counted(d.caused, "new clash", "new clashes"), d.cured, lengthInWords(Metres{d.distance}));
    if (!d.lines.empty()) {
        html += markup("<table border='1' cellspacing='0' cellpadding='4' width='100%'><tr><th>What changed</th>"
                       "<th>Why it concerns it</th></tr>");
        for (const ChangeDigest::Line& line : d.lines)
            html += markup("<tr><td><b>{}</b><br>{}{}</td><td>{}</td></tr>", line.title, line.measure,
                           line.where.empty() ? Markup() : markup("<br><small>{}</small>", line.where),
                           joined(line.why, markup("<br>")));
        html += markup("</table>");
    }
    if (d.linesLeftOut > 0)
        html += markup("<p>{} of less weight; the list of changes has them.</p>",
                       counted(d.linesLeftOut, "more line", "more lines"));
    html += listInHtml("Left behind", d.leftBehind) + listInHtml("Issues touched", d.issues);
    html += markup("<p>Written by {}, {}.</p>", d.by.person, timeInWords(d.by.time));
    return pageOf("What concerns " + d.discipline, kPageStyle, html);
}

} // namespace wendrix::project
