#include "core/project/demo_project.h"

#include "core/project/issue_exchange.h"

#include "core/base/file.h"
#include "core/project/receiving.h"
#include "core/project/setup.h"
#include "core/project/taking_in.h"

#include <nlohmann/json.hpp>

namespace wendrix::project {

using Json = nlohmann::json;

inline constexpr ErrorCode kBadDemo{"demo.description"};

namespace {

Result<Json> readDescription(const std::filesystem::path& folder)
{
    const auto text = readFileWhole(folder / "demo.json", 1 << 20);
    if (!text)
        return fail(text.error());
    Json json = Json::parse(*text, nullptr, false);
    if (!json.is_object() || !json.contains("deliveries") || !json.contains("project"))
        return fail({kBadDemo,
                     "The description of the sample data can not be read; write it again with demo/generate.py.",
                     (folder / "demo.json").string()});
    return json;
}

} // namespace

Result<void> receiveDemoCycle(Project& project, const std::filesystem::path& demoData, int cycle, Progress& progress)
{
    const auto json = readDescription(demoData);
    if (!json)
        return fail(json.error());
    for (const Json& row : (*json)["deliveries"]) {
        if (row["cycle"] != cycle)
            continue;
        NewDelivery d;
        for (const Json& file : row["models"]) {
            auto model = describeModel(demoData / file.get<std::string>(), progress);
            if (!model)
                return fail(model.error());
            d.models.push_back(std::move(*model));
        }
        for (const Json& file : row["documents"])
            d.documents.push_back(demoData / file.get<std::string>());
        d.discipline = row["discipline"];
        d.revision = row["revision"];
        d.title = row["title"];
        d.sender = row["company"];
        d.suitability = row["suitability"];
        d.note = row["note"];
        d.cycle = cycle;
        d.time = row["time"];
        if (const auto id = project.deliveries().add(d, {d.sender, d.time});
            !id && id.error().code != kSameDelivery && id.error().code != kSameRevision)
            return fail(id.error());
    }
    return {};
}

Result<void> receiveDemoIssues(Project& project, const std::filesystem::path& demoData, Progress& progress)
{
    const auto json = readDescription(demoData);
    if (!json)
        return fail(json.error());
    if (!json->contains("issues"))
        return {};
    const WhoAndWhen sent{(*json)["coordinator"], "2026-11-16T08:00:00Z"}, since{sent.person, "2026-11-18T10:20:00Z"};
    const std::string name = (*json)["issues"]["sent"];
    const auto incoming = readIncoming(project, demoData / name, {}, progress);
    if (!incoming)
        return fail(incoming.error());
    if (auto done = takeOver(project, *incoming, {}, sent); !done)
        return fail(done.error());
    // One goes back here, while its team says that it is done.
    for (const IncomingTopic& t : incoming->topics)
        if (t.theirs.status == issues::status::kInProgress)
            if (auto done = project.issues().setStatus(t.theirs.uuid, issues::status::kOpen,
                                                       "Not before the column is settled.", since);
                !done)
                return done;
    return {};
}

Result<std::unique_ptr<Project>> makeDemoProject(const std::filesystem::path& demoData,
                                                 const std::filesystem::path& folder, Progress& progress)
{
    const auto json = readDescription(demoData);
    if (!json)
        return fail(json.error());
    const WhoAndWhen who{(*json)["coordinator"], "2026-10-16T08:00:00Z"};
    Setup setup;
    for (const Json& d : (*json)["disciplines"]) {
        const std::string name = d["name"];
        setup.disciplines.push_back(
            {name, d["company"], usualColour(name), name == (*json)["reference"], d["people"], {}, {}});
    }
    for (const Json& g : (*json)["groups"])
        setup.personGroups.push_back({g["name"], g["people"]});
    for (const Json& f : (*json)["federations"]) {
        Federation federation{f["name"], {}, false};
        for (const Json& part : f["members"])
            federation.parts.push_back({part, false});
        setup.federations.push_back(std::move(federation));
    }
    auto sheet = clash::sheetFromJson((*json)["testSheet"].dump());
    if (!sheet)
        return fail(sheet.error());
    setup.testSheets.push_back(std::move(*sheet));
    for (const Json& file : (*json)["specifications"]) {
        const std::string name = file;
        const auto text = readFileWhole(demoData / name, 1 << 20);
        if (!text)
            return fail(text.error());
        setup.specifications.emplace_back(name, *text);
    }
    auto project = createProject(folder, (*json)["project"], setup, who);
    if (!project)
        return fail(project.error());
    if (auto done = receiveDemoCycle(**project, demoData, 1, progress); !done)
        return fail(done.error());
    const auto received = (*project)->deliveries().all();
    if (!received)
        return fail(received.error());
    for (const Delivery& d : *received)
        if (auto done = takeIn(**project, {d.id, {}, {}}, who); !done)
            return fail(done.error());
    return project;
}

} // namespace wendrix::project
