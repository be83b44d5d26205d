#pragma once

#include "core/clash/digest.h"
#include "core/clash/side.h"

namespace wendrix::clash {

/// What one question found, with the shape and place of every element it was asked of: asked again, pairs of which
/// neither has changed are not tested again. An element is known by its ElementRef, so revisions, other orders in a
/// file and elements that come and go are seen for what they are; another fit changes the place of all it moves.
class Memory {
public:
    /// What needs no test.
    struct Unchanged {
        std::vector<bool> isLeft, isRight;          ///< by number on the sides
        std::vector<FoundClash> clashes;            ///< between those
        bool isLeftAll = false, isRightAll = false; ///< the side is what it was, in the same order
    };
    /// Forgets everything where the question is another one than before.
    [[nodiscard]] Unchanged recall(std::span<const federation::Member> members, std::span<const Part> left,
                                   std::span<const Part> right, const Question& question);
    /// Keeps what was found for what recall() was last asked.
    /// @param found   all of it
    /// @param deeper  those of it that were looked at more thoroughly, in any order; may be the same
    void keep(const std::vector<FoundClash>& found, const std::vector<FoundClash>& deeper);

    /// Trees over all of a side, in a frame about `origin`: kept for as long as the side is what it was.
    struct Trees {
        Vector3 origin;
        std::shared_ptr<const PartTree> left, right;
    };
    [[nodiscard]] Trees& trees() { return trees_; }

private:
    /// Elements of one side: who they are, and their shape and place.
    struct Elements {
        std::vector<Digest> refs, states;
    };
    struct Kept {
        std::uint32_t left, right; ///< numbers among what was asked of
        FoundClash found;
    };
    [[nodiscard]] static std::vector<std::uint32_t> numbersNow(const Elements& before, const Elements& now,
                                                               std::vector<bool>& isSame);

    Question question_;
    bool hasAsked_ = false;
    Elements left_, right_; ///< of what was last asked
    std::vector<Kept> clashes_;
    Trees trees_;
};

} // namespace wendrix::clash
