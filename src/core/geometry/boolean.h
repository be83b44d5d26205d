#pragma once

#include "core/base/result.h"
#include "core/geometry/mesh.h"

#include <memory>
#include <span>
#include <vector>

namespace wendrix::geometry {

inline constexpr ErrorCode kNotASolid{"geometry.not-a-solid"};

enum class BooleanKind { Union, Intersection, Difference };

/// A closed body in exact arithmetic: what is combined stays exact until `mesh` rounds it.
/// Source of the booleans: CGAL Polygon Mesh Processing, corefinement.
class Solid {
public:
    /// @return kNotASolid where the mesh is open or cuts itself.
    [[nodiscard]] static Result<Solid> from(const Mesh& mesh);
    Solid(Solid&&) noexcept;
    Solid& operator=(Solid&&) noexcept;
    ~Solid();

    /// This becomes the result; where the other has no inside (it cuts itself), kNotASolid, and this stays as it was.
    [[nodiscard]] Result<void> combine(const Solid& other, BooleanKind kind);
    [[nodiscard]] bool isEmpty() const;
    [[nodiscard]] Mesh mesh() const;

private:
    struct Body;
    explicit Solid(std::unique_ptr<Body> body);
    std::unique_ptr<Body> body_;
};

/// Exact boolean of two closed meshes, only the result is rounded. An empty result is an empty mesh.
/// @return kNotASolid where an operand is open or cuts itself.
[[nodiscard]] Result<Mesh> combine(const Mesh& a, const Mesh& b, BooleanKind kind);

/// `host` minus all `tools`, one after the other without rounding in between.
/// Tools that are no solids are passed over; `leftOut` gets their indices.
[[nodiscard]] Result<Mesh> subtractAll(const Mesh& host, std::span<const Mesh> tools,
                                       std::vector<std::size_t>& leftOut);

} // namespace wendrix::geometry
