#pragma once

#include "core/view/display.h"

#include <string>
#include <vector>

namespace wendrix::view {

/// A sign at a place: a number in a disc, a dot.
struct Marker {
    Point3 place;
    std::string text;
    Colour fill, ink;
    bool isSmall = false;
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

} // namespace wendrix::view
