#pragma once

#include "core/ifc/schema.h"
#include "core/step/file.h"
#include "core/step/parse.h"

namespace wendrix::ifc {

using step::EntityId;
using step::Value;

/// An argument of an entity that nobody else keeps: it keeps the entity's arguments itself, so that a loop over
/// `source.entity(id)["Items"]` is sound. It can be asked, but not stored as a plain Value.
class OwnedValue : private Value {
public:
    OwnedValue(step::Instance instance, std::optional<std::uint32_t> index) : instance_(std::move(instance))
    {
        if (index)
            static_cast<Value&>(*this) = instance_.arguments()[*index];
    }
    using Value::begin, Value::end, Value::enumeration, Value::integer, Value::isGiven, Value::number, Value::numberOr,
        Value::reference, Value::size, Value::text;

private:
    step::Instance instance_; // its nodes stay where they are when it is moved
};

/// One entity with its arguments, asked for by attribute name, so that a reader says the same thing in
/// every release. An attribute that is missing, or not in this release, is an omitted value.
class Entity {
public:
    Entity() = default;
    Entity(const Schema& schema, EntityId id, TypeId type, step::Instance instance)
        : schema_(&schema), id_(id), type_(type), instance_(std::move(instance))
    {
    }
    [[nodiscard]] explicit operator bool() const { return schema_ != nullptr; }
    [[nodiscard]] EntityId id() const { return id_; }
    [[nodiscard]] TypeId type() const { return type_; }
    /// "IfcWall"; empty for an entity the schema does not know.
    [[nodiscard]] std::string_view typeName() const { return schema_ ? schema_->typeName(type_) : ""; }
    [[nodiscard]] bool isA(Name ancestor) const { return schema_ && schema_->isA(type_, ancestor); }
    [[nodiscard]] Value operator[](Name attribute) const&
    {
        const auto index = indexOf(attribute);
        return index ? instance_.arguments()[*index] : Value{};
    }
    [[nodiscard]] OwnedValue operator[](Name attribute) &&
    {
        const auto index = indexOf(attribute);
        return {std::move(instance_), index};
    }

private:
    [[nodiscard]] std::optional<std::uint32_t> indexOf(Name attribute) const
    {
        return schema_ ? schema_->attributeIndex(type_, attribute) : std::nullopt;
    }

    const Schema* schema_ = nullptr;
    EntityId id_ = 0;
    TypeId type_ = kUnknownType;
    step::Instance instance_;
};

/// A STEP file with the schema it is written in: where entities are read from. Thread-safe.
class Source {
public:
    Source(step::File file, const Schema& schema);

    [[nodiscard]] const step::File& file() const { return file_; }
    [[nodiscard]] const Schema& schema() const { return *schema_; }
    /// An entity that does not exist, is not well formed or is unknown to the schema is a false Entity; what is
    /// there but not well formed is remembered for malformed().
    [[nodiscard]] Entity entity(EntityId id) const;
    [[nodiscard]] Entity entity(Value reference) const { return entity(reference.reference()); }
    [[nodiscard]] Entity entity(const OwnedValue& reference) const { return entity(reference.reference()); }
    [[nodiscard]] Entity entity(const step::Entry& entry) const;
    [[nodiscard]] TypeId typeOf(const step::Entry& entry) const { return keywordTypes_[entry.keyword()]; }
    /// kUnknownType where there is no such entity.
    [[nodiscard]] TypeId typeOf(EntityId id) const;
    /// What an entity whose only attribute is a list refers to, faster than by way of entity().
    /// @return false where its arguments are of another form; entity() says then what they are
    [[nodiscard]] bool references(const step::Entry& entry, std::vector<EntityId>& list) const
    {
        return step::parseReferences(file_.argumentsOf(entry), list);
    }
    /// Where an entity is; nullptr where there is none.
    [[nodiscard]] const step::Entry* entry(EntityId id) const { return id != 0 ? file_.entities().find(id) : nullptr; }
    /// Positions in file().entities().all() of one type's and its subtypes' entities, ascending.
    [[nodiscard]] std::vector<std::uint32_t> positions(Name ancestor) const;
    /// Calls `each(Entity)` for all of one type and its subtypes, in order of id.
    template <class Each>
    void forEach(Name ancestor, Each each) const
    {
        for (const std::uint32_t position : positions(ancestor))
            if (const Entity e = entity(file_.entities().all()[position]))
                each(e);
    }
    /// What reading has come across so far that is not well formed, in order of id.
    [[nodiscard]] std::vector<Diagnostic> malformed() const;

private:
    struct Malformed;
    step::File file_;
    const Schema* schema_;
    std::vector<TypeId> keywordTypes_;
    std::shared_ptr<Malformed> malformed_;
};

/// "#123", as diagnostics name an entity.
[[nodiscard]] inline std::string entityName(EntityId id) { return "#" + std::to_string(id); }

} // namespace wendrix::ifc
