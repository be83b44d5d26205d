#include "core/sets/columns.h"

#include "core/base/fold.h"
#include "core/sets/tokens.h"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

namespace wendrix::sets {

using ifc::Element;
using ifc::ElementIndex;
using ifc::Entity;

namespace {

/// Strings that the model keeps once stay once.
template <class TextIdOf>
Column columnOf(const ifc::Model& model, TextIdOf idOf)
{
    Column column;
    std::unordered_map<StringId, std::uint32_t> entries;
    for (const Element& e : model.elements()) {
        const StringId id = idOf(e);
        const auto [at, isNew] = entries.try_emplace(id, 0);
        if (isNew && !model.text(id).empty())
            at->second = column.entryOf(model.text(id));
        column.of.push_back(at->second);
    }
    return column;
}

Column storeysOf(const ifc::Model& model)
{
    Column column;
    for (const Element& e : model.elements())
        column.of.push_back(
            e.storey == ifc::kNoStorey ? 0 : column.entryOf(model.storeys()[static_cast<std::size_t>(e.storey)].name));
    return column;
}

/// Codes and names of all classifications of an element and its type.
Column classificationsOf(const ifc::Model& model)
{
    Column column;
    column.moreOf.resize(model.elements().size());
    const auto reference = [&](std::vector<std::uint32_t>& found, ifc::EntityId id) {
        const Entity e = model.source().entity(id);
        for (const char* attribute : {"Identification", "ItemReference", "Name"})
            if (const std::string text = e[ifc::Name(std::string_view(attribute))].text(); !text.empty())
                found.push_back(column.entryOf(text));
    };
    for (ElementIndex i = 0; i < model.elements().size(); ++i) {
        std::vector<std::uint32_t> found;
        for (const ifc::EntityId entity : {model.elements()[i].entity, model.elements()[i].typeEntity})
            if (entity != 0)
                for (const ifc::EntityId id : model.relations().others(entity, "IfcRelAssociatesClassification", false))
                    reference(found, id);
        column.of.push_back(found.empty() ? 0 : found.front());
        if (found.size() > 1)
            column.moreOf[i].assign(found.begin() + 1, found.end());
    }
    return column;
}

Column disciplineOf(const federation::Member& member)
{
    Column column;
    const std::uint32_t whole = column.entryOf(member.discipline);
    column.of.assign(member.model->elements().size(), whole);
    if (!member.part.empty())
        column.moreOf.assign(column.of.size(),
                             {column.entryOf(member.part), column.entryOf(member.discipline + " " + member.part)});
    return column;
}

/// Where the middle of each element stands on the reference's grid.
Column baysOf(const federation::Member& member, const federation::Locator* locator)
{
    Column column;
    const Transform fit = member.fit.transform();
    for (const geometry::ElementShape& shape : member.geometry->elements())
        column.of.push_back(locator == nullptr || shape.bounds.isEmpty()
                                ? 0
                                : column.entryOf(locator->at(fit.apply(shape.bounds.centre())).bay));
    return column;
}

} // namespace

std::uint32_t Column::entryOf(const std::string& text, const std::string& unit)
{
    if (text.empty())
        return 0;
    const auto [at, isNew] = known.try_emplace({text, unit}, static_cast<std::uint32_t>(entries.size()));
    if (isNew)
        entries.push_back({text, folded(text), numberFrom(text), unit});
    return at->second;
}

const Column& MemberColumns::of(Field field) const
{
    const std::lock_guard lock(mutex_);
    auto& column = fields_[field];
    if (column != nullptr)
        return *column;
    const ifc::Model& model = *member_.model;
    const auto made = [&]() -> Column {
        switch (field) {
        case Field::Discipline:
            return disciplineOf(member_);
        case Field::Type:
            return columnOf(model, [](const Element& e) { return e.typeName; });
        case Field::Name:
            return columnOf(model, [](const Element& e) { return e.name; });
        case Field::Tag:
            return columnOf(model, [](const Element& e) { return e.tag; });
        case Field::System:
            return columnOf(model, [](const Element& e) { return e.system; });
        case Field::Material:
            return columnOf(model, [](const Element& e) { return e.material; });
        case Field::Storey:
            return storeysOf(model);
        case Field::Bay:
            return baysOf(member_, locator_);
        case Field::Classification:
            return classificationsOf(model);
        case Field::Class:
        case Field::Property:
            break;
        }
        return {};
    };
    column = std::make_unique<const Column>(made());
    return *column;
}

void MemberColumns::readProperties() const
{
    const auto& elements = member_.model->elements();
    // A piece at a time is read on all cores, then sorted into the columns.
    constexpr std::size_t kPiece = 8'192;
    std::vector<std::vector<ifc::PropertySet>> sets;
    for (std::size_t first = 0; first < elements.size(); first += kPiece) {
        const std::size_t count = std::min(kPiece, elements.size() - first);
        sets.assign(count, {});
        tbb::this_task_arena::isolate([&] {
            tbb::parallel_for(tbb::blocked_range<std::size_t>(0, count, 64), [&](const auto& range) {
                for (std::size_t i = range.begin(); i < range.end(); ++i)
                    sets[i] = member_.model->properties(elements[first + i]);
            });
        });
        for (std::size_t i = 0; i < count; ++i)
            for (const ifc::PropertySet& set : sets[i])
                for (const ifc::Property& p : set.properties) {
                    const std::pair key{folded(set.name), folded(p.name)};
                    const auto [at, isNew] = properties_.try_emplace(key);
                    if (isNew) {
                        at->second.of.assign(elements.size(), 0);
                        asWritten_[key] = {set.name, p.name};
                    }
                    if (!p.value.empty())
                        at->second.of[first + i] = at->second.entryOf(p.value, p.unit);
                }
    }
}

const Column& MemberColumns::property(const std::string& setName, const std::string& propertyName) const
{
    std::call_once(propertiesOnce_, [&] { readProperties(); });
    const auto at = properties_.find({folded(setName), folded(propertyName)});
    if (at != properties_.end())
        return at->second;
    const std::lock_guard lock(mutex_);
    auto& none = fields_[Field::Property];
    if (none == nullptr) {
        auto made = std::make_unique<Column>();
        made->of.assign(size(), 0);
        none = std::move(made);
    }
    return *none;
}

std::vector<std::pair<std::string, std::string>> MemberColumns::propertyNames() const
{
    std::call_once(propertiesOnce_, [&] { readProperties(); });
    std::vector<std::pair<std::string, std::string>> names;
    for (const auto& [key, name] : asWritten_)
        names.push_back(name);
    return names;
}

} // namespace wendrix::sets
