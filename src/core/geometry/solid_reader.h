#pragma once

#include "core/geometry/boolean.h"
#include "core/geometry/curve_reader.h"
#include "core/geometry/effort.h"
#include "core/geometry/mesh.h"
#include "core/geometry/swept_reader.h"
#include "core/ifc/model.h"

#include <optional>
#include <vector>

namespace wendrix::geometry {

/// Builds solids and surfaces, in the representation's own frame, metres. What can not be built becomes a diagnostic
/// with its entity and the reason. Safe to use from several threads, each with its own list of diagnostics.
class SolidReader {
public:
    SolidReader(const ifc::Model& model, const Fineness& fineness);

    [[nodiscard]] const CurveReader& curves() const { return curves_; }
    [[nodiscard]] const SweptReader& swept() const { return swept_; }
    /// The bodies of one item: several for a profile or a model of several parts. Never with a place that is none.
    [[nodiscard]] std::vector<Mesh> meshes(const ifc::Entity& item, std::vector<Diagnostic>& diagnostics,
                                           const Effort& effort) const;
    /// Says that an item was not built, and why.
    static void sayNotBuilt(std::vector<Diagnostic>& diagnostics, const ifc::Entity& item, const std::string& why);

private:
    using Diagnostics = std::vector<Diagnostic>;
    [[nodiscard]] std::vector<Mesh> anyMeshes(const ifc::Entity& item, Diagnostics& diagnostics,
                                              const Effort& effort) const;
    [[nodiscard]] std::vector<Mesh> shells(const ifc::Entity& item, Diagnostics& diagnostics) const;
    struct Shell {
        Mesh mesh;
        bool isClosed = false;
    };
    [[nodiscard]] Shell shell(const ifc::Entity& item, const ifc::Entity& shell, bool isHollow,
                              Diagnostics& diagnostics) const;
    [[nodiscard]] std::optional<Mesh> primitive(const ifc::Entity& item) const;
    [[nodiscard]] std::vector<Mesh> booleanResult(const ifc::Entity& item, Diagnostics& diagnostics,
                                                  const Effort& effort) const;
    /// An operand: a mesh as long as nothing but planes cut it, exact through every other boolean below it.
    struct Operand {
        Mesh mesh;
        std::optional<Solid> exact; ///< instead of the mesh
        ifc::Entity of;
        bool isCut = false;

        [[nodiscard]] Mesh take() { return exact ? exact->mesh() : std::move(mesh); }
    };
    /// Nothing where it has no inside or nothing is left.
    [[nodiscard]] std::optional<Operand> operand(const ifc::Entity& item, Diagnostics& diagnostics,
                                                 const Effort& effort) const;
    /// @return whether it has an inside; why not is said
    static bool makeExact(Operand& operand, Diagnostics& diagnostics);
    [[nodiscard]] std::optional<Solid> halfSpaceOf(const ifc::Entity& item, const Box3& around,
                                                   Diagnostics& diagnostics) const;

    const ifc::Model& model_;
    const ifc::Source& source_;
    CurveReader curves_;
    SweptReader swept_;
};

} // namespace wendrix::geometry
