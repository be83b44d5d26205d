#pragma once

#include "core/clash/digest.h"
#include "core/clash/side.h"

#include <unordered_map>

namespace wendrix::clash {

/// What one question found, with the shape and place of every element it was asked of: asked again, pairs of which
/// neither has changed are not tested again. An element is known by its ElementRef, so revisions, other orders in a
/// file and elements that come and go are seen for what they are; another fit changes the place of all it moves.
class Memory {
public:
    /// What needs no test.
    struct Unchanged {
        std::vector<bool> isLeft, isRight; ///< by number on the sides
        std::vector<FoundClash> clashes;   ///< between those
    };
    /// Forgets everything where the question is another one than before.
    [[nodiscard]] Unchanged recall(std::span<const federation::Member> members, std::span<const Part> left,
                                   std::span<const Part> right, const Question& question);
    /// Keeps what was found for what recall() was last asked.
    /// @param found   all of it
    /// @param deeper  those of it that were looked at more thoroughly, in any order
    void keep(const std::vector<FoundClash>& found, const std::vector<FoundClash>& deeper);

private:
    using Elements = std::unordered_map<Digest, Digest, DigestHash>; ///< by ref: shape and place
    struct Kept {
        Digest left, right;
        FoundClash found;
    };
    Question question_;
    bool hasAsked_ = false;
    Elements left_, right_;
    std::vector<Kept> clashes_;
    std::vector<Digest> leftRefs_, rightRefs_, leftStates_, rightStates_; ///< of what was last asked, by number
};

} // namespace wendrix::clash
