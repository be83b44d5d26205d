#include "support/made_site.h"

#include "core/base/hash.h"

#include <fmt/format.h>

#include <cmath>

namespace wendrix::test {

namespace {

std::string real(double v)
{
    std::string text = fmt::format("{}", v);
    const std::size_t exponent = text.find('e');
    std::string mantissa = text.substr(0, exponent);
    if (mantissa.find('.') == std::string::npos)
        mantissa += '.';
    return exponent == std::string::npos ? mantissa : mantissa + "E" + text.substr(exponent + 1);
}

std::string guidOf(const std::string& text)
{
    std::string guid = sha256(text).substr(0, 22);
    guid[0] = static_cast<char>('0' + (guid[0] & 3));
    return guid;
}

std::string compound(double degrees)
{
    const auto millionths = static_cast<long long>(std::llround(degrees * 3.6e9));
    return fmt::format("({},{},{},{})", millionths / 3'600'000'000, millionths / 60'000'000 % 60,
                       millionths / 1'000'000 % 60, millionths % 1'000'000);
}

} // namespace

std::function<Point3(Point3)> turnedAndShifted(double degrees, Vector3 shift)
{
    return [turn = Transform::rotationZ(fromDegrees(degrees)), shift](Point3 p) { return turn.apply(p) + shift; };
}

std::string MadeSite::text() const
{
    std::string body;
    int next = 100;
    const auto add = [&](const std::string& entity) {
        body += fmt::format("#{}={};\n", next, entity);
        return next++;
    };
    const auto point = [&](Point3 inBuilding) {
        const Point3 p = (1 / metresPerUnit) * place(inBuilding);
        return add(fmt::format("IFCCARTESIANPOINT(({},{},{}))", real(p.x), real(p.y), real(p.z)));
    };
    const auto list = [](const std::vector<int>& ids) {
        std::string text;
        for (const int id : ids)
            text += fmt::format("{}#{}", text.empty() ? "" : ",", id);
        return "(" + text + ")";
    };
    const auto addFoot = [&](double metres = 0.3048, const char* called = "FOOT") {
        const int exponents = add("IFCDIMENSIONALEXPONENTS(1,0,0,0,0,0,0)"),
                  metre = add("IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.)"),
                  factor = add(fmt::format("IFCMEASUREWITHUNIT(IFCLENGTHMEASURE({:.17g}),#{})", metres, metre));
        return add(fmt::format("IFCCONVERSIONBASEDUNIT(#{},.LENGTHUNIT.,'{}',#{})", exponents, called, factor));
    };
    std::string north = "$";
    if (trueNorthDegrees) {
        const double a = fromDegrees(*trueNorthDegrees).value;
        north = fmt::format("#{}", add(fmt::format("IFCDIRECTION(({},{}))", real(-std::sin(a)), real(std::cos(a)))));
    }
    const int origin = add("IFCCARTESIANPOINT((0.,0.,0.))"),
              axes = add(fmt::format("IFCAXIS2PLACEMENT3D(#{},$,$)", origin)),
              context = add(fmt::format("IFCGEOMETRICREPRESENTATIONCONTEXT($,'Model',3,1.E-5,#{},{})", axes, north)),
              length = unit == "FOOT" ? addFoot() : add(unit), radian = add("IFCSIUNIT(*,.PLANEANGLEUNIT.,$,.RADIAN.)"),
              units = add(fmt::format("IFCUNITASSIGNMENT((#{},#{}))", length, radian));
    const int project =
        add(fmt::format("IFCPROJECT('{}',$,'{}',$,$,$,$,(#{}),#{})", guidOf(name + " project"), name, context, units));
    const int home = add(fmt::format("IFCLOCALPLACEMENT($,#{})", axes));
    const int site =
        add(fmt::format("IFCSITE('{}',$,'Site',$,$,#{},$,$,.ELEMENT.,{},{},{},$,$)", guidOf(name + " site"), home,
                        latitudeLongitude ? compound(latitudeLongitude->first) : "$",
                        latitudeLongitude ? compound(latitudeLongitude->second) : "$", "$"));
    const int building =
        add(fmt::format("IFCBUILDING('{}',$,'Store',$,$,#{},$,$,.ELEMENT.,$,$,$)", guidOf(name + " building"), home));
    add(fmt::format("IFCRELAGGREGATES('{}',$,$,$,#{},(#{}))", guidOf(name + " a"), project, site));
    add(fmt::format("IFCRELAGGREGATES('{}',$,$,$,#{},(#{}))", guidOf(name + " b"), site, building));

    std::vector<int> storeyIds;
    for (const auto& [storey, height] : storeys) {
        const double z = place({0, 0, height}).z / metresPerUnit;
        const int at = add(fmt::format("IFCCARTESIANPOINT((0.,0.,{}))", real(z))),
                  placement = add(fmt::format("IFCAXIS2PLACEMENT3D(#{},$,$)", at)),
                  local = add(fmt::format("IFCLOCALPLACEMENT(#{},#{})", home, placement));
        const int id = add(fmt::format("IFCBUILDINGSTOREY('{}',$,'{}',$,$,#{},$,$,.ELEMENT.,{})", guidOf(name + storey),
                                       storey, local, real(z)));
        storeyIds.push_back(id);
        // A box of 1 m with its corner at every storey's A/1, placed by itself so that its place is known.
        const int box = add(fmt::format("IFCAXIS2PLACEMENT3D(#{},$,$)",
                                        point({letters.empty() ? 0 : letters.front().second,
                                               digits.empty() ? 0 : digits.front().second, height}))),
                  where = add(fmt::format("IFCLOCALPLACEMENT($,#{})", box)),
                  block = add(fmt::format("IFCBLOCK(#{},{},{},{})", axes, real(1 / metresPerUnit),
                                          real(1 / metresPerUnit), real(1 / metresPerUnit))),
                  solid = add(fmt::format("IFCCSGSOLID(#{})", block)),
                  shape = add(fmt::format("IFCSHAPEREPRESENTATION(#{},'Body','CSG',(#{}))", context, solid)),
                  product = add(fmt::format("IFCPRODUCTDEFINITIONSHAPE($,$,(#{}))", shape)),
                  proxy = add(fmt::format("IFCBUILDINGELEMENTPROXY('{}',$,'Box {}',$,$,#{},#{},$,$)",
                                          guidOf("box " + storey), storey, where, product));
        add(fmt::format("IFCRELCONTAINEDINSPATIALSTRUCTURE('{}',$,$,$,(#{}),#{})", guidOf(name + " in " + storey),
                        proxy, id));
    }
    add(fmt::format("IFCRELAGGREGATES('{}',$,$,$,#{},{})", guidOf(name + " c"), building, list(storeyIds)));

    if (!letters.empty() && !digits.empty()) {
        const double x0 = letters.front().second - 2, x1 = letters.back().second + 2, y0 = digits.front().second - 2,
                     y1 = digits.back().second + 2;
        const auto axis = [&](const std::string& tag, Point3 from, Point3 to) {
            const int line = add(fmt::format("IFCPOLYLINE((#{},#{}))", point(from), point(to)));
            return add(fmt::format("IFCGRIDAXIS('{}',#{},.T.)", tag, line));
        };
        std::vector<int> u, v;
        for (const auto& [tag, x] : letters)
            u.push_back(axis(tag, {x, y0, 0}, {x, y1, 0}));
        for (const auto& [tag, y] : digits)
            v.push_back(axis(tag, {x0, y, 0}, {x1, y, 0}));
        const int grid = add(fmt::format("IFCGRID('{}',$,'Grid',$,$,#{},$,{},{},${})", guidOf(name + " grid"), home,
                                         list(u), list(v), schema == "IFC2X3" ? "" : ",$"));
        add(fmt::format("IFCRELCONTAINEDINSPATIALSTRUCTURE('{}',$,$,$,(#{}),#{})", guidOf(name + " has grid"), grid,
                        site));
    }
    if (conversion) {
        const Conversion& c = *conversion;
        const double a = fromDegrees(c.degrees).value;
        const double ofMap = c.mapUnit == "METRE"  ? 1
                             : c.mapUnit == "FOOT" ? 0.3048
                             : c.mapUnit.empty()   ? metresPerUnit
                                                   : 1200.0 / 3937;
        const double scale = metresPerUnit / ofMap; // from the file's unit to the map's
        if (schema == "IFC2X3") {
            const auto value = [&](const char* key, double v) {
                return add(fmt::format("IFCPROPERTYSINGLEVALUE('{}',$,IFCREAL({}),$)", key, real(v)));
            };
            const auto word = [&](const char* key, const std::string& v) {
                return add(fmt::format("IFCPROPERTYSINGLEVALUE('{}',$,IFCIDENTIFIER('{}'),$)", key, v));
            };
            const std::vector<int> map{
                value("Eastings", c.eastings / ofMap),       value("Northings", c.northings / ofMap),
                value("OrthogonalHeight", c.height / ofMap), value("XAxisAbscissa", std::cos(a)),
                value("XAxisOrdinate", std::sin(a)),         value("Scale", scale)};
            std::vector<int> crs{word("Name", c.crs)};
            if (!c.mapUnit.empty())
                crs.push_back(word("MapUnit", c.mapUnit));
            for (const auto& [key, ids] : {std::pair{"ePSet_MapConversion", map}, {"ePSet_ProjectedCRS", crs}}) {
                const int set =
                    add(fmt::format("IFCPROPERTYSET('{}',$,'{}',$,{})", guidOf(name + key), key, list(ids)));
                add(fmt::format("IFCRELDEFINESBYPROPERTIES('{}',$,$,$,(#{}),#{})", guidOf(name + key + " of"), site,
                                set));
            }
        } else {
            const std::string mapUnit = c.mapUnit.empty() ? "$"
                                        : c.mapUnit == "METRE"
                                            ? fmt::format("#{}", add("IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.)"))
                                            : fmt::format("#{}", addFoot(ofMap, c.mapUnit.c_str()));
            const int crs = add(fmt::format("IFCPROJECTEDCRS('{}',$,$,$,$,$,{})", c.crs, mapUnit));
            add(fmt::format("IFCMAPCONVERSION(#{},#{},{},{},{},{},{},{})", context, crs, real(c.eastings / ofMap),
                            real(c.northings / ofMap), real(c.height / ofMap), real(std::cos(a)), real(std::sin(a)),
                            real(scale)));
        }
    }
    return "ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\nFILE_NAME('" + name +
           ".ifc','2026-11-18T09:00:00',(''),(''),'','','');\nFILE_SCHEMA(('" + schema + "'));\nENDSEC;\nDATA;\n" +
           body + "ENDSEC;\nEND-ISO-10303-21;\n";
}

} // namespace wendrix::test
