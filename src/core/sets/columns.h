#pragma once

#include "core/federation/location.h"
#include "core/federation/member.h"
#include "core/sets/language.h"

#include <map>
#include <memory>
#include <mutex>

namespace wendrix::sets {

/// One value of every element, each different one kept once.
struct Column {
    struct Entry {
        std::string text, folded;
        std::optional<double> number;
        std::string dimension; ///< of the number, as Value has it
    };
    std::vector<Entry> entries;                     ///< the first is no value
    std::vector<std::uint32_t> of;                  ///< by element, which entry
    std::vector<std::vector<std::uint32_t>> moreOf; ///< by element, others it has too; empty where nothing has
    std::map<std::pair<std::string, std::string>, std::uint32_t> known; ///< text and unit, while it is filled

    Column() : entries(1) {}
    [[nodiscard]] std::uint32_t entryOf(const std::string& text, const std::string& unit = {});
};

/// What a member's elements say, by field: columns are made when they are first asked for, from any thread.
class MemberColumns {
public:
    /// @param locator  names bays; outlives this. Without one no element has a bay
    explicit MemberColumns(federation::Member member, const federation::Locator* locator = nullptr)
        : member_(std::move(member)), locator_(locator)
    {
    }

    [[nodiscard]] const federation::Member& member() const { return member_; }
    [[nodiscard]] std::size_t size() const { return member_.model->elements().size(); }
    /// Of any field but Class and Property.
    [[nodiscard]] const Column& of(Field field) const;
    /// Of one property; names are the same in capitals. The first one reads all properties of all elements.
    [[nodiscard]] const Column& property(const std::string& setName, const std::string& propertyName) const;
    /// The names of all properties: "Pset_WallCommon", "FireRating".
    [[nodiscard]] std::vector<std::pair<std::string, std::string>> propertyNames() const;

private:
    void readProperties() const;

    federation::Member member_;
    const federation::Locator* locator_;
    mutable std::mutex mutex_;
    mutable std::map<Field, std::unique_ptr<const Column>> fields_;
    mutable std::once_flag propertiesOnce_;
    mutable std::map<std::pair<std::string, std::string>, Column> properties_; ///< by folded names
    mutable std::map<std::pair<std::string, std::string>, std::pair<std::string, std::string>> asWritten_;
};

} // namespace wendrix::sets
