#include "support/made_model.h"

#include "support/ifc_text.h"

#include "core/base/hash.h"

#include <fmt/format.h>

#include <map>

namespace wendrix::test {

namespace {

class Lines {
public:
    explicit Lines(int first) : next_(first) {}
    int add(const std::string& entity)
    {
        text_ += fmt::format("#{}={};\n", next_, entity);
        return next_++;
    }
    [[nodiscard]] const std::string& text() const { return text_; }

private:
    int next_;
    std::string text_;
};

std::string listed(const std::vector<int>& numbers)
{
    std::string list;
    for (const int n : numbers)
        list += fmt::format("{}#{}", list.empty() ? "" : ",", n);
    return list;
}

/// The faces of a box by its corners, x fastest; counter-clockwise seen from outside.
constexpr int kFaces[6][4] = {{0, 2, 3, 1}, {4, 5, 7, 6}, {0, 1, 5, 4}, {2, 6, 7, 3}, {0, 4, 6, 2}, {1, 3, 7, 5}};

int shellOf(Lines& f, const std::vector<std::string>& corners)
{
    std::vector<int> points, faces;
    for (const std::string& corner : corners)
        points.push_back(f.add("IFCCARTESIANPOINT(" + corner + ")"));
    for (const auto& face : kFaces) {
        const int loop = f.add(fmt::format("IFCPOLYLOOP((#{},#{},#{},#{}))", points[face[0]], points[face[1]],
                                           points[face[2]], points[face[3]]));
        faces.push_back(f.add(fmt::format("IFCFACE((#{}))", f.add(fmt::format("IFCFACEOUTERBOUND(#{},.T.)", loop)))));
    }
    return f.add(fmt::format("IFCFACETEDBREP(#{})", f.add("IFCCLOSEDSHELL((" + listed(faces) + "))")));
}

/// @param isOther  along the other diagonals, and the upper face about its middle
int trianglesOf(Lines& f, const std::vector<std::string>& corners, Vector3 size, bool isOther)
{
    std::string points, triangles;
    for (const std::string& corner : corners)
        points += (points.empty() ? "" : ",") + corner;
    const auto add = [&](int a, int b, int c) {
        triangles += fmt::format("{}({},{},{})", triangles.empty() ? "" : ",", a + 1, b + 1, c + 1);
    };
    for (const auto& face : kFaces) {
        const bool isUpper = face[0] == 4;
        if (isOther && isUpper) {
            points += fmt::format(",(0.,0.,{:.9f})", size.z);
            for (int i = 0; i < 4; ++i)
                add(face[i], face[(i + 1) % 4], 8);
            continue;
        }
        const int first = isOther ? 1 : 0;
        add(face[first], face[first + 1], face[(first + 2) % 4]);
        add(face[first], face[(first + 2) % 4], face[(first + 3) % 4]);
    }
    const int list = f.add("IFCCARTESIANPOINTLIST3D((" + points + "))");
    return f.add(fmt::format("IFCTRIANGULATEDFACESET(#{},$,.T.,({}),$)", list, triangles));
}

} // namespace

std::string MadeModel::guidOf(const std::string& text)
{
    std::string guid = sha256(text).substr(0, 22); // hexadecimal digits are digits of a GlobalId too
    guid[0] = static_cast<char>('0' + (guid[0] & 3));
    return guid;
}

std::string MadeModel::text() const
{
    Transform toBuilding = Transform::rotationZ(fromDegrees(turnedDegrees));
    toBuilding.origin = shift;
    const Transform toTeam = toBuilding.inverse();
    const auto real = [](double v) { return fmt::format("{:.9f}", v); };
    const auto point = [&](Point3 inBuilding) {
        const Point3 p = (1 / metresPerUnit) * toTeam.apply(inBuilding);
        return fmt::format("({},{},{})", real(p.x), real(p.y), real(p.z));
    };
    const auto direction = [&](Vector3 inBuilding) {
        const Vector3 d = toTeam.turn(inBuilding);
        return fmt::format("({},{},{})", real(d.x), real(d.y), real(d.z));
    };
    Lines f(firstNumber);
    std::string owner = "$";
    if (hasOwners) {
        const int person = f.add("IFCPERSON($,'Varga',$,$,$,$,$,$)"), team = f.add("IFCORGANIZATION($,'Hollin',$,$,$)");
        const int both = f.add(fmt::format("IFCPERSONANDORGANIZATION(#{},#{},$)", person, team));
        const int program = f.add(fmt::format("IFCAPPLICATION(#{},'1','Drawing','D')", team));
        owner = fmt::format("#{}", f.add(fmt::format("IFCOWNERHISTORY(#{},#{},$,.MODIFIED.,{},$,$,{})", both, program,
                                                     ownedAt, ownedAt)));
    }
    std::map<std::pair<std::string, std::string>, std::vector<int>> byType;
    const int up = f.add("IFCDIRECTION((0.,0.,1.))"), along = f.add("IFCDIRECTION(" + direction({1, 0, 0}) + ")");
    std::vector<std::vector<int>> inStorey(storeys.size());
    for (const Box& b : boxes) {
        const Vector3 size = (1 / metresPerUnit) * (b.high - b.low);
        const Point3 foot{0.5 * (b.low.x + b.high.x), 0.5 * (b.low.y + b.high.y), b.low.z};
        const Transform turned = Transform::rotationZ(fromDegrees(b.turnedDegrees));
        const bool isInFrame = b.written == Written::InBuildingsFrame;
        int placement = 4;
        if (!isInFrame) {
            const int at = f.add("IFCCARTESIANPOINT(" + point(foot) + ")");
            const int ahead = b.turnedDegrees == 0 ? along : f.add("IFCDIRECTION(" + direction(turned.x) + ")");
            const int frame = f.add(fmt::format("IFCAXIS2PLACEMENT3D(#{},#{},#{})", at, up, ahead));
            placement = f.add(fmt::format("IFCLOCALPLACEMENT($,#{})", frame));
        }
        int solid = 0;
        std::string kind = "SweptSolid";
        if (b.written == Written::Swept) {
            const int profile =
                f.add(fmt::format("IFCRECTANGLEPROFILEDEF(.AREA.,$,$,{},{})", real(size.x), real(size.y)));
            solid = f.add(fmt::format("IFCEXTRUDEDAREASOLID(#{},#8,#{},{})", profile, up, real(size.z)));
        } else {
            std::vector<std::string> corners;
            for (int i = 0; i < 8; ++i) {
                const Vector3 own{(i & 1) != 0 ? 0.5 * size.x : -0.5 * size.x,
                                  (i & 2) != 0 ? 0.5 * size.y : -0.5 * size.y, (i & 4) != 0 ? size.z : 0};
                corners.push_back(isInFrame ? point(foot + metresPerUnit * turned.turn(own))
                                            : fmt::format("({},{},{})", real(own.x), real(own.y), real(own.z)));
            }
            solid = b.written == Written::Faceted || isInFrame
                        ? shellOf(f, corners)
                        : trianglesOf(f, corners, size, b.written == Written::OtherTriangles);
            kind = b.written == Written::Faceted || isInFrame ? "Brep" : "Tessellation";
        }
        const int shape = f.add(fmt::format("IFCSHAPEREPRESENTATION(#3,'Body','{}',(#{}))", kind, solid));
        const int product = f.add(fmt::format("IFCPRODUCTDEFINITIONSHAPE($,$,(#{}))", shape));
        const std::string guid = b.guid.empty() ? guidOf(b.name) : b.guid;
        const int element = f.add(fmt::format("{}('{}',{},'{}',$,$,#{},#{},{},{})", b.ifcClass, guid, owner, b.name,
                                              placement, product, b.tag.empty() ? "$" : "'" + b.tag + "'",
                                              b.predefined.empty() ? "$" : "." + b.predefined + "."));
        if (!b.type.empty())
            byType[{b.ifcClass, b.type}].push_back(element);
        if (!b.properties.empty()) {
            std::vector<int> values;
            for (const auto& [property, value] : b.properties)
                values.push_back(
                    f.add(fmt::format("IFCPROPERTYSINGLEVALUE('{}',$,IFCLABEL('{}'),$)", property, value)));
            const int set = f.add(
                fmt::format("IFCPROPERTYSET('{}',$,'Seed store',$,({}))", guidOf("set " + b.name), listed(values)));
            f.add(fmt::format("IFCRELDEFINESBYPROPERTIES('{}',$,$,$,(#{}),#{})", guidOf("defines " + b.name), element,
                              set));
        }
        std::size_t storey = 0;
        while (storey + 1 < storeys.size() && b.low.z >= storeys[storey + 1].second - 1e-9)
            ++storey;
        if (!storeys.empty())
            inStorey[storey].push_back(element);
    }
    for (const auto& [type, elements] : byType) {
        const int object = f.add(fmt::format("{}TYPE('{}',$,'{}',$,$,$,$,$,$,.NOTDEFINED.)", type.first,
                                             guidOf("type " + type.first + type.second), type.second));
        f.add(fmt::format("IFCRELDEFINESBYTYPE('{}',$,$,$,({}),#{})", guidOf("typed " + type.first + type.second),
                          listed(elements), object));
    }
    const auto heightInTeam = [&](double elevation) {
        return real(toTeam.apply(Point3{0, 0, elevation}).z / metresPerUnit);
    };
    std::vector<int> levels;
    for (std::size_t i = 0; i < storeys.size(); ++i) {
        const int at = f.add("IFCCARTESIANPOINT((0.,0.," + heightInTeam(storeys[i].second) + "))");
        const int frame = f.add(fmt::format("IFCAXIS2PLACEMENT3D(#{},$,$)", at));
        const int placement = f.add(fmt::format("IFCLOCALPLACEMENT($,#{})", frame));
        levels.push_back(f.add(fmt::format("IFCBUILDINGSTOREY('{}',$,'{}',$,$,#{},$,$,.ELEMENT.,{})",
                                           guidOf("storey " + storeys[i].first), storeys[i].first, placement,
                                           heightInTeam(storeys[i].second))));
        if (!inStorey[i].empty())
            f.add(fmt::format("IFCRELCONTAINEDINSPATIALSTRUCTURE('{}',$,$,$,({}),#{})",
                              guidOf("in " + storeys[i].first), listed(inStorey[i]), levels.back()));
    }
    if (gridSpacing > 0) {
        const double right = (digits - 1) * gridSpacing + 1, back = (letters - 1) * gridSpacing + 1;
        const auto axis = [&](const std::string& tag, Point3 from, Point3 to) {
            const int a = f.add("IFCCARTESIANPOINT(" + point(from) + ")"),
                      b = f.add("IFCCARTESIANPOINT(" + point(to) + ")");
            return f.add(
                fmt::format("IFCGRIDAXIS('{}',#{},.T.)", tag, f.add(fmt::format("IFCPOLYLINE((#{},#{}))", a, b))));
        };
        std::vector<int> lettered, numbered;
        for (int i = 0; i < letters; ++i)
            lettered.push_back(axis(std::string(1, static_cast<char>('A' + i)), {-1, i * gridSpacing, 0},
                                    {right, i * gridSpacing, 0}));
        for (int i = 0; i < digits; ++i)
            numbered.push_back(axis(std::to_string(i + 1), {i * gridSpacing, -1, 0}, {i * gridSpacing, back, 0}));
        f.add(fmt::format("IFCGRID('{}',$,'Grid',$,$,#4,$,({}),({}),$,$)", guidOf("grid"), listed(lettered),
                          listed(numbered)));
    }
    std::string file = ifcFile("IFC4", f.text(), unit);
    // ifcFile's own storey would be one more.
    const std::size_t own = file.find("#5=IFCBUILDINGSTOREY");
    file.erase(own, file.find('\n', own) + 1 - own);
    return file;
}

} // namespace wendrix::test
