#pragma once

#include "core/project/clashes_book.h"

#include <set>

namespace wendrix::project {

enum class ClashFilter { Undecided, New, StillThere, Back, Gone, GoneNow, NotTested, There };

/// What pairs of a list are put under. The first kinds make groups, pairs that one decision settles; the others put
/// such groups under what they have in common.
enum class ClashOrder {
    Fewest,      ///< the fewest elements that would settle most, see clash::groupBySharedElement()
    LeftElement, ///< a group for each left element
    RightElement,
    Place,    ///< fewest elements, by storey and bay
    LeftType, ///< by the type of the left element, without one by its class
    RightType,
    LeftSystem,
    RightSystem,
    Test,
    Nearness, ///< pairs no farther than kNear from the next
};

/// Which pairs, and how they are put together. What is empty narrows nothing.
struct ClashQuestion {
    static constexpr double kNear = 1.5; ///< metres

    ClashFilter filter = ClashFilter::Undecided;
    std::string storey, bay, test, className, system;
    std::string discipline, against; ///< one element of the first, the other of the second; the same: within it
    std::optional<PairBrief::Decision> decision;
    std::optional<unsigned> cause; ///< a bit of ChangeKind; 0: neither element changed
    /// Who decides, and the tests whose pairs that person, group or discipline decides.
    std::string decider;
    std::set<std::string> testsOfDecider;
    ClashOrder order = ClashOrder::Fewest;

    friend bool operator==(const ClashQuestion&, const ClashQuestion&) = default;
    /// Whether anything but the state and the storey narrows it.
    [[nodiscard]] bool isNarrowed() const;
};

/// Asks one question of pairs, texts looked up once.
class ClashChoice {
public:
    ClashChoice(const PairBriefs& briefs, const ClashQuestion& question);
    /// Whether a pair is asked for, whatever its storey.
    [[nodiscard]] bool isWanted(const PairBrief& pair) const { return isNarrowedTo(pair) && isIn(pair, filter_); }
    [[nodiscard]] bool isOnStorey(const PairBrief& pair) const { return storey_ == kAny || pair.storey == storey_; }
    /// All but the state and the storey.
    [[nodiscard]] bool isNarrowedTo(const PairBrief& pair) const;
    [[nodiscard]] static bool isIn(const PairBrief& pair, ClashFilter filter);

private:
    static constexpr std::uint32_t kAny = ~0u, kNone = kAny - 1;
    [[nodiscard]] std::uint32_t numberOf(const std::string& text) const;

    const PairBriefs& briefs_;
    ClashFilter filter_;
    std::uint32_t storey_, bay_, test_, className_, system_, discipline_, against_;
    std::optional<PairBrief::Decision> decision_;
    std::optional<unsigned> cause_;
    std::vector<bool> isTestOfDecider_; ///< by text; empty: all
};

} // namespace wendrix::project
