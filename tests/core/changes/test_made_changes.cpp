#include <QTest>

#include "core/changes/comparison.h"
#include "core/changes/volume_change.h"
#include "support/ifc_text.h"
#include "support/made_model.h"

#include <algorithm>
#include <cmath>
#include <random>
#include <set>

using namespace wendrix;
using test::MadeModel;

/// Two revisions of a made-up building that differ in one known way, and many at random.
class TestMadeChanges : public QObject {
    Q_OBJECT
private slots:
    void oneChange_data();
    void oneChange();
    void isTheSameBothWays();
    void anotherExportIsNoChange_data();
    void anotherExportIsNoChange();
    void manyAtRandom_data();
    void manyAtRandom();
    void allIdsAreRenewed_data();
    void allIdsAreRenewed();
    void whatHasNoInsideIsComparedBySurfaces_data();
    void whatHasNoInsideIsComparedBySurfaces();
    void wholeMembersAreComparedAsBodies_data();
    void wholeMembersAreComparedAsBodies();
    void cancelledItSaysSo();

private:
    static MadeModel building();
    static const federation::Member& memberOf(const MadeModel& made);
    static changes::VolumeChange volumesOf(const changes::Change& change, const MadeModel& before,
                                           const MadeModel& after);
    static changes::Comparison compared(const MadeModel& before, const MadeModel& after, double tolerance = 0.001);
};

MadeModel TestMadeChanges::building()
{
    MadeModel m;
    m.boxes = {{"Wall", {0, 0, 0}, {6, 0.3, 3}, "IFCWALL", {}, {{"Fire rating", "EI 30"}}},
               {"Slab", {0, 0, 3}, {6, 6, 3.2}, "IFCSLAB"},
               {"Duct", {1, 2, 2.5}, {5, 2.4, 2.8}, "IFCDUCTSEGMENT"}};
    return m;
}

const federation::Member& TestMadeChanges::memberOf(const MadeModel& made)
{
    static std::vector<std::unique_ptr<test::Read>> kept; // members share what was read
    static std::vector<std::unique_ptr<federation::Member>> members;
    kept.push_back(test::readText(made.text()));
    members.push_back(std::make_unique<federation::Member>());
    members.back()->discipline = made.name;
    members.back()->model = kept.back()->model;
    members.back()->geometry = kept.back()->geometry;
    return *members.back();
}

changes::VolumeChange TestMadeChanges::volumesOf(const changes::Change& c, const MadeModel& before,
                                                 const MadeModel& after)
{
    return changes::volumeChange(memberOf(before).geometry->meshOf(c.before), memberOf(after).geometry->meshOf(c.after),
                                 0.001);
}

changes::Comparison TestMadeChanges::compared(const MadeModel& before, const MadeModel& after, double tolerance)
{
    Progress progress;
    return changes::compare(memberOf(before), memberOf(after), {.distance = tolerance}, progress).value();
}

void TestMadeChanges::oneChange_data()
{
    // What is done to the wall, and what is to be said of it.
    QTest::addColumn<QVector<double>>("lowBy"); // its corners moved by so much
    QTest::addColumn<QVector<double>>("highBy");
    QTest::addColumn<bool>("isMoved");
    QTest::addColumn<bool>("isReshaped");
    QTest::addColumn<double>("added"); // m³
    QTest::addColumn<double>("removed");
    const auto row = [](const char* name, QVector<double> low, QVector<double> high, bool isMoved, bool isReshaped,
                        double added = 0, double removed = 0) {
        QTest::newRow(name) << low << high << isMoved << isReshaped << added << removed;
    };
    row("nothing", {0, 0, 0}, {0, 0, 0}, false, false);
    row("0.4 mm aside, below the tolerance", {0.0004, 0, 0}, {0.0004, 0, 0}, false, false);
    row("5 mm aside", {0.005, 0, 0}, {0.005, 0, 0}, true, false);
    row("2 m up", {0, 0, 2}, {0, 0, 2}, true, false);
    row("far away", {300, 200, 0}, {300, 200, 0}, true, false);
    row("100 mm thicker to both sides", {0, -0.05, 0}, {0, 0.05, 0}, false, true, 6 * 0.1 * 3, 0);
    row("half as high", {0, 0, 0}, {0, 0, -1.5}, false, true, 0, 6 * 0.3 * 1.5);
    row("higher", {0, 0, 0}, {0, 0, 0.5}, false, true, 6 * 0.3 * 0.5, 0);
    row("longer by 1 m, and 40 m away", {40, 0, 0}, {41, 0, 0}, true, true, 7 * 0.3 * 3, 6 * 0.3 * 3);
    row("longer by 2 m and half aside", {2, 0, 0}, {4, 0, 0}, true, true, 4 * 0.3 * 3, 2 * 0.3 * 3);
}

