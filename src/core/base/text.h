#pragma once

#include "core/base/quantity.h"

#include <cstdint>
#include <deque>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

namespace wendrix {

/// Whole millimetres below a metre, else metres with two decimals: "180 mm", "0.4 mm", "2.31 m".
[[nodiscard]] std::string lengthInWords(Metres length);
/// Metres with sign and three decimals: "+7.420".
[[nodiscard]] std::string elevationInWords(Metres elevation);
/// "1 pair", "3 pairs".
[[nodiscard]] std::string counted(std::size_t count, std::string_view one, std::string_view many);
/// Thousands set apart by narrow spaces: "12 000" (with U+202F).
[[nodiscard]] std::string grouped(std::uint64_t number);
/// The shortest text that reads back as exactly this double, with '.' in every locale.
[[nodiscard]] std::string exactNumber(double value);
/// Twelve significant digits: what a person reads, free of the dust of unit conversion.
[[nodiscard]] std::string plainNumber(double value);
/// "IfcDuctSegment" as "Duct segment": how a class is called on site when it has no name of its own.
[[nodiscard]] std::string classInWords(std::string_view ifcClass);

/// ASCII letters only: keywords and names of entries, never words people read.
[[nodiscard]] std::string upperCase(std::string_view text);
[[nodiscard]] std::string lowerCase(std::string_view text);

using StringId = std::uint32_t;

/// Keeps each different text once; id 0 is the empty text.
class StringPool {
public:
    StringPool();
    StringId intern(std::string_view text);
    /// Takes a text that is known to be new, as when a pool is read back, without the cost of looking; intern() does
    /// not find it.
    void append(std::string text) { texts_.push_back(std::move(text)); }
    [[nodiscard]] const std::string& text(StringId id) const { return texts_[id]; }
    [[nodiscard]] std::size_t size() const { return texts_.size(); }

private:
    std::deque<std::string> texts_;                      ///< they never move
    std::unordered_map<std::string_view, StringId> ids_; ///< views of texts_
};

} // namespace wendrix
