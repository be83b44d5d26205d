#pragma once

#include "core/federation/member.h"

#include <nlohmann/json.hpp>

#include <string>

/// The demo deliveries and the truth their generator wrote down.
namespace wendrix::test {

/// The folder with truth.json and data/.
[[nodiscard]] std::string demoFolder();
[[nodiscard]] nlohmann::json truth();
/// How many pairs a run finds by design while the piping team's models are not aligned.
/// @param revision  of frame and ventilation, "P01" or "P02"
[[nodiscard]] std::size_t designedWithoutPiping(const std::string& revision);
/// One delivery, read and built, in its own file frame; aborts the test program if it can not be read.
/// @param model  which of several
[[nodiscard]] federation::Member demoMember(const std::string& discipline, const std::string& revision,
                                            std::size_t model = 0);
/// The fit the generator says a team's files have.
[[nodiscard]] federation::Fit trueFit(const std::string& discipline);
[[nodiscard]] Vector3 vectorOf(const nlohmann::json& triple);

} // namespace wendrix::test
