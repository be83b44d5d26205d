#pragma once

#include "core/base/element_ref.h"
#include "core/base/vector3.h"
#include "core/base/who_and_when.h"

#include <optional>
#include <string>
#include <vector>

namespace wendrix::issues {

/// From where a viewpoint looks. Metres, Z up, in the reference member's frame.
struct Camera {
    Point3 eye;
    Vector3 direction{0, 1, 0}; ///< unit, into the scene
    Vector3 up{0, 0, 1};        ///< unit
    bool isPerspective = true;
    double fieldOfViewDegrees = 50; ///< whole vertical angle
    double viewHeightMetres = 10;   ///< of a parallel view
    friend bool operator==(const Camera&, const Camera&) = default;
};

/// Elements painted in one colour: "FFC23B72", alpha first.
struct Colouring {
    std::string colour;
    std::vector<ElementRef> elements;
    friend bool operator==(const Colouring&, const Colouring&) = default;
};

/// The side of the plane that `direction` points to is cut away.
struct ClippingPlane {
    Point3 location;
    Vector3 direction;
    friend bool operator==(const ClippingPlane&, const ClippingPlane&) = default;
};

struct Viewpoint {
    std::string uuid;
    std::optional<Camera> camera;
    std::vector<ElementRef> selection; ///< as files name them, with nothing but the GlobalId; else whole
    bool isDefaultVisible = true;
    std::vector<ElementRef> exceptions; ///< those that are the other way round
    std::vector<Colouring> colouring;
    std::vector<ClippingPlane> planes;
    std::string snapshot; ///< PNG bytes; empty if none
    friend bool operator==(const Viewpoint&, const Viewpoint&) = default;
};

struct Comment {
    std::string uuid;
    Timestamp time;
    std::string author, text;
    std::string viewpoint; ///< uuid of a viewpoint of the same issue; may be empty
    friend bool operator==(const Comment&, const Comment&) = default;
};

/// The statuses Wendrix itself gives; a file from elsewhere may hold others, which are kept.
namespace status {
inline constexpr const char* kOpen = "Open";
inline constexpr const char* kInProgress = "In progress";
inline constexpr const char* kDone = "Done by assignee";
inline constexpr const char* kClosed = "Closed";
inline constexpr const char* kBack = "Back again";
} // namespace status

/// One thing to be settled by one responsible; a BCF topic.
struct Issue {
    std::string uuid;
    std::string number; ///< "MSS-001"; our own, not in BCF 2.1
    std::string title, description, type, status = status::kOpen, priority, stage, assignee;
    std::string createdBy, modifiedBy;
    Timestamp createdAt, modifiedAt, dueAt;
    std::vector<std::string> labels;
    std::vector<Comment> comments;
    std::vector<Viewpoint> viewpoints;
    friend bool operator==(const Issue&, const Issue&) = default;
};

} // namespace wendrix::issues
