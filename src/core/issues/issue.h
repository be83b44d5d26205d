#pragma once

#include "core/base/who_and_when.h"
#include "core/issues/viewpoint.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace wendrix::issues {

struct Comment {
    std::string uuid;
    Timestamp time;
    std::string author, text;
    std::string viewpoint = {}; ///< uuid of a viewpoint of the same issue; may be empty
    Timestamp modifiedAt = {};  ///< of its last edit; empty where it was never edited
    std::string modifiedBy = {};
    friend bool operator==(const Comment&, const Comment&) = default;
};

/// A document an issue refers to.
struct DocumentReference {
    std::string uuid;        ///< of the reference; BCF 2.1 may give none
    bool isExternal = false; ///< an address, else something that is handed over with the issue
    std::string target;      ///< the address; inside, the entry of the archive
    std::string name = {};   ///< inside, its file name
    std::string description = {};
    std::string kept =
        {}; ///< inside, what the project calls the bytes it keeps; empty where they are still in an archive
    friend bool operator==(const DocumentReference&, const DocumentReference&) = default;
};

/// A piece of a model that an issue hands over.
struct Snippet {
    std::string type, reference, schema;
    bool isExternal = false;
    friend bool operator==(const Snippet&, const Snippet&) = default;
};

/// A model an issue was written against, as a topic's header names it.
struct ModelFile {
    std::string project = {}; ///< IfcProject GlobalId
    std::string part = {};    ///< IfcSpatialStructureElement GlobalId
    std::string fileName = {};
    Timestamp date = {};
    std::string reference = {};
    bool isExternal = true;
    friend bool operator==(const ModelFile&, const ModelFile&) = default;
};

/// Where an issue is: found from what it is about, or said by a person.
struct Location {
    std::string storey, bay, space;
    friend bool operator==(const Location&, const Location&) = default;
};

/// The statuses Wendrix itself gives; a file from elsewhere may hold others, which are kept.
namespace status {
inline constexpr const char* kOpen = "Open";
inline constexpr const char* kInProgress = "In progress";
inline constexpr const char* kDone = "Done by assignee";
inline constexpr const char* kClosed = "Closed";
inline constexpr const char* kBack = "Back again";
} // namespace status

/// What issues were made from.
namespace made_from {
inline constexpr const char* kClash = "clash";
inline constexpr const char* kChange = "change";
inline constexpr const char* kCheck = "check";
inline constexpr const char* kSelection = "selection";
inline constexpr const char* kNote = "note";
inline constexpr const char* kView = "view";
inline constexpr const char* kFile = "file";
} // namespace made_from

/// One thing to be settled by one responsible; a BCF topic.
struct Issue {
    std::string uuid;
    std::string number; ///< "MSS-001"; our own, not in BCF
    std::string title, description, type, status = status::kOpen, priority, stage, assignee;
    std::string createdBy, modifiedBy;
    Timestamp createdAt, modifiedAt, dueAt;
    std::vector<std::string> labels;
    std::vector<Comment> comments;
    std::vector<Viewpoint> viewpoints;

    // What else the standard holds.
    std::string serverId;     ///< a server's own number
    std::optional<int> index; ///< where it stands among the others
    std::vector<std::string> links;
    std::vector<DocumentReference> documents;
    std::vector<std::string> related; ///< uuids
    std::optional<Snippet> snippet;
    std::vector<ModelFile> files;

    // What the standard has no place for; written as labels where the project says so.
    std::string requestedBy, cause;
    Timestamp startAt;
    Location location;
    std::map<std::string, std::string> custom; ///< values of the project's own fields, by the field's name
    friend bool operator==(const Issue&, const Issue&) = default;
};

} // namespace wendrix::issues
