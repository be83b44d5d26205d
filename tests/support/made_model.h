#pragma once

#include "core/base/transform.h"

#include <string>
#include <utility>
#include <vector>

namespace wendrix::test {

/// A small building as an IFC4 file whose every place is known: boxes, a grid and storeys, told in the frame of the
/// building and written in whatever frame and unit a team exports from.
struct MadeModel {
    /// Ways to write the same body.
    enum class Written {
        Swept,
        Faceted,          ///< a shell of six faces
        Triangles,        ///< a tessellation
        OtherTriangles,   ///< cut along the other diagonals, one face into four
        InBuildingsFrame, ///< a shell whose corners are the building's, no placement of its own
    };
    struct Box {
        std::string name;
        Point3 low, high; ///< metres, frame of the building
        std::string ifcClass = "IFCBEAM";
        std::string guid = {};                                            ///< made of the name where not given
        std::vector<std::pair<std::string, std::string>> properties = {}; ///< texts of the set "Seed store"
        std::string predefined = {}; ///< its PredefinedType, where the class has one as its ninth attribute
        std::string tag = {};
        std::string type = {};    ///< the name of its type object; boxes of one class and type share it
        double turnedDegrees = 0; ///< about the upright line through its middle
        Written written = Written::Swept;
    };
    std::string name = "Made";
    std::vector<Box> boxes;
    std::vector<std::pair<std::string, double>> storeys{{"Level 1", 0}, {"Level 2", 3.6}}; ///< metres
    /// Axes A, B, C along y and 1, 2, 3 along x, so many metres from each other; none where 0.
    double gridSpacing = 6;
    int letters = 3, digits = 3; ///< how many of each

    // What turns the team's frame into the building's: first the turn about +Z, then the shift.
    double turnedDegrees = 0;
    Vector3 shift;
    double metresPerUnit = 1;
    std::string unit = "IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.)";
    int firstNumber = 100;  ///< of the entities
    bool hasOwners = false; ///< every element with an owner history of `ownedAt`
    long ownedAt = 1700000000;

    [[nodiscard]] std::string text() const;
    /// A GlobalId of a text: always the same one, another for another text.
    [[nodiscard]] static std::string guidOf(const std::string& text);
};

} // namespace wendrix::test