void TestMadeChanges::oneChange()
{
    QFETCH(QVector<double>, lowBy);
    QFETCH(QVector<double>, highBy);
    QFETCH(bool, isMoved);
    QFETCH(bool, isReshaped);
    QFETCH(double, added);
    QFETCH(double, removed);
    const MadeModel before = building();
    MadeModel after = before;
    after.boxes[0].low = after.boxes[0].low + Vector3{lowBy[0], lowBy[1], lowBy[2]};
    after.boxes[0].high = after.boxes[0].high + Vector3{highBy[0], highBy[1], highBy[2]};
    const changes::Comparison c = compared(before, after);
    QVERIFY(c.added.empty() && c.removed.empty() && c.rekeyed.empty());
    QCOMPARE(c.changed.size(), std::size_t{isMoved || isReshaped ? 1u : 0u});
    QCOMPARE(c.unchanged, before.boxes.size() - c.changed.size());
    if (c.changed.empty())
        return;
    const changes::Change& change = c.changed[0];
    QCOMPARE(change.isMoved, isMoved);
    QCOMPARE(change.isReshaped, isReshaped);
    QVERIFY(!change.isRedescribed);
    if (isMoved && !isReshaped)
        QVERIFY(length(change.motion.shift - Vector3{lowBy[0], lowBy[1], lowBy[2]}) < 1e-8);
    if (isReshaped) {
        const changes::VolumeChange v = volumesOf(change, before, after);
        QVERIFY2(std::abs(v.addedVolume - added) < 1e-9, std::to_string(v.addedVolume).c_str());
        QVERIFY2(std::abs(v.removedVolume - removed) < 1e-9, std::to_string(v.removedVolume).c_str());
    }
}

void TestMadeChanges::isTheSameBothWays()
{
    const MadeModel before = building();
    MadeModel after = before;
    after.boxes[0].high.z += 0.5;
    after.boxes.pop_back();
    after.boxes.push_back({"Pipe", {1, 4, 2}, {5, 4.1, 2.1}, "IFCPIPESEGMENT"});
    const changes::Comparison there = compared(before, after), back = compared(after, before);
    QCOMPARE(there.added.size(), back.removed.size());
    QCOMPARE(there.removed.size(), back.added.size());
    QCOMPARE(there.unchanged, back.unchanged);
    QCOMPARE(there.changed.size(), std::size_t{1});
    const changes::VolumeChange more = volumesOf(there.changed[0], before, after),
                                less = volumesOf(back.changed[0], after, before);
    QVERIFY(std::abs(more.addedVolume - less.removedVolume) < 1e-9);
    QVERIFY(std::abs(more.removedVolume - less.addedVolume) < 1e-9);
}

void TestMadeChanges::anotherExportIsNoChange_data()
{
    QTest::addColumn<QString>("what");
    for (const char* what : {"in another order", "in millimetres", "with other grids", "with other storeys around"})
        QTest::newRow(what) << what;
}

