#include <QTest>

#include "core/project/change_context.h"
#include "core/project/change_records.h"
#include "support/change_ledger.h"
#include "support/ifc_text.h"

#include <algorithm>

using namespace wendrix;
using namespace wendrix::project;
using test::MadeModel;

/// What a duct that changes has to do with a wall, the hole provided in it, hangers and pipes beside it.
class TestChangeContext : public QObject {
    Q_OBJECT
private slots:
    void whatIsLeftBehind_data();
    void whatIsLeftBehind();
    void whatStandsNear_data();
    void whatStandsNear();
    void changesNearADiscipline();
    void whatAChangeIsNarrowedBy_data();
    void whatAChangeIsNarrowedBy();

private:
    static constexpr DisciplineId kArchitecture = 1, kVentilation = 2, kPiping = 3;
    [[nodiscard]] static MadeModel ducts();
    [[nodiscard]] static federation::Member member(MadeModel made, const std::string& name, DisciplineId id);
    [[nodiscard]] static std::vector<federation::Member> others();
    [[nodiscard]] static std::vector<ChangeRecord> recordsBetween(const federation::Member& was,
                                                                  const federation::Member& is);
};

MadeModel TestChangeContext::ducts()
{
    MadeModel m;
    m.boxes = {{"Duct", {0, 2, 2.4}, {6, 2.4, 2.7}, "IFCDUCTSEGMENT"},
               {"Hanger 1", {1, 2.1, 2.7}, {1.05, 2.15, 3}, "IFCDISCRETEACCESSORY"},
               {"Hanger 2", {5, 2.1, 2.7}, {5.05, 2.15, 3}, "IFCDISCRETEACCESSORY"}};
    return m;
}

federation::Member TestChangeContext::member(MadeModel made, const std::string& name, DisciplineId id)
{
    made.name = name;
    federation::Member m = test::memberOf(made);
    m.disciplineId = id;
    return m;
}

std::vector<federation::Member> TestChangeContext::others()
{
    MadeModel walls, pipes;
    walls.boxes = {
        {"Wall", {3, 0, 0}, {3.3, 6, 3}, "IFCWALL"},
        {"Hole PH-1", {2.9, 1.95, 2.35}, {3.4, 2.45, 2.75}, "IFCBUILDINGELEMENTPROXY", {}, {}, "PROVISIONFORVOID"},
        {"Hole PH-2", {2.9, 4.95, 2.35}, {3.4, 5.45, 2.75}, "IFCBUILDINGELEMENTPROXY", {}, {}, "PROVISIONFORVOID"},
        {"Room", {0, 0, 0}, {2.9, 6, 3}, "IFCSPACE"}};
    pipes.boxes = {{"Pipe close by", {0, 2.6, 2.4}, {6, 2.7, 2.5}, "IFCPIPESEGMENT"},
                   {"Pipe below", {0, 2.1, 1.9}, {6, 2.2, 2}, "IFCPIPESEGMENT"}};
    return {member(walls, "Architecture", kArchitecture), member(pipes, "Piping", kPiping)};
}

std::vector<ChangeRecord> TestChangeContext::recordsBetween(const federation::Member& was, const federation::Member& is)
{
    Progress progress;
    return recordsOf(changes::compare(was, is, {}, progress).value(), was, is, {1, 2, {}, {}});
}

void TestChangeContext::whatIsLeftBehind_data()
{
    QTest::addColumn<QString>("what");
    QTest::addColumn<QStringList>("left");
    QTest::newRow("moved aside") << "moved" << QStringList{"hole Hole PH-1", "support Hanger 1", "support Hanger 2"};
    QTest::newRow("moved within its hole") << "nudged" << QStringList{};
    QTest::newRow("gone") << "removed" << QStringList{"hole Hole PH-1", "support Hanger 1", "support Hanger 2"};
    QTest::newRow("shortened behind the wall") << "shortened" << QStringList{"hole Hole PH-1", "support Hanger 2"};
    QTest::newRow("lowered by 50 mm: the hole still takes it")
        << "lowered" << QStringList{"support Hanger 1", "support Hanger 2"};
    QTest::newRow("only described anew") << "redescribed" << QStringList{};
}

