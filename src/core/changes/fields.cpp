#include "core/changes/fields.h"

#include "core/base/number.h"
#include "core/base/text.h"

#include <cmath>
#include <map>
#include <optional>

namespace wendrix::changes {

namespace {

using FieldMap = std::map<std::pair<std::string_view, std::string_view>, std::pair<std::string_view, std::string_view>>;

FieldMap mapOf(const std::vector<ifc::Described>& fields)
{
    FieldMap map;
    for (const ifc::Described& f : fields)
        map.try_emplace({f.set, f.name}, f.value, f.unit);
    return map;
}

std::string inWords(const std::pair<std::string_view, std::string_view>& value)
{
    return std::string(value.first) + (value.second.empty() ? "" : " " + std::string(value.second));
}

/// A number as the reader writes it; a mark such as "01" is none.
std::optional<LeadingNumber> writtenNumber(std::string_view text)
{
    const auto number = leadingNumber(text);
    return number && plainNumber(number->value) == text.substr(0, number->length) ? number : std::nullopt;
}

} // namespace

bool isSameReading(std::string_view a, std::string_view b, double number)
{
    while (a != b) {
        const auto x = writtenNumber(a), y = writtenNumber(b);
        if (!x || !y || std::abs(x->value - y->value) > number * std::max(std::abs(x->value), std::abs(y->value)))
            return false;
        a.remove_prefix(x->length);
        b.remove_prefix(y->length);
        // Lists and ranges go on behind the same words.
        const std::size_t words = std::min(a.find_first_of("0123456789-"), a.size());
        if (a.substr(0, words) != b.substr(0, std::min(words, b.size())))
            return false;
        a.remove_prefix(words);
        b.remove_prefix(words);
    }
    return true;
}

std::vector<FieldChange> fieldChanges(const std::vector<ifc::Described>& before,
                                      const std::vector<ifc::Described>& after, double number)
{
    const FieldMap was = mapOf(before), now = mapOf(after);
    std::vector<FieldChange> changes;
    for (const auto& [key, old] : was) {
        const auto found = now.find(key);
        if (found == now.end())
            changes.push_back({std::string(key.first), std::string(key.second), inWords(old), ""});
        else if (old.second != found->second.second || !isSameReading(old.first, found->second.first, number))
            changes.push_back({std::string(key.first), std::string(key.second), inWords(old), inWords(found->second)});
    }
    for (const auto& [key, value] : now)
        if (!was.contains(key))
            changes.push_back({std::string(key.first), std::string(key.second), "", inWords(value)});
    return changes;
}

} // namespace wendrix::changes
