#include "commands.h"
#include "json_output.h"

#include "core/bcf/bcf.h"

#include <iostream>

namespace wendrix::cli {

namespace {

Json topic(const issues::Issue& issue)
{
    Json json{{"guid", issue.uuid},           {"title", issue.title},       {"type", issue.type},
              {"status", issue.status},       {"priority", issue.priority}, {"stage", issue.stage},
              {"assignedTo", issue.assignee}, {"labels", issue.labels},     {"created", issue.createdAt},
              {"createdBy", issue.createdBy}, {"due", issue.dueAt},         {"description", issue.description}};
    json["comments"] = Json::array();
    for (const issues::Comment& c : issue.comments)
        json["comments"].push_back(
            {{"guid", c.uuid}, {"time", c.time}, {"author", c.author}, {"text", c.text}, {"viewpoint", c.viewpoint}});
    json["viewpoints"] = Json::array();
    for (const issues::Viewpoint& v : issue.viewpoints) {
        Json selection = Json::array();
        for (const ElementRef& e : v.selection)
            selection.push_back(e.guid);
        json["viewpoints"].push_back({{"guid", v.uuid},
                                      {"selection", selection},
                                      {"hasCamera", v.camera.has_value()},
                                      {"hasSnapshot", !v.snapshot.empty()}});
    }
    return json;
}

} // namespace

int bcfList(const std::string& file)
{
    const auto document = bcf::readFile(file);
    if (!document) {
        std::cerr << "wendrix-cli: " << document.error().inWords() << '\n';
        return kUnreadable;
    }
    Json json{{"version", document->version}, {"project", document->projectName}, {"topics", Json::array()}};
    for (const issues::Issue& issue : document->issues)
        json["topics"].push_back(topic(issue));
    print(json);
    return kDone;
}

int bcfCheck(const std::string& file)
{
    const auto document = bcf::readFile(file);
    if (!document) {
        std::cerr << "wendrix-cli: " << document.error().inWords() << '\n';
        return kUnreadable;
    }
    Json problems = Json::array();
    for (const Diagnostic& d : document->diagnostics)
        problems.push_back({{"severity", severityName(d.severity)}, {"entry", d.entity}, {"message", d.message}});
    print({{"version", document->version}, {"topics", document->issues.size()}, {"problems", problems}});
    return document->diagnostics.empty() ? kDone : kDoesNotHold;
}

} // namespace wendrix::cli
