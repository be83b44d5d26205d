#include <QTest>

#include "core/coordinates/alignment.h"
#include "core/coordinates/crs.h"
#include "core/coordinates/grid_pattern.h"
#include "core/federation/grid_fit.h"
#include "core/federation/standing.h"
#include "support/ifc_text.h"
#include "support/made_site.h"

#include <fmt/format.h>
#include <proj.h>

#include <cmath>

using namespace wendrix;
using namespace wendrix::coordinates;
using federation::Fit;
using federation::PlacePair;
using test::MadeSite;
using test::turnedAndShifted;

Q_DECLARE_METATYPE(MadeSite)

namespace {

std::unique_ptr<test::Read> read(const MadeSite& site) { return test::readText(site.text()); }

/// How far a fit is from bringing the moving site's frame onto the reference's, at the corners of the building.
double offBy(const Fit& fit, const MadeSite& reference, const MadeSite& moving)
{
    double worst = 0;
    for (const Point3 p : {Point3{0, 0, 0}, Point3{18, 0, 0}, Point3{0, 24.5, 7.9}, Point3{18, 24.5, 3.6}})
        worst = std::max(worst, length(fit.transform().apply(moving.place(p)) - reference.place(p)));
    return worst;
}

} // namespace

/// Each way to fit, against placements that are known.
class TestAlignment : public QObject {
    Q_OBJECT
private slots:
    void patterns_data();
    void patterns();
    void patternsThatDoNotTell_data();
    void patternsThatDoNotTell();
    void aPatternAroundACentre();
    void anAxisThatStandsElsewhereIsNamed();
    void declarations_data();
    void declarations();
    void declarationsInOtherSystems();
    void systemsInFeet_data();
    void systemsInFeet();
    void gridsThatDoNotFitAreDoubtful_data();
    void gridsThatDoNotFitAreDoubtful();
    void whatMostStoreysAgreeOn_data();
    void whatMostStoreysAgreeOn();
    void oneRaisedStoreyPullsNothing();
    void declarationsThatAreMissing();
    void storeys_data();
    void storeys();
    void points_data();
    void points();
    void weightsCount();
    void systemsAreFound_data();
    void systemsAreFound();
    void systemsAreLeftAsTheyAre();
    void numbersThatMostShare();
};

