#include <QTest>

#include "core/clash/conflict.h"
#include "support/ifc_text.h"
#include "support/made_model.h"

using namespace wendrix;
using clash::Conflict;
using test::MadeModel;

/// What is shown of a clash beside its two elements: the space both take, the nearest places, and the hole that is
/// missing or in the wrong place.
class TestConflict : public QObject {
    Q_OBJECT
private slots:
    void whatBothTakeIsABody_data();
    void whatBothTakeIsABody();
    void holesAreFoundAndMeasured_data();
    void holesAreFoundAndMeasured();
    void anOpeningOfTheWallCountsUnlessItIsFilled_data();
    void anOpeningOfTheWallCountsUnlessItIsFilled();
    void aGapIsShownWhereItIsLeast();
    void wordsSayWhereAHoleIs_data();
    void wordsSayWhereAHoleIs();
};

namespace {

using Boxes = std::vector<MadeModel::Box>;

/// What keeps room for a hole.
MadeModel::Box provision(const std::string& name, Point3 low, Point3 high)
{
    return {name, low, high, "IFCBUILDINGELEMENTPROXY", {}, {}, "PROVISIONFORVOID"};
}

federation::Member memberOf(const Boxes& boxes, double turnedDegrees, Vector3 shift, const std::string& lines = {})
{
    MadeModel made;
    made.boxes = boxes;
    made.turnedDegrees = turnedDegrees;
    made.shift = shift;
    std::string text = made.text();
    text.insert(text.rfind("ENDSEC;"), lines);
    static std::vector<std::unique_ptr<test::Read>> kept; // members share what was read
    kept.push_back(test::readText(text));
    federation::Member member;
    member.model = kept.back()->model;
    member.geometry = kept.back()->geometry;
    return member;
}

clash::Part named(const std::vector<federation::Member>& members, const std::string& name)
{
    for (std::uint32_t m = 0; m < members.size(); ++m)
        for (ifc::ElementIndex e = 0; e < members[m].model->elements().size(); ++e)
            if (members[m].model->displayName(members[m].model->elements()[e]) == name)
                return {m, e};
    qFatal("no such element");
}

Point3 middleOf(const std::vector<federation::Member>& members, clash::Part p)
{
    return members[p.member].geometry->elements()[p.element].bounds.centre();
}

Conflict conflictOf(const Boxes& own, const Boxes& others, double turnedDegrees = 0, Vector3 shift = {},
                    clash::Question question = {})
{
    const std::vector<federation::Member> members{memberOf(own, turnedDegrees, shift),
                                                  memberOf(others, turnedDegrees, shift)};
    const clash::Part left{0, 0}, right{1, 0};
    return clash::conflictOf(members, left, right, question, middleOf(members, right));
}

const MadeModel::Box kWall{"Wall", {0, 0, 0}, {10, 0.2, 3}, "IFCWALL"};
const MadeModel::Box kDuct{"Duct", {4.8, -1, 1.8}, {5.2, 1, 2.2}, "IFCDUCTSEGMENT"};

} // namespace

void TestConflict::whatBothTakeIsABody_data()
{
    QTest::addColumn<double>("turned");
    QTest::addColumn<double>("away"); // metres
    QTest::newRow("as it stands") << 0.0 << 0.0;
    QTest::newRow("turned") << 31.0 << 0.0;
    QTest::newRow("on the map") << 17.3 << 4.5e6;
}

void TestConflict::whatBothTakeIsABody()
{
    QFETCH(double, turned);
    QFETCH(double, away);
    const Conflict c = conflictOf({kWall}, {kDuct}, turned, {away, -away, 100});
    QVERIFY(c.isTold);
    QVERIFY(isClosed(c.shared));
    const double precise = away > 0 ? 1e-7 : 1e-9;
    QVERIFY(std::abs(geometry::volumeOf(c.shared) - 0.4 * 0.4 * 0.2) < precise);
    QVERIFY(length(geometry::boundsOf(c.shared).centre()) < 0.11); // about the place it was asked of
}

