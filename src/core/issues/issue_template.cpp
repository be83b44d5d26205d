#include "core/issues/issue_template.h"

#include <nlohmann/json.hpp>

#include <algorithm>

namespace wendrix::issues {

namespace {

using Json = nlohmann::json;

constexpr int kMostDays = 3650;
constexpr std::size_t kLongest = 20'000; // characters of a text from a file

/// Goes through a text: what stands between, and the words in braces.
template <class Plain, class Word>
void eachPart(const std::string& text, Plain&& plain, Word&& word)
{
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t open = text.find('{', at), close = text.find('}', open == std::string::npos ? at : open);
        if (open == std::string::npos || close == std::string::npos) {
            plain(text.substr(at));
            return;
        }
        plain(text.substr(at, open - at));
        word(text.substr(open + 1, close - open - 1));
        at = close + 1;
    }
}

bool isPlaceholder(const std::string& word)
{
    const auto& all = placeholders();
    return std::any_of(all.begin(), all.end(), [&](const auto& one) { return one.first == word; });
}

} // namespace

IssueTemplate IssueTemplate::usual()
{
    IssueTemplate usual;
    usual.name = "Clash";
    return usual;
}

const std::vector<std::pair<std::string, std::string>>& placeholders()
{
    static const std::vector<std::pair<std::string, std::string>> kAll{
        {"title", "the sentence the group is called by"},
        {"left", "the left side: its element, or how many; as assignee its discipline"},
        {"right", "the right side, the same"},
        {"where", "storey and bay"},
        {"storey", "storeys"},
        {"bay", "bays"},
        {"elevation", "height above the reference's zero, in metres"},
        {"depth", "how deep, or how close of how much"},
        {"test", "the test that found it"},
        {"revisions", "both members with their revisions"},
        {"count", "how many pairs"},
        {"pairs", "every pair on a line of its own"},
        {"decider", "whom the test says decides"},
    };
    return kAll;
}

std::string filled(const std::string& text, const Placeholders& with)
{
    std::string out;
    for (std::size_t at = 0; at <= text.size();) {
        const std::size_t end = std::min(text.find('\n', at), text.size());
        std::string line;
        bool hasWords = false, saysSomething = false;
        eachPart(
            text.substr(at, end - at), [&](const std::string& plain) { line += plain; },
            [&](const std::string& word) {
                const auto known = with.find(word);
                if (known == with.end()) {
                    line += "{" + word + "}";
                    saysSomething = true;
                } else {
                    line += known->second;
                    saysSomething = saysSomething || !known->second.empty();
                }
                hasWords = true;
            });
        if (!hasWords || saysSomething)
            out += line + "\n";
        at = end + 1;
    }
    while (!out.empty() && out.back() == '\n')
        out.pop_back();
    return out;
}

std::string mistakeIn(const IssueTemplate& t)
{
    if (t.name.empty())
        return "A template of issues needs a name.";
    if (t.title.empty())
        return "Title: an issue needs one; {title} is the sentence the group is called by.";
    std::vector<std::pair<const char*, const std::string*>> texts{
        {"Title", &t.title}, {"Description", &t.description}, {"Assignee", &t.assignee}};
    for (const std::string& label : t.labels)
        texts.emplace_back("Labels", &label);
    for (const auto& [field, text] : texts) {
        std::string wrong;
        eachPart(
            *text, [](const std::string&) {},
            [&](const std::string& word) {
                if (wrong.empty() && !isPlaceholder(word))
                    wrong = word;
            });
        if (!wrong.empty())
            return std::string(field) + ": {" + wrong + "} stands for nothing; {where}, {depth} or {pairs} would.";
    }
    if (t.daysToFix < 0 || t.daysToFix > kMostDays)
        return "Days to fix: a number from 0 to " + std::to_string(kMostDays) + ".";
    return {};
}

std::string toJson(const IssueTemplate& t)
{
    return Json{{"kind", "wendrix-issue-template"},
                {"version", 1},
                {"name", t.name},
                {"title", t.title},
                {"description", t.description},
                {"type", t.type},
                {"stage", t.stage},
                {"priority", t.priority},
                {"labels", t.labels},
                {"assignee", t.assignee},
                {"daysToFix", t.daysToFix}}
        .dump(1);
}

Result<IssueTemplate> issueTemplateFromJson(const std::string& text)
{
    const Json json = Json::parse(text, nullptr, false);
    if (!json.is_object() || json.value("kind", Json()) != "wendrix-issue-template")
        return fail({kBadIssueTemplate, "This is no template of issues."});
    IssueTemplate t;
    std::string wrong;
    const auto read = [&](const char* field, std::string& into) {
        const auto found = json.find(field);
        if (found == json.end())
            return;
        if (!found->is_string() || found->get_ref<const std::string&>().size() > kLongest)
            wrong = field;
        else
            into = *found;
    };
    for (const auto& [field, into] :
         {std::pair{"name", &t.name}, std::pair{"title", &t.title}, std::pair{"description", &t.description},
          std::pair{"type", &t.type}, std::pair{"stage", &t.stage}, std::pair{"priority", &t.priority},
          std::pair{"assignee", &t.assignee}})
        read(field, *into);
    if (const auto labels = json.find("labels"); labels != json.end()) {
        t.labels.clear();
        if (!labels->is_array() || labels->size() > 100)
            wrong = "labels";
        else
            for (const Json& label : *labels)
                label.is_string() ? t.labels.push_back(label) : (void)(wrong = "labels");
    }
    if (const auto days = json.find("daysToFix"); days != json.end()) {
        if (!days->is_number_integer() || *days < 0 || *days > kMostDays)
            wrong = "daysToFix";
        else
            t.daysToFix = *days;
    }
    if (!wrong.empty())
        return fail({kBadIssueTemplate, "Template of issues " + t.name + ": " + wrong + " is not what it should be."});
    if (const std::string mistake = mistakeIn(t); !mistake.empty())
        return fail({kBadIssueTemplate, "Template of issues " + t.name + ": " + mistake});
    return t;
}

} // namespace wendrix::issues
