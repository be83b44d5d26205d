#pragma once

#include "core/geometry/mesh.h"

#include <array>
#include <string>
#include <vector>

namespace wendrix::changes {

/// What became of one extent of an element.
struct Extent {
    enum class Along { Length, Height, Width, Depth, Thickness };
    Along along = Along::Length;
    double before = 0, after = 0; ///< metres
};

/// How large a body was and is along the axes it stands by: those of its own frame or of the building where it fills
/// its box along them, else those of its spread. Both are measured along the axes of the later one.
///
/// A long body has a length and is wide and deep across it; a flat one has a thickness; others a length, a width and,
/// upwards, a height.
/// @param own  the later element's own frame
/// @param up  the vertical, in the frame of the bodies
[[nodiscard]] std::array<Extent, 3> extentsOf(const geometry::Mesh& was, const geometry::Mesh& now,
                                              const Transform& own, Vector3 up);

/// "120 mm narrower, 300 mm longer", the largest change last; "120 mm narrower both ways" where a long body's sides
/// changed alike. Empty where nothing changed by as much as `tolerance` metres.
[[nodiscard]] std::string inWords(const std::array<Extent, 3>& extents, double tolerance);

} // namespace wendrix::changes