void TestMadeChanges::anotherExportIsNoChange()
{
    QFETCH(QString, what);
    const MadeModel before = building();
    MadeModel after = before;
    if (what == "in another order")
        std::reverse(after.boxes.begin(), after.boxes.end());
    if (what == "in millimetres") {
        after.metresPerUnit = 0.001;
        after.unit = "IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.)";
    }
    if (what == "with other grids")
        after.gridSpacing = 7;
    if (what == "with other storeys around")
        after.storeys = {{"Level 1", 0}, {"Roof", 40}};
    const changes::Comparison c = compared(before, after);
    QVERIFY(c.added.empty() && c.removed.empty() && c.rekeyed.empty() && c.changed.empty());
    QCOMPARE(c.unchanged, before.boxes.size());
}

void TestMadeChanges::manyAtRandom_data()
{
    QTest::addColumn<unsigned>("seed");
    for (unsigned seed = 1; seed <= 8; ++seed)
        QTest::addRow("seed %u", seed) << seed;
}

void TestMadeChanges::manyAtRandom()
{
    QFETCH(unsigned, seed);
    std::mt19937 random(seed);
    const auto one = [&](int from, int to) { return std::uniform_int_distribution(from, to)(random); };
    MadeModel before;
    before.storeys = {{"Level 1", 0}}; // what is raised does not come into another one as well
    for (int i = 0; i < 120; ++i) {
        // No two of one size, so that none can be taken for another.
        const Point3 low{0.1 * one(0, 400), 0.1 * one(0, 400), 0.1 * one(0, 60)};
        before.boxes.push_back({"Box " + std::to_string(i),
                                low,
                                low + Vector3{1 + 0.01 * i, 0.5, 0.4},
                                "IFCBEAM",
                                {},
                                {{"Mark", "M" + std::to_string(i)}}});
    }
    MadeModel after = before;
    std::set<std::string> moved, reshaped, redescribed, rekeyed, removed, added;
    std::vector<MadeModel::Box> kept;
    for (MadeModel::Box& box : after.boxes) {
        const std::string name = box.name;
        switch (one(0, 9)) {
        case 0:
            box.low.z += 0.25;
            box.high.z += 0.25;
            moved.insert(name);
            break;
        case 1: // about its middle, so that it stays where it is
            box.low.y -= 0.1;
            box.high.y += 0.1;
            reshaped.insert(name);
            break;
        case 2:
            box.properties = {{"Mark", "another"}};
            redescribed.insert(name);
            break;
        case 3:
            box.guid = MadeModel::guidOf("renewed " + name);
            rekeyed.insert(name);
            break;
        case 4:
            removed.insert(name);
            continue;
        case 5:
            box.low.x += 2;
            box.high.x += 2;
            box.properties = {{"Mark", "moved too"}};
            moved.insert(name);
            redescribed.insert(name);
            break;
        default:
            break;
        }
        kept.push_back(box);
    }
    for (int i = 0; i < 7; ++i) {
        kept.push_back({"New " + std::to_string(i), {0, 50.0 + i, 0}, {3.0 + 0.01 * i, 50.4 + i, 0.4}, "IFCBEAM"});
        added.insert(kept.back().name);
    }
    after.boxes = kept;
    std::shuffle(after.boxes.begin(), after.boxes.end(), random);
    const federation::Member &old = memberOf(before), &now = memberOf(after);
    Progress progress;
    const changes::Comparison c = changes::compare(old, now, {}, progress).value();
    const auto name = [](const federation::Member& m, ifc::ElementIndex i) {
        return m.model->displayName(m.model->elements()[i]);
    };
    std::set<std::string> isMoved, isReshaped, isRedescribed, isRekeyed, isRemoved, isAdded;
    for (const changes::Change& change : c.changed) {
        if (change.isMoved)
            isMoved.insert(name(now, change.after));
        if (change.isReshaped)
            isReshaped.insert(name(now, change.after));
        if (change.isRedescribed)
            isRedescribed.insert(name(now, change.after));
    }
    for (const changes::Rekeyed& r : c.rekeyed) {
        QCOMPARE(name(old, r.before), name(now, r.after));
        isRekeyed.insert(name(now, r.after));
    }
    for (const auto i : c.removed)
        isRemoved.insert(name(old, i));
    for (const auto i : c.added)
        isAdded.insert(name(now, i));
    QVERIFY(isMoved == moved);
    QVERIFY(isReshaped == reshaped);
    QVERIFY(isRedescribed == redescribed);
    QVERIFY(isRekeyed == rekeyed);
    QVERIFY(isRemoved == removed);
    QVERIFY(isAdded == added);
    QCOMPARE(c.unchanged + c.changed.size() + c.added.size() + c.rekeyed.size(), now.model->elements().size());
}

