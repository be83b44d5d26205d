#pragma once

#include "core/base/result.h"
#include "core/checks/pattern.h"

#include <optional>
#include <string>
#include <vector>

namespace wendrix::checks {

/// A value of a model as a requirement sees it: text, a number in SI, or a truth.
struct Candidate {
    std::string text;
    std::optional<double> number; ///< then `text` is how the file writes it
    bool isInteger = false;
    std::optional<bool> truth;

    static Candidate of(std::string text) { return {std::move(text), {}, false, {}}; }
};

/// What IDS may ask of a value: exactly this one, or an XML Schema restriction.
/// Source: IDS 1.0, idsValue; W3C XML Schema Part 2, constraining facets.
struct Restriction {
    std::optional<std::string> simple;
    std::vector<std::string> enumeration; ///< one of them
    std::vector<Pattern> patterns;        ///< one of them
    std::optional<double> minInclusive, maxInclusive, minExclusive, maxExclusive;
    std::optional<std::size_t> length, minLength, maxLength; ///< in characters

    [[nodiscard]] bool matches(const Candidate& value) const;
    [[nodiscard]] bool matches(const std::string& text) const { return matches(Candidate::of(text)); }
    /// "EI 60", "one of EI 60, EI 90", "at least 0.2".
    [[nodiscard]] std::string inWords() const;
};

/// Whether two real numbers are the same as far as IDS is concerned: within a millionth of them, or of one.
/// Source: IDS 1.0 implementers' documentation, comparison of real numbers.
[[nodiscard]] bool isSameReal(double a, double b);

} // namespace wendrix::checks
