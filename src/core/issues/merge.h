#pragma once

#include "core/issues/issue.h"

#include <string>
#include <vector>

/// Two versions of an issue brought together over what both came from: what one side changed is taken, what both
/// changed differently is a conflict that somebody decides.
namespace wendrix::issues {

/// What a field of an issue is called by the standard, and how it is told and taken over.
struct Field {
    const char* name; ///< "Title", "TopicStatus"
    std::string (*inWords)(const Issue&);
    bool (*isSame)(const Issue&, const Issue&);
    void (*take)(Issue& to, const Issue& from);
};
/// All that hold one value; lists are not among them.
[[nodiscard]] const std::vector<Field>& fields();

/// Something that two sides say differently.
struct Difference {
    enum class Verdict {
        Theirs,  ///< only they changed it
        Ours,    ///< only we changed it
        Conflict ///< both did, or nobody knows what it was
    };
    std::string field;              ///< the standard's name; "Comment" and "Viewpoint" for one of these
    std::string of;                 ///< its uuid, for these
    std::string base, ours, theirs; ///< in words
    Verdict verdict = Verdict::Conflict;
    friend bool operator==(const Difference&, const Difference&) = default;
};

/// What came of bringing two sides together.
struct Merge {
    Issue issue; ///< conflicts as we have them
    std::vector<Difference> differences;
    std::vector<std::string> newComments, newViewpoints; ///< theirs, that we did not have
    std::vector<std::string> lacking;                    ///< comments that they once had and have no more
    std::vector<std::string> newInLists;                 ///< "label Fire", "link https://...": what they added
    std::vector<std::string> goneFromLists;              ///< what they took away

    /// Something of theirs came in.
    [[nodiscard]] bool tookTheirs() const;
    [[nodiscard]] std::size_t conflicts() const;
};

/// What becomes of comments and viewpoints that we deleted and that they still have as they were.
enum class Deleted { ComesBack, StaysDeleted };

/// @param base  what both came from; null where nobody knows, and then every difference of a field is a conflict
[[nodiscard]] Merge merged(const Issue& ours, const Issue& theirs, const Issue* base,
                           Deleted deleted = Deleted::ComesBack);
/// Takes their side of a difference over into an issue.
void takeTheirs(Issue& issue, const Difference& difference, const Issue& theirs);

/// Whether two viewpoints show the same; pictures and where they stand among others do not count.
[[nodiscard]] bool showsTheSame(const Viewpoint& a, const Viewpoint& b);

} // namespace wendrix::issues
