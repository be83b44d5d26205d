#include "commands.h"
#include "json_output.h"

#include "core/base/file.h"

#include <fmt/format.h>

#include <iostream>

namespace wendrix::cli {

namespace {

int sayUnreadable(const Error& error)
{
    std::cerr << "wendrix-cli: " << error.inWords() << '\n';
    return kUnreadable;
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

int compare(const std::string& before, const std::string& after, double toleranceMetres)
{
    changes::ChangeRule rule;
    constexpr double kRounding = 1e-6; // metres: what nothing is nearer than
    rule.distance = std::max(toleranceMetres, kRounding);
    Progress progress;
    const auto first = federation::openMember(before, progress);
    if (!first)
        return sayUnreadable(first.error());
    const auto second = federation::openMember(after, progress);
    if (!second)
        return sayUnreadable(second.error());
    const auto result = changes::compare(*first, *second, rule, progress);
    if (!result)
        return sayUnreadable(result.error());
    print(comparison(*result, *first, *second, rule.distance));
    return kDone;
}

} // namespace wendrix::cli