void TestChangeContext::whatIsLeftBehind()
{
    QFETCH(QString, what);
    QFETCH(QStringList, left);
    MadeModel after = ducts();
    MadeModel::Box& duct = after.boxes[0];
    if (what == "moved") {
        duct.low.y += 1.5;
        duct.high.y += 1.5;
    }
    if (what == "nudged") {
        duct.low.y += 0.02;
        duct.high.y += 0.02;
    }
    if (what == "shortened")
        duct.high.x = 2;
    if (what == "lowered") {
        duct.low.z -= 0.05;
        duct.high.z -= 0.05;
    }
    if (what == "redescribed")
        duct.tag = "D-2";
    if (what == "removed")
        after.boxes.erase(after.boxes.begin());
    const federation::Member was = member(ducts(), "Ventilation", kVentilation),
                             is = member(after, "Ventilation", kVentilation);
    const auto records = recordsBetween(was, is);
    QCOMPARE(records.size(), std::size_t{1});
    auto now = others();
    now.push_back(is);
    const Surroundings around(now, {was});
    QStringList found;
    for (const LeftBehind& l : around.leftBehind(records[0]))
        found.append(QString(l.isHole ? "hole " : "support ") + QString::fromStdString(l.name));
    found.sort();
    QCOMPARE(found, left);
}

void TestChangeContext::whatStandsNear_data()
{
    QTest::addColumn<double>("within");
    QTest::addColumn<QStringList>("near");
    QTest::newRow("touching") << 0.001 << QStringList{"Hole PH-1 0", "Wall 0"};
    QTest::newRow("250 mm") << 0.25 << QStringList{"Hole PH-1 0", "Wall 0", "Pipe close by 200"};
    QTest::newRow("half a metre") << 0.5 << QStringList{"Hole PH-1 0", "Wall 0", "Pipe close by 200", "Pipe below 400"};
}

void TestChangeContext::whatStandsNear()
{
    QFETCH(double, within);
    QFETCH(QStringList, near);
    MadeModel before = ducts();
    before.boxes[0].tag = "before";
    const federation::Member was = member(before, "Ventilation", kVentilation),
                             is = member(ducts(), "Ventilation", kVentilation);
    const auto records = recordsBetween(was, is);
    QCOMPARE(records.size(), std::size_t{1});
    auto now = others();
    now.push_back(is);
    const Surroundings around(now, {was});
    QStringList found; // neither rooms nor its own discipline
    for (const Neighbour& n : around.near(records[0], within))
        found.append(QString("%1 %2").arg(QString::fromStdString(n.name)).arg(std::lround(1000 * n.distance)));
    QCOMPARE(found, near);
}

void TestChangeContext::changesNearADiscipline()
{
    MadeModel before = ducts();
    before.boxes.push_back({"Duct far off", {0, 40, 2}, {6, 40.4, 2.3}, "IFCDUCTSEGMENT"});
    before.boxes.push_back({"Duct gone", {0, 2.75, 2.4}, {6, 2.9, 2.5}, "IFCDUCTSEGMENT"});
    MadeModel after = before;
    after.boxes.pop_back();
    for (MadeModel::Box& b : after.boxes)
        b.tag = "new";
    const federation::Member was = member(before, "Ventilation", kVentilation),
                             is = member(after, "Ventilation", kVentilation);
    const auto records = recordsBetween(was, is);
    ChangeBriefs briefs;
    for (std::size_t i = 0; i < records.size(); ++i) {
        ChangeBrief c;
        c.key = {1, static_cast<std::int64_t>(i)};
        c.place = records[i].place;
        c.element = records[i].element;
        briefs.changes.push_back(c);
    }
    auto now = others();
    now.push_back(is);
    const Surroundings around(now, {was});
    QStringList found;
    for (const ChangeKey& key : changesNear(briefs, around, "Piping", 0.25, [] { return false; }))
        found.append(QString::fromStdString(records[static_cast<std::size_t>(key.number)].name));
    found.sort();
    QCOMPARE(found, (QStringList{"Duct", "Duct gone"})); // where it was, too
}

