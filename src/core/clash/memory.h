#pragma once

#include "core/base/digest.h"
#include "core/clash/side.h"

namespace wendrix::clash {

/// What one question found, with the shape and place of every element it was asked of: asked again, pairs of which
/// neither has changed are not tested again. An element is known by its ElementRef, so revisions, other orders in a
/// file and elements that come and go are seen for what they are; another fit changes the place of all it moves.
class Memory {
public:
    /// Trees over all of a side, in a frame about `origin`: good for as long as the side is what it was.
    struct Trees {
        Vector3 origin;
        std::shared_ptr<const PartTree> left, right;
    };
    /// What needs no test.
    struct Unchanged {
        std::vector<bool> isLeft, isRight; ///< by number on the sides
        std::vector<FoundClash> clashes;   ///< between those
        Trees trees;                       ///< of sides that are what they were
    };
    /// Nothing where the question is another one than before. What is kept stays as it is until keep().
    [[nodiscard]] Unchanged recall(std::span<const federation::Member> members, std::span<const Part> left,
                                   std::span<const Part> right, const Question& question);
    /// Keeps what was found for what recall() was last asked; not to be called where that was cancelled.
    /// @param found   all of it
    /// @param deeper  those of it that were looked at more thoroughly, in any order; none where `found` has them
    void keep(std::vector<FoundClash> found, std::span<const FoundClash> deeper, Trees trees);

private:
    /// Elements of one side: who they are, and their shape and place.
    struct Elements {
        std::vector<Digest> refs, states;
        friend bool operator==(const Elements&, const Elements&) = default;
    };
    struct Asked {
        Question question;
        Elements left, right;
    };
    [[nodiscard]] static std::vector<std::uint32_t> numbersNow(const Elements& before, const Elements& now,
                                                               std::vector<bool>& isSame);

    std::optional<Asked> kept_, asked_;
    std::vector<FoundClash> clashes_; ///< of what is kept, with its numbers
    Trees trees_;
};

} // namespace wendrix::clash
