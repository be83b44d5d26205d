#pragma once

#include "core/base/quantity.h"
#include "core/changes/fields.h"
#include "core/sets/language.h"

#include <optional>
#include <string>
#include <string_view>

namespace wendrix::changes {

/// What counts as a change. The lines are of the language of sets.
struct ChangeRule {
    double distance = 0.001;   ///< metres: surfaces nearer than this everywhere are the same
    Radians angle = {};        ///< what is turned by no more, and shifted by no more than the distance, stayed
    double volume = 0;         ///< m³: another shape with no more added and taken away stayed
    double number = 1e-9;      ///< numbers that differ by less than this part of themselves read the same
    std::string elements = {}; ///< the set of elements that do not count; empty: all do
    /// Fields that do not count, as conditions on them: `Pset_WallCommon.Status is given or Tag is given`. A star in a
    /// quoted name stands for any letters: `"Qto_*"."*" is given`. A word alone is any field or set that has it.
    std::string fields = {};

    friend bool operator==(const ChangeRule&, const ChangeRule&) = default;
};

/// What is wrong with a rule, in a sentence; nothing where it can be used.
[[nodiscard]] std::optional<std::string> mistakeIn(const ChangeRule& rule);

[[nodiscard]] std::string toJson(const ChangeRule& rule);
/// What is missing or no number stays as usual.
[[nodiscard]] ChangeRule ruleFromJson(std::string_view text);

/// The line about fields, ready to be asked.
class FieldsLeftOut {
public:
    /// A line that is not well formed leaves nothing out.
    explicit FieldsLeftOut(const std::string& line);
    [[nodiscard]] bool has(const FieldChange& change) const;

private:
    std::optional<sets::Expression> line_;
};

} // namespace wendrix::changes
