#pragma once

#include "core/geometry/mesh.h"
#include "core/view/display.h"

#include <memory>
#include <string>
#include <vector>

namespace wendrix::view {

/// A sign at a place: a number in a disc, a dot.
struct Marker {
    Point3 place;
    std::string text;
    Colour fill, ink;
    bool isSmall = false;
    bool isRaised = false; ///< stands above its place, so that one sees what is there
    friend bool operator==(const Marker&, const Marker&) = default;
};

/// A shift, with its length in words.
struct Arrow {
    Point3 from, to;
    std::string words;
    Colour colour;
    friend bool operator==(const Arrow&, const Arrow&) = default;
};

/// A piece of a grid axis on the storey one looks at, with its bubble.
struct GridLine {
    Point3 start, end;
    std::string tag; ///< empty: no bubble
    Colour colour;
    friend bool operator==(const GridLine&, const GridLine&) = default;
};

/// A picture standing in the model, seen from either side; what stands before it hides it.
struct StandingPicture {
    std::shared_ptr<const std::string> bytes; ///< PNG or JPEG
    Point3 lowerLeft;                         ///< federation frame
    Vector3 along, up;                        ///< its lower and its left edge, whole
    friend bool operator==(const StandingPicture&, const StandingPicture&) = default;
};

/// A body that is no element, seen whole whatever stands before it: the space that two take, a hole that lacks.
struct Figure {
    Point3 origin; ///< federation frame; the body is about it
    std::shared_ptr<const geometry::Mesh> mesh;
    Colour colour;
    bool isOutline = false; ///< its edges alone, dashed
    friend bool operator==(const Figure&, const Figure&) = default;
};

} // namespace wendrix::view
