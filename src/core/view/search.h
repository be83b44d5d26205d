#pragma once

#include "core/base/fold.h"
#include "core/base/progress.h"
#include "core/view/display.h"

#include <string>

namespace wendrix::view {

/// What a search found: an element, or a property with one value and all that have it.
struct SearchHit {
    std::string words; ///< "Supply duct 400 x 250", "Pset_WallCommon FireRating = EI 60"
    std::string where; ///< "Ventilation P02 · Duct segment · Level 1", "12 elements"
    std::vector<ElementKey> elements;
};

/// The words of a federation, made once and then asked on every key press. Immutable after building.
///
/// An element is found by name, class, type, system, material, storey, tag and GlobalId, a property by its set, name
/// and value. Letters count as the same in both cases (ASCII and Latin-1).
class SearchIndex {
public:
    SearchIndex() = default;
    /// Reads every property set once. @return an index of what was read where cancelled
    [[nodiscard]] static SearchIndex build(std::span<const federation::Member> members, Progress& progress);

    /// Rows that hold all words of the query, those whose own name begins with it first.
    [[nodiscard]] std::vector<SearchHit> find(const std::string& query, std::size_t most) const;
    [[nodiscard]] std::size_t size() const { return rows_.size(); }

private:
    struct Row {
        std::uint64_t text = 0;        ///< where it begins in `texts_`
        std::uint32_t wordsLength = 0; ///< of its own name, which stands first
        std::uint32_t firstElement = 0;
    };
    void add(const std::string& words, const std::string& more, std::span<const ElementKey> elements);

    std::string texts_, shown_; ///< all rows one after the other, folded for comparing and as they are
    std::vector<Row> rows_;
    std::vector<ElementKey> elements_;
};

} // namespace wendrix::view
