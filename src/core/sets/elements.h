#pragma once

#include "core/sets/columns.h"

#include <functional>
#include <span>

namespace wendrix::sets {

/// The line of a set by its name; nothing where there is none.
using NamedSets = std::function<std::optional<std::string>(const std::string& name)>;

/// What is known of elements beside what their models say. What is not given is known of none.
struct Knowledge {
    NamedSets named;
    using Refs = std::vector<ElementRef>; ///< without a discipline: whoever has the GlobalId
    /// Elements that issues of a status are about; without one, of all that are not closed.
    std::function<Refs(const std::string& status)> withIssue;
    /// Elements that deliveries taken in since a day (2026-11-28) or a cycle (3) added or changed.
    std::function<Refs(const std::string& since)> changedSince;
};

/// A federation's elements, to be picked by rule. Columns are kept from one set to the next.
class Elements {
public:
    /// @param reference  whose grid names bays; none: the first member's
    explicit Elements(std::span<const federation::Member> members,
                      std::shared_ptr<const ifc::Model> reference = nullptr);

    /// By member and element: 1 where it is in the set.
    using Picked = std::vector<std::vector<std::uint8_t>>;
    struct Answer {
        Picked picked;
        std::size_t count = 0;
        std::string problem; ///< a named set that is not there, not well formed, or leads back to itself; else empty
    };
    [[nodiscard]] Answer in(const Expression& set, const Knowledge& knowledge = {}) const;
    /// Values of a field that begin with a text (not regarding capitals), the most frequent first.
    [[nodiscard]] std::vector<std::string> valuesOf(Field field, const std::string& begun, std::size_t most) const;
    /// The same of properties: "Pset_WallCommon.FireRating".
    [[nodiscard]] std::vector<std::string> propertiesOf(const std::string& begun, std::size_t most) const;

private:
    std::shared_ptr<const ifc::Model> reference_;
    std::unique_ptr<const federation::Locator> locator_;
    std::vector<std::unique_ptr<const MemberColumns>> members_;
};

} // namespace wendrix::sets
