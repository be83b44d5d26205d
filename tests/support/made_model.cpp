#include "support/made_model.h"

#include "support/ifc_text.h"

#include "core/base/hash.h"

#include <fmt/format.h>

namespace wendrix::test {

namespace {

class Lines {
public:
    int add(const std::string& entity)
    {
        text_ += fmt::format("#{}={};\n", next_, entity);
        return next_++;
    }
    [[nodiscard]] const std::string& text() const { return text_; }

private:
    int next_ = 100;
    std::string text_;
};

std::string listed(const std::vector<int>& numbers)
{
    std::string list;
    for (const int n : numbers)
        list += fmt::format("{}#{}", list.empty() ? "" : ",", n);
    return list;
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
    Lines f;
    const int up = f.add("IFCDIRECTION((0.,0.,1.))"), along = f.add("IFCDIRECTION(" + direction({1, 0, 0}) + ")");
    std::vector<std::vector<int>> inStorey(storeys.size());
    for (const Box& b : boxes) {
        const Vector3 size = (1 / metresPerUnit) * (b.high - b.low);
        const Point3 foot{0.5 * (b.low.x + b.high.x), 0.5 * (b.low.y + b.high.y), b.low.z};
        const int at = f.add("IFCCARTESIANPOINT(" + point(foot) + ")");
        const int frame = f.add(fmt::format("IFCAXIS2PLACEMENT3D(#{},#{},#{})", at, up, along));
        const int placement = f.add(fmt::format("IFCLOCALPLACEMENT($,#{})", frame));
        const int profile = f.add(fmt::format("IFCRECTANGLEPROFILEDEF(.AREA.,$,$,{},{})", real(size.x), real(size.y)));
        const int solid = f.add(fmt::format("IFCEXTRUDEDAREASOLID(#{},#8,#{},{})", profile, up, real(size.z)));
        const int shape = f.add(fmt::format("IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#{}))", solid));
        const int product = f.add(fmt::format("IFCPRODUCTDEFINITIONSHAPE($,$,(#{}))", shape));
        const std::string guid = b.guid.empty() ? guidOf(b.name) : b.guid;
        const int element = f.add(fmt::format("{}('{}',$,'{}',$,$,#{},#{},$,{})", b.ifcClass, guid, b.name, placement,
                                              product, b.predefined.empty() ? "$" : "." + b.predefined + "."));
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
