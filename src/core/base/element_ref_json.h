#pragma once

#include "core/base/element_ref.h"

#include <nlohmann/json.hpp>

#include <vector>

namespace wendrix {

/// A list of elements as it stands in a kept view or a viewpoint.
[[nodiscard]] inline nlohmann::json toJson(const std::vector<ElementRef>& elements)
{
    nlohmann::json list = nlohmann::json::array();
    for (const ElementRef& element : elements)
        list.push_back(toText(element));
    return list;
}

/// What earlier versions kept, bare GlobalIds, is read too; what is no element is left out.
[[nodiscard]] inline std::vector<ElementRef> elementRefsFrom(const nlohmann::json& list)
{
    std::vector<ElementRef> elements;
    for (const nlohmann::json& text : list)
        if (const auto element = text.is_string() ? elementRefFrom(text.get<std::string>()) : std::nullopt)
            elements.push_back(*element);
    return elements;
}

} // namespace wendrix
