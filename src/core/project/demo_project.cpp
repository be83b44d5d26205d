#include "core/project/demo_project.h"

#include "core/base/file.h"
#include "core/ifc/model.h"

#include <nlohmann/json.hpp>

namespace wendrix::project {

using Json = nlohmann::json;

inline constexpr ErrorCode kBadDemo{"demo.description"};

namespace {

constexpr std::pair<const char*, const char*> kColours[] = {
    {"Architecture", "#C8A768"}, {"Structure", "#5F7E9E"}, {"Ventilation", "#74A79B"}, {"Piping", "#8AA04F"},
    {"Electrical", "#D49B24"}, {"Fire protection", "#BF5747"}, {"Civil", "#8A7866"}};

Result<Json> readDescription(const std::filesystem::path& folder)
{
    const auto text = readFileWhole(folder / "demo.json", 1 << 20);
    if (!text)
        return fail(text.error());
    Json json = Json::parse(*text, nullptr, false);
    if (!json.is_object() || !json.contains("deliveries") || !json.contains("project"))
        return fail({kBadDemo, "The description of the sample data can not be read; write it again with demo/generate.py.",
                     (folder / "demo.json").string()});
    return json;
}

} // namespace

Result<NewDelivery> describeDelivery(const std::filesystem::path& file, Progress& progress)
{
    const auto model = ifc::Model::open(file, progress);
    if (!model)
        return fail(model.error());
    NewDelivery d;
    d.file = file;
    d.projectGuid = (*model)->projectGuid();
    d.schema = std::string((*model)->source().schema().name());
    d.elements = (*model)->elements().size();
    return d;
}

Result<void> receiveDemoCycle(Project& project, const std::filesystem::path& demoData, int cycle, Progress& progress)
{
    const auto json = readDescription(demoData);
    if (!json)
        return fail(json.error());
    for (const Json& row : (*json)["deliveries"]) {
        if (row["cycle"] != cycle)
            continue;
        auto d = describeDelivery(demoData / row["file"].get<std::string>(), progress);
        if (!d)
            return fail(d.error());
        d->discipline = row["discipline"];
        d->revision = row["revision"];
        d->title = row["title"];
        d->sender = row["company"];
        d->cycle = cycle;
        d->time = row["time"];
        if (const auto id = project.addDelivery(*d, {d->sender, d->time}); !id && id.error().code != kSameDelivery)
            return fail(id.error());
    }
    return {};
}

Result<std::unique_ptr<Project>> makeDemoProject(const std::filesystem::path& demoData,
                                                 const std::filesystem::path& folder, Progress& progress)
{
    const auto json = readDescription(demoData);
    if (!json)
        return fail(json.error());
    const WhoAndWhen who{(*json)["coordinator"], "2026-10-16T08:00:00Z"};
    auto project = Project::create(folder, (*json)["project"], who);
    if (!project)
        return fail(project.error());
    std::vector<std::string> seen;
    for (const Json& row : (*json)["deliveries"]) {
        const std::string name = row["discipline"];
        if (std::find(seen.begin(), seen.end(), name) != seen.end())
            continue;
        seen.push_back(name);
        Discipline d{name, row["company"], "#8A7866", name == (*json)["reference"]};
        for (const auto& [discipline, colour] : kColours)
            if (name == discipline)
                d.colour = colour;
        if (auto done = (*project)->addDiscipline(d, who); !done)
            return fail(done.error());
    }
    for (const Json& sides : (*json)["tests"]) {
        const std::string left = sides[0], right = sides[1];
        if (auto done = (*project)->addTest({left + " × " + right, left, right, (*json)["clashTolerance"]}, who); !done)
            return fail(done.error());
    }
    if (auto done = receiveDemoCycle(**project, demoData, 1, progress); !done)
        return fail(done.error());
    for (const Delivery& d : (*project)->deliveries())
        if (auto done = (*project)->takeIn({d.id, {}, {}, false}, who); !done)
            return fail(done.error());
    return project;
}

} // namespace wendrix::project
