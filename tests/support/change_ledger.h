#pragma once

#include "support/made_model.h"

#include "core/changes/comparison.h"

#include <set>
#include <string>

/// What a comparison found, and what is to be found, as lines that can be held against each other.
namespace wendrix::test {

using Ledger = std::multiset<std::string>;

namespace ledger {
[[nodiscard]] std::string added(const std::string& name);
[[nodiscard]] std::string removed(const std::string& name);
/// @param shift  metres, of the middle
[[nodiscard]] std::string moved(const std::string& name, Vector3 shift, double turnedDegrees = 0);
/// @param more,less  m³
[[nodiscard]] std::string reshaped(const std::string& name, double more, double less);
[[nodiscard]] std::string redescribed(const std::string& name, const std::string& field, const std::string& before,
                                      const std::string& after);
[[nodiscard]] std::string renewed(const std::string& name);
[[nodiscard]] std::string split(const std::string& name, std::set<std::string> parts);
[[nodiscard]] std::string merged(std::set<std::string> parts, const std::string& name);
} // namespace ledger

/// A member of a made model; it stands where the model's turn and shift put it.
[[nodiscard]] federation::Member memberOf(const MadeModel& made);

/// Elements by the name they have now, of what was removed by the one they had.
[[nodiscard]] Ledger ledgerOf(const changes::Comparison& comparison, const federation::Member& before,
                              const federation::Member& after);
/// One line each, to be read where two differ: what is missing with a minus, what is too much with a plus.
[[nodiscard]] std::string difference(const Ledger& wanted, const Ledger& found);

} // namespace wendrix::test
