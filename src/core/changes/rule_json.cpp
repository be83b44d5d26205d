#include "core/changes/rule.h"

#include <nlohmann/json.hpp>

namespace wendrix::changes {

using Json = nlohmann::json;

std::string toJson(const ChangeRule& r)
{
    return Json{{"distanceMetres", r.distance}, {"angleRadians", r.angle.value}, {"volumeCubicMetres", r.volume},
                {"numberPart", r.number},       {"elements", r.elements},        {"fields", r.fields}}
        .dump();
}

ChangeRule ruleFromJson(std::string_view text)
{
    ChangeRule rule;
    const Json json = Json::parse(text, nullptr, false);
    if (!json.is_object())
        return rule;
    const auto number = [&](const char* name, double usual) {
        const auto at = json.find(name);
        return at != json.end() && at->is_number() ? at->get<double>() : usual;
    };
    const auto line = [&](const char* name) {
        const auto at = json.find(name);
        return at != json.end() && at->is_string() ? at->get<std::string>() : std::string();
    };
    rule.distance = number("distanceMetres", rule.distance);
    rule.angle = Radians{number("angleRadians", 0)};
    rule.volume = number("volumeCubicMetres", 0);
    rule.number = number("numberPart", rule.number);
    rule.elements = line("elements");
    rule.fields = line("fields");
    return mistakeIn(rule) ? ChangeRule{} : rule;
}

} // namespace wendrix::changes
