#include "core/coordinates/correction.h"

#include "core/base/hash.h"
#include "core/base/text.h"
#include "core/step/patch.h"

#include <fmt/format.h>
#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

#include <array>
#include <charconv>
#include <cmath>
#include <map>
#include <set>

namespace wendrix::coordinates {

using ifc::Entity;
using ifc::EntityId;
using step::Patch;
using step::realText;
using step::stringText;

namespace {

constexpr const char* kConversionSet = "ePSet_MapConversion";
constexpr const char* kCrsSet = "ePSet_ProjectedCRS";

std::string listOf(const std::vector<std::string>& items)
{
    std::string text = "(";
    for (const std::string& item : items)
        text += (text.size() > 1 ? "," : "") + item;
    return text + ")";
}

std::string listOf(const std::vector<EntityId>& ids)
{
    std::vector<std::string> items;
    for (const EntityId id : ids)
        items.push_back(Patch::reference(id));
    return listOf(items);
}

/// A GlobalId that the same member always gets for the same text: hexadecimal digits are digits of one, too.
std::string guidFromText(const std::string& text)
{
    std::string guid = sha256(text).substr(0, 22);
    guid[0] = static_cast<char>('0' + (guid[0] & 3));
    return guid;
}

class Corrector {
public:
    Corrector(const ifc::Model& reference, const ifc::Model& moving, const federation::Fit& fit)
        : reference_(reference), moving_(moving), source_(moving.source()), fit_(fit), patch_(source_.file()),
          metres_(moving.units().lengthToMetres * fit.scale), r_(reference.georeference())
    {
    }

    Result<Correction> made()
    {
        if (std::abs(fit_.scale - 1) > 1e-12)
            if (auto done = scaleUnit(); !done)
                return fail(done.error());
        placeRoots();
        placeHomeless();
        if (done_.placements == 0)
            return fail({kNotCorrectable, "Nothing in the file has a placement that could be turned and shifted.",
                         source_.file().name()});
        tellSite();
        tellNorth();
        tellConversion();
        return done_;
    }
    [[nodiscard]] const Patch& patch() const { return patch_; }

private:
    [[nodiscard]] std::optional<std::size_t> indexOf(const Entity& e, const char* attribute) const
    {
        const auto index = source_.schema().attributeIndex(e.type(), ifc::Name(attribute));
        return index ? std::optional<std::size_t>(*index) : std::nullopt;
    }
    bool set(const Entity& e, const char* attribute, const std::string& text)
    {
        const auto index = indexOf(e, attribute);
        return index && patch_.setArgument(e.id(), *index, text);
    }
    [[nodiscard]] std::string length(double metres) const { return realText(metres / metres_); }

    // The unit

    Result<void> scaleUnit()
    {
        EntityId id = 0;
        source_.forEach("IfcUnitAssignment", [&](const Entity& assignment) {
            for (const step::Value reference : assignment["Units"]) {
                const Entity unit = source_.entity(reference);
                if (unit.isA("IfcNamedUnit") && unit["UnitType"].enumeration() == "LENGTHUNIT" && id == 0)
                    id = unit.id();
            }
        });
        if (id == 0)
            return fail({kNotCorrectable, "The file assigns no length unit, so its scale can not be written into it.",
                         source_.file().name()});
        static const std::map<int, const char*> prefixes{
            {0, "$"}, {-3, ".MILLI."}, {-2, ".CENTI."}, {-1, ".DECI."}, {3, ".KILO."}};
        for (const auto& [power, prefix] : prefixes)
            if (std::abs(metres_ / std::pow(10.0, power) - 1) < 1e-12) {
                if (patch_.setEntity(id, std::string("IFCSIUNIT(*,.LENGTHUNIT.,") + prefix + ",.METRE.)"))
                    return {};
                break;
            }
        const EntityId exponents = patch_.add("IFCDIMENSIONALEXPONENTS(1,0,0,0,0,0,0)");
        const EntityId metre = patch_.add("IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.)");
        const EntityId factor = patch_.add("IFCMEASUREWITHUNIT(IFCLENGTHMEASURE(" + realText(metres_) + ")," +
                                           Patch::reference(metre) + ")");
        const bool isFoot = std::abs(metres_ / 0.3048 - 1) < 1e-12, isInch = std::abs(metres_ / 0.0254 - 1) < 1e-12;
        const std::string name = isFoot ? "FOOT" : isInch ? "INCH" : fmt::format("LENGTH OF {} M", realText(metres_));
        if (!patch_.setEntity(id, "IFCCONVERSIONBASEDUNIT(" + Patch::reference(exponents) + ",.LENGTHUNIT.," +
                                      stringText(name) + "," + Patch::reference(factor) + ")"))
            return fail({kNotCorrectable, "The length unit of the file is not well formed.", source_.file().name()});
        return {};
    }

