#pragma once

#include "core/view/display.h"

namespace wendrix::view {

/// Colours by member and element of all that is loaded.
using ColourTable = std::vector<std::vector<Colour>>;
/// Colours of a few elements, in the order of their keys; all others are not drawn.
using ColourList = std::vector<std::pair<ElementKey, Colour>>;

/// The colour of every element as it is drawn: of the whole, or of what is in focus alone. Refers to what others keep.
class Colours {
public:
    /// @param inFocus  where it is given, nothing but this is drawn
    Colours(const ColourTable& whole, const ColourList* inFocus = nullptr)
        : whole_(whole), inFocus_(inFocus) {} // NOLINT: a table is what colours are
    [[nodiscard]] Colour of(const ElementKey& key) const
    {
        constexpr Colour kNothing{0, 0, 0, 0};
        if (inFocus_ == nullptr)
            return key.member < whole_.size() && key.element < whole_[key.member].size()
                       ? whole_[key.member][key.element]
                       : kNothing;
        const auto at = std::lower_bound(inFocus_->begin(), inFocus_->end(), key,
                                         [](const auto& one, const ElementKey& wanted) { return one.first < wanted; });
        return at != inFocus_->end() && at->first == key ? at->second : kNothing;
    }
    [[nodiscard]] bool isDrawn(const ElementKey& key) const { return of(key).alpha > 0; }
    /// Calls `then(key, colour)` for everything that is drawn, in order.
    template <class Then>
    void forEachDrawn(Then&& then) const
    {
        if (inFocus_ != nullptr) {
            for (const auto& [key, colour] : *inFocus_)
                if (colour.alpha > 0)
                    then(key, colour);
            return;
        }
        for (std::uint32_t m = 0; m < whole_.size(); ++m)
            for (ifc::ElementIndex e = 0; e < whole_[m].size(); ++e)
                if (whole_[m][e].alpha > 0)
                    then(ElementKey{m, e}, whole_[m][e]);
    }

private:
    const ColourTable& whole_;
    const ColourList* inFocus_;
};

} // namespace wendrix::view
