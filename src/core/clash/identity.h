#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace wendrix::clash {

/// What a re-run says of a pair.
enum class PairState { New, StillThere, Gone, Back };
[[nodiscard]] std::string_view stateInWords(PairState state);

/// The lasting name of a pair: the same two elements in the same test are the same pair in every run.
[[nodiscard]] std::string pairId(std::string_view test, std::string_view leftGuid, std::string_view rightGuid);

/// What becomes of one pair in a run.
/// @param before  its state after the run before; nothing if no run ever found it
[[nodiscard]] std::optional<PairState> nextState(std::optional<PairState> before, bool isFound);

} // namespace wendrix::clash
