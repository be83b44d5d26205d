#include "commands.h"
#include "json_output.h"

#include "core/base/file.h"
#include "core/bcf/bcf.h"
#include "core/bcf/check.h"
#include "core/bcf/convert.h"
#include "core/bcf/picture.h"

#include <algorithm>
#include <climits>
#include <iostream>

namespace wendrix::cli {

namespace {

Json guidsOf(const std::vector<ElementRef>& elements)
{
    Json guids = Json::array();
    for (const ElementRef& e : elements)
        guids.push_back(e.guid);
    return guids;
}

Json topic(const issues::Issue& issue)
{
    Json json{{"guid", issue.uuid},
              {"title", issue.title},
              {"type", issue.type},
              {"status", issue.status},
              {"priority", issue.priority},
              {"stage", issue.stage},
              {"assignedTo", issue.assignee},
              {"labels", issue.labels},
              {"created", issue.createdAt},
              {"createdBy", issue.createdBy},
              {"modified", issue.modifiedAt},
              {"modifiedBy", issue.modifiedBy},
              {"due", issue.dueAt},
              {"description", issue.description},
              {"serverAssignedId", issue.serverId},
              {"referenceLinks", issue.links},
              {"relatedTopics", issue.related}};
    json["index"] = issue.index ? Json(*issue.index) : Json();
    json["documents"] = Json::array();
    for (const issues::DocumentReference& d : issue.documents)
        json["documents"].push_back(
            {{"guid", d.uuid}, {"external", d.isExternal}, {"target", d.target}, {"description", d.description}});
    json["files"] = Json::array();
    for (const issues::ModelFile& f : issue.files)
        json["files"].push_back({{"name", f.fileName}, {"project", f.project}, {"date", f.date}});
    json["comments"] = Json::array();
    for (const issues::Comment& c : issue.comments)
        json["comments"].push_back({{"guid", c.uuid},
                                    {"time", c.time},
                                    {"author", c.author},
                                    {"text", c.text},
                                    {"viewpoint", c.viewpoint},
                                    {"modified", c.modifiedAt},
                                    {"modifiedBy", c.modifiedBy}});
    json["viewpoints"] = Json::array();
    for (const issues::Viewpoint& v : issue.viewpoints)
        json["viewpoints"].push_back({{"guid", v.uuid},
                                      {"selection", guidsOf(v.selection)},
                                      {"defaultVisible", v.isDefaultVisible},
                                      {"exceptions", guidsOf(v.exceptions)},
                                      {"colours", v.colouring.size()},
                                      {"clippingPlanes", v.planes.size()},
                                      {"lines", v.lines.size()},
                                      {"bitmaps", v.bitmaps.size()},
                                      {"hasCamera", v.camera.has_value()},
                                      {"hasSnapshot", !v.snapshot.empty()}});
    return json;
}

Json problemsOf(const std::vector<Diagnostic>& found)
{
    Json problems = Json::array();
    for (const Diagnostic& d : found)
        problems.push_back({{"severity", severityName(d.severity)}, {"entry", d.entity}, {"message", d.message}});
    return problems;
}

int failed(const Error& error)
{
    std::cerr << "wendrix-cli: " << error.inWords() << '\n';
    return error.code == bcf::kUnwritable || error.code == kFileUnwritable ? kUnwritable : kUnreadable;
}

void tell(const std::string& entry, const std::string& what)
{
    std::cerr << (entry.empty() ? "" : entry + ": ") << what << '\n';
}

} // namespace

int bcfList(const std::string& name)
{
    const auto file = bcf::File::open(name);
    if (!file)
        return failed(file.error());
    Json json{
        {"version", bcf::nameOf((*file)->version())}, {"project", (*file)->projectName()}, {"topics", Json::array()}};
    std::vector<std::pair<std::pair<int, std::string>, Json>> topics;
    for (std::size_t i = 0; i < (*file)->topicCount(); ++i) {
        auto read = (*file)->topic(i);
        if (!read)
            continue; // among the problems
        for (issues::Viewpoint& v : read->issue.viewpoints)
            if (const auto picture = read->pictures.find(v.uuid); picture != read->pictures.end()) {
                const auto bytes = picture->second.read();
                if (!bytes || bcf::factsOf(*bytes, false).kind.empty())
                    (*file)->note(Severity::Error, read->pictureEntries[v.uuid],
                                  bytes ? "The snapshot is no PNG or JPEG picture." : bytes.error().message);
                v.snapshot = "there"; // its bytes are nobody's business here
            }
        topics.emplace_back(std::pair(read->issue.index.value_or(INT_MAX), read->issue.createdAt), topic(read->issue));
    }
    std::stable_sort(topics.begin(), topics.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    for (auto& [place, one] : topics)
        json["topics"].push_back(std::move(one));
    json["problems"] = problemsOf((*file)->diagnostics());
    print(json);
    return kDone;
}

int bcfCheck(const std::string& file)
{
    const auto checked = bcf::check(file);
    if (!checked)
        return failed(checked.error());
    print({{"version", checked->version}, {"topics", checked->topics}, {"problems", problemsOf(checked->problems)}});
    return checked->problems.empty() ? kDone : kDoesNotHold;
}

int bcfConvert(const std::string& in, const std::string& out, const std::string& version)
{
    auto file = bcf::File::open(in);
    if (!file)
        return failed(file.error());
    const auto done = bcf::convert(**file, bcf::versionOf(version), out, tell);
    return done ? kDone : failed(done.error());
}

int bcfMerge(const std::string& ours, const std::string& theirs, const std::string& base, const std::string& out)
{
    const auto merge = bcf::mergeFiles(ours, theirs, base, out, tell);
    if (!merge)
        return failed(merge.error());
    Json json{{"added", merge->added}, {"joined", merge->joined}, {"conflicts", Json::array()}};
    for (const auto& [uuid, d] : merge->conflicts) {
        Json conflict{{"topic", uuid}, {"field", d.field}, {"ours", d.ours}, {"theirs", d.theirs}, {"base", d.base}};
        if (!d.of.empty())
            conflict["guid"] = d.of;
        json["conflicts"].push_back(std::move(conflict));
    }
    print(json);
    return merge->conflicts.empty() ? kDone : kDoesNotHold;
}

} // namespace wendrix::cli
