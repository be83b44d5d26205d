#include "core/base/html.h"

namespace wendrix {

const char* const kPageStyle =
    "body{font-family:'Public Sans',sans-serif;color:#1F2B30;max-width:60em;margin:2em auto;padding:0 1em}"
    "h1{color:#173F46}h2{border-top:1px solid #DAD4C6;padding-top:12px}table{border-collapse:collapse;font-size:90%}"
    "td,th{border:1px solid #DAD4C6;padding:3px 8px;text-align:left}p{color:#3C484D}img{max-width:100%}";
const char* const kSheetStyle =
    "body{font-family:'Public Sans',sans-serif;font-size:10pt;color:#1F2B30;margin:8mm}"
    "h1{font-size:15pt}h2{font-size:10.5pt;color:#5F6B70;margin-top:12px}table{border-collapse:collapse}"
    "td,th{padding:1px 8px;text-align:left;vertical-align:top}";

std::string escapedForHtml(std::string_view text)
{
    std::string out;
    for (const char c : text)
        switch (c) {
        case '&':
            out += "&amp;";
            break;
        case '<':
            out += "&lt;";
            break;
        case '>':
            out += "&gt;";
            break;
        case '"':
            out += "&quot;";
            break;
        case '\'':
            out += "&#39;";
            break;
        case '`': // older programs take it for a quote
            out += "&#96;";
            break;
        default:
            if (static_cast<unsigned char>(c) >= 0x20 || c == '\n' || c == '\t')
                out += c; // other control characters are none of HTML's
        }
    return out;
}

Markup joined(const std::vector<std::string>& texts, const Markup& between)
{
    Markup all;
    for (const std::string& text : texts) {
        if (!all.isEmpty())
            all += between;
        all += markup("{}", text);
    }
    return all;
}

std::string pageOf(std::string_view title, const char* style, const Markup& body)
{
    return fmt::format("<!DOCTYPE html><html lang=\"en\"><head><meta charset=\"utf-8\"><title>{}</title><style>{}"
                       "</style></head><body>{}</body></html>\n",
                       escapedForHtml(title), style, body.text());
}

} // namespace wendrix
