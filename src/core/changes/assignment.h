#pragma once

#include <cstdint>
#include <utility>
#include <vector>

namespace wendrix::changes {

/// One that could go on as another, and how well.
struct Candidate {
    std::uint32_t before = 0, after = 0;
    double weight = 0; ///< more than 0
};

/// The choice of candidates in which nobody stands twice and that weighs the most together, by `after`.
///
/// Exact within every group of candidates that hang together, up to kMostExact on either side; larger ones take the
/// heaviest first. Ties go to who stands first.
/// Source: H. W. Kuhn, Naval Research Logistics Quarterly 2, 1955, in the form with shortest augmenting paths.
[[nodiscard]] std::vector<std::pair<std::uint32_t, std::uint32_t>> assigned(std::vector<Candidate> candidates);
inline constexpr std::size_t kMostExact = 150;

} // namespace wendrix::changes
