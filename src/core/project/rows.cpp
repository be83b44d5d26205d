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

std::string labelsToJson(const std::vector<std::string>& labels) { return Json(labels).dump(); }

std::vector<std::string> labelsFromJson(const std::string& text)
{
    const Json json = Json::parse(text, nullptr, false);
    return json.is_array() ? json.get<std::vector<std::string>>() : std::vector<std::string>{};
}

std::string viewToJson(const issues::Viewpoint& v)
{
    Json json{{"selection", wendrix::toJson(v.selection)},
              {"defaultVisible", v.isDefaultVisible},
              {"exceptions", wendrix::toJson(v.exceptions)}};
    for (const issues::Colouring& c : v.colouring)
        json["colouring"].push_back({{"colour", c.colour}, {"guids", wendrix::toJson(c.elements)}});
    for (const issues::ClippingPlane& p : v.planes)
        json["planes"].push_back({{"location", triple(p.location)}, {"direction", triple(p.direction)}});
    if (v.camera)
        json["camera"] = {{"eye", triple(v.camera->eye)},
                          {"direction", triple(v.camera->direction)},
                          {"up", triple(v.camera->up)},
                          {"perspective", v.camera->isPerspective},
                          {"fieldOfView", v.camera->fieldOfViewDegrees},
                          {"viewHeight", v.camera->viewHeightMetres}};
    return json.dump();
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
    if (json.contains("camera")) {
        const Json& c = json["camera"];
        v.camera = issues::Camera{vector(c.at("eye")), vector(c.at("direction")), vector(c.at("up")),
                                  c.at("perspective"), c.at("fieldOfView"),       c.at("viewHeight")};
    }
    return v;
}

} // namespace wendrix::project
