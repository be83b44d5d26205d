#include "core/base/element_ref.h"

#include <charconv>

namespace wendrix {

namespace {

template <class Number>
bool reads(std::string_view text, Number& number)
{
    const auto done = std::from_chars(text.data(), text.data() + text.size(), number);
    return done.ec == std::errc() && done.ptr == text.data() + text.size();
}

} // namespace

std::string toText(const ElementRef& ref)
{
    // The part last: it comes from a file's name and may hold anything.
    return std::to_string(ref.discipline) + "|" + ref.guid + "|" + std::to_string(ref.ordinal) + "|" + ref.part;
}

std::optional<ElementRef> elementRefFrom(const std::string& text)
{
    const std::size_t first = text.find('|');
    if (first == std::string::npos)
        return text.empty() ? std::nullopt : std::optional(ElementRef{0, "", text, 0});
    const std::size_t second = text.find('|', first + 1),
                      third = second == std::string::npos ? second : text.find('|', second + 1);
    ElementRef ref;
    if (third == std::string::npos || !reads(std::string_view(text).substr(0, first), ref.discipline) ||
        !reads(std::string_view(text).substr(second + 1, third - second - 1), ref.ordinal))
        return {};
    ref.guid = text.substr(first + 1, second - first - 1);
    ref.part = text.substr(third + 1);
    return ref.guid.empty() ? std::nullopt : std::optional(std::move(ref));
}

} // namespace wendrix
