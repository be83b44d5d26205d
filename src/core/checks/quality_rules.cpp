#include "core/checks/quality_rules.h"

#include "core/base/text.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <tuple>
#include <unordered_map>

namespace wendrix::checks {

using ifc::Element;
using ifc::Entity;

namespace {

constexpr std::size_t kMostConcerned = 1000;                 // kept by name; the count goes on
constexpr double kSmallestSite = 0.5, kLargestSite = 20'000; // metres
constexpr Metres kStoreyStep{0.001};
constexpr double kProxyShare = 0.05;

std::string inMillimetres(double metres) { return fmt::format("{:.0f} mm", metres * 1000); }

/// 22 characters of the standard's alphabet, the first of them no more than 3: 128 bits.
/// Source: ISO 16739-1, IfcGloballyUniqueId.
bool isGlobalId(const std::string& guid)
{
    return guid.size() == 22 && guid[0] >= '0' && guid[0] <= '3' && std::all_of(guid.begin(), guid.end(), [](char c) {
               return (c >= '0' && c <= '9') || (c >= 'A' && c <= 'Z') || (c >= 'a' && c <= 'z') || c == '_' ||
                      c == '$';
           });
}

/// "700x350", "700 × 350", "Ø160", "DN 100", "D160".
bool saysSize(const std::string& words)
{
    static const auto pattern =
        Pattern::compile(R"((.|\s)*([0-9]+\s*(x|X|×|/)\s*[0-9]+|(Ø|ø|DN|D|d)\s*[0-9]+|[0-9]+\s*mm)(.|\s)*)");
    return pattern->matches(words);
}

} // namespace

Concerned QualityRules::element(const Element& e, std::string why) const
{
    return {e.entity, std::string(model_.className(e)), model_.displayName(e), e.guid, std::move(why)};
}

void QualityRules::add(Severity severity, const char* code, std::string title, std::string advice,
                       std::vector<Concerned> concerned)
{
    if (concerned.empty())
        return;
    Finding f{severity, code, std::move(title), std::move(advice), concerned.size(), std::move(concerned)};
    if (f.concerned.size() > kMostConcerned)
        f.concerned.resize(kMostConcerned);
    findings_.push_back(std::move(f));
}

void QualityRules::say(Severity severity, const char* code, std::string title, std::string advice)
{
    findings_.push_back({severity, code, std::move(title), std::move(advice), 1, {}});
}

void QualityRules::schema()
{
    const std::string name(source_.schema().name());
    if (!expected_.schemas.empty() &&
        std::find(expected_.schemas.begin(), expected_.schemas.end(), name) == expected_.schemas.end())
        say(Severity::Warning, "schema.other", "The model is written in " + name,
            fmt::format("Export it in {}, as agreed.", fmt::join(expected_.schemas, " or ")));
    if (source_.file().header().viewDefinition.empty())
        say(Severity::Note, "schema.no-view", "The file names no model view definition",
            "Choose one when exporting, so that what the file holds is known.");
}

void QualityRules::units()
{
    const std::string& unit = model_.units().lengthName;
    if (!expected_.lengthUnit.empty() && unit != expected_.lengthUnit)
        say(Severity::Warning, "units.other", "Lengths are in " + unit,
            "Export lengths in " + expected_.lengthUnit + ", as agreed.");
}

void QualityRules::extent()
{
    if (geometry_ == nullptr || geometry_->bounds().isEmpty())
        return;
    const Vector3 size = geometry_->bounds().size();
    const double largest = std::max({size.x, size.y, size.z});
    if (largest < kSmallestSite || largest > kLargestSite)
        say(Severity::Error, "units.size",
            "The whole model is " +
                (largest < 10 ? plainNumber(std::round(largest * 1e4) / 1e4)
                              : grouped(static_cast<std::uint64_t>(std::llround(largest)))) +
                " m across",
            fmt::format("The unit declared ({}) is not the one it was drawn in; set the unit and export again.",
                        model_.units().lengthName));
}

void QualityRules::storeys()
{
    const auto& storeys = model_.storeys();
    if (storeys.empty())
        return say(Severity::Error, "storeys.none", "The model has no storeys",
                   "Give the building its storeys and put each element on one.");
    const auto concerned = [&](const ifc::Storey& s, std::string why) {
        return Concerned{s.entity, "IfcBuildingStorey", s.name, s.guid, std::move(why)};
    };
    std::vector<Concerned> offSaid, offReference, unknown, twice;
    const double base = storeys.front().height.value - storeys.front().elevation.value;
    for (std::size_t i = 0; i < storeys.size(); ++i) {
        const ifc::Storey& s = storeys[i];
        // A storey may say its elevation from the building's zero, which need not be the file's.
        if (const double off = s.height.value - s.elevation.value - base; std::abs(off) > kStoreyStep.value)
            offSaid.push_back(concerned(s, "It says " + elevationInWords(s.elevation) + " and stands " +
                                               inMillimetres(std::abs(off)) + (off > 0 ? " higher." : " lower.")));
        if (i > 0 && std::abs(s.height.value - storeys[i - 1].height.value) < kStoreyStep.value)
            twice.push_back(concerned(s, "It is as high as " + storeys[i - 1].name + "."));
    }
    add(Severity::Error, "storeys.placed", "Storeys stand elsewhere than they say",
        "Make the elevation of each storey and its placement agree, and export again.", std::move(offSaid));
    add(Severity::Warning, "storeys.twice", "Two storeys are equally high", "Join them, or correct their elevations.",
        std::move(twice));
    if (expected_.storeys.empty())
        return;
    // Compared from storey to storey, so that another zero of the file is no fault of its storeys.
    const auto reference = [&](const std::string& name) {
        return std::find_if(expected_.storeys.begin(), expected_.storeys.end(),
                            [&](const auto& r) { return r.first == name; });
    };
    std::vector<double> shifts;
    for (const ifc::Storey& s : storeys)
        if (const auto r = reference(s.name); r != expected_.storeys.end())
            shifts.push_back(s.height.value - r->second.value);
        else
            unknown.push_back(concerned(s, "The reference has no storey of this name."));
    if (!shifts.empty()) {
        std::vector<double> sorted = shifts;
        std::nth_element(sorted.begin(), sorted.begin() + static_cast<std::ptrdiff_t>(sorted.size() / 2), sorted.end());
        const double usual = sorted[sorted.size() / 2];
        for (const ifc::Storey& s : storeys)
            if (const auto r = reference(s.name); r != expected_.storeys.end())
                if (const double off = s.height.value - r->second.value - usual;
                    std::abs(off) > expected_.storeyTolerance.value)
                    offReference.push_back(concerned(s, inMillimetres(std::abs(off)) +
                                                            (off > 0 ? " higher" : " lower") +
                                                            " than the reference has it."));
    }
    add(Severity::Error, "storeys.height", "Storeys are not as high as in the reference",
        "Take the heights over from the reference member and export again.", std::move(offReference));
    add(Severity::Note, "storeys.name", "Storeys have names the reference does not know",
        "Name storeys as the reference member does.", std::move(unknown));
}

void QualityRules::outsideStoreys()
{
    std::vector<Concerned> concerned;
    for (const Element& e : model_.elements())
        if (e.storey == ifc::kNoStorey && source_.schema().isA(e.type, "IfcElement"))
            concerned.push_back(element(e));
    add(Severity::Warning, "storeys.outside", "Elements are on no storey", "Put each element on its storey.",
        std::move(concerned));
}

void QualityRules::globalIds()
{
    std::unordered_map<std::string, std::uint32_t> seen;
    std::vector<Concerned> twice, bad;
    source_.forEach("IfcRoot", [&](const Entity& e) {
        const std::string guid = e["GlobalId"].text();
        const auto concerned = [&](std::string why) {
            return Concerned{e.id(), std::string(e.typeName()), e["Name"].text(), guid, std::move(why)};
        };
        if (guid.empty())
            bad.push_back(concerned("It has none."));
        else if (!isGlobalId(guid))
            bad.push_back(concerned("\"" + guid + "\" is none."));
        if (!guid.empty() && ++seen[guid] > 1)
            twice.push_back(concerned("Something before it in the file has the same."));
    });
    add(Severity::Error, "guid.twice", "GlobalIds are given twice",
        "Give each object a GlobalId of its own; issues and changes are followed by it.", std::move(twice));
    add(Severity::Error, "guid.bad", "GlobalIds are missing or malformed",
        "Let the authoring tool write GlobalIds of 22 characters, as the standard says.", std::move(bad));
}

void QualityRules::proxies()
{
    std::vector<Concerned> concerned;
    for (const Element& e : model_.elements())
        if (source_.schema().isA(e.type, "IfcBuildingElementProxy"))
            concerned.push_back(element(e));
    const bool isMuch =
        static_cast<double>(concerned.size()) > kProxyShare * static_cast<double>(model_.elements().size());
    add(isMuch ? Severity::Error : Severity::Warning, "class.proxy", "Elements are exported as proxies",
        "Map them to the class of what they are; nothing can be asked of a proxy.", std::move(concerned));
}

void QualityRules::properties()
{
    std::map<std::string, std::vector<const Expectations::Needed*>> byClass;
    for (const Expectations::Needed& needed : expected_.properties)
        byClass[needed.className].push_back(&needed);
    std::map<std::pair<std::string, std::string>, std::vector<Concerned>> missing; ///< by property and class
    for (const Element& e : model_.elements()) {
        std::vector<ifc::PropertySet> sets;
        bool isRead = false;
        for (const auto& [name, list] : byClass) {
            if (!source_.schema().isA(e.type, ifc::Name(std::string_view(name))))
                continue;
            if (!isRead)
                sets = model_.properties(e);
            isRead = true;
            for (const Expectations::Needed* needed : list) {
                const bool isThere = std::any_of(sets.begin(), sets.end(), [&](const ifc::PropertySet& set) {
                    return set.name == needed->set &&
                           std::any_of(set.properties.begin(), set.properties.end(), [&](const ifc::Property& p) {
                               return p.name == needed->property && !p.value.empty();
                           });
                });
                if (!isThere)
                    missing[{needed->set + "." + needed->property, lowerCase(classInWords(name))}].push_back(
                        element(e, needed->set + "." + needed->property + " is missing."));
            }
        }
    }
    for (auto& [what, concerned] : missing)
        add(Severity::Warning, "property.missing", what.first + " is missing",
            "Fill it in for every " + what.second + "; it was asked for.", std::move(concerned));
}

void QualityRules::dimensionsInNames()
{
    if (!expected_.areDimensionsNamed)
        return;
    std::vector<Concerned> concerned;
    for (const Element& e : model_.elements())
        if (source_.schema().isA(e.type, "IfcFlowSegment") && !saysSize(model_.text(e.name)) &&
            !saysSize(model_.text(e.typeName)))
            concerned.push_back(element(e));
    add(Severity::Note, "name.no-size", "Ducts, pipes or carriers do not say their size",
        "Put the size into the name or the type's, as \"700×350\" or \"DN 100\".", std::move(concerned));
}

void QualityRules::georeference()
{
    const ifc::Georeference& g = model_.georeference();
    if (expected_.isGeoreferenced && !g.eastings && !g.latitudeDegrees)
        say(Severity::Warning, "place.none", "The model does not say where on earth it is",
            "Set the map conversion (or at least the site's latitude and longitude) and export again.");
}

void QualityRules::bodies()
{
    if (geometry_ == nullptr)
        return;
    std::vector<Concerned> unbuilt, open;
    std::unordered_map<std::string, const Diagnostic*> byEntity;
    for (const Diagnostic& d : geometry_->diagnostics())
        byEntity.try_emplace(d.entity, &d);
    for (std::size_t i = 0; i < model_.elements().size(); ++i) {
        const Element& e = model_.elements()[i];
        const geometry::ElementShape& shape = geometry_->elements()[i];
        if (shape.placed.empty()) {
            const auto found = byEntity.find(ifc::entityName(e.entity));
            unbuilt.push_back(element(e, found != byEntity.end() ? found->second->message : ""));
        } else if (!shape.isClosed) {
            open.push_back(element(e));
        }
    }
    add(Severity::Error, "body.unbuilt", "Bodies can not be built",
        "Export these elements again, if need be as closed boundary representations.", std::move(unbuilt));
    add(Severity::Note, "body.open", "Bodies are not closed",
        "Export solids; an open surface has no volume and no inside to clash with.", std::move(open));
}

void QualityRules::twice()
{
    if (geometry_ == nullptr)
        return;
    // The same class with the same box and volume at the same place, to the tenth of a millimetre.
    std::map<std::tuple<ifc::TypeId, std::array<std::int64_t, 6>, std::int64_t>, std::uint32_t> first;
    std::vector<Concerned> concerned;
    const auto tenths = [](double metres) { return static_cast<std::int64_t>(std::llround(metres * 1e4)); };
    for (std::uint32_t i = 0; i < model_.elements().size(); ++i) {
        const geometry::ElementShape& shape = geometry_->elements()[i];
        if (shape.placed.empty())
            continue;
        const Box3& b = shape.bounds;
        const auto [at, isNew] = first.try_emplace(
            {model_.elements()[i].type,
             {tenths(b.min.x), tenths(b.min.y), tenths(b.min.z), tenths(b.max.x), tenths(b.max.y), tenths(b.max.z)},
             static_cast<std::int64_t>(std::llround(shape.volume * 1e6))},
            i);
        if (!isNew)
            concerned.push_back(
                element(model_.elements()[i], "It lies in " + model_.elements()[at->second].guid + "."));
    }
    add(Severity::Warning, "body.twice", "Elements lie in each other, the same twice", "Delete the copies.",
        std::move(concerned));
}

std::vector<Finding> QualityRules::run(Progress& progress)
{
    void (QualityRules::*const rules[])() = {
        &QualityRules::schema,       &QualityRules::units,          &QualityRules::extent,
        &QualityRules::storeys,      &QualityRules::outsideStoreys, &QualityRules::globalIds,
        &QualityRules::proxies,      &QualityRules::properties,     &QualityRules::dimensionsInNames,
        &QualityRules::georeference, &QualityRules::bodies,         &QualityRules::twice};
    for (std::size_t i = 0; i < std::size(rules) && !progress.isCancelled(); ++i) {
        progress.report("Looking at its quality", static_cast<double>(i) / static_cast<double>(std::size(rules)));
        const auto rule = rules[i]; // called straight out of the list, GCC 12's sanitizer reads a place that is none
        (this->*rule)();
    }
    std::stable_sort(findings_.begin(), findings_.end(),
                     [](const Finding& a, const Finding& b) { return a.severity > b.severity; });
    return std::move(findings_);
}

} // namespace wendrix::checks
