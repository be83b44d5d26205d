#pragma once

#include "core/clash/coverage.h"

#include <cstdint>
#include <optional>
#include <string_view>
#include <unordered_map>
#include <vector>

/// What makes a pair the same pair in every run.
namespace wendrix::clash {

/// The kinds of test. The numbers are stored: the kind is part of a pair's identity.
enum class Kind { Hard = 1, Clearance = 2, Duplicate = 3 };

/// What a re-run says of a pair.
enum class PairState { New = 0, StillThere = 1, Gone = 2, Back = 3 };
[[nodiscard]] std::string_view stateInWords(PairState state);

/// What becomes of one pair in a run.
/// @param before  its state after the run before; nothing if no run ever found it
/// @return  as before where it was not tested
[[nodiscard]] std::optional<PairState> nextState(std::optional<PairState> before, Outcome outcome);

/// Elements that are one thing under several names: a renewed GlobalId continues the one before.
///
/// Elements are numbers here, as the project gives them. The representative of a class is its smallest number,
/// so it depends neither on the order in which links are told nor on circles among them.
class Lineage {
public:
    /// `element` and `other` are the same thing.
    void unite(std::int64_t element, std::int64_t other);
    [[nodiscard]] std::int64_t rootOf(std::int64_t element) const;
    /// All names of what `element` is, itself included.
    [[nodiscard]] std::vector<std::int64_t> namesOf(std::int64_t element) const;
    [[nodiscard]] bool isEmpty() const { return parent_.empty(); }

private:
    std::unordered_map<std::int64_t, std::int64_t> parent_;             ///< only of what is united with something
    std::unordered_map<std::int64_t, std::vector<std::int64_t>> names_; ///< by root
};

/// The identity of a pair: two elements in no order, and the kind of test. Neither the test's name nor which side is
/// left is part of it.
struct PairKey {
    Kind kind = Kind::Hard;
    std::int64_t first = 0, second = 0; ///< representatives, the smaller first
    friend bool operator==(const PairKey&, const PairKey&) = default;
    friend auto operator<=>(const PairKey&, const PairKey&) = default;
};
[[nodiscard]] PairKey pairKey(Kind kind, std::int64_t left, std::int64_t right, const Lineage& lineage);

} // namespace wendrix::clash
