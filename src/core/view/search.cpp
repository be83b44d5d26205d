#include "core/view/search.h"

#include "core/base/text.h"
#include "core/ifc/properties.h"

#include <algorithm>
#include <cstring>
#include <unordered_map>

namespace wendrix::view {

namespace {

constexpr char kEnd = '\n';                   // ends a row
constexpr char kPart = '\x1f';                // ends a row's own name
constexpr std::size_t kMostLookedAt = 20'000; // a query of one letter is in nearly every row

std::string clean(std::string text)
{
    std::replace_if(
        text.begin(), text.end(), [](char c) { return c == kEnd || c == kPart; }, ' ');
    return text;
}

std::vector<std::string> wordsOf(const std::string& query)
{
    std::vector<std::string> words;
    std::string word;
    for (const char c : query + " ")
        if (c == ' ') {
            if (!word.empty())
                words.push_back(word);
            word.clear();
        } else {
            word += c;
        }
    return words;
}

} // namespace

void SearchIndex::add(const std::string& words, const std::string& more, std::span<const ElementKey> elements)
{
    const std::string own = clean(words);
    rows_.push_back(
        {texts_.size(), static_cast<std::uint32_t>(own.size()), static_cast<std::uint32_t>(elements_.size())});
    const std::string row = own + kPart + clean(more) + kEnd;
    texts_ += folded(row);
    shown_ += row;
    elements_.insert(elements_.end(), elements.begin(), elements.end());
}

SearchIndex SearchIndex::build(std::span<const federation::Member> members, Progress& progress)
{
    SearchIndex index;
    std::uint64_t all = 0, done = 0;
    for (const federation::Member& member : members)
        all += member.model->elements().size();
    for (std::uint32_t m = 0; m < members.size(); ++m) {
        const ifc::Model& model = *members[m].model;
        std::unordered_map<ifc::EntityId, ifc::ElementIndex> byEntity;
        std::unordered_map<ifc::EntityId, std::vector<ElementKey>> byType;
        for (ifc::ElementIndex e = 0; e < model.elements().size(); ++e) {
            if ((++done & 0xFFF) == 0) {
                progress.report("Noting what elements are called", done, all, "elements");
                if (progress.isCancelled())
                    return index;
            }
            const ifc::Element& element = model.elements()[e];
            const ElementKey key{m, e};
            byEntity[element.entity] = e;
            if (element.typeEntity != 0)
                byType[element.typeEntity].push_back(key);
            std::string more = members[m].title() + " · " + classInWords(model.className(element));
            if (element.storey != ifc::kNoStorey)
                more += " · " + model.storeys()[static_cast<std::size_t>(element.storey)].name;
            for (const StringId id : {element.typeName, element.system, element.material, element.tag})
                if (const std::string& text = model.text(id); !text.empty() && more.find(text) == std::string::npos)
                    more += " · " + text;
            more += " · " + element.guid;
            index.add(model.displayName(element), more, std::span(&key, 1));
        }
        std::unordered_map<ifc::EntityId, std::vector<ifc::EntityId>> typesOfSet;
        for (const auto& [type, elements] : byType)
            for (const step::Value set : model.source().entity(type)["HasPropertySets"])
                typesOfSet[set.reference()].push_back(type);
        // Each set once, whoever shares it.
        std::map<std::string, std::vector<ElementKey>> rows;
        const auto take = [&](const ifc::Entity& entity) {
            if (progress.isCancelled())
                return;
            std::vector<ElementKey> owners;
            for (const ifc::EntityId id : model.relations().others(entity.id(), "IfcRelDefinesByProperties", true))
                if (const auto found = byEntity.find(id); found != byEntity.end())
                    owners.push_back({m, found->second});
            if (const auto types = typesOfSet.find(entity.id()); types != typesOfSet.end())
                for (const ifc::EntityId type : types->second)
                    owners.insert(owners.end(), byType[type].begin(), byType[type].end());
            if (owners.empty())
                return;
            const ifc::PropertySet set = readPropertySet(model.source(), model.units(), entity);
            for (const ifc::Property& p : set.properties)
                if (!p.value.empty()) {
                    auto& row = rows[set.name + " " + p.name + " = " + p.value + (p.unit.empty() ? "" : " " + p.unit)];
                    row.insert(row.end(), owners.begin(), owners.end());
                }
        };
        model.source().forEach("IfcPropertySetDefinition", take);
        for (auto& [words, owners] : rows) {
            std::sort(owners.begin(), owners.end());
            owners.erase(std::unique(owners.begin(), owners.end()), owners.end());
            index.add(words, members[m].title() + " · " + counted(owners.size(), "element", "elements"), owners);
        }
    }
    return index;
}

std::vector<SearchHit> SearchIndex::find(const std::string& query, std::size_t most) const
{
    const std::string whole = folded(query);
    const std::vector<std::string> words = wordsOf(whole);
    if (words.empty() || most == 0)
        return {};
    const std::string& longest =
        *std::max_element(words.begin(), words.end(), [](const auto& a, const auto& b) { return a.size() < b.size(); });
    struct Found {
        int rank;
        std::uint32_t row;
    };
    std::vector<Found> found;
    const char* const begin = texts_.data();
    const char* const end = begin + texts_.size();
    for (const char* at = begin; at < end && found.size() < kMostLookedAt;) {
        at = static_cast<const char*>(memmem(at, static_cast<std::size_t>(end - at), longest.data(), longest.size()));
        if (at == nullptr)
            break;
        const auto offset = static_cast<std::uint64_t>(at - begin);
        const auto row =
            static_cast<std::uint32_t>(std::upper_bound(rows_.begin(), rows_.end(), offset,
                                                        [](std::uint64_t o, const Row& r) { return o < r.text; }) -
                                       rows_.begin() - 1);
        const std::uint64_t last = row + 1 < rows_.size() ? rows_[row + 1].text : texts_.size();
        const std::string_view text(begin + rows_[row].text, last - rows_[row].text);
        at = begin + last;
        if (!std::all_of(words.begin(), words.end(),
                         [&](const std::string& w) { return text.find(w) != std::string_view::npos; }))
            continue;
        const std::string_view own = text.substr(0, rows_[row].wordsLength);
        found.push_back({own == whole                                   ? 0
                         : own.starts_with(whole)                       ? 1
                         : own.find(words[0]) != std::string_view::npos ? 2
                                                                        : 3,
                         row});
    }
    std::stable_sort(found.begin(), found.end(), [](const Found& a, const Found& b) { return a.rank < b.rank; });
    if (found.size() > most)
        found.resize(most);
    std::vector<SearchHit> hits;
    for (const Found& f : found) {
        const Row& row = rows_[f.row];
        const std::uint64_t last = f.row + 1 < rows_.size() ? rows_[f.row + 1].text : shown_.size();
        const std::uint32_t lastElement =
            f.row + 1 < rows_.size() ? rows_[f.row + 1].firstElement : static_cast<std::uint32_t>(elements_.size());
        SearchHit hit;
        hit.words = shown_.substr(row.text, row.wordsLength);
        hit.where = shown_.substr(row.text + row.wordsLength + 1, last - row.text - row.wordsLength - 2);
        hit.elements.assign(elements_.begin() + row.firstElement, elements_.begin() + lastElement);
        hits.push_back(std::move(hit));
    }
    return hits;
}

} // namespace wendrix::view