void TestConflict::holesAreFoundAndMeasured_data()
{
    QTest::addColumn<QVariantList>("hole"); // low and high of its box; empty: none
    QTest::addColumn<bool>("isFound");
    QTest::addColumn<double>("across"); // in millimetres, without sign
    QTest::addColumn<double>("along");
    QTest::addColumn<double>("tooNarrow");
    QTest::addColumn<double>("tooLow");
    const auto row = [](const char* name, const QVariantList& hole, bool isFound, double across = 0, double along = 0,
                        double tooNarrow = 0, double tooLow = 0) {
        QTest::newRow(name) << hole << isFound << across << along << tooNarrow << tooLow;
    };
    row("none is provided", {}, false);
    row("beside and too low", {4.45, -0.1, 1.65, 4.95, 0.3, 2.15}, true, 300, 100);
    row("above", {4.7, -0.1, 2.4, 5.3, 0.3, 3.0}, true, 0, 700);
    row("in the right place, too narrow", {4.85, -0.1, 1.7, 5.15, 0.3, 2.3}, true, 0, 0, 100);
    row("too narrow and too low, and beside", {5.0, -0.1, 1.9, 5.3, 0.3, 2.1}, true, 150, 0, 100, 200);
    row("a metre and a half away", {6.7, -0.1, 1.7, 7.3, 0.3, 2.3}, false);
    row("in another wall", {4.45, 4.0, 1.65, 4.95, 4.4, 2.15}, false);
}

void TestConflict::holesAreFoundAndMeasured()
{
    QFETCH(QVariantList, hole);
    QFETCH(bool, isFound);
    QFETCH(double, across);
    QFETCH(double, along);
    QFETCH(double, tooNarrow);
    QFETCH(double, tooLow);
    Boxes others{kDuct};
    const auto at = [&](int i) { return hole[i].toDouble(); };
    if (!hole.isEmpty())
        others.push_back(provision("PH-3", {at(0), at(1), at(2)}, {at(3), at(4), at(5)}));
    for (const auto& [turned, away] : {std::pair{0.0, 0.0}, {31.0, 0.0}, {-78.0, 4.5e6}}) {
        const Conflict c = conflictOf({kWall}, others, turned, {away, away, 0});
        QVERIFY(c.passage.has_value());
        const auto near = [&](double metres, double millimetres) {
            return std::abs(1000 * std::abs(metres) - millimetres) < (away > 0 ? 1e-3 : 1e-6);
        };
        QVERIFY(near(2 * c.passage->needed.half[0], 400) && near(2 * c.passage->needed.half[1], 400) &&
                near(2 * c.passage->needed.half[2], 200));
        QCOMPARE(c.passage->hole.has_value(), isFound);
        if (!isFound)
            continue;
        QCOMPARE(c.passage->hole->name, std::string("PH-3"));
        QVERIFY(near(c.passage->hole->across, across));
        QVERIFY(near(c.passage->hole->along, along));
        QVERIFY(near(c.passage->hole->tooNarrow, tooNarrow));
        QVERIFY(near(c.passage->hole->tooLow, tooLow));
        // Moved by what is told, the hole's middle is where the middle of what passes is.
        const Vector3 off = c.passage->hole->box.centre + c.passage->hole->shift() - c.passage->needed.centre;
        QVERIFY(std::abs(dot(off, c.passage->needed.axes[0])) < 1e-6 &&
                std::abs(dot(off, c.passage->needed.axes[1])) < 1e-6);
    }
}

void TestConflict::anOpeningOfTheWallCountsUnlessItIsFilled_data()
{
    QTest::addColumn<bool>("isFilled");
    QTest::newRow("cut out, free") << false;
    QTest::newRow("a door stands in it") << true;
}

void TestConflict::anOpeningOfTheWallCountsUnlessItIsFilled()
{
    QFETCH(bool, isFilled);
    Boxes walls{kWall, {"Opening 7", {5.5, -0.1, 1.7}, {6.1, 0.3, 2.3}, "IFCOPENINGELEMENT"}};
    if (isFilled)
        walls.push_back({"Door", {5.5, 0, 1.7}, {6.1, 0.2, 2.3}, "IFCDOOR"});
    MadeModel plain;
    plain.boxes = walls;
    const std::string text = plain.text();
    const auto number = [&](const std::string& name) {
        const std::size_t at = text.find("'" + MadeModel::guidOf(name) + "'"), hash = text.rfind('#', at);
        return text.substr(hash, text.find('=', hash) - hash);
    };
    std::string lines = "#9001=IFCRELVOIDSELEMENT('v',$,$,$," + number("Wall") + "," + number("Opening 7") + ");\n";
    if (isFilled)
        lines += "#9002=IFCRELFILLSELEMENT('f',$,$,$," + number("Opening 7") + "," + number("Door") + ");\n";
    const std::vector<federation::Member> members{memberOf(walls, 0, {}, lines), memberOf({kDuct}, 0, {})};
    const clash::Part wall = named(members, "Wall"), duct = named(members, "Duct");
    const Conflict c = clash::conflictOf(members, duct, wall, {}, middleOf(members, duct));
    QVERIFY(c.passage.has_value());
    QCOMPARE(c.passage->hole.has_value(), !isFilled);
    if (isFilled)
        return;
    QCOMPARE(c.passage->hole->name, std::string("Opening 7"));
    QVERIFY(!c.passage->hole->element);
    QVERIFY(std::abs(std::abs(c.passage->hole->across) - 0.8) < 1e-9);
}