void TestMadeChanges::allIdsAreRenewed_data()
{
    QTest::addColumn<double>("off"); // metres that the export shifted everything by: rounding, or less than a tolerance
    QTest::addColumn<double>("turned");
    QTest::newRow("written the same") << 0.0 << 0.0;
    QTest::newRow("rounded otherwise") << 1e-7 << 0.0;
    QTest::newRow("half a tolerance off, across cells") << 0.0005 << 0.0;
    QTest::newRow("turned on the site") << 0.0 << 31.0;
}

void TestMadeChanges::allIdsAreRenewed()
{
    QFETCH(double, off);
    QFETCH(double, turned);
    // A floor of posts, a quarter of a metre apart as the cells they are looked for in; some go, some come, and two are
    // there twice at one place.
    MadeModel before, after;
    before.turnedDegrees = after.turnedDegrees = turned;
    for (int i = 0; i < 20; ++i)
        for (int j = 0; j < 20; ++j) {
            const Point3 low{0.25 * i, 0.25 * j, 0}, high = low + Vector3{0.1, 0.1, 2.5 + 0.01 * (i % 3)};
            before.boxes.push_back({"Post " + std::to_string(20 * i + j), low, high, "IFCCOLUMN"});
        }
    before.boxes.push_back(before.boxes[7]);
    before.boxes.back().name = "Post 7 again";
    for (const MadeModel::Box& box : before.boxes)
        if (box.name != "Post 11" && box.name != "Post 222") {
            after.boxes.push_back(box);
            after.boxes.back().guid = MadeModel::guidOf(box.name + " renewed");
            after.boxes.back().low.x += off;
            after.boxes.back().high.x += off;
        }
    after.boxes.push_back({"New", {50, 50, 0}, {51, 51, 1}, "IFCCOLUMN"});
    after.boxes.push_back({"A wall as large as a post", {0.25 * 3, 0, 0}, {0.25 * 3 + 0.1, 0.1, 2.5}, "IFCWALL"});
    const changes::Comparison c = compared(before, after);
    QCOMPARE(c.rekeyed.size(), before.boxes.size() - 2);
    QCOMPARE(c.removed.size(), std::size_t{2});
    QCOMPARE(c.added.size(), std::size_t{2});
    QVERIFY(c.changed.empty());
    std::set<ifc::ElementIndex> taken;
    for (const changes::Rekeyed& r : c.rekeyed)
        QVERIFY(taken.insert(r.before).second); // each once
}

void TestMadeChanges::whatHasNoInsideIsComparedBySurfaces_data()
{
    QTest::addColumn<bool>("isOpenBefore");
    QTest::addColumn<bool>("isOpenAfter");
    QTest::addColumn<double>("higher");
    QTest::newRow("open before") << true << false << 0.5;
    QTest::newRow("open after") << false << true << 0.5;
    QTest::newRow("both open") << true << true << 0.2;
    QTest::newRow("neither") << false << false << 0.5;
}

