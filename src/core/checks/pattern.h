#pragma once

#include <atomic>
#include <cstddef>
#include <cstdint>
#include <memory>
#include <optional>
#include <string>

namespace wendrix::checks {

/// A regular expression as XML Schema has it: it speaks of the whole text. It comes with a sender's IDS and is matched
/// against a sender's values, so the time is bounded whatever they are: linear in the text, by RE2; what RE2 can not
/// say (blocks of Unicode, classes less others) is libxml2's, which may try all ways, and then only for short texts and
/// for two seconds altogether.
/// Source: W3C XML Schema Part 2, appendix F.
class Pattern {
public:
    /// Texts longer than this, in bytes, match nothing.
    static constexpr std::size_t kLongestText = 65536;

    [[nodiscard]] static std::optional<Pattern> compile(const std::string& expression); ///< nothing where it is none
    [[nodiscard]] bool matches(const std::string& text) const;
    [[nodiscard]] const std::string& expression() const { return expression_; }
    /// Whether its time is linear in the text.
    [[nodiscard]] bool isLinear() const { return linear_ != nullptr; }
    /// Whether it has used up its time, and matches nothing any more.
    [[nodiscard]] bool isGivenUp() const;

private:
    std::string expression_;
    std::shared_ptr<const void> linear_, other_; ///< one of them
    std::shared_ptr<std::atomic<std::int64_t>> spentNanoseconds_;
};

} // namespace wendrix::checks
