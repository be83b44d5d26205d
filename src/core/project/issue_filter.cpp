#include "core/project/issue_list.h"

#include "core/base/fold.h"
#include "core/base/number.h"
#include "core/project/project.h"
#include "core/sets/comparing.h"

#include <nlohmann/json.hpp>

#include <algorithm>

namespace wendrix::project {

namespace {

using sets::Expression;
using sets::Relation;
using Json = nlohmann::json;

/// What an issue says under the name of a field; several of labels.
std::vector<std::string> valuesOf(const IssueKey& i, const ModelsSay& says, const sets::Condition& c)
{
    std::string name = c.propertyName;
    if (c.field != sets::Field::Property)
        name = std::string(sets::nameOf(c.field)) == "name" ? "title" : std::string(sets::nameOf(c.field));
    else if (c.setName != sets::kOfIssue) {
        const auto value = i.custom.find(c.propertyName);
        return value == i.custom.end() ? std::vector<std::string>{} : std::vector{value->second};
    }
    if (name == "label" || name == "tag")
        return i.labels;
    const std::pair<const char*, std::string> all[] = {
        {"number", IssuesBook::numberInWords(i.prefix, i.number)},
        {"title", i.title},
        {"status", i.status},
        {"priority", i.priority},
        {"assignee", i.assignee},
        {"discipline", i.assignee},
        {"type", i.type},
        {"stage", i.stage},
        {"due", i.dueAt},
        {"start", i.startAt},
        {"created", i.createdAt},
        {"modified", i.modifiedAt},
        {"author", i.createdBy},
        {"requester", i.requestedBy},
        {"cause", i.cause},
        {"storey", i.location.storey.empty() ? says.pairs.storey : i.location.storey},
        {"bay", i.location.bay},
        {"space", i.location.space},
        {"from", i.madeFrom},
        {"evidence", says.inShort()}};
    for (const auto& [field, value] : all)
        if (name == field)
            return value.empty() ? std::vector<std::string>{} : std::vector{value};
    return {};
}

bool holdsCondition(const sets::Condition& c, const std::vector<std::string>& values, const std::string& today,
                    std::int64_t number)
{
    if (c.relation == Relation::Given || c.relation == Relation::Missing)
        return values.empty() == (c.relation == Relation::Missing);
    if (c.relation >= Relation::Equal && c.relation <= Relation::AtLeast) {
        const sets::Value& with = c.values.front();
        const bool isDay = with.dimension == sets::kDay;
        const auto bound = isDay && !with.number ? sets::dayNumber(today) : with.number;
        return bound && std::any_of(values.begin(), values.end(), [&](const std::string& value) {
                   auto is = isDay ? sets::dayNumber(value.substr(0, 10)) : numberIn(value);
                   if (!isDay && c.propertyName == "number")
                       is = static_cast<double>(number);
                   return is && sets::compares(*is, c.relation, *bound);
               });
    }
    const auto anyOf = [&](auto test) {
        return std::any_of(values.begin(), values.end(), [&](const std::string& value) {
            const std::string is = folded(value);
            return std::any_of(c.values.begin(), c.values.end(),
                               [&](const sets::Value& v) { return test(is, folded(v.text)); });
        });
    };
    // A day alone means any time of it.
    const auto same = [](const std::string& is, const std::string& wanted) {
        return is == wanted || (wanted.size() == 10 && is.size() > 10 && is[10] == 't' && is.starts_with(wanted));
    };
    switch (c.relation) {
    case Relation::Is:
        return anyOf(same);
    case Relation::IsNot:
        return !anyOf(same);
    default:
        return anyOf(
            [&](const std::string& is, const std::string& wanted) { return sets::matches(is, c.relation, wanted); });
    }
}

constexpr std::pair<IssueFilter, const char*> kFilters[] = {
    {IssueFilter::Open, "open"},         {IssueFilter::Mine, "mine"},
    {IssueFilter::Overdue, "overdue"},   {IssueFilter::Waiting, "waiting"},
    {IssueFilter::CanBeClosed, "ready"}, {IssueFilter::GoesBack, "back"},
    {IssueFilter::Closed, "closed"},     {IssueFilter::All, "all"}};

} // namespace

bool holds(const Expression& expression, const IssueKey& issue, const ModelsSay& says, const std::string& today)
{
    return sets::holds(expression, [&](const Expression& e) {
        switch (e.kind) {
        case Expression::Kind::Condition:
            return holdsCondition(e.condition, valuesOf(issue, says, e.condition), today, issue.number);
        case Expression::Kind::Words:
            return folded(issue.title).find(folded(e.text)) != std::string::npos;
        case Expression::Kind::ChangedSince:
            return issue.modifiedAt.substr(0, 10) >= e.text;
        default:
            return false; // of elements only; mistakeInIssueLine() says so
        }
    });
}

namespace {

/// The first thing in an expression that is of elements and not of issues.
std::string ofElementsOnly(const Expression& e)
{
    switch (e.kind) {
    case Expression::Kind::Inside:
        return "\"inside\"";
    case Expression::Kind::InsideSpace:
        return "\"inside space\"; space is ...";
    case Expression::Kind::Set:
        return "\"set\"";
    case Expression::Kind::HasIssue:
        return "\"has issue\"; status is ...";
    case Expression::Kind::ChangedSince:
        return e.text.size() == 10 ? "" : "\"changed since\" a cycle; a day";
    case Expression::Kind::Condition:
        switch (e.condition.field) {
        case sets::Field::Class:
        case sets::Field::System:
        case sets::Field::Material:
        case sets::Field::Classification:
            return "\"" + std::string(sets::nameOf(e.condition.field)) + "\"";
        default:
            return {};
        }
    default:
        break;
    }
    for (const Expression& part : e.parts)
        if (const std::string found = ofElementsOnly(part); !found.empty())
            return found;
    return {};
}

} // namespace

sets::Mistake mistakeInIssueLine(const std::string& line)
{
    if (line.find_first_not_of(' ') == std::string::npos)
        return {};
    const auto parsed = sets::parse(line, sets::Subject::Issues);
    if (!parsed.expression)
        return parsed.mistake;
    const std::string elements = ofElementsOnly(*parsed.expression);
    return elements.empty() ? sets::Mistake{} : sets::Mistake{0, line.size(), "issues have no " + elements};
}

std::string toJson(const IssueQuestion& q)
{
    Json json{{"storey", q.storey},
              {"line", q.line},
              {"words", q.words},
              {"grouping", static_cast<int>(q.grouping)},
              {"order", static_cast<int>(q.order)},
              {"descending", q.isDescending}};
    for (const auto& [filter, name] : kFilters)
        if (filter == q.filter)
            json["filter"] = name;
    return json.dump(-1, ' ', false, Json::error_handler_t::replace);
}

IssueQuestion issueQuestionFrom(const std::string& text)
{
    IssueQuestion q;
    const Json json = Json::parse(text, nullptr, false);
    if (!json.is_object())
        return q;
    try {
        for (const auto& [filter, name] : kFilters)
            if (json.value("filter", "open") == name)
                q.filter = filter;
        q.storey = json.value("storey", "");
        q.line = json.value("line", "");
        q.words = json.value("words", "");
        q.grouping =
            static_cast<IssueGrouping>(std::clamp(json.value("grouping", 0), 0, static_cast<int>(IssueGrouping::Due)));
        q.order =
            static_cast<IssueOrder>(std::clamp(json.value("order", 0), 0, static_cast<int>(IssueOrder::Assignee)));
        q.isDescending = json.value("descending", false);
    } catch (const Json::exception&) {
        return {};
    }
    return q;
}

Result<IssueKnowledge> issueKnowledge(const Project& project, const std::string& words, const std::string& person,
                                      const Timestamp& now)
{
    auto issues = project.issues().keys();
    auto pairs = project.clashes().byIssue();
    const auto requirements = project.issues().requirements();
    auto workflow = project.issues().workflow();
    auto standing = project.issues().standingOf(person);
    auto mentioning = project.issues().mentioning(person);
    auto said = words.empty() ? Result<std::set<std::string>>(std::set<std::string>{}) : project.issues().saying(words);
    if (const auto error = firstError(issues, pairs, requirements, workflow, standing, mentioning, said))
        return fail(*error);
    std::map<std::string, ModelsSay> says;
    for (auto& [uuid, of] : *pairs)
        says[uuid].pairs = std::move(of);
    for (const auto& [uuid, requirement] : *requirements)
        if (!requirement.moments.empty())
            says[uuid].isMet = requirement.isMet();
    return IssueKnowledge{std::move(*issues),     std::move(says),  std::move(*workflow), std::move(*standing),
                          std::move(*mentioning), std::move(*said), now.substr(0, 10)};
}

} // namespace wendrix::project
