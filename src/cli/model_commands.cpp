#include "commands.h"
#include "json_output.h"

#include "core/base/file.h"
#include "core/sets/elements.h"

#include <fmt/format.h>

#include <chrono>
#include <iostream>

namespace wendrix::cli {

namespace {

int sayUnreadable(const Error& error)
{
    std::cerr << "wendrix-cli: " << error.inWords() << '\n';
    return kUnreadable;
}

/// The tests of a project on its composition, in fitted places; points in the reference's frame.
int clashProject(const ClashCall& call)
{
    const auto project = project::Project::open(call.project);
    if (!project)
        return sayUnreadable(project.error());
    auto asked = project::orderOf(**project);
    if (!asked)
        return sayUnreadable(asked.error());
    project::WorkspaceOrder& order = *asked;
    if (order.tests.empty())
        order.tests = project::usualTests(order);
    if (call.test) {
        std::erase_if(order.tests, [&](const project::ClashTest& t) { return t.name != *call.test; });
        if (order.tests.empty()) {
            std::cerr << "wendrix-cli: the project has no test called '" << *call.test << "'.\n";
            return kCallIsOff;
        }
    }
    Progress progress;
    const auto start = std::chrono::steady_clock::now();
    const auto workspace = project::load(order, {}, progress);
    if (!workspace)
        return sayUnreadable(workspace.error());
    const auto findings = project::runTests(*workspace, order, progress);
    if (!findings)
        return sayUnreadable(findings.error());
    print(clashes(*findings, std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count()));
    return kDone;
}

/// Keeps of some elements those that a rule picks. @return false, and a message, where the rule is wrong
bool pick(std::span<const federation::Member> members, const std::optional<std::string>& line, const char* option,
          std::vector<clash::Part>& parts)
{
    if (!line)
        return true;
    const sets::Parsed parsed = sets::parse(*line);
    if (!parsed.expression) {
        std::cerr << "wendrix-cli: " << option << ": " << parsed.mistake.message << ", at sign "
                  << parsed.mistake.from + 1 << " of: " << *line << '\n';
        return false;
    }
    const auto answer = sets::Elements(members).in(*parsed.expression);
    if (!answer.problem.empty()) {
        std::cerr << "wendrix-cli: " << option << ": " << answer.problem << '\n';
        return false;
    }
    std::erase_if(parts, [&](const clash::Part& p) { return answer.picked[p.member][p.element] == 0; });
    return true;
}

/// What a call asks; nothing, and a message, where it asks for what there is not.
std::optional<clash::Question> questionOf(const ClashCall& call)
{
    clash::Question question;
    question.kind = call.kind == "clearance"   ? clash::Kind::Clearance
                    : call.kind == "duplicate" ? clash::Kind::Duplicate
                                               : clash::Kind::Hard;
    question.tolerance = call.toleranceMetres;
    question.clearance = call.clearanceMetres;
    question.direction = call.direction == "up"     ? clash::Direction::Up
                         : call.direction == "down" ? clash::Direction::Down
                         : call.direction == "side" ? clash::Direction::Side
                                                    : clash::Direction::Any;
    question.withVolumes = call.withVolumes;
    question.ignored = clash::Meetings::all();
    if (question.kind == clash::Kind::Clearance && !(question.clearance > 0)) {
        std::cerr << "wendrix-cli: --kind clearance needs --clearance, the metres that are wanted free.\n";
        return {};
    }
    if (!call.ignored)
        return question;
    question.ignored = clash::Meetings::none();
    if (*call.ignored == "none")
        return question;
    for (std::size_t from = 0; from <= call.ignored->size();) {
        const std::size_t comma = std::min(call.ignored->find(',', from), call.ignored->size());
        const std::string name = call.ignored->substr(from, comma - from);
        const auto meeting = clash::meetingFrom(name);
        if (!meeting) {
            std::cerr
                << "wendrix-cli: --ignore knows openings, connected, assembly, covering and hosted, or none; not '"
                << name << "'.\n";
            return {};
        }
        question.ignored.set(*meeting, true);
        from = comma + 1;
    }
    return question;
}

} // namespace

int inspect(const std::string& file, bool withGeometry)
{
    Progress progress;
    const auto model = ifc::Model::open(file, progress);
    if (!model)
        return sayUnreadable(model.error());
    if (!withGeometry) {
        print(inspection(**model, nullptr));
        return kDone;
    }
    const auto geometry = geometry::MemberGeometry::build(**model, progress);
    if (!geometry)
        return sayUnreadable(geometry.error());
    print(inspection(**model, geometry->get()));
    return kDone;
}

int inspectProperties(const std::string& file, const std::string& guid)
{
    Progress progress;
    const auto model = ifc::Model::open(file, progress);
    if (!model)
        return sayUnreadable(model.error());
    const auto element = (*model)->find(guid);
    if (!element) {
        std::cerr << "wendrix-cli: " << file << " holds no element with the GlobalId " << guid << ".\n";
        return kDoesNotHold;
    }
    print(properties(**model, (*model)->elements()[*element]));
    return kDone;
}

int mesh(const std::string& file, const std::string& objFile)
{
    Progress progress;
    const auto member = federation::openMember(file, progress);
    if (!member)
        return sayUnreadable(member.error());
    std::string obj = "# metres, Z up\n";
    std::size_t first = 1;
    for (ifc::ElementIndex i = 0; i < member->model->elements().size(); ++i) {
        const geometry::Mesh m = member->geometry->meshOf(i);
        obj += "o " + member->model->elements()[i].guid + "\n";
        for (const Point3 p : m.points)
            obj += fmt::format("v {} {} {}\n", p.x, p.y, p.z);
        for (const geometry::Triangle& t : m.triangles)
            obj += fmt::format("f {} {} {}\n", first + t[0], first + t[1], first + t[2]);
        first += m.points.size();
    }
    if (const auto written = writeFileWhole(objFile, obj); !written) {
        std::cerr << "wendrix-cli: " << written.error().inWords() << '\n';
        return kUnwritable;
    }
    return kDone;
}

int clash(const ClashCall& call)
{
    if (!call.project.empty())
        return clashProject(call);
    if (call.left.empty()) {
        std::cerr << "wendrix-cli: name a project, or a file with --left.\n";
        return kCallIsOff;
    }
    const auto question = questionOf(call);
    if (!question)
        return kCallIsOff;
    Progress progress;
    std::vector<federation::Member> members;
    for (const std::string& file : call.right ? std::vector{call.left, *call.right} : std::vector{call.left}) {
        auto member = federation::openMember(file, progress);
        if (!member)
            return sayUnreadable(member.error());
        members.push_back(std::move(*member));
    }
    const std::uint32_t left[] = {0}, right[] = {call.right ? 1u : 0u};
    auto leftParts = clash::partsOf(members, left), rightParts = clash::partsOf(members, right);
    if (!pick(members, call.leftFilter, "--left-filter", leftParts) ||
        !pick(members, call.right || call.rightFilter ? call.rightFilter : call.leftFilter, "--right-filter",
              rightParts))
        return kCallIsOff;
    const clash::Findings findings = clash::findClashes(members, leftParts, rightParts, *question, progress);
    print(clashes(findings, members, *question));
    return kDone;
}

int compare(const std::string& before, const std::string& after, double toleranceMetres)
{
    Progress progress;
    const auto first = federation::openMember(before, progress);
    if (!first)
        return sayUnreadable(first.error());
    const auto second = federation::openMember(after, progress);
    if (!second)
        return sayUnreadable(second.error());
    const auto result = changes::compare(*first, *second, {toleranceMetres}, progress);
    if (!result)
        return sayUnreadable(result.error());
    print(comparison(*result, *first, *second));
    return kDone;
}

} // namespace wendrix::cli
