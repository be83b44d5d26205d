#include "core/project/change_report.h"

#include "core/base/html.h"
#include "core/base/text.h"
#include "core/project/change_words.h"

#include <fmt/format.h>

#include <algorithm>

namespace wendrix::project {

namespace {

Markup rowInHtml(const ChangeRecord& c)
{
    std::vector<std::string> what, where;
    if (std::string measure = measureInWords(c); !measure.empty())
        what.push_back(std::move(measure));
    for (const changes::FieldChange& f : c.fields)
        what.push_back(inWords(f));
    for (const std::string& part : {c.storey, c.system, c.zone})
        if (!part.empty())
            where.push_back(part);
    return markup("<tr><td>{}<br><small>{}{}</small><br><tt>{}</tt></td><td>{}</td><td>{}</td><td>{}</td><td>{}</td>"
                  "</tr>",
                  c.name, classInWords(c.className), c.type.empty() ? "" : " · " + c.type, c.element.guid,
                  kindsInWords(c.kinds), joined(what, markup("<br>")), joined(where, markup(" · ")),
                  c.review.empty() ? "not looked at" : c.review);
}

} // namespace

Result<std::vector<std::string>> comparedInWords(const Project& project, const ChangeList& list, bool isInFull)
{
    std::vector<std::string> lines;
    for (const ComparisonRecord& k : list.comparisons()) {
        const auto from = project.deliveries().find(k.from), to = project.deliveries().find(k.to);
        if (const auto error = firstError(from, to))
            return fail(*error);
        lines.push_back(k.discipline + " " + (*from ? (*from)->revision : "?") + " with " +
                        (*to ? (*to)->revision : "?"));
        if (isInFull)
            lines.back() += ": " + counted(k.total, "change", "changes") + ", " +
                            counted(k.unchanged, "element", "elements") + " unchanged" +
                            (k.leftOut > 0 ? ", " + std::to_string(k.leftOut) + " that do not count" : "");
    }
    return lines;
}

Result<ChangeReport> reportOf(const Project& project, const ChangeList& list, const WhoAndWhen& by)
{
    ChangeReport report;
    report.project = project.name();
    report.narrowed = inWords(list.question());
    report.by = by;
    report.changes = list.shown();
    auto compared = comparedInWords(project, list, true);
    if (!compared)
        return fail(compared.error());
    report.compared = std::move(*compared);
    for (const ChangeKind kind : kAllChangeKinds)
        if (const std::size_t n = list.countOf(kind); n > 0)
            report.counts[kind] = n;
    const auto rows = list.page(project.changes(), 0, list.rowCount());
    if (!rows)
        return fail(rows.error());
    for (const ChangeRow& row : *rows) {
        if (row.isInGroup) // stands in its group's part
            continue;
        if (report.parts.size() == ChangeReport::kMostParts) {
            ++report.partsLeftOut;
            continue;
        }
        const auto keys = list.keysOf({&row.id, 1});
        auto changes = project.changes().get(keys);
        if (!changes)
            return fail(changes.error());
        report.parts.push_back({titleOf(row), measureInWords(row.first), std::move(*changes), {}});
    }
    return report;
}

std::string toHtml(const ChangeReport& r)
{
    std::string counts;
    for (const ChangeKind kind : kAllChangeKinds)
        if (const auto found = r.counts.find(kind); found != r.counts.end())
            counts += (counts.empty() ? "" : ", ") + std::to_string(found->second) + " " + nameOf(kind);
    Markup html =
        markup("<h1>Changes: {}</h1><p>{}: {}.</p><p>Compared:<br>{}</p><p>By kind: {}.</p><p>Written by {}, "
               "{}.</p>",
               r.project, counted(r.changes, "change", "changes"), r.narrowed, joined(r.compared, markup("<br>")),
               counts.empty() ? "none" : counts, r.by.person, timeInWords(r.by.time));
    for (std::size_t i = 0; i < r.parts.size(); ++i) {
        const ChangeReport::Part& part = r.parts[i];
        html += markup("<h2>{}. {}</h2><p>{}</p>", i + 1, part.title, part.measure);
        if (!part.picture.empty())
            html += markup("<p><img src='{}' width='640' alt='{}'></p>", part.picture, part.title);
        html +=
            markup("<table border='1' cellspacing='0' cellpadding='4' width='100%'><tr><th>Element</th><th>Kind</th>"
                   "<th>What happened</th><th>Where</th><th>Review</th></tr>");
        for (std::size_t k = 0; k < std::min(ChangeReport::kMostRows, part.changes.size()); ++k)
            html += rowInHtml(part.changes[k]);
        html += markup("</table>");
        if (part.changes.size() > ChangeReport::kMostRows)
            html += markup("<p>The first {} of {}; the table of the list has them all.</p>", ChangeReport::kMostRows,
                           part.changes.size());
    }
    if (r.partsLeftOut > 0)
        html += markup("<p>{} not shown: narrow the list, or write its table, which has them all.</p>",
                       counted(r.partsLeftOut, "more part is", "more parts are"));
    return pageOf("Changes " + r.project, kPageStyle, html);
}

} // namespace wendrix::project