void TestAlignment::patterns_data()
{
    QTest::addColumn<MadeSite>("moving");
    const auto row = [](const char* name, auto change) {
        for (const auto& [where, place] : {std::pair{"turned", turnedAndShifted(17.3, {34.2, -8.5, 1.25})},
                                           {"upside down", turnedAndShifted(180, {12, 40, -3})},
                                           {"far away", turnedAndShifted(-96.5, {431'208.4, 5'410'977.15, 312.6})}}) {
            MadeSite site;
            site.place = place;
            change(site);
            QTest::addRow("%s, %s", name, where) << site;
        }
    };
    row("the same names", [](MadeSite&) {});
    row("renumbered", [](MadeSite& s) {
        for (auto& [tag, x] : s.letters)
            tag = static_cast<char>(tag[0] + 10);
        for (auto& [tag, y] : s.digits)
            tag = std::to_string(std::stoi(tag) + 10);
    });
    row("letters and numbers swapped", [](MadeSite& s) {
        for (std::size_t i = 0; i < s.letters.size(); ++i)
            s.letters[i].first = std::to_string(i + 1);
        for (std::size_t i = 0; i < s.digits.size(); ++i)
            s.digits[i].first = std::string(1, static_cast<char>('A' + i));
    });
    row("reversed", [](MadeSite& s) {
        for (std::size_t i = 0; i < s.letters.size(); ++i)
            s.letters[i].first = std::string(1, static_cast<char>('D' - i));
        for (std::size_t i = 0; i < s.digits.size(); ++i)
            s.digits[i].first = std::to_string(5 - i);
    });
    row("an axis more", [](MadeSite& s) {
        s.letters.insert(s.letters.begin(), {"Z", -4.1});
        s.digits.emplace_back("6", 31.7);
    });
    row("an axis less", [](MadeSite& s) {
        s.letters.erase(s.letters.begin());
        s.digits.pop_back();
    });
    row("an axis in between", [](MadeSite& s) { s.letters.insert(s.letters.begin() + 2, {"B1", 9.1}); });
    row("no names at all", [](MadeSite& s) {
        for (auto& [tag, x] : s.letters)
            tag = "?";
        for (auto& [tag, y] : s.digits)
            tag = "?";
    });
    row("other storey names", [](MadeSite& s) {
        for (auto& [name, height] : s.storeys)
            name = "E" + name;
    });
}

void TestAlignment::patterns()
{
    QFETCH(MadeSite, moving);
    const MadeSite reference;
    const auto first = read(reference), second = read(moving);
    const auto found = alignByPattern(*first->model, *second->model);
    QVERIFY2(found.has_value(), found ? "" : found.error().message.c_str());
    QVERIFY2(offBy(found->fit, reference, moving) < 1e-5, std::to_string(offBy(found->fit, reference, moving)).c_str());
    QVERIFY(found->rms.value < 1e-5);
    QVERIFY(found->left.size() >= 12);
    // They are named as the reference names them.
    QVERIFY(std::all_of(found->left.begin(), found->left.end(), [](const Left& l) {
        return l.at.size() == 3 && l.at[0] >= 'A' && l.at[0] <= 'D' && l.at[1] == '/' && l.at[2] >= '1' &&
               l.at[2] <= '5';
    }));
}

void TestAlignment::patternsThatDoNotTell_data()
{
    QTest::addColumn<MadeSite>("reference");
    QTest::addColumn<MadeSite>("moving");
    QTest::addColumn<QString>("code");
    MadeSite even;
    even.letters = {{"A", 0}, {"B", 6}, {"C", 12}, {"D", 18}};
    even.digits = {{"1", 0}, {"2", 6}, {"3", 12}, {"4", 18}};
    QTest::newRow("all axes evenly spaced") << even << even << "fit.ambiguous-pattern";
    MadeSite fewer = even;
    fewer.letters.pop_back();
    QTest::newRow("one of them less") << even << fewer << "fit.ambiguous-pattern";
    MadeSite symmetric;
    symmetric.letters = {{"A", 0}, {"B", 5}, {"C", 12}, {"D", 17}};
    symmetric.digits = {{"1", 0}, {"2", 4}, {"3", 15}, {"4", 19}};
    QTest::newRow("the same from both ends") << symmetric << symmetric << "fit.ambiguous-pattern";
    MadeSite other;
    other.letters = {{"A", 0}, {"B", 3.3}, {"C", 7.9}, {"D", 10.1}};
    other.digits = {{"1", 0}, {"2", 2.7}, {"3", 9.9}, {"4", 13.8}};
    QTest::newRow("another building") << MadeSite() << other << "fit.no-pattern";
    MadeSite none;
    none.letters.clear();
    QTest::newRow("no grid") << MadeSite() << none << "fit.no-pattern";
    MadeSite mirrored;
    mirrored.place = [](Point3 p) { return Point3{-p.x, p.y, p.z}; };
    QTest::newRow("mirrored") << MadeSite() << mirrored << "fit.no-pattern";
}

void TestAlignment::patternsThatDoNotTell()
{
    QFETCH(MadeSite, reference);
    QFETCH(MadeSite, moving);
    const auto found = alignByPattern(*read(reference)->model, *read(moving)->model);
    QVERIFY(!found.has_value());
    QTEST(QString::fromUtf8(found.error().code.name.data()), "code");
}

void TestAlignment::aPatternAroundACentre()
{
    const auto radial = [](const Fit& place, bool isNamedOtherwise) {
        ifc::Grid grid;
        const Transform map = place.transform();
        const auto add = [&](std::string tag, char family, Point3 a, Point3 b, std::optional<ifc::GridArc> arc) {
            grid.axes.push_back({isNamedOtherwise ? "x" + tag : tag, family, map.apply(a), map.apply(b), arc});
        };
        const Point3 centre{5, 7, 0};
        for (const double radius : {8.0, 14.0, 23.5}) {
            ifc::GridArc arc{map.apply(centre), map.turn({radius, 0, 0}), map.turn({0, radius, 0}), 0, 3};
            grid.axes.push_back({"R" + std::to_string(static_cast<int>(radius)), 'u', arc.at(0), arc.at(3), arc});
        }
        int n = 0;
        for (const double angle : {0.1, 0.5, 1.2, 1.5, 2.6})
            add(std::to_string(++n), 'v', centre + Vector3{6 * std::cos(angle), 6 * std::sin(angle), 0},
                centre + Vector3{25 * std::cos(angle), 25 * std::sin(angle), 0}, {});
        return std::vector{grid};
    };
    const Fit place{1, fromDegrees(41.7), {5'000'000, 431'000, 0}};
    const auto found = matchPattern(radial({}, false), radial(place, true));
    QVERIFY2(found.has_value(), found ? "" : found.error().message.c_str());
    QVERIFY(std::abs(std::remainder(toDegrees(found->rotation) + 41.7, 360)) < 1e-6);
    const Transform back = Fit{1, found->rotation, found->translation}.transform();
    QVERIFY(length(back.apply(place.transform().apply(Point3{5, 7, 0})) - Point3{5, 7, 0}) < 1e-5);
    QCOMPARE(found->matched, std::size_t{8});
}

void TestAlignment::anAxisThatStandsElsewhereIsNamed()
{
    MadeSite reference, moving;
    moving.letters[2].second += 0.035;
    moving.place = turnedAndShifted(12, {100, 50, 0});
    const auto a = read(reference), b = read(moving);
    const auto pattern = matchPattern(a->model->grids(), b->model->grids());
    QVERIFY2(pattern.has_value(), pattern ? "" : pattern.error().message.c_str());
    QCOMPARE(pattern->stray.size(), std::size_t{1});
    QCOMPARE(pattern->stray[0].reference, std::string("C"));
    QVERIFY(std::abs(std::abs(pattern->stray[0].off.value) - 0.035) < 1e-6);
    // And it turns nothing.
    QVERIFY(std::abs(toDegrees(pattern->rotation) + 12) < 1e-6);
}

void TestAlignment::declarations_data()
{
    QTest::addColumn<MadeSite>("reference");
    QTest::addColumn<MadeSite>("moving");
    for (const char* schema : {"IFC2X3", "IFC4"})
        for (const double unit : {1.0, 0.001, 0.3048}) {
            // Both stand where the building is, and each says so from an origin of its own.
            MadeSite reference, moving;
            reference.conversion = MadeSite::Conversion{"EPSG:25832", 431'208.4, 5'410'977.15, 312.6, 12.5};
            const Transform toMap = [&] {
                Transform t = Transform::rotationZ(fromDegrees(12.5));
                t.origin = {431'208.4, 5'410'977.15, 312.6};
                return t;
            }();
            moving.schema = schema;
            moving.metresPerUnit = unit;
            moving.unit = unit == 1       ? moving.unit
                          : unit == 0.001 ? "IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.)"
                                          : "FOOT";
            moving.conversion = MadeSite::Conversion{"EPSG:25832 ", 431'000, 5'411'000, 300, -20};
            Transform fromMap = Transform::rotationZ(fromDegrees(-20));
            fromMap.origin = {431'000, 5'411'000, 300};
            moving.place = [toMap, back = fromMap.inverse()](Point3 p) { return back.apply(toMap.apply(p)); };
            QTest::addRow("%s in %g m", schema, unit) << reference << moving;
        }
    MadeSite reference, moving;
    reference.latitudeLongitude = std::pair{48.85, 8.25};
    moving.latitudeLongitude = std::pair{48.85, 8.25};
    reference.trueNorthDegrees = 10;
    moving.trueNorthDegrees = -15;
    moving.place = turnedAndShifted(-25, {});
    QTest::newRow("latitude and true north only") << reference << moving;
}

void TestAlignment::declarations()
{
    QFETCH(MadeSite, reference);
    QFETCH(MadeSite, moving);
    const auto first = read(reference), second = read(moving);
    const auto found = alignByGeoreference(*first->model, *second->model);
    QVERIFY2(found.has_value(), found ? "" : found.error().message.c_str());
    QVERIFY2(offBy(found->fit, reference, moving) < 2e-5, std::to_string(offBy(found->fit, reference, moving)).c_str());
    QVERIFY(!found->left.empty() && found->rms.value < 2e-5);
    QCOMPARE(found->warnings.empty(), reference.conversion.has_value());
}

void TestAlignment::declarationsInOtherSystems()
{
    // Between two zones of one datum: what the closed form of none can say, its inverse can.
    MadeSite reference, moving;
    reference.conversion = MadeSite::Conversion{"EPSG:25832", 731'208.4, 5'410'977.15, 300, 0};
    const auto way = CrsTransform::between("EPSG:25832", "EPSG:25833");
    QVERIFY2(way.has_value(), way ? "" : way.error().message.c_str());
    QVERIFY(way->warnings().empty()); // one datum needs no files
    const Point3 there = way->apply({731'208.4, 5'410'977.15, 300});
    moving.conversion = MadeSite::Conversion{"EPSG:25833", there.x, there.y, 300, 0};
    const auto first = read(reference), second = read(moving);
    const auto found = alignByGeoreference(*first->model, *second->model);
    QVERIFY2(found.has_value(), found ? "" : found.error().message.c_str());
    // Grid north of the two zones differs by the convergences at 12.15 degrees east, some five degrees.
    const double turn = std::abs(toDegrees(found->fit.rotation));
    QVERIFY2(turn > 4 && turn < 6, std::to_string(turn).c_str());
    QVERIFY(std::abs(found->fit.scale - 1) < 1e-3);
    // The same place on earth: through the fit and the reference's zone, or through the other zone.
    const Point3 p{40, -25, 0}, inReference = found->fit.transform().apply(p);
    const Point3 expected = way->applyBackwards({there.x + p.x, there.y + p.y, 300});
    QVERIFY(std::hypot(inReference.x + 731'208.4 - expected.x, inReference.y + 5'410'977.15 - expected.y) < 0.001);
}

namespace {

/// A projected system by the numbers of its definition, in metres whatever its own axes are in.
struct Defined {
    const char* code;
    const char* steps; ///< from longitude and latitude
    bool isInFeet;
};
// The parameters as the EPSG register has them; NAD83 in all, so no datum is in between.
constexpr Defined kDefined[] = {
    {"EPSG:26918", "+proj=utm +zone=18 +ellps=GRS80", false},
    {"EPSG:2263",
     "+proj=lcc +lat_0=40.1666666666667 +lon_0=-74 +lat_1=41.0333333333333 +lat_2=40.6666666666667 +x_0=300000 +y_0=0 "
     "+ellps=GRS80",
     true},
    {"EPSG:32118", // the same zone in metres
     "+proj=lcc +lat_0=40.1666666666667 +lon_0=-74 +lat_1=41.0333333333333 +lat_2=40.6666666666667 +x_0=300000 +y_0=0 "
     "+ellps=GRS80",
     false},
    {"EPSG:2260", // New York East, US survey feet
     "+proj=tmerc +lat_0=38.8333333333333 +lon_0=-74.5 +k=0.9999 +x_0=150000 +y_0=0 +ellps=GRS80", true},
};

/// Where a place of one system is in another: PROJ, but by a pipeline of numbers instead of the register.
Point3 inOther(const Defined& from, const Defined& to, Point3 place)
{
    const std::unique_ptr<PJ, PJ* (*)(PJ*)> way(
        proj_create(PJ_DEFAULT_CTX, fmt::format("+proj=pipeline +step +inv {} +step {}", from.steps, to.steps).c_str()),
        proj_destroy);
    const PJ_COORD out = proj_trans(way.get(), PJ_FWD, proj_coord(place.x, place.y, 0, 0));
    return {out.xy.x, out.xy.y, place.z};
}

} // namespace

void TestAlignment::systemsInFeet_data()
{
    QTest::addColumn<int>("reference");
    QTest::addColumn<int>("moving");
    QTest::addColumn<double>("unit"); ///< metres of a unit of both files
    QTest::addColumn<QString>("mapUnit");
    for (int r = 0; r < 4; ++r)
        for (int m = 0; m < 4; ++m)
            for (const double unit : {1.0, 0.001, 0.3048})
                for (const char* mapUnit : {"METRE", "FOOT", "US SURVEY FOOT", ""})
                    if (r != m)
                        QTest::addRow("%s onto %s, in %g m, map unit %s", kDefined[m].code, kDefined[r].code, unit,
                                      *mapUnit == 0 ? "not given" : mapUnit)
                            << r << m << unit << QString(mapUnit);
}

void TestAlignment::systemsInFeet()
{
    QFETCH(int, reference);
    QFETCH(int, moving);
    QFETCH(double, unit);
    QFETCH(QString, mapUnit);
    const Defined &mine = kDefined[reference], &theirs = kDefined[moving];
    const auto siteAt = [&](const Defined& system, Point3 place) {
        MadeSite site;
        site.metresPerUnit = unit;
        site.unit = unit == 1 ? site.unit : unit == 0.001 ? "IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.)" : "FOOT";
        site.conversion = MadeSite::Conversion{system.code, place.x, place.y, place.z, 7, mapUnit.toStdString()};
        return site;
    };
    // Somewhere in Manhattan by the reference's system, and the same spot by the member's.
    const Point3 spot = inOther(kDefined[0], mine, {585'000, 4'511'000, 12}), other = inOther(mine, theirs, spot);
    QVERIFY(std::isfinite(other.x));
    const auto first = read(siteAt(mine, spot)), second = read(siteAt(theirs, other));
    const auto found = alignByGeoreference(*first->model, *second->model);
    QVERIFY2(found.has_value(), found ? "" : found.error().message.c_str());
    // Two places of the member's file, through its system into the reference's, or through the fit.
    const auto onMap = [](Point3 origin, Point3 p) {
        return Transform::rotationZ(fromDegrees(7)).apply(p) + (origin - Point3{});
    };
    for (const Point3 p : {Point3{0, 0, 0}, Point3{40, -25, 3}, Point3{-60, 80, 0}}) {
        const Point3 expected = inOther(theirs, mine, onMap(other, p)),
                     got = onMap(spot, found->fit.transform().apply(p));
        QVERIFY2(length(got - expected) < 0.001, qPrintable(QString("%1 m off").arg(length(got - expected))));
    }
    QVERIFY2(std::abs(found->fit.scale - 1) < 1e-3, std::to_string(found->fit.scale).c_str());
}

void TestAlignment::gridsThatDoNotFitAreDoubtful_data()
{
    QTest::addColumn<MadeSite>("moving");
    QTest::addColumn<QString>("word");
    MadeSite right, mirrored, mirroredAndTurned, small;
    right.place = turnedAndShifted(17.3, {34.2, -8.5, 1.25});
    mirrored.place = [](Point3 p) { return Point3{-p.x, p.y, p.z}; };
    mirroredAndTurned.place = [turn = turnedAndShifted(40, {100, 3, 0})](Point3 p) { return turn({p.x, -p.y, p.z}); };
    small.place = [](Point3 p) { return Point3{0.3048 * p.x, 0.3048 * p.y, p.z}; };
    QTest::newRow("stands right") << right << "";
    QTest::newRow("mirrored") << mirrored << "mirrored";
    QTest::newRow("mirrored and turned") << mirroredAndTurned << "mirrored";
    QTest::newRow("another unit") << small << "unit";
}

void TestAlignment::gridsThatDoNotFitAreDoubtful()
{
    QFETCH(MadeSite, moving);
    QFETCH(QString, word);
    const auto a = read(MadeSite()), b = read(moving);
    const auto found = alignByGrids(*a->model, *b->model);
    QVERIFY2(found.has_value(), found ? "" : found.error().message.c_str());
    QCOMPARE(found->isDoubtful, !word.isEmpty());
    QCOMPARE(std::any_of(found->warnings.begin(), found->warnings.end(),
                         [&](const std::string& w) { return QString::fromStdString(w).contains(word); }),
             !word.isEmpty());
}

void TestAlignment::whatMostStoreysAgreeOn_data()
{
    QTest::addColumn<QVector<double>>("differences");
    QTest::addColumn<double>("height");
    QTest::newRow("one") << QVector<double>{3.2} << 3.2;
    QTest::newRow("all alike") << QVector<double>{1, 1, 1} << 1.0;
    QTest::newRow("one raised of fifteen") << (QVector<double>(14, 0.0) + QVector<double>{-0.15}) << 0.0;
    QTest::newRow("six raised of fifteen") << (QVector<double>(9, 2.0) + QVector<double>(6, 1.85)) << 2.0;
    QTest::newRow("a drawing's own errors") << QVector<double>{0.001, -0.001, 0.002, -0.002, 7} << 0.0;
    QTest::newRow("no two alike: the least") << QVector<double>{0.4, -0.1, 0.9} << -0.1;
    QTest::newRow("two against two: the least") << QVector<double>{3, 3, -1, -1} << -1.0;
}

void TestAlignment::whatMostStoreysAgreeOn()
{
    QFETCH(QVector<double>, differences);
    QFETCH(double, height);
    QVERIFY(std::abs(federation::commonHeight({differences.begin(), differences.end()}) - height) < 1e-9);
}

void TestAlignment::oneRaisedStoreyPullsNothing()
{
    MadeSite reference, moving;
    for (MadeSite* site : {&reference, &moving}) {
        site->storeys.clear();
        for (int i = 0; i < 15; ++i)
            site->storeys.emplace_back("Level " + std::to_string(i), 3.5 * i);
    }
    moving.storeys[8].second += 0.15;
    moving.place = turnedAndShifted(5, {1, 2, -4});
    const auto a = read(reference), b = read(moving);
    for (const auto& found : {alignByGrids(*a->model, *b->model), alignByStoreys(*a->model, *b->model),
                              alignByPattern(*a->model, *b->model)}) {
        QVERIFY2(found.has_value(), found ? "" : found.error().message.c_str());
        QVERIFY2(std::abs(found->fit.translation.z - 4) < 1e-9, std::to_string(found->fit.translation.z).c_str());
        QVERIFY(std::any_of(found->warnings.begin(), found->warnings.end(),
                            [](const std::string& w) { return w.find("Level 8 is off by 150") != std::string::npos; }));
    }
    federation::Member member;
    member.model = b->model;
    member.fit = alignByGrids(*a->model, *b->model)->fit;
    const auto standing = federation::standingOf(*a->model, member);
    QVERIFY(!standing.isVerified());
    QCOMPARE(
        federation::howItStands(standing),
        std::string("its Level 8 stands 150 mm too high; the other 14 storeys and all 20 crossings of the grid fit"));
}

void TestAlignment::declarationsThatAreMissing()
{
    const auto bare = read(MadeSite());
    const auto none = alignByGeoreference(*bare->model, *bare->model);
    QVERIFY(!none && none.error().code == kNotDeclared);
    MadeSite odd;
    odd.conversion = MadeSite::Conversion{"Site grid of our own", 0, 0, 0, 0};
    MadeSite known;
    known.conversion = MadeSite::Conversion{};
    const auto unknown = alignByGeoreference(*read(known)->model, *read(odd)->model);
    QVERIFY(!unknown && unknown.error().code == kUnknownCrs);
    QVERIFY(unknown.error().message.find("Site grid of our own") != std::string::npos);
    MadeSite here, elsewhere;
    here.latitudeLongitude = std::pair{48.85, 8.25};
    elsewhere.latitudeLongitude = std::pair{42.36, -71.06}; // as a template has it
    const auto far = alignByGeoreference(*read(here)->model, *read(elsewhere)->model);
    QVERIFY(!far && far.error().code == kNotDeclared);
}

void TestAlignment::storeys_data()
{
    QTest::addColumn<MadeSite>("moving");
    QTest::addColumn<double>("up"); // NaN: none can be told
    MadeSite site;
    site.place = turnedAndShifted(30, {5, 5, -1.2});
    QTest::newRow("by name") << site << 1.2;
    MadeSite renamed = site;
    for (auto& [name, height] : renamed.storeys)
        name = "E" + name;
    QTest::newRow("by their heights") << renamed << 1.2;
    MadeSite one = renamed;
    one.storeys.resize(1);
    QTest::newRow("a single one of another name") << one << std::nan("");
}

void TestAlignment::storeys()
{
    QFETCH(MadeSite, moving);
    QFETCH(double, up);
    const auto first = read(MadeSite()), second = read(moving);
    const auto found = alignByStoreys(*first->model, *second->model);
    QCOMPARE(found.has_value(), !std::isnan(up));
    if (!found)
        return;
    QVERIFY(std::abs(found->fit.translation.z - up) < 1e-9 && found->fit.translation.x == 0);
    QVERIFY(found->rms.value < 1e-9 && found->left.size() == 3);
}

void TestAlignment::points_data()
{
    QTest::addColumn<int>("count");
    QTest::addColumn<double>("scale");
    QTest::addColumn<bool>("isFree");
    QTest::addColumn<double>("degrees");
    for (const int count : {1, 2, 3, 7})
        QTest::addRow("%d", count) << count << 1.0 << false << (count == 1 ? 0.0 : 33.3);
    QTest::newRow("scale") << 4 << 0.3048 << true << -71.0;
    QTest::newRow("a scale that is not allowed") << 4 << 1.01 << false << 5.0;
}

void TestAlignment::points()
{
    QFETCH(int, count);
    QFETCH(double, scale);
    QFETCH(bool, isFree);
    QFETCH(double, degrees);
    const Fit truth{scale, fromDegrees(degrees), {4'310'000.25, -17.5, 3}};
    const Point3 picked[] = {{0, 0, 0}, {40, 0, 3.6}, {40, 22, 0}, {0, 22, 7.2}, {11, 5, 0}, {23, 17, 3.6}, {-4, 9, 0}};
    std::vector<PlacePair> places;
    for (int i = 0; i < count; ++i)
        places.push_back({picked[i], truth.transform().apply(picked[i])});
    const auto found = alignByPoints(places, isFree ? federation::Scale::IsFree : federation::Scale::IsOne);
    QVERIFY(found.has_value());
    QCOMPARE(found->left.size(), static_cast<std::size_t>(count));
    QVERIFY(std::abs(toDegrees(found->fit.rotation) - degrees) < 1e-6);
    if (scale == 1 || isFree) {
        QVERIFY(std::abs(found->fit.scale - scale) < 1e-9 && found->rms.value < 1e-6);
        QVERIFY(length(found->fit.transform().apply(picked[0]) - places[0].reference) < 1e-6);
    } else { // it shows as what is left
        QVERIFY(found->fit.scale == 1 && found->rms.value > 0.1);
    }
    QCOMPARE(found->warnings.empty(), count > 2);
}

void TestAlignment::weightsCount()
{
    // One of four is off by 40 mm along x: without weight it moves the whole by a quarter of that.
    std::vector<PlacePair> places;
    for (const Point3 p : {Point3{-10, -10, 0}, Point3{10, -10, 0}, Point3{10, 10, 0}, Point3{-10, 10, 0}})
        places.push_back({p, p});
    places[0].reference.x += 0.04;
    const auto even = alignByPoints(places, federation::Scale::IsOne);
    QVERIFY(std::abs(even->fit.translation.x - 0.01) < 1e-4);
    places[0].weight = 1e-9;
    const auto weighted = alignByPoints(places, federation::Scale::IsOne);
    QVERIFY(std::abs(weighted->fit.translation.x) < 1e-9);
    QVERIFY(std::abs(weighted->left[0].distance.value - 0.04) < 1e-9);
    places[1].weight = 0;
    QVERIFY(!alignByPoints(places, federation::Scale::IsOne));
    QVERIFY(!alignByPoints({}, federation::Scale::IsOne));
}

void TestAlignment::systemsAreFound_data()
{
    QTest::addColumn<QString>("name");
    QTest::addColumn<QString>("code"); // empty: none
    for (const char* name : {"EPSG:25832", "epsg:25832", "EPSG::25832", "urn:ogc:def:crs:EPSG::25832", "25832",
                             "urn:ogc:def:crs:EPSG:9.8.15:25832", "EPSG 25832", "EPSG:25832 - ETRS89 / UTM zone 32N",
                             "ETRS89 / UTM zone 32N"})
        QTest::newRow(name) << name << "EPSG:25832";
    for (const char* name : {"", "our own grid", "EPSG:1", "EPSG:999999", "+proj=utm +zone=32", "25832 and more"})
        QTest::addRow("none: %s", name) << name << "";
    QTest::newRow("none: very long") << QString(100'000, 'x') << "";
}

void TestAlignment::systemsAreFound()
{
    QFETCH(QString, name);
    QFETCH(QString, code);
    const auto crs = findCrs(name.toStdString());
    QCOMPARE(QString::fromStdString(crs ? crs->code : ""), code);
    if (crs)
        QCOMPARE(crs->name, std::string("ETRS89 / UTM zone 32N"));
}

void TestAlignment::systemsAreLeftAsTheyAre()
{
    // On the central meridian eastings are the false easting, on the equator northings are 0 (EPSG guidance 7-2).
    const auto utm = CrsTransform::toLongitudeLatitude("EPSG:32632");
    QVERIFY(utm.has_value());
    const Point3 equator = utm->apply({500'000, 0, 12});
    QVERIFY(std::abs(equator.x - 9) < 1e-9 && std::abs(equator.y) < 1e-9 && equator.z == 12);
    const Point3 north = utm->applyBackwards({9, 51.5, 0});
    QVERIFY(std::abs(north.x - 500'000) < 1e-6);
    const Point3 there = utm->apply({431'208.4, 5'410'977.15, 0}), back = utm->applyBackwards(there);
    QVERIFY(std::hypot(back.x - 431'208.4, back.y - 5'410'977.15) < 1e-6);
    QVERIFY(std::isnan(utm->apply({1e12, 1e12, 0}).x)); // nowhere
    QVERIFY(!CrsTransform::between("EPSG:25832", "nothing"));
    // Another datum whose grid file is not here: it is named.
    const auto datum = CrsTransform::between("EPSG:31467", "EPSG:25832");
    QVERIFY(datum.has_value());
    QVERIFY(!datum->warnings().empty());
    QVERIFY2(datum->warnings()[0].find("grid file") != std::string::npos, datum->warnings()[0].c_str());
}

void TestAlignment::numbersThatMostShare()
{
    const auto shifts = bestShifts({0, 6, 13.2, 18}, {100, 106, 113.2, 118, 130}, 0.01, 3);
    QVERIFY(shifts[0].shared == 4 && std::abs(shifts[0].by - 100) < 1e-9);
    QVERIFY(shifts.size() > 1 && shifts[1].shared < 4);
    QVERIFY(bestShifts({}, {1, 2}, 0.01, 3).empty());
    // Evenly spaced: the best is told from the next by one only.
    std::vector<double> even;
    for (int i = 0; i < 60; ++i)
        even.push_back(6.0 * i);
    const auto many = bestShifts(even, even, 0.01, 3);
    QVERIFY(many[0].shared == 60 && many[0].by == 0 && many[1].shared == 59);
}

QTEST_APPLESS_MAIN(TestAlignment)
#include "test_alignment.moc"
