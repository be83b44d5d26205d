#pragma once

#include <optional>
#include <string_view>

/// What a run may say of a pair: it is gone only where the run could have found it.
namespace wendrix::clash {

/// How an element of a known pair stands in a run. What comes first here is said where two elements differ.
enum class Presence {
    Tested,
    Removed,   ///< its delivery no longer has it
    NotMember, ///< its discipline is not in the federation that was tested
    OffPlace,  ///< its member does not verify on the reference, and nobody said that it is to be tested so
    LeftOut,   ///< its class was not read
    NotBuilt,  ///< it has no body, or its body could not be built
};

/// What became of the test that covers a pair.
enum class TestState { Run, Cancelled, Changed, None, Expected };

/// What one run says of one pair. The numbers are stored.
enum class Outcome {
    Found = 1,
    Gone = 2,     ///< both elements were tested, and they do not clash
    Removed = 3,  ///< at least one of them is no longer there
    Expected = 4, ///< they meet as is expected, which the test leaves out now
    NotMember = 10,
    OffPlace = 11,
    LeftOut = 12,
    NotBuilt = 13,
    TestCancelled = 14,
    TestChanged = 15, ///< it asks for less than the one that found it, so that not finding it says nothing
    NoTest = 16,      ///< no test of this kind brings these two together any more
};

/// What a run that did not find a pair says of it.
[[nodiscard]] Outcome outcomeOf(Presence left, Presence right, TestState test);

[[nodiscard]] constexpr bool isGone(Outcome o)
{
    return o == Outcome::Gone || o == Outcome::Removed || o == Outcome::Expected;
}
[[nodiscard]] constexpr bool isTested(Outcome o) { return o == Outcome::Found || isGone(o); }
/// A stored number; nothing where it is none.
[[nodiscard]] std::optional<Outcome> outcomeFrom(int number);
/// "its body could not be built": why a pair was not tested; empty where it was.
[[nodiscard]] std::string_view whyNotTested(Outcome outcome);

} // namespace wendrix::clash
