#include <QTest>

#include "core/federation/member.h"

#include <QFileInfo>

#include <map>

using namespace wendrix;

/// A house by a real exporter, from Debian's assimp-testmodels, read where it is installed. The expected values
/// are worked out by hand from the file's own dimensions.
class TestRealHouse : public QObject {
    Q_OBJECT
private slots:
    void initTestCase();
    void everyElementIsBuilt();
    void hasItsStoreysAndUnits();
    void wallsHaveTheirVolumes_data();
    void wallsHaveTheirVolumes();

private:
    federation::Member house_;
};

void TestRealHouse::initTestCase()
{
    const QString file = "/usr/share/assimp/models/IFC/AC14-FZK-Haus.ifc";
    QVERIFY2(QFileInfo::exists(file), "install assimp-testmodels (./dev setup does)");
    Progress progress;
    auto member = federation::openMember(file.toStdString(), progress);
    QVERIFY(member.has_value());
    house_ = *member;
}

void TestRealHouse::everyElementIsBuilt()
{
    std::map<std::string, int> classes, closed;
    const auto& elements = house_.model->elements();
    for (std::size_t i = 0; i < elements.size(); ++i) {
        const std::string name(house_.model->className(elements[i]));
        ++classes[name];
        closed[name] += house_.geometry->elements()[i].isClosed ? 1 : 0;
        QVERIFY2(!house_.geometry->elements()[i].placed.empty(), elements[i].guid.c_str());
    }
    QCOMPARE(classes["IfcWallStandardCase"], 13);
    QCOMPARE(classes["IfcWindow"], 11);
    QCOMPARE(classes["IfcDoor"], 5);
    QCOMPARE(classes["IfcSpace"], 7);
    QCOMPARE(classes["IfcSlab"], 4);
    QCOMPARE(classes["IfcBeam"], 51);
    for (const char* solid : {"IfcWallStandardCase", "IfcWindow", "IfcDoor", "IfcSpace", "IfcSlab", "IfcBeam"})
        QCOMPARE(closed[solid], classes[solid]);
}

void TestRealHouse::hasItsStoreysAndUnits()
{
    QCOMPARE(house_.model->units().lengthToMetres, 1.0);
    QCOMPARE(house_.model->storeys().size(), std::size_t{2});
    QCOMPARE(house_.model->storeys()[0].elevation.value, 0.0);
    QCOMPARE(house_.model->storeys()[1].elevation.value, 2.7);
}

void TestRealHouse::wallsHaveTheirVolumes_data()
{
    QTest::addColumn<QString>("guid");
    QTest::addColumn<double>("volume");
    // 10 m outside, mitred to 9.4 m inside, 0.3 thick, 2.7 high; a door 1.01 x 2.01, two windows 2.0 x 1.2.
    QTest::newRow("outer wall with door and windows")
        << "3rPX_Juz59peXXY6wDJl18" << (10 + 9.4) / 2 * 0.3 * 2.7 - 1.01 * 2.01 * 0.3 - 2 * 2.0 * 1.2 * 0.3;
    QTest::newRow("inner wall, 3.5 long") << "1$wmdwWPjDYuku_ghVkynE" << 3.5 * 0.24 * 2.5;
    QTest::newRow("inner wall, mitred") << "2XPyKWY018sA1ygZKgQPtU" << (4.29 + 4.05) / 2 * 0.24 * 2.5;
}

void TestRealHouse::wallsHaveTheirVolumes()
{
    QFETCH(QString, guid);
    QFETCH(double, volume);
    const auto index = house_.model->find(guid.toStdString());
    QVERIFY(index.has_value());
    const double is = house_.geometry->elements()[*index].volume;
    QVERIFY2(std::abs(is - volume) < 1e-6, std::to_string(is).c_str());
}

QTEST_GUILESS_MAIN(TestRealHouse)
#include "test_real_house.moc"
