#include "core/view/alike.h"

#include "core/base/text.h"

#include <algorithm>
#include <unordered_set>

namespace wendrix::view {

namespace {

std::string traitOf(const federation::Member& member, std::uint32_t memberIndex, ifc::ElementIndex index, AlikeIn what)
{
    const ifc::Model& model = *member.model;
    const ifc::Element& e = model.elements()[index];
    switch (what) {
    case AlikeIn::Class:
        return std::string(model.className(e));
    case AlikeIn::Type:
        return model.text(e.typeName);
    case AlikeIn::System:
        return model.text(e.system);
    case AlikeIn::Storey:
        return e.storey == ifc::kNoStorey ? "" : model.storeys()[static_cast<std::size_t>(e.storey)].name;
    case AlikeIn::Material:
        return model.text(e.material);
    case AlikeIn::Member:
        return std::to_string(memberIndex);
    }
    return {};
}

template <class Name>
std::vector<Weight> heaviest(std::span<const federation::Member> members, std::size_t most, Name nameOf)
{
    std::map<std::pair<std::string, std::string>, Weight> found;
    std::size_t all = 0;
    for (std::uint32_t m = 0; m < members.size(); ++m) {
        const auto& elements = members[m].model->elements();
        for (ifc::ElementIndex e = 0; e < elements.size(); ++e) {
            const std::size_t triangles = members[m].geometry->elements()[e].triangles;
            all += triangles;
            const std::string kind = classInWords(members[m].model->className(elements[e]));
            const auto [key, words] = nameOf(ElementKey{m, e}, kind);
            Weight& weight = found[{key, kind}];
            weight.words = words;
            weight.kind = kind;
            weight.elements.push_back({m, e});
            weight.triangles += triangles;
        }
    }
    std::vector<Weight> list;
    for (auto& [key, weight] : found)
        if (weight.triangles > 0)
            list.push_back(std::move(weight));
    std::stable_sort(list.begin(), list.end(),
                     [](const Weight& a, const Weight& b) { return a.triangles > b.triangles; });
    if (list.size() > most)
        list.resize(most);
    for (Weight& weight : list)
        weight.share = static_cast<double>(weight.triangles) / static_cast<double>(std::max<std::size_t>(all, 1));
    return list;
}

} // namespace

std::string inWords(AlikeIn what)
{
    static constexpr const char* kWords[] = {"class", "type", "system", "storey", "material", "member"};
    return kWords[static_cast<int>(what)];
}

std::set<ElementKey> alike(const std::set<ElementKey>& given, AlikeIn what, std::span<const federation::Member> members)
{
    std::unordered_set<std::string> wanted;
    for (const ElementKey& key : given)
        if (const std::string trait = traitOf(members[key.member], key.member, key.element, what); !trait.empty())
            wanted.insert(trait);
    std::set<ElementKey> found;
    for (std::uint32_t m = 0; m < members.size(); ++m)
        for (ifc::ElementIndex e = 0; e < members[m].model->elements().size(); ++e)
            if (wanted.contains(traitOf(members[m], m, e, what)))
                found.insert(found.end(), ElementKey{m, e});
    return found;
}

std::vector<Weight> heaviestElements(std::span<const federation::Member> members, std::size_t most)
{
    return heaviest(members, most, [&](ElementKey key, const std::string&) {
        const ifc::Model& model = *members[key.member].model;
        const ifc::Element& e = model.elements()[key.element];
        return std::pair(std::to_string(key.member) + "/" + std::to_string(key.element), model.displayName(e));
    });
}

std::vector<Weight> heaviestTypes(std::span<const federation::Member> members, std::size_t most)
{
    return heaviest(members, most, [&](ElementKey key, const std::string& kind) {
        const ifc::Model& model = *members[key.member].model;
        const std::string& type = model.text(model.elements()[key.element].typeName);
        return std::pair(type, type.empty() ? kind + " without a type" : type);
    });
}

} // namespace wendrix::view
