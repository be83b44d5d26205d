#include "core/checks/report.h"

#include "core/base/csv.h"
#include "core/base/html.h"
#include "core/base/text.h"

#include <fmt/format.h>

#include <array>

namespace wendrix::checks {

namespace {

constexpr std::size_t kMostListed = 200; // a page that can still be read; the CSV has them all

std::string rowOf(const std::array<std::string_view, 9>& cells)
{
    std::string line = csvCell(cells[0]);
    for (std::size_t i = 1; i < cells.size(); ++i)
        line += "," + csvCell(cells[i]);
    return line + "\r\n";
}

void writeConcerned(Markup& html, const std::vector<Concerned>& concerned, std::size_t count)
{
    if (concerned.empty())
        return;
    html +=
        markup("<table border='1' cellspacing='0' cellpadding='4' width='100%'><tr><th align='left'>Element</th><th "
               "align='left'>Class</th><th align='left'>GlobalId</th><th align='left'>What</th></tr>");
    for (std::size_t i = 0; i < std::min(kMostListed, concerned.size()); ++i) {
        const Concerned& c = concerned[i];
        html +=
            markup("<tr><td>{}</td><td>{}</td><td><tt>{}</tt></td><td>{}</td></tr>",
                   c.name.empty() ? fmt::format("#{}", c.entity) : c.name, classInWords(c.className), c.guid, c.why);
    }
    html += markup("</table>");
    if (count > kMostListed)
        html += markup("<p>The first {} of {}; the CSV lists more.</p>", kMostListed, count);
}

std::string verdictInWords(const SpecificationResult& s)
{
    switch (s.verdict) {
    case Verdict::Met:
        return "met";
    case Verdict::Unmet:
        return "not met";
    case Verdict::NotForThisSchema:
        return "not for this schema";
    }
    return {};
}

void writeModel(Markup& html, const ModelReport& model)
{
    const QualityReport::Facts& f = model.quality.facts;
    html +=
        markup("<h2>{}</h2><p><b>{}.</b></p><p>{} · {} · {} · {} · {}{}</p>", model.fileName, model.quality.inWords(),
               f.schema, f.viewDefinition.empty() ? "no view definition" : f.viewDefinition,
               f.lengthUnit.empty() ? "no length unit" : "lengths in " + f.lengthUnit,
               counted(f.elements, "element", "elements"), counted(f.storeys, "storey", "storeys"),
               f.unbuilt > 0 ? fmt::format(" · {} not built", f.unbuilt) : "");
    for (const Finding& finding : model.quality.findings) {
        html += markup("<h3>{}: {}{}</h3><p>{}</p>", severityInWords(finding.severity), finding.title,
                       finding.count > 1 ? fmt::format(" ({})", finding.count) : "", finding.advice);
        writeConcerned(html, finding.concerned, finding.count);
    }
    for (const QualityReport::OfIds& ids : model.quality.ids) {
        html += markup("<h2>{}</h2>", ids.title.empty() ? "Information delivery specification" : ids.title);
        for (const SpecificationResult& s : ids.specifications) {
            html += markup("<h3>{}: {} ({})</h3><p>{}</p>", verdictInWords(s), s.name,
                           counted(s.applicable, "element", "elements"),
                           !s.why.empty()            ? s.why
                           : !s.instructions.empty() ? s.instructions
                                                     : s.description);
            writeConcerned(html, s.failed, s.failed.size());
        }
        for (const Diagnostic& note : ids.notes)
            html += markup("<p>Left out: {} {}</p>", note.entity, note.message);
    }
}

} // namespace

std::string severityInWords(Severity severity)
{
    return severity == Severity::Error ? "fault" : severity == Severity::Warning ? "warning" : "note";
}

std::string toHtml(const DeliveryReport& r)
{
    Markup html =
        markup("<h1>Quality report: {}</h1><p>{} · “{}” · from {}, delivered {}</p><p>Looked at by {}, {}.</p>",
               r.delivery, r.project, r.title, r.sender, timeInWords(r.delivered), r.by.person, timeInWords(r.by.time));
    for (const ModelReport& model : r.models)
        writeModel(html, model);
    return pageOf("Quality report " + r.delivery, kPageStyle, html);
}

std::string toCsv(const DeliveryReport& r)
{
    std::string csv = "\xEF\xBB\xBF" + rowOf({"Model", "Severity", "Code", "What", "What to do", "Class", "Element",
                                              "GlobalId", "At this element"});
    const auto write = [&](const std::string& file, std::string_view severity, std::string_view code,
                           std::string_view title, std::string_view advice, const std::vector<Concerned>& concerned) {
        for (const Concerned& c : concerned)
            csv += rowOf({file, severity, code, title, advice, c.className,
                          c.name.empty() ? fmt::format("#{}", c.entity) : c.name, c.guid, c.why});
        if (concerned.empty())
            csv += rowOf({file, severity, code, title, advice, "", "", "", ""});
    };
    for (const ModelReport& model : r.models) {
        for (const Finding& f : model.quality.findings)
            write(model.fileName, severityInWords(f.severity), f.code, f.title, f.advice, f.concerned);
        for (const QualityReport::OfIds& ids : model.quality.ids)
            for (const SpecificationResult& s : ids.specifications)
                write(model.fileName, verdictInWords(s), s.identifier.empty() ? "specification" : s.identifier, s.name,
                      !s.why.empty() ? s.why : s.instructions, s.failed);
    }
    return csv;
}

} // namespace wendrix::checks
