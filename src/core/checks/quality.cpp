#include "core/checks/quality.h"

#include "core/base/text.h"
#include "core/checks/quality_rules.h"

#include <fmt/format.h>

namespace wendrix::checks {

Expectations Expectations::usual()
{
    Expectations e;
    e.schemas = {"IFC4", "IFC4X3"};
    e.areDimensionsNamed = true;
    e.isGeoreferenced = true;
    for (const auto& [className, set] :
         {std::pair{"IfcWall", "Pset_WallCommon"}, {"IfcDoor", "Pset_DoorCommon"}, {"IfcSlab", "Pset_SlabCommon"}})
        e.properties.push_back({className, set, "FireRating"});
    for (const auto& [className, set] : {std::pair{"IfcWall", "Pset_WallCommon"},
                                         {"IfcSlab", "Pset_SlabCommon"},
                                         {"IfcBeam", "Pset_BeamCommon"},
                                         {"IfcColumn", "Pset_ColumnCommon"}})
        e.properties.push_back({className, set, "LoadBearing"});
    return e;
}

std::size_t QualityReport::count(Severity severity) const
{
    return static_cast<std::size_t>(
        std::count_if(findings.begin(), findings.end(), [&](const Finding& f) { return f.severity == severity; }));
}

bool QualityReport::hasFaults() const { return count(Severity::Error) > 0; }

std::string QualityReport::inWords() const
{
    const std::size_t faults = count(Severity::Error), warnings = count(Severity::Warning),
                      notes = count(Severity::Note);
    std::string words;
    const auto add = [&](std::size_t n, const char* one, const char* many) {
        if (n > 0)
            words += (words.empty() ? "" : ", ") + counted(n, one, many);
    };
    add(faults, "fault", "faults");
    add(warnings, "warning", "warnings");
    add(notes, "note", "notes");
    if (words.empty())
        words = "Nothing to complain of";
    std::size_t asked = 0, unmet = 0;
    for (const OfIds& one : ids)
        for (const SpecificationResult& s : one.specifications) {
            asked += s.verdict != Verdict::NotForThisSchema ? 1 : 0;
            unmet += s.verdict == Verdict::Unmet ? 1 : 0;
        }
    if (asked > 0 && unmet == 0)
        words += asked == 1 ? "; the specification is met" : fmt::format("; all {} specifications met", asked);
    else if (asked > 0)
        words += fmt::format("; {} of {} not met", unmet, counted(asked, "specification", "specifications"));
    return words;
}

Result<QualityReport> checkQuality(const ifc::Model& model, const geometry::MemberGeometry* geometry,
                                   const Expectations& expectations, const std::vector<Ids>& ids, Progress& progress)
{
    QualityReport report;
    const step::Header& header = model.source().file().header();
    report.facts.schema = header.schema;
    report.facts.viewDefinition = header.viewDefinition;
    report.facts.application = header.originatingSystem;
    report.facts.lengthUnit = model.units().lengthName;
    report.facts.elements = model.elements().size();
    report.facts.storeys = model.storeys().size();
    const ifc::Georeference& g = model.georeference();
    report.facts.coordinates = g.crs               ? *g.crs
                               : g.eastings        ? "map coordinates without a name"
                               : g.latitudeDegrees ? "latitude and longitude"
                                                   : "";
    if (geometry != nullptr)
        for (const geometry::ElementShape& shape : geometry->elements())
            report.facts.unbuilt += shape.placed.empty() ? 1 : 0;
    report.findings = QualityRules(model, geometry, expectations).run(progress);
    for (const Ids& one : ids) {
        auto results = checkIds(one, model, progress);
        if (!results)
            return fail(results.error());
        report.ids.push_back({one.title, std::move(*results), one.notes});
    }
    if (progress.isCancelled())
        return fail({step::kCancelled, "Looking at the quality was cancelled."});
    return report;
}

} // namespace wendrix::checks
