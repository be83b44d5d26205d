#include <QTest>

#include "core/coordinates/correspondence.h"
#include "core/coordinates/declared.h"
#include "core/coordinates/diagnosis.h"
#include "core/coordinates/sheet.h"
#include "support/ifc_text.h"
#include "support/made_site.h"

#include <cmath>

using namespace wendrix;
using namespace wendrix::coordinates;
using test::MadeSite;
using test::turnedAndShifted;

/// Every fault is found for what it is, alone and with another one, in every release, unit and place; sound files raise
/// no alarm.
class TestDiagnosis : public QObject {
    Q_OBJECT
private slots:
    void faults_data();
    void faults();
    void soundFiles_data();
    void soundFiles();
    void declarationsThatContradict_data();
    void declarationsThatContradict();
    void theOriginMoved();
    void withoutAGrid_data();
    void withoutAGrid();
    void twoCausesOfTheSame();
    void whatIsDeclaredStandsSideBySide();
    void theSheetTellsTheTeam();
};

namespace {

/// Where the reference's building stands on the map.
const MadeSite::Conversion kHere{"EPSG:25832", 431'208.4, 5'410'977.15, 312.6, 12.5};

std::function<Point3(Point3)> toMap(const MadeSite::Conversion& c)
{
    return turnedAndShifted(c.degrees, {c.eastings, c.northings, c.height});
}

/// What is wrong, and what is to be found.
struct Fault {
    const char* name;
    std::function<void(MadeSite& reference, MadeSite& moving)> make;
    std::vector<std::pair<std::string, std::map<std::string, double>>> causes; ///< kind, and its measures
};

auto after(std::function<Point3(Point3)> first, std::function<Point3(Point3)> then)
{
    return [first = std::move(first), then = std::move(then)](Point3 p) { return then(first(p)); };
}
auto scaled(double f)
{
    return [f](Point3 p) { return f * p; };
}

const std::vector<Fault>& faults()
{
    static const std::vector<Fault> all{
        {"an origin of its own",
         [](MadeSite&, MadeSite& m) {
             m.place = turnedAndShifted(0, {30, -40, 0});
         },
         {{"own-origin", {{"metres", 50}}}}},
        {"turned",
         [](MadeSite&, MadeSite& m) { m.place = turnedAndShifted(-17.3, {}); },
         {{"turned", {{"degrees", 17.3}}}}},
        {"turned, with an origin of its own",
         [](MadeSite&, MadeSite& m) {
             m.place = turnedAndShifted(-17.3, {12, 5, 0});
         },
         {{"turned", {{"degrees", 17.3}}}, {"own-origin", {{"metres", 13}}}}},
        {"project north for true north",
         [](MadeSite& r, MadeSite& m) {
             r.trueNorthDegrees = 0;
             m.trueNorthDegrees = 22;
             m.place = turnedAndShifted(22, {});
         },
         {{"turned", {{"degrees", -22}}}}},
        {"true north twice",
         [](MadeSite&, MadeSite& m) {
             m.trueNorthDegrees = 17.3;
             m.place = turnedAndShifted(34.6, {});
         },
         {{"north-reversed", {{"degrees", -34.6}}}}},
        {"true north the wrong way",
         [](MadeSite& r, MadeSite& m) {
             r.trueNorthDegrees = 0;
             m.trueNorthDegrees = 17.3;
             m.place = turnedAndShifted(-17.3, {});
         },
         {{"north-reversed", {{"degrees", 17.3}}}}},
        {"millimetres read as metres",
         [](MadeSite&, MadeSite& m) { m.place = scaled(1000); },
         {{"unit-factor", {{"factor", 0.001}}}}},
        {"metres read as millimetres",
         [](MadeSite&, MadeSite& m) { m.place = scaled(0.001); },
         {{"unit-factor", {{"factor", 1000}}}}},
        {"feet read as metres",
         [](MadeSite&, MadeSite& m) { m.place = scaled(1 / 0.3048); },
         {{"unit-factor", {{"factor", 0.3048}}}}},
        {"metres read as feet",
         [](MadeSite&, MadeSite& m) { m.place = scaled(0.3048); },
         {{"unit-factor", {{"factor", 1 / 0.3048}}}}},
        {"inches read as metres",
         [](MadeSite&, MadeSite& m) { m.place = scaled(1 / 0.0254); },
         {{"unit-factor", {{"factor", 0.0254}}}}},
        {"feet read as metres, and turned",
         [](MadeSite&, MadeSite& m) { m.place = after(turnedAndShifted(-30, {}), scaled(1 / 0.3048)); },
         {{"unit-factor", {{"factor", 0.3048}}}, {"turned", {{"degrees", 30}}}}},
        {"survey feet read as international ones",
         [](MadeSite& r, MadeSite& m) {
             r.place = turnedAndShifted(0, {kHere.eastings, kHere.northings, 0});
             m.place = after(r.place, [](Point3 p) {
                 const double f = 0.3048 / (1200.0 / 3937);
                 return Point3{f * p.x, f * p.y, p.z};
             });
         },
         {{"us-survey-foot", {{"factor", 1.000002}}}}},
        {"eastings for northings",
         [](MadeSite&, MadeSite& m) { m.place = [](Point3 p) {
                                          return Point3{p.y, p.x, p.z};
                                      }; },
         {{"axes-swapped", {}}}},
        {"eastings for northings of its place on the map",
         [](MadeSite& r, MadeSite& m) {
             r.place = turnedAndShifted(0, {kHere.eastings, kHere.northings, 0});
             m.place = turnedAndShifted(0, {kHere.northings, kHere.eastings, 0});
         },
         {{"axes-swapped", {}}}},
        {"mirrored in x",
         [](MadeSite&, MadeSite& m) { m.place = [](Point3 p) {
                                          return Point3{-p.x, p.y, p.z};
                                      }; },
         {{"mirrored", {}}}},
        {"mirrored in y",
         [](MadeSite&, MadeSite& m) { m.place = [](Point3 p) {
                                          return Point3{p.x, -p.y, p.z};
                                      }; },
         {{"mirrored", {}}}},
        {"too high",
         [](MadeSite&, MadeSite& m) {
             m.place = turnedAndShifted(0, {0, 0, 1.234});
         },
         {{"height-offset", {{"metres", 1.234}}}}},
        {"heights above the sea",
         [](MadeSite&, MadeSite& m) {
             m.place = turnedAndShifted(0, {0, 0, 312.6});
         },
         {{"height-offset", {{"metres", 312.6}}}}},
        {"a storey too low",
         [](MadeSite&, MadeSite& m) {
             m.place = turnedAndShifted(0, {0, 0, -3.6});
         },
         {{"storey-offset", {{"storeys", -1}, {"metres", -3.6}}}}},
        {"two storeys too high",
         [](MadeSite&, MadeSite& m) {
             m.place = turnedAndShifted(0, {0, 0, 7.9});
         },
         {{"storey-offset", {{"storeys", 2}, {"metres", 7.9}}}}},
        {"a storey too low, and turned",
         [](MadeSite&, MadeSite& m) {
             m.place = turnedAndShifted(5, {0, 0, -3.6});
         },
         {{"turned", {{"degrees", -5}}}, {"storey-offset", {{"storeys", -1}}}}},
        {"map coordinates without a conversion",
         [](MadeSite& r, MadeSite& m) {
             r.conversion = kHere;
             m.place = toMap(kHere);
         },
         {{"conversion-missing", {}}}},
        {"an origin of its own without a conversion",
         [](MadeSite& r, MadeSite& m) {
             r.conversion = kHere;
             m.place = turnedAndShifted(33, {120, -40, 0});
         },
         {{"conversion-missing", {}}, {"turned", {{"degrees", -33}}}}},
        {"map coordinates, and a conversion",
         [](MadeSite& r, MadeSite& m) {
             r.conversion = kHere;
             m.conversion = kHere;
             m.conversion->height = 0;
             m.place = [map = toMap(kHere)](Point3 p) { return Point3{map(p).x, map(p).y, p.z}; };
         },
         {{"conversion-twice", {}}}},
        {"map coordinates, a conversion, and a storey too high",
         [](MadeSite& r, MadeSite& m) {
             r.conversion = kHere;
             m.conversion = kHere;
             m.place = [map = toMap(kHere)](Point3 p) { return Point3{map(p).x, map(p).y, p.z + 4.3}; };
         },
         {{"conversion-twice", {}}, {"storey-offset", {{"storeys", 1}}}}},
        {"the name of another system",
         [](MadeSite& r, MadeSite& m) {
             // From another origin, with the numbers of the reference's zone and the name of the next.
             r.conversion = kHere;
             m.conversion = MadeSite::Conversion{"EPSG:25833", 431'000, 5'411'000, 312.6, 0};
             const auto map = toMap(kHere);
             m.place = [map](Point3 p) { return map(p) - Vector3{431'000, 5'411'000, 312.6}; };
         },
         {{"crs-differs", {}}}},
        {"the turn of the conversion the wrong way",
         [](MadeSite& r, MadeSite& m) {
             r.conversion = kHere;
             r.conversion->degrees = 0;
             const Transform back = Transform::rotationZ(fromDegrees(-20));
             m.conversion = r.conversion;
             m.conversion->degrees = -20;
             m.place = [back](Point3 p) { return back.apply(p); };
         },
         {{"north-reversed", {}}}},
        {"far from its origin",
         [](MadeSite&, MadeSite& m) {
             m.place = turnedAndShifted(0, {30'000, 40'000, 0});
         },
         {{"far-from-origin", {}}, {"own-origin", {{"metres", 50'000}}}}},
        {"an axis elsewhere",
         [](MadeSite&, MadeSite& m) { m.letters[2].second += 0.035; },
         {{"grid-differs", {{"metres", 0.035}}}}},
        {"other bays",
         [](MadeSite&, MadeSite& m) {
             for (auto& [tag, x] : m.letters)
                 x *= 1.02;
             for (auto& [tag, y] : m.digits)
                 y *= 1.02;
         },
         {{"grid-differs", {}}}},
        {"an axis elsewhere, and an origin of its own",
         [](MadeSite&, MadeSite& m) {
             m.digits[3].second -= 0.12;
             m.place = turnedAndShifted(0, {3, 4, 0});
         },
         {{"grid-differs", {{"metres", 0.12}}}, {"own-origin", {{"metres", 5}}}}},
    };
    return all;
}

void setUnit(MadeSite& site, double metres)
{
    site.metresPerUnit = metres;
    site.unit = metres == 1       ? "IFCSIUNIT(*,.LENGTHUNIT.,$,.METRE.)"
                : metres == 0.001 ? "IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.)"
                                  : "FOOT";
}

std::string inWords(const Diagnosis& d)
{
    std::string words = d.isAligned ? "aligned" : "";
    for (const Cause& c : d.causes)
        words += std::string(words.empty() ? "" : ", ") + nameOf(c.kind) + " " + std::to_string(c.confidence);
    return words;
}

Diagnosis diagnosed(const MadeSite& reference, const MadeSite& moving)
{
    const auto a = test::readText(reference.text()), b = test::readText(moving.text());
    return diagnose({*a->model, a->geometry->bounds()}, {*b->model, b->geometry->bounds()});
}

} // namespace

Q_DECLARE_METATYPE(MadeSite::Conversion)

void TestDiagnosis::faults_data()
{
    QTest::addColumn<int>("fault");
    QTest::addColumn<QString>("schema");
    QTest::addColumn<double>("unit");
    QTest::addColumn<bool>("isRenumbered");
    for (std::size_t i = 0; i < ::faults().size(); ++i)
        for (const char* schema : {"IFC2X3", "IFC4"})
            for (const double unit : {1.0, 0.001, 0.3048})
                QTest::addRow("%s, %s in %g m", ::faults()[i].name, schema, unit)
                    << static_cast<int>(i) << schema << unit << false;
    // And where no axis has the same name in both.
    for (std::size_t i = 0; i < ::faults().size(); ++i)
        QTest::addRow("%s, renumbered", ::faults()[i].name) << static_cast<int>(i) << "IFC4" << 1.0 << true;
}

void TestDiagnosis::faults()
{
    QFETCH(int, fault);
    QFETCH(QString, schema);
    QFETCH(double, unit);
    QFETCH(bool, isRenumbered);
    const Fault& wrong = ::faults()[static_cast<std::size_t>(fault)];
    MadeSite reference, moving;
    reference.name = "Architecture";
    moving.name = "Structure";
    moving.schema = schema.toStdString();
    setUnit(moving, unit);
    if (isRenumbered) {
        for (auto& [tag, x] : moving.letters)
            tag = "X" + tag;
        for (auto& [tag, y] : moving.digits)
            tag = "9" + tag;
    }
    wrong.make(reference, moving);
    const Diagnosis found = diagnosed(reference, moving);
    QVERIFY2(!found.isAligned, "aligned");
    const std::string words = inWords(found);
    for (const auto& [kind, measures] : wrong.causes) {
        const auto cause = std::find_if(found.causes.begin(), found.causes.end(),
                                        [&, &wanted = kind](const Cause& c) { return nameOf(c.kind) == wanted; });
        QVERIFY2(cause != found.causes.end(), (kind + " of " + words).c_str());
        QVERIFY2(cause->confidence >= 0.5, words.c_str());
        QVERIFY(!cause->sentence.empty() && !cause->remedy.empty());
        for (const auto& [name, value] : measures) {
            QVERIFY2(cause->measure.contains(name), name.c_str());
            const double got = std::get<double>(cause->measure.at(name));
            QVERIFY2(std::abs(got - value) < 1e-4 * std::max(1.0, std::abs(value)),
                     (words + ": " + name + " " + std::to_string(got)).c_str());
        }
    }
    // Nothing else is as sure, and the first is one of them.
    QVERIFY2(std::any_of(wrong.causes.begin(), wrong.causes.end(),
                         [&](const auto& c) { return c.first == nameOf(found.causes[0].kind); }),
             words.c_str());
    for (const Cause& cause : found.causes) {
        const bool isOurs = std::any_of(wrong.causes.begin(), wrong.causes.end(),
                                        [&](const auto& c) { return c.first == nameOf(cause.kind); });
        const bool isBeside =
            cause.kind == CauseKind::OwnOrigin && nameOf(found.causes[0].kind) == std::string("conversion-missing");
        QVERIFY2(isOurs || isBeside || cause.confidence < 0.5, words.c_str());
    }
    // The fit brings it there, unless it is mirrored, or an axis differs.
    // Nor where neither names nor spacing say which axis is which.
    const bool canNotBeFitted = found.causes[0].kind == CauseKind::Mirrored ||
                                wrong.name == std::string("eastings for northings") ||
                                (isRenumbered && wrong.name == std::string("other bays"));
    QCOMPARE(found.fit.has_value(), !canNotBeFitted);
    if (found.fit)
        for (const Point3 p : {Point3{0, 0, 0}, Point3{18, 24.5, 7.9}}) {
            const Vector3 left = found.fit->fit.transform().apply(moving.place(p)) - reference.place(p);
            QVERIFY2(length(left) < 0.005, (words + ": " + std::to_string(length(left))).c_str());
        }
}

void TestDiagnosis::soundFiles_data()
{
    QTest::addColumn<int>("kind");
    QTest::addColumn<QString>("schema");
    QTest::addColumn<double>("unit");
    const char* kinds[] = {"the same frame",
                           "both far away",
                           "each with its own conversion",
                           "other storeys",
                           "fewer axes",
                           "rounded to 0.1 mm",
                           "renumbered",
                           "no true north",
                           "in two systems of a map",
                           "bays alike, renumbered"};
    for (int kind = 0; kind < 10; ++kind)
        for (const char* schema : {"IFC2X3", "IFC4"})
            for (const double unit : {1.0, 0.001, 0.3048})
                QTest::addRow("%s, %s in %g m", kinds[kind], schema, unit) << kind << schema << unit;
}

void TestDiagnosis::soundFiles()
{
    QFETCH(int, kind);
    QFETCH(QString, schema);
    QFETCH(double, unit);
    MadeSite reference, moving;
    reference.name = "Architecture";
    moving.schema = schema.toStdString();
    setUnit(moving, unit);
    switch (kind) {
    case 1:
        reference.place = moving.place = toMap(kHere);
        break;
    case 2: {
        reference.conversion = kHere;
        moving.conversion = MadeSite::Conversion{"EPSG:25832", 431'000, 5'411'000, 300, 0};
        moving.place = [map = toMap(kHere)](Point3 p) { return map(p) - Vector3{431'000, 5'411'000, 300}; };
        break;
    }
    case 3:
        moving.storeys.erase(moving.storeys.begin());
        moving.storeys.emplace_back("Roof", 11.2);
        break;
    case 4:
        moving.letters.pop_back();
        moving.digits.erase(moving.digits.begin());
        break;
    case 5:
        moving.place = [](Point3 p) {
            return Point3{std::round(p.x * 1e4) / 1e4 + 5e-5, std::round(p.y * 1e4) / 1e4, std::round(p.z * 1e4) / 1e4};
        };
        break;
    case 6:
        for (auto& [tag, x] : moving.letters)
            tag = "X" + tag;
        break;
    case 7:
        reference.trueNorthDegrees = 12;
        break;
    case 8:
        reference.conversion = kHere;
        moving.conversion = kHere;
        moving.conversion->crs = "urn:ogc:def:crs:EPSG::25832";
        break;
    case 9:
        reference.letters = {{"A", 0}, {"B", 6}, {"C", 12}};
        reference.digits = {{"1", 0}, {"2", 6}, {"3", 12}};
        moving.letters = {{"P", 0}, {"Q", 6}, {"R", 12}};
        moving.digits = {{"11", 0}, {"12", 6}, {"13", 12}};
        break;
    default:
        break;
    }
    const Diagnosis found = diagnosed(reference, moving);
    QVERIFY2(found.isAligned && found.causes.empty(), inWords(found).c_str());
    QVERIFY2(found.contradictions.empty(),
             found.contradictions.empty() ? "" : found.contradictions[0].sentence.c_str());
    QVERIFY(found.fit.has_value());
    const Vector3 left =
        found.fit->fit.transform().apply(moving.place({18, 24.5, 7.9})) - reference.place({18, 24.5, 7.9});
    QVERIFY(length(left) < 0.001);
}

void TestDiagnosis::declarationsThatContradict_data()
{
    // The bodies meet; only what is declared differs.
    QTest::addColumn<MadeSite::Conversion>("declared");
    QTest::addColumn<QString>("kind"); // empty: none
    QTest::addColumn<double>("measure");
    auto with = [](auto change) {
        MadeSite::Conversion c = kHere;
        change(c);
        return c;
    };
    QTest::newRow("the same") << kHere << "" << 0.0;
    QTest::newRow("rounded to the centimetre") << with([](auto& c) { c.eastings += 0.004; }) << "" << 0.0;
    QTest::newRow("swapped") << with([](auto& c) { std::swap(c.eastings, c.northings); }) << "axes-swapped" << 0.0;
    QTest::newRow("another zone") << with([](auto& c) { c.crs = "EPSG:25833"; }) << "crs-differs" << 0.0;
    QTest::newRow("another place") << with([](auto& c) { c.eastings += 120; }) << "own-origin" << 120.0;
    QTest::newRow("another height") << with([](auto& c) { c.height += 2.5; }) << "height-offset" << 2.5;
    QTest::newRow("turned otherwise") << with([](auto& c) { c.degrees = -12.5; }) << "turned" << 25.0;
    QTest::newRow("a system that nobody knows") << with([](auto& c) { c.crs = "Our grid"; }) << "crs-differs" << 0.0;
}

void TestDiagnosis::declarationsThatContradict()
{
    QFETCH(MadeSite::Conversion, declared);
    QFETCH(QString, kind);
    QFETCH(double, measure);
    MadeSite reference, moving;
    reference.conversion = kHere;
    moving.conversion = declared;
    for (const bool hasGrid : {true, false}) {
        if (!hasGrid)
            moving.letters.clear();
        const Diagnosis found = diagnosed(reference, moving);
        QVERIFY2(found.isAligned && found.causes.empty(), inWords(found).c_str());
        QCOMPARE(found.contradictions.size(), std::size_t(kind.isEmpty() ? 0 : 1));
        if (kind.isEmpty())
            continue;
        const Cause& cause = found.contradictions[0];
        QCOMPARE(QString(nameOf(cause.kind)), kind);
        QVERIFY(!cause.sentence.empty() && !cause.remedy.empty());
        for (const auto& [name, value] : cause.measure)
            if (const double* number = std::get_if<double>(&value))
                QVERIFY2(std::abs(std::abs(*number) - measure) < 0.01, std::to_string(*number).c_str());
    }
}

void TestDiagnosis::theOriginMoved()
{
    MadeSite reference, before, now;
    before.place = turnedAndShifted(10, {5, 5, 0});
    now.place = turnedAndShifted(10, {5, 25, 1});
    const auto a = test::readText(reference.text()), b = test::readText(before.text()), c = test::readText(now.text());
    const Diagnosis found = diagnose({*a->model, {}}, {*c->model, {}}, b->model.get());
    QVERIFY(!found.isAligned);
    QCOMPARE(std::string(nameOf(found.causes[0].kind)), std::string("origin-moved"));
    QVERIFY(std::abs(std::get<double>(found.causes[0].measure.at("metres")) - std::sqrt(401.0)) < 1e-6);
    // The same revision again did not move.
    const Diagnosis same = diagnose({*a->model, {}}, {*b->model, {}}, b->model.get());
    QVERIFY(std::none_of(same.causes.begin(), same.causes.end(),
                         [](const Cause& cause) { return cause.kind == CauseKind::OriginMoved; }));
}

void TestDiagnosis::withoutAGrid_data()
{
    QTest::addColumn<double>("scale");
    QTest::addColumn<double>("away");
    QTest::addColumn<bool>("isOnTheMap");
    QTest::addColumn<QString>("kind"); // empty: aligned
    QTest::newRow("in place") << 1.0 << 0.0 << false << "";
    QTest::newRow("elsewhere") << 1.0 << 500.0 << false << "own-origin";
    QTest::newRow("in map coordinates") << 1.0 << 0.0 << true << "conversion-missing";
    QTest::newRow("in millimetres") << 1000.0 << 0.0 << false << "unit-factor";
}

void TestDiagnosis::withoutAGrid()
{
    QFETCH(double, scale);
    QFETCH(double, away);
    QFETCH(bool, isOnTheMap);
    QFETCH(QString, kind);
    MadeSite reference, moving;
    // Two boxes far from each other, so that there is something to lie on.
    reference.storeys = moving.storeys = {{"Level 0", 0}};
    moving.letters.clear();
    const Box3 here = [] {
        Box3 box;
        box.add(Point3{10, 10, 0});
        box.add(Point3{60, 40, 9});
        return box;
    }();
    if (isOnTheMap)
        reference.conversion = kHere;
    const auto a = test::readText(reference.text()), b = test::readText(moving.text());
    Box3 there;
    for (const Point3 p : {here.min, here.max, Point3{10, 40, 0}, Point3{60, 10, 0}}) {
        const Point3 q = isOnTheMap ? toMap(kHere)(p) : scale * p + Vector3{away, 0, 0};
        there.add(Point3{q.x, q.y, p.z});
    }
    const Diagnosis found = diagnose({*a->model, here}, {*b->model, there});
    QCOMPARE(found.isAligned, kind.isEmpty());
    if (!kind.isEmpty())
        QCOMPARE(QString(nameOf(found.causes[0].kind)), kind);
}

void TestDiagnosis::twoCausesOfTheSame()
{
    // A shift of one for the other: what is simpler to do by mistake goes first, the other is told under a half.
    MadeSite reference, moving;
    reference.place = turnedAndShifted(0, {kHere.eastings, kHere.northings, 0});
    moving.place = turnedAndShifted(0, {kHere.northings, kHere.eastings, 0});
    const Diagnosis found = diagnosed(reference, moving);
    QCOMPARE(std::string(nameOf(found.causes[0].kind)), std::string("axes-swapped"));
    const auto other = std::find_if(found.causes.begin(), found.causes.end(),
                                    [](const Cause& c) { return c.kind == CauseKind::OwnOrigin; });
    QVERIFY(other != found.causes.end() && other->confidence < 0.5);
}

void TestDiagnosis::whatIsDeclaredStandsSideBySide()
{
    MadeSite reference, moving;
    reference.conversion = kHere;
    reference.latitudeLongitude = std::pair{48.85, 8.25};
    reference.trueNorthDegrees = 3;
    moving.trueNorthDegrees = -14.3;
    setUnit(moving, 0.001);
    moving.place = turnedAndShifted(0, {500, 0, 2.5});
    const auto a = test::readText(reference.text()), b = test::readText(moving.text());
    std::map<std::string, Declared> rows;
    for (const Declared& row : compareDeclared({*a->model, a->geometry->bounds()}, {*b->model, b->geometry->bounds()}))
        rows[row.what] = row;
    QCOMPARE(rows.size(), std::size_t{16});
    QCOMPARE(rows["Projected system"].reference, std::string("EPSG:25832 ETRS89 / UTM zone 32N"));
    QCOMPARE(rows["Map easting"].reference, std::string("431208.400 m"));
    QCOMPARE(rows["Map easting"].moving, std::string("none"));
    QCOMPARE(rows["True north from +Y"].moving, std::string("-14.300000°"));
    QCOMPARE(rows["Lowest storey"].difference, std::string("Its lowest storey stands 2.50 m higher."));
    QVERIFY(rows["Middle of the geometry"].difference.starts_with("Its middle lies 500"));
    for (const char* what : {"Length unit", "Site latitude", "Map northing", "True north from +Y"})
        QVERIFY2(!rows[what].difference.empty(), what);
    for (const char* what : {"Grid", "Extent", "Site placement", "Building placement", "Site elevation"})
        QVERIFY2(rows[what].difference.empty(), (std::string(what) + rows[what].difference).c_str());
    // A file with itself says the same everywhere.
    for (const Declared& row : compareDeclared({*a->model, {}}, {*a->model, {}}))
        QVERIFY2(row.difference.empty() && row.reference == row.moving, row.what.c_str());
}

void TestDiagnosis::theSheetTellsTheTeam()
{
    MadeSite reference, moving;
    reference.conversion = kHere;
    reference.letters[1].first = "<b>&B"; // whoever names an axis so writes no markup of ours
    moving.letters[1].first = "<b>&B";
    moving.letters[2].second += 0.035;
    moving.place = turnedAndShifted(-17.3, {12, 5, 3.6});
    const auto a = test::readText(reference.text()), b = test::readText(moving.text());
    const Facts onto{*a->model, a->geometry->bounds()}, member{*b->model, b->geometry->bounds()};
    const Diagnosis found = diagnose(onto, member);
    QVERIFY(found.fit.has_value());
    Sheet sheet{"Seed <store>",
                "Architecture P01",
                "Structure \"P02\"",
                "Ines Varga",
                "2026-11-18T09:00:00Z",
                a->model.get(),
                b->model.get(),
                found.causes,
                found.fit->fit,
                "by grids",
                leftAt(*a->model, *b->model, found.fit->fit),
                compareDeclared(onto, member)};
    const std::string html = toHtml(sheet), plan = planSvg(sheet);
    for (const char* words :
         {"Seed &lt;store&gt;", "Structure &quot;P02&quot;", "431208.400 m", "12.500000°", "17.300000°",
          "Axis C stands 35", "EPSG:25832 ETRS89 / UTM zone 32N", "35.0 mm", "&lt;b&gt;&amp;"})
        QVERIFY2(html.find(words) != std::string::npos, words);
    for (const char* words : {"<b>&B", "Seed <store>"})
        QVERIFY2(html.find(words) == std::string::npos, words);
    // The three worst are written out, of five that stand 35 mm off.
    std::size_t named = 0;
    for (std::size_t at = 0; (at = plan.find("35.0 mm", at)) != std::string::npos; ++at)
        ++named;
    QCOMPARE(named, std::size_t{3});
    QVERIFY(html.find(plan) != std::string::npos &&
            toHtml(sheet, "plan.png").find("<img src=\"plan.png\">") != std::string::npos);
    // Without a grid there is no plan, and without a fault nothing to mend.
    MadeSite bare;
    bare.letters.clear();
    const auto c = test::readText(bare.text());
    sheet.referenceModel = sheet.memberModel = c->model.get();
    sheet.causes.clear();
    QVERIFY(planSvg(sheet).empty());
    QVERIFY(toHtml(sheet).find("nothing is to be mended") != std::string::npos);
}

QTEST_APPLESS_MAIN(TestDiagnosis)
#include "test_diagnosis.moc"
