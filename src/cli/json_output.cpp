#include "json_output.h"

#include "core/changes/frames.h"
#include "core/changes/volume_change.h"
#include "core/clash/untested.h"

#include "core/base/guid.h"
#include "core/ifc/details.h"

#include <algorithm>
#include <array>
#include <iostream>

namespace wendrix::cli {

namespace {

Json diagnostics(const std::vector<Diagnostic>& list)
{
    Json json = Json::array();
    for (const Diagnostic& d : list)
        json.push_back(
            {{"severity", severityName(d.severity)}, {"code", d.code}, {"entity", d.entity}, {"message", d.message}});
    return json;
}

template <class T>
Json orNull(const std::optional<T>& value)
{
    return value ? Json(*value) : Json(nullptr);
}

Json element(const ifc::Model& model, const ifc::Element& e, const geometry::ElementShape* shape)
{
    Json json{{"guid", e.guid}, {"class", model.className(e)}, {"name", model.text(e.name)}};
    json["storey"] =
        e.storey != ifc::kNoStorey ? Json(model.storeys()[static_cast<std::size_t>(e.storey)].name) : Json(nullptr);
    json["system"] = model.text(e.system);
    json["type"] = model.text(e.typeName);
    json["material"] = model.text(e.material);
    const bool isBuilt = shape != nullptr && !shape->placed.empty();
    json["volume"] = isBuilt && shape->isClosed ? Json(shape->volume) : Json(nullptr);
    json["area"] = isBuilt ? Json(shape->area) : Json(nullptr);
    json["closed"] = isBuilt && shape->isClosed;
    json["triangles"] = isBuilt ? shape->triangles : 0;
    json["bounds"] =
        isBuilt ? Json{{"min", triple(shape->bounds.min)}, {"max", triple(shape->bounds.max)}} : Json(nullptr);
    return json;
}

Json georeference(const ifc::Georeference& g)
{
    Json json;
    json["crs"] = orNull(g.crs);
    json["eastings"] = orNull(g.eastings);
    json["northings"] = orNull(g.northings);
    json["height"] = orNull(g.height);
    json["rotationDegrees"] = g.rotation ? Json(toDegrees(*g.rotation)) : Json(nullptr);
    json["scale"] = orNull(g.scale);
    json["site"] = {{"latitudeDegrees", orNull(g.latitudeDegrees)},
                    {"longitudeDegrees", orNull(g.longitudeDegrees)},
                    {"elevation", g.siteElevation ? Json(g.siteElevation->value) : Json(nullptr)}};
    json["trueNorthDegrees"] = g.trueNorth ? Json(toDegrees(*g.trueNorth)) : Json(nullptr);
    return json;
}

} // namespace

void print(const Json& json)
{
    try {
        std::cout << json.dump(1) << '\n';
    } catch (const Json::type_error&) {
        std::cerr << "wendrix-cli: some texts of the file are not UTF-8; what can not be read in them is written as "
                     "\uFFFD.\n";
        std::cout << json.dump(1, ' ', false, Json::error_handler_t::replace) << '\n';
    }
}

Json triple(Vector3 v) { return Json::array({v.x, v.y, v.z}); }

Json properties(const ifc::Model& model, const ifc::Element& element)
{
    const ifc::ElementDetails d = ifc::readDetails(model, element);
    const auto list = [](const std::vector<ifc::Property>& properties) {
        Json json = Json::array();
        for (const ifc::Property& p : properties)
            json.push_back({{"name", p.name}, {"value", p.value}, {"unit", p.unit}});
        return json;
    };
    Json json{{"guid", element.guid},
              {"class", model.className(element)},
              {"entity", ifc::entityName(element.entity)},
              {"attributes", list(d.attributes)},
              {"sets", Json::array()},
              {"related", Json::array()},
              {"materials", Json::array()},
              {"classifications", Json::array()},
              {"layers", d.layers}};
    for (const ifc::PropertySet& set : d.sets)
        json["sets"].push_back({{"name", set.name}, {"properties", list(set.properties)}});
    for (const ifc::Related& r : d.related)
        json["related"].push_back({{"how", r.how},
                                   {"class", r.className},
                                   {"name", r.name},
                                   {"guid", r.guid},
                                   {"entity", ifc::entityName(r.entity)}});
    for (const ifc::MaterialPart& m : d.materials)
        json["materials"].push_back({{"name", m.name},
                                     {"category", m.category},
                                     {"thickness", m.thickness ? Json(m.thickness->value) : Json(nullptr)},
                                     {"share", orNull(m.share)}});
    for (const ifc::ClassificationReference& c : d.classifications)
        json["classifications"].push_back({{"system", c.system}, {"code", c.code}, {"name", c.name}});
    json["ownership"] = nullptr;
    if (d.ownership)
        json["ownership"] = {{"person", d.ownership->person},
                             {"organisation", d.ownership->organisation},
                             {"application", d.ownership->application},
                             {"created", orNull(d.ownership->created)},
                             {"changed", orNull(d.ownership->changed)}};
    return json;
}

Json inspection(const ifc::Model& model, const geometry::MemberGeometry* geometry)
{
    Json json{{"file", model.source().file().name()}, {"schema", model.source().schema().name()}};
    json["lengthUnit"] = {{"name", model.units().lengthName}, {"toMetres", model.units().lengthToMetres}};
    json["elements"] = Json::array();
    for (std::size_t i = 0; i < model.elements().size(); ++i)
        json["elements"].push_back(
            element(model, model.elements()[i], geometry != nullptr ? &geometry->elements()[i] : nullptr));
    json["storeys"] = Json::array();
    for (const ifc::Storey& s : model.storeys())
        json["storeys"].push_back({{"guid", s.guid}, {"name", s.name}, {"elevation", s.elevation.value}});
    json["grids"] = Json::array();
    for (const ifc::Grid& grid : model.grids()) {
        Json axes = Json::array();
        for (const ifc::GridAxis& axis : grid.axes) {
            axes.push_back({{"tag", axis.tag},
                            {"family", std::string(1, axis.family)},
                            {"start", triple(axis.start)},
                            {"end", triple(axis.end)}});
            if (axis.arc) // along a circle, counter-clockwise by so much
                axes.back().update({{"centre", triple(axis.arc->centre)},
                                    {"radius", axis.arc->radius()},
                                    {"sweepDegrees", toDegrees(Radians{axis.arc->sweep})}});
        }
        json["grids"].push_back({{"guid", grid.guid}, {"name", grid.name}, {"axes", axes}});
    }
    json["georeference"] = georeference(model.georeference());
    std::vector<Diagnostic> all = model.diagnostics();
    if (geometry != nullptr)
        all.insert(all.end(), geometry->diagnostics().begin(), geometry->diagnostics().end());
    json["diagnostics"] = diagnostics(all);
    return json;
}

namespace {

/// The same two elements give the same name, whichever is left.
std::string pairName(clash::Kind kind, const ElementRef& left, const ElementRef& right)
{
    std::string first = toText(left), second = toText(right);
    if (second < first)
        first.swap(second);
    return uuidFromText(std::to_string(static_cast<int>(kind)) + "\n" + first + "\n" + second);
}

} // namespace

Json clashes(const clash::Findings& findings, std::span<const federation::Member> members,
             const clash::Question& question)
{
    constexpr std::array kKinds{"", "hard", "clearance", "duplicate"};
    Json list = Json::array(), ignored = Json::array(), notTested = Json::array();
    for (const clash::Clash& c : findings.clashes) {
        const ElementRef left = members[c.left.member].refOf(c.left.element),
                         right = members[c.right.member].refOf(c.right.element);
        Json entry{{"id", pairName(question.kind, left, right)},
                   {"left", left.guid},
                   {"right", right.guid},
                   {"kind", kKinds[static_cast<std::size_t>(question.kind)]},
                   {"depth", c.depth},
                   {"distance", c.distance},
                   {"point", triple(c.point)},
                   {"approximate", c.isApproximate}};
        if (c.isOpen)
            entry["open"] = true;
        if (question.withVolumes && c.volume)
            entry["volume"] = *c.volume;
        list.push_back(std::move(entry));
    }
    for (const clash::Meeting m : clash::kMeetings)
        if (question.ignored.has(m))
            ignored.push_back({{"rule", clash::nameOf(m)},
                               {"pairs", std::count_if(findings.expected.begin(), findings.expected.end(),
                                                       [&](const clash::Expected& e) { return e.rule == m; })}});
    if (question.joint > 0)
        ignored.push_back(
            {{"rule", clash::nameOf(clash::Meeting::Run)},
             {"pairs", std::count_if(findings.expected.begin(), findings.expected.end(),
                                     [](const clash::Expected& e) { return e.rule == clash::Meeting::Run; })}});
    for (const federation::Member& m : members)
        for (const clash::NotTestable& n : clash::notTestable(m))
            notTested.push_back({{"guid", n.guid}, {"reason", n.why}});
    return {{"clashes", list},
            {"ignored", ignored},
            {"notTested", notTested},
            {"pairsTested", findings.pairsTested},
            {"elapsedSeconds", findings.seconds}};
}

Json clashes(const project::NewRun& run, const std::vector<Standing>& standings, double seconds)
{
    Json list = Json::array(), notTested = Json::array(), ignored = Json::array(), tests = Json::array();
    for (std::size_t k = 0; k < run.findings.size(); ++k) {
        const project::RunFinding& f = run.findings[k];
        const ElementRef &left = run.elements[f.left].ref, &right = run.elements[f.right].ref;
        const clash::Test& test = run.tests[f.test].test;
        Json entry{{"id", pairName(test.kind, left, right)},
                   {"left", left.guid},
                   {"right", right.guid},
                   {"kind", clash::nameOf(test.kind)},
                   {"depth", f.depth},
                   {"distance", f.distance},
                   {"point", triple(f.point)},
                   {"approximate", f.isApproximate},
                   {"test", test.name},
                   {"storey", f.storey},
                   {"bay", f.bay},
                   {"state", standings[k].state}};
        if (!standings[k].cause.empty())
            entry["cause"] = standings[k].cause;
        if (f.isOpen)
            entry["open"] = true;
        list.push_back(std::move(entry));
    }
    std::size_t tested = 0;
    for (const project::RunTest& t : run.tests) {
        tested += t.pairsTested;
        for (const auto& [rule, pairs] : t.expected)
            ignored.push_back({{"test", t.test.name}, {"rule", clash::nameOf(rule)}, {"pairs", pairs}});
        Json one{{"name", t.test.name}, {"kind", clash::nameOf(t.test.kind)}, {"pairs", t.found}};
        if (t.state != clash::TestState::Run)
            one["notRun"] = t.state == clash::TestState::Cancelled ? "it was cancelled" : t.why;
        tests.push_back(std::move(one));
    }
    for (const project::RunMember& m : run.members)
        if (!m.isTested)
            notTested.push_back({{"member", m.title()}, {"reason", m.why}});
    return {{"clashes", list},       {"ignored", ignored},       {"tests", tests}, {"membersNotTested", notTested},
            {"pairsTested", tested}, {"elapsedSeconds", seconds}};
}

Json comparison(const changes::Comparison& result, const federation::Member& before, const federation::Member& after,
                double toleranceMetres)
{
    const auto guid = [](const federation::Member& m, ifc::ElementIndex i) { return m.model->elements()[i].guid; };
    const auto guidsOf = [&](const std::vector<ifc::ElementIndex>& elements, const federation::Member& m) {
        Json list = Json::array();
        for (const ifc::ElementIndex i : elements)
            list.push_back(guid(m, i));
        return list;
    };
    Json json{{"added", guidsOf(result.added, after)}, {"removed", guidsOf(result.removed, before)}};
    json["changed"] = Json::array();
    for (const changes::Change& c : result.changed) {
        Json what = Json::array(), fields = Json::array();
        if (c.isReshaped)
            what.push_back("shape");
        if (c.isMoved)
            what.push_back("place");
        if (c.isRedescribed)
            what.push_back("data");
        for (const changes::FieldChange& f : c.fields)
            fields.push_back({{"set", f.set}, {"name", f.name}, {"old", f.before}, {"new", f.after}});
        changes::VolumeChange volumes;
        if (c.isReshaped)
            volumes = changes::volumeChange(changes::bodyBefore(before, c.before, after),
                                            after.geometry->meshOf(c.after), toleranceMetres);
        json["changed"].push_back({{"guid", guid(after, c.after)},
                                   {"what", what},
                                   {"shift", triple(c.motion.shift)},
                                   {"turnDegrees", toDegrees(c.motion.turn)},
                                   {"addedVolume", volumes.addedVolume},
                                   {"removedVolume", volumes.removedVolume},
                                   {"fields", fields}});
    }
    json["rekeyed"] = Json::array();
    for (const changes::Rekeyed& r : result.rekeyed)
        json["rekeyed"].push_back(
            {{"old", guid(before, r.before)}, {"new", guid(after, r.after)}, {"confidence", r.confidence}});
    json["split"] = Json::array();
    for (const changes::Split& s : result.splits)
        json["split"].push_back({{"old", guid(before, s.before)}, {"new", guidsOf(s.after, after)}});
    json["merged"] = Json::array();
    for (const changes::Merge& m : result.merges)
        json["merged"].push_back({{"old", guidsOf(m.before, before)}, {"new", guid(after, m.after)}});
    json["unchanged"] = result.unchanged;
    return json;
}

namespace {

Json fitOf(const coordinates::Alignment& a)
{
    return {{"translation", triple(a.fit.translation)},
            {"rotationDegrees", toDegrees(a.fit.rotation)},
            {"scale", a.fit.scale},
            {"rms", a.rms.value}};
}

} // namespace

Json alignment(const coordinates::Alignment& a)
{
    Json json = fitOf(a);
    json["residuals"] = Json::array();
    for (const coordinates::Left& left : a.left)
        json["residuals"].push_back({{"at", left.at}, {"metres", left.distance.value}});
    json["warnings"] = a.warnings;
    return json;
}

Json diagnosis(const coordinates::Diagnosis& d)
{
    Json json{{"aligned", d.isAligned}, {"causes", Json::array()}, {"contradictions", Json::array()}, {"fit", nullptr}};
    const auto tell = [](Json& list, const std::vector<coordinates::Cause>& causes) {
        for (const coordinates::Cause& cause : causes) {
            Json measure = Json::object();
            for (const auto& [name, value] : cause.measure)
                std::visit([&, &key = name](const auto& v) { measure[key] = v; }, value);
            list.push_back({{"kind", coordinates::nameOf(cause.kind)},
                            {"confidence", cause.confidence},
                            {"sentence", cause.sentence},
                            {"remedy", cause.remedy},
                            {"measure", std::move(measure)}});
        }
    };
    tell(json["causes"], d.causes);
    tell(json["contradictions"], d.contradictions);
    if (d.fit)
        json["fit"] = fitOf(*d.fit);
    return json;
}

} // namespace wendrix::cli