void TestChangeContext::whatAChangeIsNarrowedBy_data()
{
    QTest::addColumn<int>("element");
    QTest::addColumn<QString>("zone");
    QTest::addColumn<QString>("phase");
    QTest::newRow("in a zone itself, phase said") << 0 << "Cold zone"
                                                  << "New construction";
    QTest::newRow("in a space of a zone, status of the common set") << 1 << "Cold zone"
                                                                    << "EXISTING";
    QTest::newRow("in none") << 2 << ""
                             << "";
}

void TestChangeContext::whatAChangeIsNarrowedBy()
{
    QFETCH(int, element);
    QFETCH(QString, zone);
    QFETCH(QString, phase);
    const auto read = test::readText(test::ifcFile(
        "IFC4", "#10=IFCCARTESIANPOINT((0.,0.));\n#12=IFCRECTANGLEPROFILEDEF(.AREA.,$,$,1.,2.);\n#14=IFCDIRECTION((0.,"
                "0.,1.));\n"
                "#15=IFCEXTRUDEDAREASOLID(#12,$,#14,3.);\n#16=IFCSHAPEREPRESENTATION(#3,'Body','SweptSolid',(#15));\n"
                "#17=IFCPRODUCTDEFINITIONSHAPE($,$,(#16));\n"
                "#20=IFCWALL('0000000000000000000001',$,'A',$,$,#4,#17,$,$);\n"
                "#21=IFCWALL('0000000000000000000002',$,'B',$,$,#4,#17,$,$);\n"
                "#22=IFCWALL('0000000000000000000003',$,'C',$,$,#4,#17,$,$);\n"
                "#30=IFCZONE('0000000000000000000004',$,'Cold zone',$,$,$);\n"
                "#31=IFCSPACE('0000000000000000000005',$,'Vault',$,$,#4,$,$,.ELEMENT.,.INTERNAL.,$);\n"
                "#32=IFCRELASSIGNSTOGROUP('0000000000000000000006',$,$,$,(#20,#31),$,#30);\n"
                "#33=IFCRELCONTAINEDINSPATIALSTRUCTURE('0000000000000000000007',$,$,$,(#21),#31);\n"
                "#40=IFCPROPERTYSINGLEVALUE('Phase',$,IFCLABEL('New construction'),$);\n"
                "#41=IFCPROPERTYSET('0000000000000000000008',$,'Seed store',$,(#40));\n"
                "#42=IFCRELDEFINESBYPROPERTIES('0000000000000000000009',$,$,$,(#20),#41);\n"
                "#43=IFCPROPERTYSINGLEVALUE('Status',$,IFCLABEL('EXISTING'),$);\n"
                "#44=IFCPROPERTYSET('000000000000000000000A',$,'Pset_WallCommon',$,(#43));\n"
                "#45=IFCRELDEFINESBYPROPERTIES('000000000000000000000B',$,$,$,(#21),#44);\n"));
    federation::Member one;
    one.model = read->model;
    one.geometry = read->geometry;
    changes::Comparison found;
    found.added = {static_cast<ifc::ElementIndex>(element)};
    const auto records = recordsOf(found, one, one, {1, 2, {}, {}});
    QCOMPARE(records.size(), std::size_t{1});
    QCOMPARE(records[0].className, std::string("IfcWall"));
    QCOMPARE(QString::fromStdString(records[0].zone), zone);
    QCOMPARE(QString::fromStdString(records[0].phase), phase);
    QVERIFY(!records[0].place.isEmpty());
}

QTEST_GUILESS_MAIN(TestChangeContext)
#include "test_change_context.moc"
