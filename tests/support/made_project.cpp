#include "support/made_project.h"

#include "core/project/setup.h"
#include "support/must.h"

#include <algorithm>
#include <fstream>

namespace wendrix::test {

using namespace wendrix::project;

std::unique_ptr<Project> madeProject(const std::filesystem::path& folder, const std::vector<std::string>& disciplines)
{
    Setup setup;
    for (const std::string& name : disciplines)
        setup.disciplines.push_back({name, "", usualColour(name), setup.disciplines.empty(), {}, {}, {}});
    return must(createProject(folder, "Marrowfield Seed Store", setup, kInes));
}

DisciplineId idOf(const Project& project, const std::string& discipline)
{
    for (const Discipline& d : must(project.setup().disciplines()))
        if (d.name == discipline)
            return d.id;
    return 0;
}

DeliveryId received(Project& project, const std::string& discipline, const std::string& revision,
                    const std::string& time)
{
    const std::filesystem::path file = project.folder() / (discipline + revision + ".ifc");
    std::ofstream(file) << "ISO-10303-21; of " << discipline << revision;
    NewDelivery d;
    d.discipline = discipline;
    d.revision = revision;
    d.time = time;
    const std::string projectGuid = std::string(20, '0') + discipline[0] + revision.back();
    d.models = {{file, projectGuid, "IFC4", 1}};
    return must(project.deliveries().add(d, kInes));
}

RunTest testOf(const std::string& left, const std::string& right)
{
    RunTest made;
    made.test.name = left + " × " + right;
    made.test.left = clash::lineOfDiscipline(left);
    made.test.right = clash::lineOfDiscipline(right);
    return made;
}

MadeRun::MadeRun(const Project& project, const std::vector<std::string>& disciplines)
{
    for (const std::string& name : disciplines) {
        ids_[name] = idOf(project, name);
        names_[ids_[name]] = name;
        run.members.push_back({ids_[name], name, "P01", "", 0, {}, true, ""});
    }
    for (std::size_t i = 0; i < disciplines.size(); ++i)
        for (std::size_t j = i + 1; j < disciplines.size(); ++j)
            run.tests.push_back(test::testOf(disciplines[i], disciplines[j]));
    run.sides = [names = names_](const NewRun& made, std::uint32_t test, const ElementRef& ref) {
        const std::string line = clash::lineOfDiscipline(names.at(ref.discipline));
        return TestSides{made.tests[test].test.left == line, made.tests[test].test.right == line};
    };
}

ElementRef MadeRun::ref(const std::string& discipline, const std::string& guid, std::uint32_t ordinal,
                        const std::string& part) const
{
    return {ids_.at(discipline), part, guid, ordinal};
}

std::uint32_t MadeRun::number(const ElementRef& ref)
{
    for (std::uint32_t i = 0; i < run.elements.size(); ++i)
        if (run.elements[i].ref == ref)
            return i;
    run.elements.push_back(
        {ref, "Element " + ref.guid + (ref.ordinal > 0 ? "#" + std::to_string(ref.ordinal) : ""), "IfcBeam"});
    return static_cast<std::uint32_t>(run.elements.size() - 1);
}

std::uint32_t MadeRun::testOf(const ElementRef& left, const ElementRef& right) const
{
    const std::string a = clash::lineOfDiscipline(names_.at(left.discipline)),
                      b = clash::lineOfDiscipline(names_.at(right.discipline));
    const auto test = std::find_if(run.tests.begin(), run.tests.end(), [&](const RunTest& t) {
        return (t.test.left == a && t.test.right == b) || (t.test.left == b && t.test.right == a);
    });
    return static_cast<std::uint32_t>(test - run.tests.begin());
}

MadeRun& MadeRun::pair(const ElementRef& left, const ElementRef& right, double depth)
{
    run.findings.push_back(
        {testOf(left, right), number(left), number(right), depth, {1, 2, 3}, "Level 1", "B / 2", false});
    return *this;
}

MadeRun& MadeRun::expect(const ElementRef& left, const ElementRef& right)
{
    run.expected.push_back({testOf(left, right), clash::Meeting::Connected, number(left), number(right)});
    return *this;
}

} // namespace wendrix::test