    // Placements

    EntityId direction(Vector3 d)
    {
        return patch_.add("IFCDIRECTION(" + listOf(std::vector{realText(d.x), realText(d.y), realText(d.z)}) + ")");
    }

    /// A placement in the file's own numbers; `at` in metres.
    EntityId placement(const Transform& at)
    {
        const Point3 o = at.origin;
        const EntityId point =
            patch_.add("IFCCARTESIANPOINT(" + listOf(std::vector{length(o.x), length(o.y), length(o.z)}) + ")");
        const bool isUpright = at.z == Vector3{0, 0, 1}, isAlong = isUpright && at.x == Vector3{1, 0, 0};
        const std::string axis = isUpright && isAlong ? "$" : Patch::reference(direction(at.z));
        const std::string along = isAlong ? "$" : Patch::reference(direction(at.x));
        return patch_.add("IFCAXIS2PLACEMENT3D(" + Patch::reference(point) + "," + axis + "," + along + ")");
    }

    /// The same place, through the fit.
    [[nodiscard]] Transform fitted(const Transform& at) const
    {
        const Transform turn = Transform::rotationZ(fit_.rotation);
        Transform t{turn.turn(at.x), turn.turn(at.y), turn.turn(at.z), {}};
        t.origin = turn.turn(fit_.scale * at.origin) + fit_.translation;
        return t;
    }

    /// Entities of a type whose attribute refers to nothing. Of the others only that much is read, on all cores: a
    /// large file has a hundred thousand placements, and a handful of them stand at the root.
    template <class Each>
    void forEachRoot(const char* type, const char* attribute, Each each)
    {
        constexpr std::size_t kAhead = 16;
        const std::string_view bytes = source_.file().bytes();
        const auto entries = source_.file().entities().all();
        const ifc::Name name{std::string_view(attribute)};
        const auto positions = source_.positions(ifc::Name(std::string_view(type)));
        std::vector<std::uint8_t> isRoot(positions.size(), 0);
        tbb::parallel_for(tbb::blocked_range<std::size_t>(0, positions.size(), 4096), [&](const auto& range) {
            ifc::TypeId last = ifc::kUnknownType;
            std::optional<std::uint32_t> index;
            for (std::size_t i = range.begin(); i < range.end(); ++i) {
                if (i + kAhead < range.end()) // each lies elsewhere in the file, and the memory is what is waited for
                    __builtin_prefetch(bytes.data() + entries[positions[i + kAhead]].offset());
                const step::Entry& entry = entries[positions[i]];
                if (const ifc::TypeId own = source_.typeOf(entry); own != last || i == range.begin()) {
                    index = source_.schema().attributeIndex(own, name);
                    last = own;
                }
                if (!index)
                    continue;
                const std::string_view text = patch_.argumentText(entry, *index);
                EntityId id = 0;
                if (text.starts_with('#'))
                    std::from_chars(text.data() + 1, text.data() + text.size(), id);
                isRoot[i] = id == 0 || source_.file().entities().find(id) == nullptr;
            }
        });
        for (std::size_t i = 0; i < positions.size(); ++i)
            // A comment may stand before what it refers to.
            if (isRoot[i])
                if (const Entity e = source_.entity(entries[positions[i]]); e && !source_.entity(e[name]))
                    each(e);
    }

    void placeRoots()
    {
        const ifc::PlacementReader reader(source_, moving_.units().lengthToMetres);
        forEachRoot("IfcLocalPlacement", "PlacementRelTo", [&](const Entity& local) {
            const Entity relative = source_.entity(local["RelativePlacement"]);
            const Transform at = relative ? reader.axisPlacement(relative) : Transform{};
            if (set(local, "RelativePlacement", Patch::reference(placement(fitted(at)))))
                ++done_.placements;
            else
                done_.warnings.push_back(
                    fmt::format("The placement #{} is not well formed and stays where it is.", local.id()));
        });
    }

    /// Products that have a shape and stand nowhere: at the file's origin.
    void placeHomeless()
    {
        EntityId shared = 0;
        forEachRoot("IfcProduct", "ObjectPlacement", [&](const Entity& product) {
            if (!product["Representation"].isGiven() && !product.isA("IfcGrid"))
                return;
            if (shared == 0)
                shared = patch_.add("IFCLOCALPLACEMENT($," + Patch::reference(placement(fitted({}))) + ")");
            if (set(product, "ObjectPlacement", Patch::reference(shared)))
                ++done_.placements;
        });
    }

    // Georeference

