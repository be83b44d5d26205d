#pragma once

#include "core/base/binary.h"
#include "core/geometry/fineness.h"
#include "core/geometry/shape.h"
#include "core/ifc/model.h"

#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <vector>

namespace wendrix::geometry {

/// What one element looks like.
struct ElementShape {
    std::vector<PlacedShape> placed; ///< empty where nothing could be built
    Box3 bounds;                     ///< file's world frame
    bool isClosed = false;
    double volume = 0, area = 0; ///< m³, m²
    std::size_t triangles = 0;
};

/// All bodies of one member, in the file's world frame. Immutable, safe to share.
class MemberGeometry {
public:
    /// Builds every element's body, openings subtracted, on all cores. Shapes that are shared (mapped ones, all
    /// straight extrusions of one profile, bodies that are the same) are built once.
    /// @return step::kCancelled, or the geometry; what was not built stands in its diagnostics.
    [[nodiscard]] static Result<std::shared_ptr<const MemberGeometry>>
    build(const ifc::Model& model, Progress& progress, const Fineness& fineness = {});

    void save(BinaryWriter& out) const;
    /// What was built before; where `in` is not sound, or not of as many elements, it turns unsound.
    [[nodiscard]] static std::shared_ptr<const MemberGeometry> restore(BinaryReader& in, std::size_t elements);

    [[nodiscard]] const std::vector<Shape>& shapes() const { return shapes_; }
    /// In the order of the model's elements.
    [[nodiscard]] const std::vector<ElementShape>& elements() const { return elements_; }
    [[nodiscard]] const std::vector<Diagnostic>& diagnostics() const { return diagnostics_; }
    /// One element's triangles in the file's world frame, facing outwards.
    [[nodiscard]] Mesh meshOf(ifc::ElementIndex element) const;
    /// Of its shapes and where they stand in the file: the same in two files only where it is written the same to the
    /// last bit.
    [[nodiscard]] Digest digestOf(ifc::ElementIndex element) const;
    [[nodiscard]] const Box3& bounds() const { return bounds_; }
    [[nodiscard]] std::size_t triangleCount() const;
    /// What another module makes of it for itself, such as trees: made by the first who asks, the same for all, and
    /// kept as long as this is.
    [[nodiscard]] const void* extension(const std::function<std::shared_ptr<const void>()>& make) const
    {
        std::call_once(extension_->once, [&] { extension_->made = make(); });
        return extension_->made.get();
    }

private:
    struct Extension {
        std::once_flag once;
        std::shared_ptr<const void> made;
    };
    std::unique_ptr<Extension> extension_ = std::make_unique<Extension>();
    std::vector<Shape> shapes_;
    std::vector<ElementShape> elements_;
    std::vector<Diagnostic> diagnostics_;
    Box3 bounds_;
};

} // namespace wendrix::geometry
