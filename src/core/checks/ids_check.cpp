#include "core/checks/ids_check.h"

#include "core/base/text.h"
#include "core/checks/facet_reader.h"

#include <algorithm>

namespace wendrix::checks {

using ifc::Entity;

namespace {

bool isForSchema(const Specification& s, std::string_view schema)
{
    // "IFC4X3" reads IFC4X3_ADD2 and the like; "IFC4" must not.
    return std::any_of(s.schemas.begin(), s.schemas.end(), [&](const std::string& asked) {
        return upperCase(asked) == schema || (schema == "IFC4X3" && upperCase(asked).starts_with("IFC4X3"));
    });
}

class SpecificationCheck {
public:
    SpecificationCheck(const Specification& specification, const ifc::Model& model, const FacetReader& reader)
        : specification_(specification), model_(model), source_(model.source()), reader_(reader)
    {
    }

    SpecificationResult run(Progress& progress)
    {
        SpecificationResult result{specification_.name,
                                   specification_.identifier,
                                   specification_.description,
                                   specification_.instructions,
                                   Verdict::Met,
                                   0,
                                   {},
                                   {}};
        if (!isForSchema(specification_, source_.schema().name())) {
            result.verdict = Verdict::NotForThisSchema;
            return result;
        }
        for (const std::uint32_t position : candidates()) {
            if (progress.isCancelled())
                return result;
            const Entity e = source_.entity(source_.file().entities().all()[position]);
            if (e && isApplicable(e))
                look(e, result);
        }
        if (result.applicable < specification_.least)
            result.why = "There is nothing in the model that it speaks of.";
        if (result.applicable > specification_.most)
            result.why = specification_.most == 0 ? "The model has what must not be there."
                                                  : "The model has more of these than are asked for.";
        if (!result.failed.empty() || !result.why.empty())
            result.verdict = Verdict::Unmet;
        return result;
    }

private:
    /// Positions of all that can be applicable: of the classes the entity facets allow.
    std::vector<std::uint32_t> candidates() const
    {
        const Facet* entity = nullptr;
        for (const Facet& f : specification_.applicability)
            if (f.kind == FacetKind::Entity)
                entity = &f;
        std::vector<std::uint32_t> positions;
        const auto& all = source_.file().entities().all();
        const ifc::Schema& schema = source_.schema();
        std::vector<bool> isMeant(schema.typeCount(), false);
        for (std::size_t t = 0; t < isMeant.size(); ++t) {
            const auto type = static_cast<ifc::TypeId>(t);
            isMeant[t] = entity != nullptr ? entity->name->matches(upperCase(schema.typeName(type)))
                                           : schema.isA(type, "IfcObjectDefinition") || schema.isA(type, "IfcMaterial");
        }
        for (std::uint32_t i = 0; i < all.size(); ++i)
            if (const ifc::TypeId type = source_.typeOf(all[i]);
                type != ifc::kUnknownType && isMeant[static_cast<std::size_t>(type)])
                positions.push_back(i);
        return positions;
    }

    bool isApplicable(const Entity& e) const
    {
        return std::all_of(specification_.applicability.begin(), specification_.applicability.end(),
                           [&](const Facet& f) { return reader_.check(f, e).isOk; });
    }

    void look(const Entity& e, SpecificationResult& result) const
    {
        ++result.applicable;
        const auto blame = [&](std::string why) {
            result.failed.push_back(
                {e.id(), std::string(e.typeName()), e["Name"].text(), e["GlobalId"].text(), std::move(why)});
        };
        if (specification_.most == 0)
            return blame("It must not be there.");
        std::string why;
        for (const Facet& f : specification_.requirements) {
            const Met met = reader_.check(f, e);
            const bool isFine = f.cardinality == Cardinality::Required     ? met.isOk
                                : f.cardinality == Cardinality::Prohibited ? !met.isOk
                                                                           : !met.isThere || met.isOk;
            if (!isFine)
                why += (why.empty() ? "" : " ") + (f.cardinality == Cardinality::Prohibited
                                                       ? "It has what it must not have: " + what(f) + "."
                                                       : met.why);
        }
        if (!why.empty())
            blame(std::move(why));
    }

    static std::string what(const Facet& f)
    {
        switch (f.kind) {
        case FacetKind::Entity:
            return "class " + f.name->inWords();
        case FacetKind::Attribute:
            return f.name->inWords() + (f.value ? " " + f.value->inWords() : "");
        case FacetKind::Classification:
            return "a classification" + (f.system ? " in " + f.system->inWords() : "") +
                   (f.value ? " " + f.value->inWords() : "");
        case FacetKind::Property:
            return f.propertySet->inWords() + "." + f.baseName->inWords() + (f.value ? " " + f.value->inWords() : "");
        case FacetKind::Material:
            return "a material" + (f.value ? " " + f.value->inWords() : "");
        case FacetKind::PartOf:
            return "a whole " + f.name->inWords();
        }
        return {};
    }

    const Specification& specification_;
    const ifc::Model& model_;
    const ifc::Source& source_;
    const FacetReader& reader_;
};

} // namespace

Result<std::vector<SpecificationResult>> checkIds(const Ids& ids, const ifc::Model& model, Progress& progress)
{
    const FacetReader reader(model);
    std::vector<SpecificationResult> results;
    for (const Specification& s : ids.specifications) {
        progress.report("Checking what was asked for: " + s.name,
                        static_cast<double>(results.size()) / static_cast<double>(ids.specifications.size()));
        results.push_back(SpecificationCheck(s, model, reader).run(progress));
        if (progress.isCancelled())
            return fail({step::kCancelled, "Checking was cancelled."});
    }
    return results;
}

} // namespace wendrix::checks
