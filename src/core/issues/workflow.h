#pragma once

#include "core/base/result.h"
#include "core/issues/issue.h"

#include <string>
#include <vector>

namespace wendrix::issues {

inline constexpr ErrorCode kBadWorkflow{"issues.workflow"};
inline constexpr ErrorCode kNotAllowed{"issues.not-allowed"};

/// How a status is drawn, as much as it says: nothing done yet, begun, done by whoever it was given to, closed, opened
/// again.
enum class StatusShape { Empty, Half, Full, Ticked, Broken };

struct Status {
    std::string name;
    StatusShape shape = StatusShape::Empty;
    bool isClosed = false; ///< nobody waits for it any more
    friend bool operator==(const Status&, const Status&) = default;
};

/// A way from one status to another, and who may go it.
struct Move {
    std::string from, to;
    /// People, groups, disciplines, and the words kAssignee and kRequester; empty: everybody.
    std::vector<std::string> who = {};
    friend bool operator==(const Move&, const Move&) = default;
};
inline constexpr const char* kAssignee = "assignee";   ///< whoever the issue is given to
inline constexpr const char* kRequester = "requester"; ///< whoever made it or asked for it

/// A field of the project's own. BCF has no place for it: with `asLabel` it travels as the label "Name: value".
struct CustomField {
    std::string name;
    std::vector<std::string> choices = {}; ///< empty: any text
    bool asLabel = true;
    friend bool operator==(const CustomField&, const CustomField&) = default;
};

/// In which coordinates viewpoints are written.
enum class Coordinates {
    Project,  ///< of the reference member, which the others are fitted to
    Delivered ///< of the file an issue's elements come from, as it was delivered; without elements, of the reference
};

/// What a project agreed about its issues: which statuses there are, how they move and who may move them, what fields
/// may say, and how issues are handed over.
struct Workflow {
    std::vector<Status> statuses;
    std::vector<Move> moves;
    std::vector<std::string> types, priorities, stages, labels; ///< offered; what files bring besides is kept
    std::vector<CustomField> fields = {};
    Coordinates coordinates = Coordinates::Delivered; ///< as BCF has it: an alignment made here is undone on writing
    friend bool operator==(const Workflow&, const Workflow&) = default;

    /// The one a project has while nobody made another.
    [[nodiscard]] static Workflow usual();
    /// One the project does not know, as files bring them, is open and drawn empty.
    [[nodiscard]] Status statusOf(const std::string& name) const;
    [[nodiscard]] bool isClosed(const std::string& status) const { return statusOf(status).isClosed; }
    /// The first of a shape; empty where none has it.
    [[nodiscard]] std::string first(StatusShape shape) const;
};

/// Who somebody is to an issue.
struct Standing {
    std::string person;
    std::vector<std::string> groups; ///< groups and disciplines the person belongs to
};
/// Where an issue may go from its status by this person, in the order of the statuses. From a status the project does
/// not know everybody may go anywhere.
[[nodiscard]] std::vector<std::string> movesFor(const Workflow& workflow, const Issue& issue, const Standing& standing);
/// Why a person may not move an issue so, as a sentence; empty where that is allowed.
[[nodiscard]] std::string whyNot(const Workflow& workflow, const Issue& issue, const std::string& to,
                                 const Standing& standing);
/// What is wrong with a workflow, as a sentence; empty where nothing is.
[[nodiscard]] std::string mistakeIn(const Workflow& workflow);

/// JSON; a file of one is a workflow to take along.
[[nodiscard]] std::string toJson(const Workflow& workflow);
/// @return kBadWorkflow where it is none, or has a mistake
[[nodiscard]] Result<Workflow> workflowFromJson(const std::string& text);

/// The labels that carry an issue's own fields: "Cause: late change". They are added to its labels when it is handed
/// over, and taken from them when it comes back.
[[nodiscard]] std::vector<std::string> labelsWithFields(const Issue& issue, const Workflow& workflow);
void fieldsFromLabels(Issue& issue, const Workflow& workflow);

} // namespace wendrix::issues
