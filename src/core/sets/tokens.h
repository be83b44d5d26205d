#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace wendrix::sets {

/// A piece of a line.
struct Token {
    enum class Kind { Word, Text, Sign, End };
    Kind kind = Kind::End;
    std::string text;  ///< without quotes
    std::string lower; ///< of a word, to compare keywords with
    std::size_t from = 0, length = 0;
    bool isOpen = false; ///< a text whose closing quote is missing

    [[nodiscard]] bool is(std::string_view word) const { return kind == Kind::Word && lower == word; }
    [[nodiscard]] bool isSign(std::string_view sign) const { return kind == Kind::Sign && text == sign; }
};

/// The pieces of a line, ended by one of kind End.
[[nodiscard]] std::vector<Token> tokensOf(std::string_view line);
/// Whether a text can stand without quotes and is read as what it is.
[[nodiscard]] bool isPlainWord(std::string_view text);

/// A unit as people write it: its SI unit, and how many of those it is.
struct Unit {
    std::string_view dimension;
    double factor = 1;
};
[[nodiscard]] std::optional<Unit> unitFrom(std::string_view word);
/// A whole text as a number.
[[nodiscard]] std::optional<double> numberFrom(std::string_view text);

[[nodiscard]] bool areDigits(std::string_view text); ///< one or more
/// "3", as cycles are numbered.
[[nodiscard]] inline bool isCycle(std::string_view text) { return text.size() <= 4 && areDigits(text); }

} // namespace wendrix::sets
