#include "core/issues/issue_template.h"

#include <nlohmann/json.hpp>

#include <type_traits>

/// Templates of issues as files.
namespace wendrix::issues {

namespace {

using Json = nlohmann::json;

constexpr std::size_t kLongest = 20'000; // characters of a text from a file
constexpr std::size_t kMostRules = 200;

} // namespace

std::string toJson(const IssueTemplate& t)
{
    const auto listOf = [](const auto& pairs) {
        Json list = Json::array();
        for (const auto& [of, value] : pairs)
            list.push_back({{"of", of}, {"is", value}});
        return list;
    };
    return Json{{"kind", "wendrix-issue-template"},
                {"version", 1},
                {"name", t.name},
                {"source", t.source},
                {"title", t.title},
                {"description", t.description},
                {"type", t.type},
                {"stage", t.stage},
                {"priority", t.priority},
                {"labels", t.labels},
                {"assignee", t.assignee},
                {"daysToFix", t.daysToFix},
                {"priorityFor", listOf(t.priorityFor)},
                {"assigneeFor", listOf(t.assigneeFor)},
                {"daysFor", listOf(t.daysFor)}}
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
         {std::pair{"name", &t.name}, std::pair{"source", &t.source}, std::pair{"title", &t.title},
          std::pair{"description", &t.description}, std::pair{"type", &t.type}, std::pair{"stage", &t.stage},
          std::pair{"priority", &t.priority}, std::pair{"assignee", &t.assignee}})
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
        if (!days->is_number_integer() || *days < 0 || *days > kMostDaysToFix)
            wrong = "daysToFix";
        else
            t.daysToFix = *days;
    }
    const auto readList = [&](const char* field, auto& into) {
        const auto found = json.find(field);
        if (found == json.end())
            return;
        into.clear();
        if (!found->is_array() || found->size() > kMostRules) {
            wrong = field;
            return;
        }
        for (const Json& one : *found) {
            const Json of = one.is_object() ? one.value("of", Json()) : Json(),
                       is = one.is_object() ? one.value("is", Json()) : Json();
            using Value = std::remove_cvref_t<decltype(into.front().second)>;
            const bool isFit =
                std::is_same_v<Value, int> ? is.is_number_integer() && is >= 0 && is <= kMostDaysToFix : is.is_string();
            if (!of.is_string() || !isFit)
                wrong = field;
            else
                into.emplace_back(of.get<std::string>(), is.get<Value>());
        }
    };
    readList("priorityFor", t.priorityFor);
    readList("assigneeFor", t.assigneeFor);
    readList("daysFor", t.daysFor);
    if (!wrong.empty())
        return fail({kBadIssueTemplate, "Template of issues " + t.name + ": " + wrong + " is not what it should be."});
    if (const std::string mistake = mistakeIn(t); !mistake.empty())
        return fail({kBadIssueTemplate, "Template of issues " + t.name + ": " + mistake});
    return t;
}

} // namespace wendrix::issues