void TestConflict::aGapIsShownWhereItIsLeast()
{
    const Conflict c =
        conflictOf({{"Ceiling", {0, 0, 2.5}, {4, 4, 2.52}, "IFCCOVERING"}},
                   {{"Duct", {1, 1, 2.78}, {3, 2, 3.2}, "IFCDUCTSEGMENT"}}, 0, {},
                   {.kind = clash::Kind::Clearance, .clearance = 0.4, .direction = clash::Direction::Up});
    QVERIFY(c.shared.isEmpty() && !c.passage);
    QVERIFY(c.gap.has_value());
    QVERIFY(std::abs((*c.gap)[0].z - 2.52) < 1e-9 && std::abs((*c.gap)[1].z - 2.78) < 1e-9);
    QVERIFY(std::abs(length((*c.gap)[1] - (*c.gap)[0]) - 0.26) < 1e-9);
}

void TestConflict::wordsSayWhereAHoleIs_data()
{
    QTest::addColumn<QByteArray>("made"); // which elements there are
    QTest::addColumn<QString>("words");   // empty: it passes through nothing
    QTest::newRow("no hole") << QByteArray("wall") << "no hole is provided near by; 400 x 400 mm pass through";
    QTest::newRow("misplaced") << QByteArray("wall hole")
                               << "provided hole PH-3 is 300 mm beside and 100 mm below what passes";
    QTest::newRow("too narrow there") << QByteArray("wall narrow") << "provided hole PH-3 is 100 mm too narrow";
    QTest::newRow("a slab has no below") << QByteArray("slab hole")
                                         << "provided hole PH-3 is 500 mm beside what passes";
    QTest::newRow("for another duct") << QByteArray("wall hole other")
                                      << "no hole is provided near by; 400 x 400 mm pass through";
    QTest::newRow("through a beam") << QByteArray("beam") << "no hole is provided near by; 400 x 400 mm pass through";
    QTest::newRow("along a beam") << QByteArray("alongBeam") << "";
    QTest::newRow("along in the wall") << QByteArray("alongWall") << "";
    QTest::newRow("through its lower edge") << QByteArray("edge") << "";
    QTest::newRow("two that run") << QByteArray("pipe") << "";
    QTest::newRow("two that stand") << QByteArray("column") << "";
}

void TestConflict::wordsSayWhereAHoleIs()
{
    QFETCH(QByteArray, made);
    QFETCH(QString, words);
    const auto has = [&](const char* word) { return made.split(' ').contains(word); };
    MadeModel::Box host = kWall, run = kDuct;
    if (has("slab")) {
        host = {"Slab", {0, 0, 3}, {10, 8, 3.25}, "IFCSLAB"};
        run = {"Riser", {4.8, 4.8, 2}, {5.2, 5.2, 5}, "IFCPIPESEGMENT"};
    } else if (has("beam")) {
        host = {"Beam", {0, 0, 1.5}, {10, 0.3, 2.5}, "IFCBEAM"};
    } else if (has("edge")) {
        host = {"Beam", {0, 0, 2.1}, {10, 0.3, 2.5}, "IFCBEAM"};
    } else if (has("alongBeam")) {
        host = {"Beam", {4.9, -4, 1.5}, {5.1, 4, 2.5}, "IFCBEAM"};
    } else if (has("alongWall")) {
        run = {"Conduit", {2, 0.05, 1}, {6, 0.15, 1.1}, "IFCCABLECARRIERSEGMENT"};
    } else if (has("pipe")) {
        host.ifcClass = "IFCPIPESEGMENT";
    } else if (has("column")) {
        run.ifcClass = "IFCCOLUMN";
    }
    Boxes others{run};
    if (has("hole") && has("slab"))
        others.push_back(provision("PH-3", {5.05, 5.15, 2.9}, {5.55, 5.65, 3.4}));
    else if (has("hole"))
        others.push_back(provision("PH-3", {4.45, -0.1, 1.65}, {4.95, 0.3, 2.15}));
    if (has("narrow"))
        others.push_back(provision("PH-3", {4.85, -0.1, 1.7}, {5.15, 0.3, 2.3}));
    if (has("other"))
        others.push_back({"Other", {4.5, -1, 1.7}, {4.7, 1, 2.1}, "IFCDUCTSEGMENT"});
    const Conflict c = conflictOf({host}, others);
    QCOMPARE(c.passage ? QString::fromStdString(clash::inWords(*c.passage)) : QString(), words);
}

QTEST_GUILESS_MAIN(TestConflict)
#include "test_conflict.moc"
