#pragma once

#include "core/base/result.h"
#include "core/geometry/mesh.h"

namespace wendrix::geometry {

/// What keeps a mesh from enclosing a volume.
struct EdgeFaults {
    std::size_t free = 0;    ///< edges with a face on one side only
    std::size_t crowded = 0; ///< edges where more than two faces meet and do not pair up
    [[nodiscard]] bool isClosed() const { return free == 0 && crowded == 0; }
    /// "12 edges have a face on one side only"; empty where closed.
    [[nodiscard]] std::string inWords() const;
};
[[nodiscard]] EdgeFaults edgeFaults(const Mesh& mesh);

/// Turns faces over until neighbours agree, each connected part so that it encloses a positive volume. A mesh whose
/// neighbours all agree already is left alone, so that a hollow inside a shell stays one.
/// @return how many triangles were turned
std::size_t makeConsistent(Mesh& mesh);

/// Joins points up to `most` apart, and splits edges at corners of others that lie on them, if that closes the mesh.
/// @return how far apart the points were at most, nothing where the mesh stays open and as it was
std::optional<Metres> closeGaps(Mesh& mesh, Metres most);

/// What was done to one body so that it could be used; one diagnostic for each kind.
struct Repairs {
    std::size_t lostFaces = 0, flatFaces = 0, swappedBounds = 0, nonPlanarFaces = 0, repeatedPoints = 0,
                collinearPoints = 0, touchingOutlines = 0, turned = 0;
    bool wasInsideOut = false;
    std::optional<Metres> gap;

    void say(std::vector<Diagnostic>& diagnostics, const std::string& entity) const;
};

/// Puts a shell in order: gaps up to half a millimetre closed, faces turned to agree, the whole facing outwards (or
/// inwards for a hollow), each noted in `repairs`.
/// @return whether it is closed then
bool putInOrder(Mesh& shell, bool isHollow, Repairs& repairs);

} // namespace wendrix::geometry
