#include "core/issues/workflow.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <set>

namespace wendrix::issues {

namespace {

using Json = nlohmann::json;

constexpr std::pair<StatusShape, const char*> kShapes[] = {{StatusShape::Empty, "empty"},
                                                           {StatusShape::Half, "half"},
                                                           {StatusShape::Full, "full"},
                                                           {StatusShape::Ticked, "ticked"},
                                                           {StatusShape::Broken, "broken"}};
/// Fields that BCF has no place for and every project has.
struct OwnField {
    const char* label;
    std::string Issue::*value;
};
constexpr OwnField kOwnFields[] = {
    {"Cause", &Issue::cause}, {"Requested by", &Issue::requestedBy}, {"Start", &Issue::startAt}};

bool holds(const std::vector<std::string>& list, const std::string& value)
{
    return std::find(list.begin(), list.end(), value) != list.end();
}

bool isOneOf(const Move& move, const Issue& issue, const Standing& standing)
{
    const auto isCalled = [&](const std::string& name) {
        return !name.empty() && (name == standing.person || holds(standing.groups, name));
    };
    return move.who.empty() || std::any_of(move.who.begin(), move.who.end(), [&](const std::string& who) {
               return who == kAssignee    ? isCalled(issue.assignee)
                      : who == kRequester ? isCalled(issue.requestedBy) || isCalled(issue.createdBy)
                                          : isCalled(who);
           });
}

} // namespace

Workflow Workflow::usual()
{
    Workflow w;
    w.statuses = {{status::kOpen, StatusShape::Empty, false},
                  {status::kInProgress, StatusShape::Half, false},
                  {status::kDone, StatusShape::Full, false},
                  {status::kBack, StatusShape::Broken, false},
                  {status::kClosed, StatusShape::Ticked, true}};
    for (const char* from : {status::kOpen, status::kInProgress, status::kBack})
        for (const char* to : {status::kInProgress, status::kDone, status::kClosed})
            if (std::string(from) != to)
                w.moves.push_back({from, to});
    w.moves.push_back({status::kInProgress, status::kOpen});
    // What was done is closed or sent back, not begun anew without a word.
    w.moves.push_back({status::kDone, status::kBack});
    w.moves.push_back({status::kDone, status::kClosed});
    w.moves.push_back({status::kClosed, status::kBack});
    w.types = {"Clash", "Request", "Question", "Change", "Remark"};
    w.priorities = {"High", "Normal", "Low"};
    w.stages = {"Design coordination", "Construction documents", "On site"};
    return w;
}

Status Workflow::statusOf(const std::string& name) const
{
    const auto found = std::find_if(statuses.begin(), statuses.end(), [&](const Status& s) { return s.name == name; });
    return found == statuses.end() ? Status{name, StatusShape::Empty, false} : *found;
}

std::string Workflow::first(StatusShape shape) const
{
    const auto found =
        std::find_if(statuses.begin(), statuses.end(), [&](const Status& s) { return s.shape == shape; });
    return found == statuses.end() ? std::string() : found->name;
}

std::vector<std::string> movesFor(const Workflow& workflow, const Issue& issue, const Standing& standing)
{
    std::vector<std::string> to;
    for (const Status& s : workflow.statuses)
        if (s.name != issue.status && whyNot(workflow, issue, s.name, standing).empty())
            to.push_back(s.name);
    return to;
}

std::string whyNot(const Workflow& workflow, const Issue& issue, const std::string& to, const Standing& standing)
{
    const auto knows = [&](const std::string& name) {
        return std::any_of(workflow.statuses.begin(), workflow.statuses.end(),
                           [&](const Status& s) { return s.name == name; });
    };
    if (!knows(to))
        return "The project has no status called " + to + ".";
    if (!knows(issue.status) || issue.status == to)
        return {};
    bool isThere = false;
    std::string who;
    for (const Move& move : workflow.moves) {
        if (move.from != issue.status || move.to != to)
            continue;
        isThere = true;
        if (isOneOf(move, issue, standing))
            return {};
        for (const std::string& name : move.who)
            who += (who.empty() ? "" : ", ") + (name == kAssignee    ? "whoever it is given to"
                                                : name == kRequester ? "whoever asked for it"
                                                                     : name);
    }
    return isThere ? "Only " + who + " may set it from " + issue.status + " to " + to + "."
                   : "The project's workflow has no way from " + issue.status + " to " + to + ".";
}

std::string mistakeIn(const Workflow& workflow)
{
    std::set<std::string> names;
    for (const Status& s : workflow.statuses) {
        if (s.name.empty())
            return "A status has no name.";
        if (!names.insert(s.name).second)
            return "Two statuses are called " + s.name + ".";
    }
    if (std::none_of(workflow.statuses.begin(), workflow.statuses.end(), [](const Status& s) { return s.isClosed; }))
        return "No status is one in which an issue is closed.";
    if (std::all_of(workflow.statuses.begin(), workflow.statuses.end(), [](const Status& s) { return s.isClosed; }))
        return "No status is one in which an issue is open.";
    for (const Move& move : workflow.moves)
        for (const std::string& end : {move.from, move.to})
            if (!names.contains(end))
                return "A move names " + end + ", which is no status.";
    std::set<std::string> fields;
    for (const CustomField& f : workflow.fields) {
        if (f.name.empty() || f.name.find(':') != std::string::npos)
            return "A field has no name, or one with a colon.";
        const bool isOwn = std::any_of(std::begin(kOwnFields), std::end(kOwnFields),
                                       [&](const OwnField& o) { return f.name == o.label; });
        if (!fields.insert(f.name).second || isOwn)
            return "Two fields are called " + f.name + ".";
    }
    return {};
}

std::string toJson(const Workflow& w)
{
    Json json{
        {"statuses", Json::array()}, {"moves", Json::array()},
        {"types", w.types},          {"priorities", w.priorities},
        {"stages", w.stages},        {"labels", w.labels},
        {"fields", Json::array()},   {"coordinates", w.coordinates == Coordinates::Project ? "project" : "delivered"}};
    for (const Status& s : w.statuses)
        for (const auto& [shape, name] : kShapes)
            if (shape == s.shape)
                json["statuses"].push_back({{"name", s.name}, {"shape", name}, {"closed", s.isClosed}});
    for (const Move& m : w.moves)
        json["moves"].push_back({{"from", m.from}, {"to", m.to}, {"who", m.who}});
    for (const CustomField& f : w.fields)
        json["fields"].push_back({{"name", f.name}, {"choices", f.choices}, {"asLabel", f.asLabel}});
    return json.dump(2);
}

Result<Workflow> workflowFromJson(const std::string& text)
{
    const auto bad = [](const std::string& why) {
        return fail({kBadWorkflow, "This is no workflow of issues: " + why});
    };
    const Json json = Json::parse(text, nullptr, false);
    if (!json.is_object())
        return bad("it is no JSON object.");
    Workflow w;
    try {
        using Texts = std::vector<std::string>;
        for (const Json& s : json.at("statuses")) {
            Status status{s.at("name"), StatusShape::Empty, s.value("closed", false)};
            const std::string named = s.value("shape", "empty");
            for (const auto& [shape, name] : kShapes)
                if (named == name)
                    status.shape = shape;
            w.statuses.push_back(std::move(status));
        }
        for (const Json& m : json.value("moves", Json::array()))
            w.moves.push_back({m.at("from"), m.at("to"), m.value("who", Texts())});
        w.types = json.value("types", Texts());
        w.priorities = json.value("priorities", Texts());
        w.stages = json.value("stages", Texts());
        w.labels = json.value("labels", Texts());
        for (const Json& f : json.value("fields", Json::array()))
            w.fields.push_back({f.at("name"), f.value("choices", Texts()), f.value("asLabel", true)});
        w.coordinates =
            json.value("coordinates", "delivered") == "project" ? Coordinates::Project : Coordinates::Delivered;
    } catch (const Json::exception& e) {
        return bad(e.what());
    }
    if (const std::string mistake = mistakeIn(w); !mistake.empty())
        return bad(mistake);
    return w;
}

std::vector<std::string> labelsWithFields(const Issue& issue, const Workflow& workflow)
{
    std::vector<std::string> labels = issue.labels;
    const auto add = [&](const std::string& name, const std::string& value) {
        if (!value.empty() && !holds(labels, name + ": " + value))
            labels.push_back(name + ": " + value);
    };
    for (const OwnField& f : kOwnFields)
        add(f.label, issue.*f.value);
    for (const CustomField& f : workflow.fields)
        if (const auto value = issue.custom.find(f.name); f.asLabel && value != issue.custom.end())
            add(f.name, value->second);
    return labels;
}

void fieldsFromLabels(Issue& issue, const Workflow& workflow)
{
    std::erase_if(issue.labels, [&](const std::string& label) {
        const std::size_t colon = label.find(": ");
        if (colon == std::string::npos)
            return false;
        const std::string name = label.substr(0, colon), value = label.substr(colon + 2);
        for (const OwnField& f : kOwnFields)
            if (name == f.label) {
                issue.*f.value = value;
                return true;
            }
        for (const CustomField& f : workflow.fields)
            if (f.asLabel && f.name == name) {
                issue.custom[name] = value;
                return true;
            }
        return false;
    });
}

} // namespace wendrix::issues