void TestMadeChanges::whatHasNoInsideIsComparedBySurfaces()
{
    QFETCH(bool, isOpenBefore);
    QFETCH(bool, isOpenAfter);
    QFETCH(double, higher);
    const auto box = [](double height, bool isOpen) {
        Box3 b;
        b.add(Point3{0, 0, 0});
        b.add(Point3{4, 2, height});
        geometry::Mesh mesh = geometry::boxMesh(b);
        if (isOpen) { // a hole in the bottom, where nothing changed
            const auto isBottom = [&](const geometry::Triangle& t) {
                return mesh.points[t[0]].z + mesh.points[t[1]].z + mesh.points[t[2]].z < 1e-9;
            };
            mesh.triangles.erase(std::find_if(mesh.triangles.begin(), mesh.triangles.end(), isBottom));
        }
        return mesh;
    };
    const changes::VolumeChange v = changes::volumeChange(box(3, isOpenBefore), box(3 + higher, isOpenAfter), 0.001);
    QCOMPARE(v.isExact, !isOpenBefore && !isOpenAfter);
    if (v.isExact) {
        QVERIFY(std::abs(v.addedVolume - 8 * higher) < 1e-9 && v.removedVolume == 0);
        return;
    }
    QVERIFY(std::abs(v.farthest - higher) < 1e-9);
    QVERIFY(v.addedVolume == 0 && v.removedVolume == 0 && !v.added.isEmpty() && !v.removed.isEmpty());
    // The top of each is apart, the bottoms are not.
    QVERIFY(v.added.triangles.size() < 12 && geometry::boundsOf(v.added).max.z == 3 + higher);
}

void TestMadeChanges::wholeMembersAreComparedAsBodies_data()
{
    QTest::addColumn<QVector<double>>("cuts");       // where the wall of 6 m is cut along x; each part another element
    QTest::addColumn<QVector<double>>("lackOrMore"); // of the parts, by how much the last one is longer
    QTest::addColumn<double>("turned");
    QTest::addColumn<double>("added");
    QTest::addColumn<double>("removed");
    const double section = 0.3 * 3;
    QTest::newRow("the same, of one part") << QVector<double>{} << QVector<double>{0} << 0.0 << 0.0 << 0.0;
    QTest::newRow("the same, of four parts") << QVector<double>{1, 2.5, 4} << QVector<double>{0} << 0.0 << 0.0 << 0.0;
    QTest::newRow("half a metre more") << QVector<double>{3} << QVector<double>{0.5} << 0.0 << 0.5 * section << 0.0;
    QTest::newRow("half a metre less") << QVector<double>{3} << QVector<double>{-0.5} << 0.0 << 0.0 << 0.5 * section;
    QTest::newRow("more, turned and fitted")
        << QVector<double>{3} << QVector<double>{0.5} << 31.0 << 0.5 * section << 0.0;
}

void TestMadeChanges::wholeMembersAreComparedAsBodies()
{
    QFETCH(QVector<double>, cuts);
    QFETCH(QVector<double>, lackOrMore);
    QFETCH(double, turned);
    QFETCH(double, added);
    QFETCH(double, removed);
    const MadeModel before = building();
    MadeModel after = before;
    after.boxes.erase(after.boxes.begin());
    after.turnedDegrees = turned;
    cuts.prepend(0);
    cuts.append(6);
    for (int i = 0; i + 1 < cuts.size(); ++i)
        after.boxes.push_back({"Part " + std::to_string(i),
                               {cuts[i], 0, 0},
                               {cuts[i + 1] + (i + 2 == cuts.size() ? lackOrMore[0] : 0), 0.3, 3},
                               "IFCBUILDINGELEMENTPROXY"});
    federation::Member was = memberOf(before), now = memberOf(after);
    now.fit.rotation = fromDegrees(turned);
    Progress progress;
    const changes::MemberVolumes found = changes::volumesBetween(was, now, 0.001, progress).value();
    QVERIFY(found.notSolidAfter.empty() && found.notSolidBefore.empty());
    const auto sum = [](const std::vector<changes::UnmatchedVolume>& parts) {
        double volume = 0;
        for (const changes::UnmatchedVolume& part : parts)
            volume += part.volume;
        return volume;
    };
    QVERIFY2(std::abs(sum(found.added) - added) < 1e-6, std::to_string(sum(found.added)).c_str());
    QVERIFY2(std::abs(sum(found.removed) - removed) < 1e-6, std::to_string(sum(found.removed)).c_str());
}

void TestMadeChanges::cancelledItSaysSo()
{
    Progress progress;
    progress.cancel();
    const auto c = changes::compare(memberOf(building()), memberOf(building()), {}, progress);
    QVERIFY(!c && c.error().code == changes::kCancelled);
}

QTEST_GUILESS_MAIN(TestMadeChanges)
#include "test_made_changes.moc"
