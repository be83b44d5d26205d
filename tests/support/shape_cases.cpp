#include "support/shape_cases.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <cstring>

namespace wendrix::test {

namespace {

struct UnitChoice {
    const char* name;
    double toMetres;
    const char* entity;
};
constexpr UnitChoice kUnits[] = {{"metres", 1, "IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.)"},
                                 {"millimetres", 1e-3, "IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.)"},
                                 {"feet", 0.3048, "IFCCONVERSIONBASEDUNIT($,.LENGTHUNIT.,'FOOT',#10)"}};
const std::string kFoot =
    "#10=IFCMEASUREWITHUNIT(IFCLENGTHMEASURE(0.3048),#11);#11=IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.);\n";
constexpr const char* kSchemas[] = {"IFC2X3", "IFC4", "IFC4X3_ADD2"};

bool isIn(const std::string& schema, const std::string& since)
{
    const auto age = [](const std::string& name) {
        return name.starts_with("IFC4X3") ? 2 : name.starts_with("IFC4") ? 1 : 0;
    };
    return since == "IFC2X3 only" ? age(schema) == 0 : age(schema) >= age(since);
}

std::string real(double value)
{
    char digits[40];
    std::snprintf(digits, sizeof digits, "%.15g", value);
    std::string text = digits;
    if (text.find_first_of(".e") == std::string::npos)
        text += '.';
    return text;
}

} // namespace

std::string inUnits(const std::string& text, double factor)
{
    std::string out;
    for (std::size_t at = 0; at < text.size(); ++at) {
        if (text[at] != '{') {
            out += text[at];
            continue;
        }
        const std::size_t end = text.find('}', at);
        out += real(std::strtod(text.substr(at + 1, end - at - 1).c_str(), nullptr) * factor);
        at = end;
    }
    return out;
}

Box3 box(Point3 min, Point3 max)
{
    Box3 b;
    b.add(min);
    b.add(max);
    return b;
}

std::string extrusion(const std::string& profile, const std::string& depth)
{
    return "#22=IFCDIRECTION((0.,0.,1.));#20=IFCEXTRUDEDAREASOLID(#21,#8,#22," + depth + ");#21=" + profile + ";";
}

std::string points(int first, const std::vector<Point3>& list, bool isFlat)
{
    std::string text;
    for (const Point3 p : list) {
        char line[160];
        if (isFlat)
            std::snprintf(line, sizeof line, "#%d=IFCCARTESIANPOINT(({%.12g},{%.12g}));", first++, p.x, p.y);
        else
            std::snprintf(line, sizeof line, "#%d=IFCCARTESIANPOINT(({%.12g},{%.12g},{%.12g}));", first++, p.x, p.y,
                          p.z);
        text += line;
    }
    return text;
}

std::string faces(int first, const std::vector<std::string>& loops, int shell, const std::string& kind)
{
    std::string text, list;
    for (const std::string& loop : loops) {
        const std::string face = std::to_string(first), bound = std::to_string(first + 1),
                          poly = std::to_string(first + 2);
        text += "#" + face + "=IFCFACE((#" + bound + "));#" + bound + "=IFCFACEOUTERBOUND(#" + poly + ",.T.);#" + poly +
                "=IFCPOLYLOOP((" + loop + "));";
        list += (list.empty() ? "#" : ",#") + face;
        first += 3;
    }
    return text + "#" + std::to_string(shell) + "=" + kind + "((" + list + "));";
}

void addRows(const std::vector<ShapeCase>& cases)
{
    QTest::addColumn<int>("number");
    QTest::addColumn<QString>("schema");
    QTest::addColumn<int>("unit");
    for (int i = 0; i < static_cast<int>(cases.size()); ++i)
        for (const char* schema : kSchemas)
            for (int u = 0; u < 3; ++u)
                if (isIn(schema, cases[static_cast<std::size_t>(i)].since))
                    QTest::addRow("%s [%s, %s]", cases[static_cast<std::size_t>(i)].name, schema, kUnits[u].name)
                        << i << QString(schema) << u;
}

void checkRow(const std::vector<ShapeCase>& cases)
{
    QFETCH(int, number);
    QFETCH(QString, schema);
    QFETCH(int, unit);
    const ShapeCase& c = cases[static_cast<std::size_t>(number)];
    const UnitChoice& u = kUnits[unit];
    const auto read =
        readText(ifcFile(schema.toStdString(), kFoot + inUnits(c.text, 1 / u.toMetres) + proxyOver("#20"), u.entity));
    QVERIFY(!read->geometry->elements().empty());
    const geometry::ElementShape& shape = read->geometry->elements()[0];
    std::vector<std::string> said;
    for (const Diagnostic& d : read->geometry->diagnostics()) {
        said.push_back(d.code);
        if (std::find(c.notes.begin(), c.notes.end(), d.code) == c.notes.end())
            QFAIL((d.code + " " + d.entity + " " + d.message).c_str());
    }
    for (const std::string& note : c.notes)
        QVERIFY2(std::find(said.begin(), said.end(), note) != said.end(), ("not said: " + note).c_str());
    QVERIFY(!shape.placed.empty());
    QVERIFY(shape.isClosed);
    // Feet and millimetres are rounded when they are written with 15 digits.
    const double exact = std::max(c.relative, 2e-9);
    QVERIFY2(std::abs(shape.volume - c.volume) <= exact * c.volume,
             (std::to_string(shape.volume) + " m³, should be " + std::to_string(c.volume)).c_str());
    const geometry::Mesh mesh = read->geometry->meshOf(0);
    QVERIFY(geometry::isClosed(mesh));
    // The triangles as placed say the same as the measures that were kept.
    QVERIFY(std::abs(geometry::volumeOf(mesh) - shape.volume) <= 1e-9 * c.volume);
    QVERIFY(std::abs(geometry::areaOf(mesh) - shape.area) <= 1e-9 * shape.area);
    if (c.area)
        QVERIFY2(std::abs(shape.area - *c.area) <= exact * *c.area,
                 (std::to_string(shape.area) + " m², should be " + std::to_string(*c.area)).c_str());
    if (c.bounds) {
        const double off = std::max(length(shape.bounds.min - c.bounds->min), length(shape.bounds.max - c.bounds->max));
        QVERIFY2(off <= (c.relative > kExact ? 0.002 : 1e-9) + 1e-9,
                 ("bounds are off by " + std::to_string(off) + " m").c_str());
    }
}

} // namespace wendrix::test