    static std::string angle(const std::optional<double>& degrees)
    {
        if (!degrees)
            return "$";
        // Degrees, minutes, seconds and millionths, all of one sign (IfcCompoundPlaneAngleMeasure).
        const auto millionths = static_cast<std::int64_t>(std::llround(std::abs(*degrees) * 3.6e9));
        const int sign = *degrees < 0 ? -1 : 1;
        return fmt::format("({},{},{},{})", sign * (millionths / 3'600'000'000), sign * (millionths / 60'000'000 % 60),
                           sign * (millionths / 1'000'000 % 60), sign * (millionths % 1'000'000));
    }

    void tellSite()
    {
        bool isTold = false;
        source_.forEach("IfcSite", [&](const Entity& site) {
            isTold = true;
            const bool isWhole = set(site, "RefLatitude", angle(r_.latitudeDegrees)) &&
                                 set(site, "RefLongitude", angle(r_.longitudeDegrees)) &&
                                 set(site, "RefElevation", r_.siteElevation ? length(r_.siteElevation->value) : "$");
            if (!isWhole)
                done_.warnings.emplace_back("The site is not well formed; its latitude, longitude and elevation stay.");
        });
        if (!isTold && r_.latitudeDegrees)
            done_.warnings.emplace_back(
                "The file has no site, so the reference's latitude and longitude are not in it.");
    }

    void tellNorth()
    {
        std::string north = "$";
        if (r_.trueNorth) {
            const double a = r_.trueNorth->value;
            north = Patch::reference(
                patch_.add("IFCDIRECTION(" + listOf(std::vector{realText(-std::sin(a)), realText(std::cos(a))}) + ")"));
        }
        source_.forEach("IfcGeometricRepresentationContext", [&](const Entity& context) {
            if (context.isA("IfcGeometricRepresentationSubContext"))
                return; // derived from its parent
            if (context_ == 0 || context["ContextType"].text() == "Model")
                context_ = context.id();
            if (!set(context, "TrueNorth", north))
                done_.warnings.emplace_back("A geometric context is not well formed; its true north stays.");
        });
    }

    [[nodiscard]] bool hasConversion() const { return r_.eastings && r_.northings; }

    /// What the reference's file says about its system, by attribute.
    [[nodiscard]] std::map<std::string, std::string> crsOfReference() const
    {
        std::map<std::string, std::string> words;
        reference_.source().forEach("IfcCoordinateOperation", [&](const Entity& operation) {
            const Entity crs = reference_.source().entity(operation["TargetCRS"]);
            if (!words.empty() || !crs)
                return;
            for (const char* attribute : {"Description", "GeodeticDatum", "VerticalDatum", "MapProjection", "MapZone"})
                if (const std::string text = crs[ifc::Name(std::string_view(attribute))].text(); !text.empty())
                    words[attribute] = text;
        });
        words["Name"] = r_.crs.value_or("");
        return words;
    }

    void tellConversion()
    {
        if (source_.schema().name() == "IFC2X3")
            return tellByPropertySets();
        std::vector<EntityId> operations;
        EntityId crs = 0;
        source_.forEach("IfcCoordinateOperation", [&](const Entity& operation) {
            operations.push_back(operation.id());
            if (const Entity target = source_.entity(operation["TargetCRS"]); target && crs == 0)
                crs = target.id();
        });
        if (!hasConversion()) {
            for (const EntityId id : operations)
                (void)patch_.remove(id);
            if (crs != 0)
                (void)patch_.remove(crs);
            return;
        }
        const auto words = crsOfReference();
        const auto word = [&](const char* attribute) {
            const auto found = words.find(attribute);
            return found == words.end() || found->second.empty() ? std::string("$") : stringText(found->second);
        };
        const EntityId metre = patch_.add("IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.)");
        const std::string system = "IFCPROJECTEDCRS(" + (r_.crs ? word("Name") : "''") + "," + word("Description") +
                                   "," + word("GeodeticDatum") + "," + word("VerticalDatum") + "," +
                                   word("MapProjection") + "," + word("MapZone") + "," + Patch::reference(metre) + ")";
        if (crs == 0 || !patch_.setEntity(crs, system))
            crs = patch_.add(system);
        if (context_ == 0) {
            done_.warnings.emplace_back("The file has no geometric context, so no map conversion could be written.");
            return;
        }
        const double turn = r_.rotation.value_or(Radians{}).value;
        // Scale also holds the ratio of the file's unit to the map's (ISO 16739-1, IfcMapConversion).
        const std::string conversion = "IFCMAPCONVERSION(" + Patch::reference(context_) + "," + Patch::reference(crs) +
                                       "," + realText(*r_.eastings) + "," + realText(*r_.northings) + "," +
                                       realText(r_.height.value_or(0)) + "," + realText(std::cos(turn)) + "," +
                                       realText(std::sin(turn)) + "," + realText(r_.scale.value_or(1) * metres_) + ")";
        bool isWritten = false, isAnyLeft = false;
        for (const EntityId id : operations) {
            const bool isDone = isWritten ? patch_.remove(id) : patch_.setEntity(id, conversion);
            isWritten = isWritten || isDone;
            isAnyLeft = isAnyLeft || !isDone;
        }
        if (isAnyLeft)
            done_.warnings.emplace_back("A map conversion of the file is not well formed and stays in it.");
        if (!isWritten)
            patch_.add(conversion);
    }

    [[nodiscard]] std::string guidOf(const std::string& what) const
    {
        return guidFromText(moving_.projectGuid() + what);
    }

    EntityId property(const char* name, const std::string& value)
    {
        return patch_.add("IFCPROPERTYSINGLEVALUE(" + stringText(name) + ",$," + value + ",$)");
    }

    void tellByPropertySets()
    {
        std::map<std::string, EntityId> sets;
        std::string history;
        source_.forEach("IfcPropertySet", [&](const Entity& e) {
            const std::string name = upperCase(e["Name"].text());
            if (name == upperCase(kConversionSet) || name == upperCase(kCrsSet))
                sets.try_emplace(name, e.id());
        });
        EntityId site = 0;
        source_.forEach("IfcSite", [&](const Entity& e) { site = site == 0 ? e.id() : site; });
        if (site == 0)
            source_.forEach("IfcProject", [&](const Entity& e) { site = site == 0 ? e.id() : site; });
        if (!hasConversion()) {
            dropSets(sets);
            return;
        }
        if (site == 0) {
            done_.warnings.emplace_back("The file has neither a site nor a project to say its map conversion of.");
            return;
        }
        const double turn = r_.rotation.value_or(Radians{}).value;
        const auto real = [](double v) { return "IFCREAL(" + realText(v) + ")"; };
        const auto name = [](const std::string& v) { return "IFCIDENTIFIER(" + stringText(v) + ")"; };
        const auto words = crsOfReference();
        std::vector<EntityId> conversion{property("TargetCRS", name(r_.crs.value_or(""))),
                                         property("Eastings", real(*r_.eastings)),
                                         property("Northings", real(*r_.northings)),
                                         property("OrthogonalHeight", real(r_.height.value_or(0))),
                                         property("XAxisAbscissa", real(std::cos(turn))),
                                         property("XAxisOrdinate", real(std::sin(turn))),
                                         property("Scale", real(r_.scale.value_or(1) * metres_))};
        std::vector<EntityId> crs;
        for (const auto& [attribute, text] : words)
            if (!text.empty())
                crs.push_back(property(attribute.c_str(), name(text)));
        crs.push_back(property("MapUnit", name("METRE")));
        history = patch_.argument(site, 1);
        tellSet(sets, kConversionSet, conversion, site, history);
        tellSet(sets, kCrsSet, crs, site, history);
    }

    void tellSet(const std::map<std::string, EntityId>& sets, const char* name, const std::vector<EntityId>& properties,
                 EntityId site, const std::string& history)
    {
        if (const auto known = sets.find(upperCase(name)); known != sets.end())
            if (const Entity e = source_.entity(known->second); set(e, "HasProperties", listOf(properties)))
                return;
        const EntityId made = patch_.add("IFCPROPERTYSET(" + stringText(guidOf(name)) + "," + history + "," +
                                         stringText(name) + ",$," + listOf(properties) + ")");
        patch_.add("IFCRELDEFINESBYPROPERTIES(" + stringText(guidOf(std::string(name) + " of")) + "," + history +
                   ",$,$," + listOf(std::vector{site}) + "," + Patch::reference(made) + ")");
    }

    void dropSets(const std::map<std::string, EntityId>& sets)
    {
        for (const auto& [name, id] : sets) {
            source_.forEach("IfcRelDefinesByProperties", [&, set = id](const Entity& relation) {
                if (relation["RelatingPropertyDefinition"].reference() == set)
                    (void)patch_.remove(relation.id());
            });
            (void)patch_.remove(id);
        }
    }

    const ifc::Model &reference_, &moving_;
    const ifc::Source& source_;
    federation::Fit fit_;
    Patch patch_;
    double metres_; ///< of the file's length unit, once the scale is written into it
    const ifc::Georeference& r_;
    EntityId context_ = 0;
    Correction done_;
};

} // namespace

Result<Correction> writeCorrected(const ifc::Model& reference, const ifc::Model& moving, const federation::Fit& fit,
                                  const std::filesystem::path& target, Progress& progress)
{
    Corrector corrector(reference, moving, fit);
    auto done = corrector.made();
    if (!done)
        return done;
    if (auto written = corrector.patch().write(target, progress); !written)
        return fail(written.error());
    return done;
}

} // namespace wendrix::coordinates
