#include "core/project/setup.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <set>

namespace wendrix::project {

using Json = nlohmann::json;
namespace fs = std::filesystem;

namespace {

constexpr std::pair<const char*, const char*> kColours[] = {
    {"Architecture", "#C8A768"}, {"Structure", "#5F7E9E"},       {"Ventilation", "#74A79B"}, {"Piping", "#8AA04F"},
    {"Electrical", "#D49B24"},   {"Fire protection", "#BF5747"}, {"Civil", "#8A7866"}};
constexpr const char* kKind = "wendrix-setup";

template <class T>
T valueOr(const Json& json, const char* key, T otherwise)
{
    const auto found = json.find(key);
    if (found == json.end())
        return otherwise;
    try {
        return found->get<T>();
    } catch (const Json::exception&) {
        return otherwise;
    }
}

const Json& listOf(const Json& json, const char* key)
{
    static const Json kNone = Json::array();
    const auto found = json.find(key);
    return found != json.end() && found->is_array() ? *found : kNone;
}

Json jsonOf(const checks::Expectations& e)
{
    Json needed = Json::array();
    for (const auto& n : e.properties)
        needed.push_back({n.className, n.set, n.property});
    return {{"schemas", e.schemas},
            {"lengthUnit", e.lengthUnit},
            {"storeyTolerance", e.storeyTolerance.value},
            {"properties", needed},
            {"dimensionsNamed", e.areDimensionsNamed},
            {"georeferenced", e.isGeoreferenced}};
}

checks::Expectations expectationsOf(const Json& json)
{
    checks::Expectations e = checks::Expectations::usual();
    if (!json.is_object())
        return e;
    e.schemas = valueOr(json, "schemas", e.schemas);
    e.lengthUnit = valueOr(json, "lengthUnit", e.lengthUnit);
    e.storeyTolerance = Metres{valueOr(json, "storeyTolerance", e.storeyTolerance.value)};
    e.areDimensionsNamed = valueOr(json, "dimensionsNamed", false);
    e.isGeoreferenced = valueOr(json, "georeferenced", false);
    if (json.contains("properties")) {
        e.properties.clear();
        for (const Json& n : listOf(json, "properties"))
            if (n.is_array() && n.size() == 3 && n[0].is_string() && n[1].is_string() && n[2].is_string())
                e.properties.push_back({n[0], n[1], n[2]});
    }
    return e;
}

/// Templates of the first version know tests between two disciplines only.
clash::TestSheet sheetOfDisciplines(const Json& tests, const std::set<std::string>& disciplines)
{
    clash::TestSheet sheet;
    sheet.name = "Tests";
    for (const Json& t : tests) {
        clash::Test one;
        one.name = valueOr<std::string>(t, "name", {});
        const auto left = valueOr<std::string>(t, "left", {}), right = valueOr<std::string>(t, "right", {});
        one.tolerance = valueOr(t, "tolerance", one.tolerance);
        one.left = clash::lineOfDiscipline(left);
        one.right = clash::lineOfDiscipline(right);
        if (disciplines.contains(left) && disciplines.contains(right))
            sheet.tests.push_back(std::move(one));
    }
    return sheet;
}

} // namespace

std::string usualColour(const std::string& discipline)
{
    for (const auto& [name, colour] : kColours)
        if (discipline == name)
            return colour;
    return "#8A7866";
}

Setup Setup::usual()
{
    Setup setup;
    for (const auto& [name, colour] : kColours)
        if (std::string_view(name) != "Civil")
            setup.disciplines.push_back({name, {}, colour, setup.disciplines.empty(), {}, {}, {}});
    return setup;
}

Result<Setup> setupOf(const Project& project)
{
    const auto disciplines = project.setup().disciplines();
    const auto groups = project.setup().personGroups();
    const auto federations = project.setup().federations();
    const auto kept = project.clashes().sheets();
    const auto expectations = project.setup().expectations();
    const auto specifications = project.setup().specifications();
    const auto templates = project.issues().templates();
    const auto workflow = project.issues().workflow();
    if (const auto error =
            firstError(disciplines, groups, federations, kept, expectations, specifications, templates, workflow))
        return fail(*error);
    std::vector<clash::TestSheet> sheets;
    for (const KeptSheet& k : *kept)
        sheets.push_back(k.sheet);
    return Setup{*disciplines, *groups,   *federations,  std::move(sheets),
                 *templates,   *workflow, *expectations, *specifications};
}

std::string toJson(const checks::Expectations& expectations) { return jsonOf(expectations).dump(); }

checks::Expectations expectationsFromJson(const std::string& text)
{
    return expectationsOf(Json::parse(text, nullptr, false));
}

std::string toJson(const Setup& setup)
{
    Json json{{"kind", kKind}, {"version", 1}, {"expectations", jsonOf(setup.expectations)}};
    for (const Discipline& d : setup.disciplines)
        json["disciplines"].push_back({{"name", d.name},
                                       {"company", d.company},
                                       {"colour", d.colour},
                                       {"reference", d.isReference},
                                       {"people", d.people},
                                       {"dropFolder", d.dropFolder},
                                       {"leftOut", d.leftOut}});
    for (const PersonGroup& g : setup.personGroups)
        json["personGroups"].push_back({{"name", g.name}, {"people", g.people}});
    for (const Federation& f : setup.federations) {
        Json parts = Json::array();
        for (const Federation::Part& p : f.parts)
            parts.push_back({{"discipline", p.discipline}, {"retired", p.isRetired}});
        json["federations"].push_back({{"name", f.name}, {"retired", f.isRetired}, {"parts", parts}});
    }
    for (const clash::TestSheet& sheet : setup.testSheets)
        json["testSheets"].push_back(Json::parse(clash::toJson(sheet)));
    for (const issues::IssueTemplate& t : setup.issueTemplates)
        json["issueTemplates"].push_back(Json::parse(issues::toJson(t)));
    json["issueWorkflow"] = Json::parse(issues::toJson(setup.issueWorkflow));
    for (const auto& [name, text] : setup.specifications)
        json["specifications"].push_back({{"name", name}, {"text", text}});
    return json.dump(1) + "\n";
}

Result<Setup> setupFromJson(const std::string& text)
{
    const Json json = Json::parse(text, nullptr, false);
    if (!json.is_object() || valueOr<std::string>(json, "kind", {}) != kKind)
        return fail({kBadTemplate, "This is no template of a project; save one from a project under Setup."});
    Setup setup;
    std::set<std::string> names;
    for (const Json& d : listOf(json, "disciplines")) {
        Discipline one{valueOr<std::string>(d, "name", {}),
                       valueOr<std::string>(d, "company", {}),
                       valueOr<std::string>(d, "colour", {}),
                       valueOr(d, "reference", false),
                       valueOr<std::vector<std::string>>(d, "people", {}),
                       valueOr<std::string>(d, "dropFolder", {}),
                       valueOr<std::vector<std::string>>(d, "leftOut", {})};
        if (one.colour.empty())
            one.colour = usualColour(one.name);
        if (!one.name.empty() && names.insert(one.name).second)
            setup.disciplines.push_back(std::move(one));
    }
    if (setup.disciplines.empty())
        return fail({kBadTemplate, "The template names no disciplines."});
    for (const Json& g : listOf(json, "personGroups"))
        setup.personGroups.push_back(
            {valueOr<std::string>(g, "name", {}), valueOr<std::vector<std::string>>(g, "people", {})});
    for (const Json& f : listOf(json, "federations")) {
        Federation one{valueOr<std::string>(f, "name", {}), {}, valueOr(f, "retired", false)};
        for (const Json& p : listOf(f, "parts"))
            if (const auto discipline = valueOr<std::string>(p, "discipline", {}); names.contains(discipline))
                one.parts.push_back({discipline, valueOr(p, "retired", false)});
        setup.federations.push_back(std::move(one));
    }
    for (const Json& one : listOf(json, "testSheets")) {
        auto sheet = clash::sheetFromJson(one.dump());
        if (!sheet)
            return fail(sheet.error());
        setup.testSheets.push_back(std::move(*sheet));
    }
    if (auto sheet = sheetOfDisciplines(listOf(json, "tests"), names); !sheet.tests.empty())
        setup.testSheets.push_back(std::move(sheet));
    if (json.contains("issueTemplates"))
        setup.issueTemplates.clear();
    for (const Json& one : listOf(json, "issueTemplates")) {
        auto t = issues::issueTemplateFromJson(one.dump());
        if (!t)
            return fail(t.error());
        setup.issueTemplates.push_back(std::move(*t));
    }
    if (json.contains("issueWorkflow")) {
        auto workflow = issues::workflowFromJson(json["issueWorkflow"].dump());
        if (!workflow)
            return fail(workflow.error());
        setup.issueWorkflow = std::move(*workflow);
    }
    setup.expectations = expectationsOf(json.contains("expectations") ? json["expectations"] : Json());
    for (const Json& s : listOf(json, "specifications"))
        setup.specifications.emplace_back(valueOr<std::string>(s, "name", {}), valueOr<std::string>(s, "text", {}));
    return setup;
}

namespace {

/// Runs one command after the other until one fails.
class Sequence {
public:
    template <class Command>
    void also(const Command& command)
    {
        if (done_)
            done_ = command();
    }
    [[nodiscard]] const Result<void>& done() const { return done_; }

private:
    Result<void> done_;
};

Result<void> writeSetup(Project& project, const Setup& setup, const WhoAndWhen& who)
{
    Sequence all;
    for (const Discipline& d : setup.disciplines)
        all.also([&] { return project.setup().addDiscipline(d, who); });
    for (const PersonGroup& g : setup.personGroups)
        all.also([&] { return g.people.empty() ? Result<void>() : project.setup().setPersonGroup(g, who); });
    for (const Federation& f : setup.federations)
        all.also([&] {
            return f.name == kWholeBuilding && !f.isRetired && f.parts.empty() ? Result<void>()
                                                                               : project.setup().setFederation(f, who);
        });
    for (const clash::TestSheet& sheet : setup.testSheets)
        all.also([&] { return project.clashes().keepSheet(sheet, "Test sheet: " + sheet.name, who); });
    if (setup.issueTemplates != issues::IssueTemplate::usuals())
        for (const issues::IssueTemplate& t : setup.issueTemplates)
            all.also([&] { return project.issues().keepTemplate(t, t.name, who); });
    if (setup.issueWorkflow != issues::Workflow::usual())
        all.also([&] { return project.issues().setWorkflow(setup.issueWorkflow, who); });
    all.also([&] { return project.setup().setExpectations(setup.expectations, who); });
    for (const auto& [name, text] : setup.specifications)
        all.also([&, &called = name, &words = text] { return project.setup().setSpecification(called, words, who); });
    return all.done();
}

template <class T>
const T* named(const std::vector<T>& list, const std::string& name)
{
    const auto at = std::find_if(list.begin(), list.end(), [&](const T& x) { return x.name == name; });
    return at == list.end() ? nullptr : &*at;
}

} // namespace

Result<std::unique_ptr<Project>> createProject(const fs::path& folder, const std::string& name, const Setup& setup,
                                               const WhoAndWhen& who)
{
    if (name.empty())
        return fail({kBadTemplate, "A project needs a name."});
    std::set<std::string> names;
    int references = 0;
    for (const Discipline& d : setup.disciplines) {
        if (d.name.empty() || !names.insert(d.name).second)
            return fail({kBadTemplate,
                         d.name.empty() ? "A discipline has no name." : "Two disciplines are called " + d.name + "."});
        references += d.isReference ? 1 : 0;
    }
    if (references != 1)
        return fail(
            {kBadTemplate, "Exactly one discipline is the reference that the others are brought onto; choose it."});
    auto project = Project::create(folder, name, who);
    if (!project)
        return project;
    const Result<void> done =
        (*project)->together("Project set up", who, [&] { return writeSetup(**project, setup, who); });
    if (done)
        return project;
    const Error why = done.error();
    project->reset();
    std::error_code ignored;
    for (const char* part :
         {"deliveries", "cache", "pictures", "exchanges", "project.sqlite", "project.sqlite-wal", "project.sqlite-shm"})
        removeFolder(folder / part);
    fs::remove(folder, ignored); // only where it is empty now
    return fail(why);
}

Result<void> changeSetup(Project& project, const Setup& wanted, const WhoAndWhen& who)
{
    const auto kept = setupOf(project);
    if (!kept)
        return fail(kept.error());
    const Setup& before = *kept;
    std::set<std::string> names;
    for (const Discipline& d : wanted.disciplines)
        if (!names.insert(d.name).second)
            return fail({kBadTemplate, "Two disciplines are called " + d.name + "."});
    return project.together("Setup changed", who, [&] {
        Sequence all;
        for (const Discipline& d : wanted.disciplines) {
            const auto same =
                std::find_if(before.disciplines.begin(), before.disciplines.end(),
                             [&](const Discipline& x) { return d.id != 0 ? x.id == d.id : x.name == d.name; });
            const Discipline* was = same == before.disciplines.end() ? nullptr : &*same;
            if (was != nullptr && was->name != d.name)
                all.also([&] { return project.setup().renameDiscipline(was->name, d.name, who); });
            if (was == nullptr)
                all.also([&] { return project.setup().addDiscipline(d, who); });
            else if (was->company != d.company || was->colour != d.colour || was->people != d.people ||
                     was->dropFolder != d.dropFolder)
                all.also([&] { return project.setup().setDiscipline(d, who); });
        }
        for (const PersonGroup& g : before.personGroups)
            if (named(wanted.personGroups, g.name) == nullptr)
                all.also([&] { return project.setup().setPersonGroup({g.name, {}}, who); });
        for (const PersonGroup& g : wanted.personGroups) {
            std::vector<std::string> people = g.people; // as they are kept
            std::sort(people.begin(), people.end());
            if (const PersonGroup* was = named(before.personGroups, g.name); was == nullptr || was->people != people)
                all.also([&] { return project.setup().setPersonGroup(g, who); });
        }
        if (toJson(wanted.expectations) != toJson(before.expectations))
            all.also([&] { return project.setup().setExpectations(wanted.expectations, who); });
        return all.done();
    });
}

} // namespace wendrix::project
