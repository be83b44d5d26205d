#pragma once

#include "core/base/element_ref.h"
#include "core/base/transform.h"

#include <optional>
#include <string>
#include <vector>

/// What a BCF viewpoint holds. Lengths in metres, Z up; in which frame, says whoever holds it.
namespace wendrix::issues {

/// From where a viewpoint looks.
struct Camera {
    Point3 eye;
    Vector3 direction{0, 1, 0}; ///< unit, into the scene
    Vector3 up{0, 0, 1};        ///< unit
    bool isPerspective = true;
    double fieldOfViewDegrees = 50; ///< whole vertical angle
    double viewHeightMetres = 10;   ///< of a parallel view
    double aspect = 0;              ///< width to height of what was seen; 0 where nobody said
    double distanceMetres = 0;      ///< to what it looks at; 0 where nobody knows. Our own: BCF has no place for it
    friend bool operator==(const Camera&, const Camera&) = default;
};

/// Elements painted in one colour: "FFC23B72", alpha first; "C23B72" is opaque.
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

/// A line drawn in the model; one whose ends coincide is a point.
struct Line {
    Point3 from, to;
    friend bool operator==(const Line&, const Line&) = default;
};

/// A picture standing in the model.
struct Bitmap {
    std::string format;    ///< "png", "jpg"
    std::string reference; ///< its file's name beside the viewpoint
    Point3 location;       ///< of its middle
    Vector3 normal, up;
    double heightMetres = 0;
    friend bool operator==(const Bitmap&, const Bitmap&) = default;
};

/// Whether classes that are seldom looked at were seen, before anything is said of single elements.
struct ViewHints {
    bool spaces = false, spaceBoundaries = false, openings = false;
    friend bool operator==(const ViewHints&, const ViewHints&) = default;
};

/// How another program calls an element, beside or instead of its GlobalId.
struct ForeignName {
    std::string guid; ///< GlobalId; may be empty
    std::string system, id;
    friend bool operator==(const ForeignName&, const ForeignName&) = default;
};

struct Viewpoint {
    std::string uuid;
    /// In the coordinates of whose files as delivered it is; 0: of the project, which is the reference's.
    DisciplineId frame = 0;
    std::optional<Camera> camera = {};
    std::vector<ElementRef> selection = {}; ///< as files name them, with nothing but the GlobalId; else whole
    bool saysVisibility = true;             ///< false where it leaves open what was seen: the scene stays as it is
    bool isDefaultVisible = true;
    std::vector<ElementRef> exceptions = {}; ///< those that are the other way round
    std::vector<Colouring> colouring = {};
    std::vector<ClippingPlane> planes = {};
    std::string snapshot = {}; ///< PNG or JPEG bytes as they came; empty if none
    ViewHints hints = {};
    std::vector<Line> lines = {};
    std::vector<Bitmap> bitmaps = {};
    std::vector<ForeignName> foreign = {}; ///< of its elements, those that another program calls something
    std::optional<Camera> second = {};     ///< BCF 2.1 may give a parallel one beside the one in perspective
    std::optional<int> index = {};         ///< where it stands among the others
    friend bool operator==(const Viewpoint&, const Viewpoint&) = default;
};

/// The same view in another frame: camera, planes, lines and bitmaps; a scale makes what is seen of a parallel view
/// larger.
[[nodiscard]] Viewpoint transformed(const Viewpoint& viewpoint, const Transform& transform);

} // namespace wendrix::issues
