#include "core/project/rows.h"

#include "core/base/element_ref_json.h"
#include "core/base/text.h"

#include <nlohmann/json.hpp>

namespace wendrix::project {

using Json = nlohmann::json;

namespace {

Json triple(Vector3 v) { return {v.x, v.y, v.z}; }
Vector3 vector(const Json& j) { return {j.at(0), j.at(1), j.at(2)}; }

} // namespace

std::string likePattern(const std::string& words)
{
    std::string pattern = "%";
    for (const char c : lowerCase(words)) {
        if (c == '%' || c == '_' || c == '\\')
            pattern += '\\';
        pattern += c;
    }
    return pattern + "%";
}

std::string fieldsToJson(const std::vector<changes::FieldChange>& fields)
{
    Json json = Json::array();
    for (const changes::FieldChange& f : fields)
        json.push_back({f.set, f.name, f.before, f.after});
    return json.dump();
}

std::vector<changes::FieldChange> fieldsFromJson(const std::string& text)
{
    std::vector<changes::FieldChange> fields;
    const Json json = Json::parse(text, nullptr, false);
    if (json.is_array())
        for (const auto& f : json)
            fields.push_back({f.at(0), f.at(1), f.at(2), f.at(3)});
    return fields;
}

std::string labelsToJson(const std::vector<std::string>& labels)
{
    return Json(labels).dump(-1, ' ', false, Json::error_handler_t::replace);
}

std::vector<std::string> labelsFromJson(const std::string& text)
{
    const Json json = Json::parse(text, nullptr, false);
    return json.is_array() ? json.get<std::vector<std::string>>() : std::vector<std::string>{};
}

namespace {

Json cameraToJson(const issues::Camera& c)
{
    return {{"eye", triple(c.eye)},
            {"direction", triple(c.direction)},
            {"up", triple(c.up)},
            {"perspective", c.isPerspective},
            {"fieldOfView", c.fieldOfViewDegrees},
            {"viewHeight", c.viewHeightMetres},
            {"aspect", c.aspect},
            {"distance", c.distanceMetres}};
}

issues::Camera cameraFromJson(const Json& c)
{
    return {vector(c.at("eye")), vector(c.at("direction")), vector(c.at("up")),     c.at("perspective"),
            c.at("fieldOfView"), c.at("viewHeight"),        c.value("aspect", 0.0), c.value("distance", 0.0)};
}

} // namespace

std::string viewToJson(const issues::Viewpoint& v)
{
    Json json{{"selection", wendrix::toJson(v.selection)},
              {"defaultVisible", v.isDefaultVisible},
              {"exceptions", wendrix::toJson(v.exceptions)}};
    for (const issues::Colouring& c : v.colouring)
        json["colouring"].push_back({{"colour", c.colour}, {"guids", wendrix::toJson(c.elements)}});
    for (const issues::ClippingPlane& p : v.planes)
        json["planes"].push_back({{"location", triple(p.location)}, {"direction", triple(p.direction)}});
    if (v.frame != 0)
        json["frame"] = v.frame;
    if (!v.saysVisibility)
        json["saysVisibility"] = false;
    if (!(v.hints == issues::ViewHints{}))
        json["hints"] = {v.hints.spaces, v.hints.spaceBoundaries, v.hints.openings};
    for (const issues::Line& line : v.lines)
        json["lines"].push_back({{"from", triple(line.from)}, {"to", triple(line.to)}});
    for (const issues::Bitmap& b : v.bitmaps)
        json["bitmaps"].push_back({{"format", b.format},
                                   {"reference", b.reference},
                                   {"location", triple(b.location)},
                                   {"normal", triple(b.normal)},
                                   {"up", triple(b.up)},
                                   {"height", b.heightMetres}});
    for (const issues::ForeignName& f : v.foreign)
        json["foreign"].push_back({{"guid", f.guid}, {"system", f.system}, {"id", f.id}});
    if (v.index)
        json["index"] = *v.index;
    if (v.second)
        json["second"] = cameraToJson(*v.second);
    if (v.camera)
        json["camera"] = cameraToJson(*v.camera);
    return json.dump(-1, ' ', false, Json::error_handler_t::replace);
}

issues::Viewpoint viewFromJson(const std::string& uuid, const std::string& text)
{
    issues::Viewpoint v;
    v.uuid = uuid;
    const Json json = Json::parse(text, nullptr, false);
    if (!json.is_object())
        return v;
    v.selection = elementRefsFrom(json.value("selection", Json::array()));
    v.isDefaultVisible = json.value("defaultVisible", true);
    v.exceptions = elementRefsFrom(json.value("exceptions", Json::array()));
    for (const auto& c : json.value("colouring", Json::array()))
        v.colouring.push_back({c.at("colour"), elementRefsFrom(c.at("guids"))});
    for (const auto& p : json.value("planes", Json::array()))
        v.planes.push_back({vector(p.at("location")), vector(p.at("direction"))});
    v.frame = json.value("frame", DisciplineId{0});
    v.saysVisibility = json.value("saysVisibility", true);
    if (const Json hints = json.value("hints", Json::array()); hints.size() == 3)
        v.hints = {hints[0], hints[1], hints[2]};
    for (const auto& line : json.value("lines", Json::array()))
        v.lines.push_back({vector(line.at("from")), vector(line.at("to"))});
    for (const auto& b : json.value("bitmaps", Json::array()))
        v.bitmaps.push_back({b.at("format"), b.at("reference"), vector(b.at("location")), vector(b.at("normal")),
                             vector(b.at("up")), b.at("height")});
    for (const auto& f : json.value("foreign", Json::array()))
        v.foreign.push_back({f.at("guid"), f.at("system"), f.at("id")});
    if (json.contains("index"))
        v.index = json["index"].get<int>();
    if (json.contains("camera"))
        v.camera = cameraFromJson(json["camera"]);
    if (json.contains("second"))
        v.second = cameraFromJson(json["second"]);
    return v;
}

} // namespace wendrix::project
