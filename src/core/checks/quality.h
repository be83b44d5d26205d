#pragma once

#include "core/checks/ids_check.h"
#include "core/geometry/member_geometry.h"

#include <map>

namespace wendrix::checks {

/// What was agreed that deliveries should be like. What is not set is not asked for.
struct Expectations {
    std::vector<std::string> schemas; ///< "IFC4", "IFC4X3"
    std::string lengthUnit;           ///< as Units names it: "millimetre"
    /// Names and heights of the storeys as the reference member has them.
    std::vector<std::pair<std::string, Metres>> storeys;
    Metres storeyTolerance{0.005};
    /// Properties that elements of a class and its subclasses must have a value of: "Pset_WallCommon", "FireRating".
    struct Needed {
        std::string className, set, property;
    };
    std::vector<Needed> properties;
    bool areDimensionsNamed = false; ///< ducts, pipes and cable carriers say their size in their name or their type's
    bool isGeoreferenced = false;

    /// Fire ratings of walls, doors and slabs, and which walls, slabs, beams and columns bear loads.
    [[nodiscard]] static Expectations usual();
};

/// One kind of fault, with all it was found at.
struct Finding {
    Severity severity = Severity::Warning;
    std::string code;   ///< stable: "guid.twice"
    std::string title;  ///< what is wrong: "GlobalIds given twice"
    std::string advice; ///< one sentence for the sender: what to do
    std::size_t count = 0;
    std::vector<Concerned> concerned; ///< the first of them; `why` says what it is at this one
};

/// A delivered model looked at against what was agreed.
struct QualityReport {
    struct Facts {
        std::string schema, viewDefinition, lengthUnit, application, coordinates;
        std::size_t elements = 0, storeys = 0, unbuilt = 0;
    };
    Facts facts;
    std::vector<Finding> findings; ///< the gravest first
    struct OfIds {
        std::string title;
        std::vector<SpecificationResult> specifications;
        std::vector<Diagnostic> notes;
    };
    std::vector<OfIds> ids;

    [[nodiscard]] std::size_t count(Severity severity) const; ///< findings of this severity
    /// "3 faults, 2 warnings; 1 of 4 specifications not met".
    [[nodiscard]] std::string inWords() const;
    /// Something that stands against taking it in.
    [[nodiscard]] bool hasFaults() const;
};

/// @param geometry  none where bodies are not built yet; then nothing is said of them
/// @return step::kCancelled, or the report
[[nodiscard]] Result<QualityReport> checkQuality(const ifc::Model& model, const geometry::MemberGeometry* geometry,
                                                 const Expectations& expectations, const std::vector<Ids>& ids,
                                                 Progress& progress);

} // namespace wendrix::checks
