#include "core/checks/report.h"

#include "core/base/html.h"
#include "core/base/text.h"

#include <fmt/format.h>

#include <array>

namespace wendrix::checks {

namespace {

constexpr std::size_t kMostListed = 200; // a page that can still be read; the CSV has them all

std::string cell(std::string_view text)
{
    std::string safe(text);
    // A spreadsheet must not take a sender's text for a formula.
    if (!safe.empty() && std::string_view("=+-@\t\r").find(safe[0]) != std::string_view::npos)
        safe.insert(0, "'");
    if (safe.find_first_of(",\"\n\r") == std::string::npos)
        return safe;
    std::string out = "\"";
    for (const char c : safe)
        out += c == '"' ? std::string("\"\"") : std::string(1, c);
    return out + '"';
}

std::string rowOf(const std::array<std::string_view, 9>& cells)
{
    std::string line = cell(cells[0]);
    for (std::size_t i = 1; i < cells.size(); ++i)
        line += "," + cell(cells[i]);
    return line + "\r\n";
}

void writeConcerned(std::string& html, const std::vector<Concerned>& concerned, std::size_t count)
{
    if (concerned.empty())
        return;
    html += "<table border='1' cellspacing='0' cellpadding='4' width='100%'><tr><th align='left'>Element</th><th "
            "align='left'>Class</th><th align='left'>GlobalId</th><th align='left'>What</th></tr>";
    for (std::size_t i = 0; i < std::min(kMostListed, concerned.size()); ++i) {
        const Concerned& c = concerned[i];
        html += fmt::format("<tr><td>{}</td><td>{}</td><td><tt>{}</tt></td><td>{}</td></tr>",
                            escapedForHtml(c.name.empty() ? fmt::format("#{}", c.entity) : c.name),
                            escapedForHtml(classInWords(c.className)), escapedForHtml(c.guid), escapedForHtml(c.why));
    }
    html += "</table>";
    if (count > kMostListed)
        html += fmt::format("<p>The first {} of {}; the CSV lists more.</p>", kMostListed, count);
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

void writeModel(std::string& html, const ModelReport& model)
{
    const QualityReport::Facts& f = model.quality.facts;
    html += fmt::format("<h2>{}</h2><p><b>{}.</b></p><p>{} · {} · {} · {} · {}{}</p>", escapedForHtml(model.fileName),
                        escapedForHtml(model.quality.inWords()), escapedForHtml(f.schema),
                        f.viewDefinition.empty() ? "no view definition" : escapedForHtml(f.viewDefinition),
                        f.lengthUnit.empty() ? "no length unit" : "lengths in " + escapedForHtml(f.lengthUnit),
                        counted(f.elements, "element", "elements"), counted(f.storeys, "storey", "storeys"),
                        f.unbuilt > 0 ? fmt::format(" · {} not built", f.unbuilt) : "");
    for (const Finding& finding : model.quality.findings) {
        html +=
            fmt::format("<h3>{}: {}{}</h3><p>{}</p>", severityInWords(finding.severity), escapedForHtml(finding.title),
                        finding.count > 1 ? fmt::format(" ({})", finding.count) : "", escapedForHtml(finding.advice));
        writeConcerned(html, finding.concerned, finding.count);
    }
    for (const QualityReport::OfIds& ids : model.quality.ids) {
        html += fmt::format("<h2>{}</h2>",
                            escapedForHtml(ids.title.empty() ? "Information delivery specification" : ids.title));
        for (const SpecificationResult& s : ids.specifications) {
            html += fmt::format("<h3>{}: {} ({})</h3><p>{}</p>", verdictInWords(s), escapedForHtml(s.name),
                                counted(s.applicable, "element", "elements"),
                                escapedForHtml(!s.why.empty()            ? s.why
                                               : !s.instructions.empty() ? s.instructions
                                                                         : s.description));
            writeConcerned(html, s.failed, s.failed.size());
        }
        for (const Diagnostic& note : ids.notes)
            html += fmt::format("<p>Left out: {} {}</p>", escapedForHtml(note.entity), escapedForHtml(note.message));
    }
}

} // namespace

std::string severityInWords(Severity severity)
{
    return severity == Severity::Error ? "fault" : severity == Severity::Warning ? "warning" : "note";
}

std::string toHtml(const DeliveryReport& r)
{
    std::string html = fmt::format("<!DOCTYPE html><html lang='en'><head><meta charset='utf-8'><title>Quality report "
                                   "{0}</title><style>body{{font-family:'Public "
                                   "Sans',sans-serif;color:#1F2B30;max-width:60em;margin:2em auto;padding:0 1em}}"
                                   "h1{{color:#173F46}}h2{{border-top:1px solid "
                                   "#DAD4C6;padding-top:12px}}table{{border-collapse:collapse;font-size:90%}}td,th{{"
                                   "border:1px solid #DAD4C6;padding:3px 8px}}"
                                   "p{{color:#3C484D}}</style></head><body><h1>Quality report: {0}</h1><p>{1} · “{2}” "
                                   "· from {3}, delivered {4}</p><p>Looked at by {5}, {6}.</p>",
                                   escapedForHtml(r.delivery), escapedForHtml(r.project), escapedForHtml(r.title),
                                   escapedForHtml(r.sender), timeInWords(r.delivered), escapedForHtml(r.by.person),
                                   timeInWords(r.by.time));
    for (const ModelReport& model : r.models)
        writeModel(html, model);
    return html + "</body></html>\n";
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
