#include "core/view/scene_state.h"

#include "core/base/element_ref_json.h"

#include <nlohmann/json.hpp>

namespace wendrix::view {

using Json = nlohmann::json;

namespace {

Json triple(Vector3 v) { return {v.x, v.y, v.z}; }
Vector3 vector(const Json& j) { return {j.at(0).get<double>(), j.at(1).get<double>(), j.at(2).get<double>()}; }
Json toJson(Colour c) { return {c.red, c.green, c.blue, c.alpha}; }
Colour colour(const Json& j)
{
    return {j.at(0).get<float>(), j.at(1).get<float>(), j.at(2).get<float>(), j.at(3).get<float>()};
}

template <class Enum>
Enum bounded(const Json& j, int most)
{
    return static_cast<Enum>(std::clamp(j.get<int>(), 0, most));
}

Json toJson(const Cuts& cuts)
{
    Json j = Json::object();
    if (cuts.slice)
        j["slice"] = {cuts.slice->low, cuts.slice->high, cuts.slice->name};
    if (cuts.box)
        j["box"] = {triple(cuts.box->min), triple(cuts.box->max)};
    for (const geometry::Plane& p : cuts.planes)
        j["planes"].push_back({triple(p.at), triple(p.normal)});
    return j;
}

Cuts cuts(const Json& j)
{
    Cuts c;
    if (j.contains("slice"))
        c.slice = Cuts::Slice{j["slice"].at(0), j["slice"].at(1), j["slice"].at(2)};
    if (j.contains("box")) {
        c.box.emplace();
        c.box->min = vector(j["box"].at(0));
        c.box->max = vector(j["box"].at(1));
    }
    for (const Json& p : j.value("planes", Json::array()))
        (void)c.add({vector(p.at(0)), normalised(vector(p.at(1)))});
    return c;
}

Json toJson(const MemberLook& l)
{
    return {{"colour", toJson(l.colour)}, {"shown", l.isShown},         {"picked", l.isPickable},
            {"edges", l.isEdgesOnly},     {"spaces", l.areSpacesShown}, {"alpha", l.alpha}};
}

MemberLook look(const Json& j)
{
    MemberLook l;
    l.colour = colour(j.at("colour"));
    l.isShown = j.value("shown", true);
    l.isPickable = j.value("picked", true);
    l.isEdgesOnly = j.value("edges", false);
    l.areSpacesShown = j.value("spaces", false);
    l.alpha = std::clamp(j.value("alpha", 1.0f), 0.0f, 1.0f);
    return l;
}

Json toJson(const Measurement& m)
{
    Json places = Json::array();
    for (const Point3 p : m.places)
        places.push_back(triple(p));
    return {{"kind", static_cast<int>(m.kind)},
            {"places", places},
            {"value", m.value},
            {"parts", m.parts},
            {"number", m.number}};
}

Measurement measurement(const Json& j)
{
    Measurement m;
    m.kind = bounded<MeasureKind>(j.at("kind"), static_cast<int>(MeasureKind::Elevation));
    for (const Json& p : j.at("places"))
        m.places.push_back(vector(p));
    m.value = j.at("value");
    m.parts = j.at("parts").get<decltype(m.parts)>();
    m.number = j.at("number");
    return m;
}

Json toJson(const Mark& m)
{
    Json points = Json::array();
    for (const Point2 p : m.points)
        points.push_back({p.x, p.y});
    return {{"kind", static_cast<int>(m.kind)}, {"points", points}, {"words", m.words}};
}

Mark mark(const Json& j, const Camera& from)
{
    Mark m;
    m.kind = bounded<MarkKind>(j.at("kind"), static_cast<int>(MarkKind::Text));
    for (const Json& p : j.at("points"))
        m.points.push_back({p.at(0).get<double>(), p.at(1).get<double>()});
    m.words = j.value("words", "");
    m.from = from;
    return m;
}

} // namespace

std::string toJson(const SceneState& s)
{
    Json j;
    j["camera"] = {{"eye", triple(s.camera.eye)},
                   {"target", triple(s.camera.target)},
                   {"angle", s.camera.fieldOfView},
                   {"parallel", s.camera.isParallel},
                   {"roll", s.camera.roll}};
    j["cuts"] = toJson(s.cuts);
    j["rule"] = {static_cast<int>(s.rule.by), s.rule.propertySet, s.rule.property};
    if (!s.rule.sets.empty())
        j["ruleSets"] = s.rule.sets;
    for (const auto& [discipline, l] : s.looks)
        j["looks"][discipline] = toJson(l);
    j["hidden"] = wendrix::toJson(s.hidden);
    j["selected"] = wendrix::toJson(s.selected);
    if (s.only)
        j["only"] = wendrix::toJson(*s.only);
    for (const auto& [ref, c] : s.painted)
        j["painted"][toText(ref)] = toJson(c);
    j["restFaded"] = s.isRestFaded;
    if (s.focus)
        j["focus"] = {triple(s.focus->min), triple(s.focus->max)};
    for (const Measurement& m : s.measurements)
        j["measured"].push_back(toJson(m));
    for (const Mark& m : s.marks)
        j["marks"].push_back(toJson(m));
    return j.dump();
}

Result<SceneState> fromJson(const std::string& text)
{
    try {
        const Json j = Json::parse(text);
        SceneState s;
        const Json& camera = j.at("camera");
        s.camera.eye = vector(camera.at("eye"));
        s.camera.target = vector(camera.at("target"));
        s.camera.fieldOfView = std::clamp(camera.at("angle").get<double>(), 0.05, 2.5);
        s.camera.isParallel = camera.value("parallel", false);
        s.camera.roll = camera.value("roll", 0.0);
        s.cuts = cuts(j.value("cuts", Json::object()));
        if (j.contains("rule"))
            s.rule = {bounded<ColourBy>(j["rule"].at(0), static_cast<int>(ColourBy::Sets)), j["rule"].at(1),
                      j["rule"].at(2)};
        if (j.contains("ruleSets"))
            s.rule.sets = j["ruleSets"].get<std::vector<std::string>>();
        const Json looks = j.value("looks", Json::object()), painted = j.value("painted", Json::object());
        for (const auto& [discipline, l] : looks.items())
            s.looks[discipline] = look(l);
        s.hidden = elementRefsFrom(j.value("hidden", Json::array()));
        s.selected = elementRefsFrom(j.value("selected", Json::array()));
        if (j.contains("only"))
            s.only = elementRefsFrom(j["only"]);
        for (const auto& [name, c] : painted.items())
            if (const auto ref = elementRefFrom(name))
                s.painted[*ref] = colour(c);
        s.isRestFaded = j.value("restFaded", false);
        if (j.contains("focus")) {
            s.focus.emplace();
            s.focus->add(vector(j["focus"].at(0)));
            s.focus->add(vector(j["focus"].at(1)));
        }
        for (const Json& m : j.value("measured", Json::array()))
            s.measurements.push_back(measurement(m));
        for (const Json& m : j.value("marks", Json::array()))
            s.marks.push_back(mark(m, s.camera));
        return s;
    } catch (const Json::exception&) {
        return fail({kNoView, "The kept view can not be read; keep it anew from the scene."});
    }
}

void take(SceneState& s, const Display& display, std::span<const federation::Member> members)
{
    const auto ref = [&](const ElementKey& key) { return members[key.member].refOf(key.element); };
    const auto all = [&](const std::set<ElementKey>& keys) {
        std::vector<ElementRef> list;
        for (const ElementKey& key : keys)
            list.push_back(ref(key));
        return list;
    };
    s.hidden = all(display.hidden);
    s.selected = all(display.selected);
    s.only.reset();
    if (display.only)
        s.only = all(*display.only);
    s.painted.clear();
    for (const auto& [key, c] : display.painted)
        s.painted[ref(key)] = c;
    s.isRestFaded = display.isRestFaded;
    s.focus = display.focus ? std::optional(display.focus->box) : std::nullopt;
}

Display displayOf(const SceneState& s, std::span<const federation::Member> members, std::size_t& missing)
{
    missing = 0;
    const auto key = [&](const ElementRef& ref) {
        const auto found = find(members, ref);
        missing += found ? 0 : 1;
        return found;
    };
    const auto keys = [&](const std::vector<ElementRef>& refs) {
        std::set<ElementKey> set;
        for (const ElementRef& ref : refs)
            if (const auto found = key(ref))
                set.insert(*found);
        return set;
    };
    Display display;
    display.hidden = keys(s.hidden);
    display.selected = keys(s.selected);
    if (s.only)
        display.only = keys(*s.only);
    for (const auto& [ref, c] : s.painted)
        if (const auto found = key(ref))
            display.painted[*found] = c;
    display.isRestFaded = s.isRestFaded;
    if (s.focus && s.isRestFaded)
        display.focus = Focus{*s.focus, 0, 0, {}};
    return display;
}

} // namespace wendrix::view
